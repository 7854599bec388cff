import { plainText } from '../../core/copy';
import { factsInWords } from '../../core/orders';
import { movesInWords } from '../../core/pricing';
import type { Instant } from '../../core/units';
import {
  allConnections,
  type Change,
  type Connection,
  type Edit,
  type Listing,
  type Order,
  type SampanDatabase,
  type WholeOrder,
} from '../../store';
import type { Work } from '../context/work';

/** What happened to a row, with the change that it was a part of where that is still known. */
export interface PastEdit extends Pick<Edit, 'id' | 'at' | 'says'> {
  readonly head?: Change | undefined;
  /** Texts that became others; missing where none did, or that is not kept. */
  readonly texts?: readonly TextEdit[];
}

/** A text before and after, '' for none of one's own. */
export interface TextEdit {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** Fields of rows whose edits are told word for word. */
const TEXTS: Readonly<Record<string, string>> = {
  title: 'Title',
  description: 'Description',
  brand: 'Brand',
  tags: 'Tags',
  sku: 'SKU',
  gtin: 'Barcode',
};

function textsOf({ before, after }: Pick<Edit, 'before' | 'after'>): TextEdit[] {
  if (!before || !after) return [];
  const textOf = (value: unknown) =>
    typeof value === 'string' ? plainText(value) : Array.isArray(value) ? value.join(', ') : '';
  return Object.entries(TEXTS).flatMap(([key, name]) => {
    if (!Object.hasOwn(after, key)) return [];
    const [from, to] = [textOf(before[key]), textOf(after[key])];
    return from === to ? [] : [{ name, from, to }];
  });
}

const LONGEST = 40;
/** Edits of many rows that are looked through at most, newest first. */
const LOOKED_AT = 600;

/** What happened to some rows, newest first. @param subjects `listing:ID` and so on */
export async function editsOf(work: Pick<Work, 'db'>, subjects: readonly string[]): Promise<PastEdit[]> {
  const { db } = work;
  const found = await Promise.all(subjects.map((subject) => editsOfOne(work, subject)));
  // One change that touched several of the rows and says nothing of each stands once.
  const once = new Map(
    found.flat().map((e) => [e.says || e.facts || e.moves ? `${e.id} ${e.says}` : e.change, e]),
  );
  const rows = [...once.values()].sort((a, b) => b.at - a.at);
  rows.length = Math.min(rows.length, LONGEST);
  const told = await inWords(work, rows);
  const heads = await db.changes.bulkGet([...new Set(rows.map((r) => r.change))]);
  const byId = new Map(heads.flatMap((c) => (c ? [[c.id, c] as const] : [])));
  return rows.map((row) => ({
    id: row.id,
    at: row.at,
    says: told.get(row) ?? row.says,
    head: byId.get(row.change),
    texts: textsOf(row),
  }));
}

/** Where an order came from, as what happened to it first. */
const arrivalOf = ({ id, arrival }: Order): Edit[] =>
  arrival
    ? [
        {
          ...{
            id: `${id}:arrival`,
            change: '',
            subject: `order:${id}`,
            table: 'orders',
            before: null,
            after: {},
          },
          ...{ at: arrival.at, says: null, facts: arrival.facts },
        },
      ]
    : [];

/** Facts of edits in words, with the names and the order of today. */
async function inWords({ db }: Pick<Work, 'db'>, edits: readonly Edit[]): Promise<Map<Edit, string>> {
  const told = new Map<Edit, string>();
  if (!edits.some((e) => e.facts || e.moves)) return told;
  const nameOf = namesIn(await allConnections(db));
  for (const edit of edits) if (edit.moves) told.set(edit, movesInWords(edit.moves, nameOf));
  const ofOrders = edits.filter((e) => e.facts);
  for (const edit of ofOrders) {
    const id = edit.subject.slice(edit.subject.indexOf(':') + 1);
    const [order, buyer] = await Promise.all([db.orders.get(id), db.buyers.get(id)]);
    if (order) told.set(edit, factsInWords(edit.facts!, { ...order, texts: buyer?.texts }, { nameOf }));
  }
  return told;
}

/** Names of connections by their ids; the id where there is none any more. */
const namesIn = (connections: readonly Connection[]) => {
  const names = new Map(connections.map((c) => [c.id, c.name]));
  return (id: string) => names.get(id) ?? id;
};

/** What happened to a listing last, in words. */
export const lastInWords = (
  { last }: Pick<Listing, 'last'>,
  nameOf: (marketplace: string) => string,
): { at: Instant; says: string } | null =>
  last && { at: last.at, says: 'moves' in last ? movesInWords(last.moves, nameOf) : last.says };

/** History that was laid away with its order, in words. */
export const laidAwayInWords = (
  { edits, order, buyer }: WholeOrder,
  nameOf: (connection: string) => string,
): PastEdit[] =>
  [...arrivalOf(order), ...edits].map(({ id, at, says, facts }) => ({
    id,
    at,
    says: facts ? factsInWords(facts, { ...order, texts: buyer.texts }, { nameOf }) : says,
  }));

async function editsOfOne({ db }: Pick<Work, 'db'>, subject: string): Promise<Edit[]> {
  const between = (of: string) =>
    db.edits.where('[subject+at]').between([of, 0], [of, Number.MAX_SAFE_INTEGER]);
  const rows = await between(subject).reverse().limit(LONGEST).toArray();
  const [kind, ...rest] = subject.split(':');
  const id = rest.join(':');
  // An archived order stays where it is: its history was laid away with it.
  const order = kind === 'order' ? await db.orders.get(id) : undefined;
  if (order) return [...rows, ...arrivalOf(order)];
  // What was changed or added together with many others stands in one edit for all of them.
  await between(`${kind}s:`)
    .reverse()
    .limit(LOOKED_AT)
    .each(({ rows: many, ...edit }) => {
      if (rows.length >= 2 * LONGEST) return;
      if ((edit.after?.ids as readonly string[] | undefined)?.includes(id)) rows.push(edit);
      for (const row of many ?? []) if (row.subject === subject) rows.push({ ...edit, ...row });
    });
  return rows;
}

/** The last changes that mattered, newest first: what only carried out another is left out. */
export const lastChanges = ({ db }: Pick<Work, 'db'>, n: number): Promise<Change[]> =>
  db.changes
    .orderBy('at')
    .reverse()
    .filter((c) => !c.quiet)
    .limit(n)
    .toArray();

export const countChanges = ({ db }: Pick<Work, 'db'>): Promise<number> => db.changes.count();

/** Changes looked through for the next step back or forward. */
const STEPS = 500;

const ownChanges = (db: SampanDatabase, tab: string | undefined) =>
  db.changes
    .orderBy('at')
    .reverse()
    .filter((c) => c.by === 'person' && !c.quiet && (tab === undefined || c.tab === tab))
    .limit(STEPS)
    .toArray();

/**
 * The change that undo takes back next: the last one made in a tab that still stands, whether it can be undone or not, so
 * that undo never reaches past what it cannot undo. @param tab missing for any
 */
export async function lastUndoable(db: SampanDatabase, tab?: string): Promise<Change | undefined> {
  return (await ownChanges(db, tab)).find((c) => !c.undoes && !c.redoes && c.undoneBy === null);
}

/** The undo that redo takes back next; undefined where something else was done since. */
export async function lastRedoable(db: SampanDatabase, tab?: string): Promise<Change | undefined> {
  for (const c of await ownChanges(db, tab)) {
    if (c.undoes && c.undoneBy === null) return c;
    if (!c.undoes && !c.redoes && c.undoneBy === null && !(await isRedone(db, c))) return undefined;
  }
  return undefined;
}

/** Whether a change stands because it was done again. */
const isRedone = async (db: SampanDatabase, { id, at }: Change): Promise<boolean> =>
  (await db.changes
    .where('at')
    .above(at)
    .filter((c) => c.undoes === id)
    .count()) > 0;
