import type { Table } from 'dexie';
import type { OrderFact } from '../core/orders';
import type { Moves } from '../core/pricing';
import type { SampanDatabase } from './database';
import { noteEarlier } from './earlier';
import { CHANGED_TABLES, type Change, type ChangedTable, type Edit } from './rows';

/**
 * What one change does to one row: fields to set, a whole row to add (`add`), or nothing left of it
 * (`remove`).
 */
export type RowChange = { readonly table: ChangedTable } & What &
  (
    | { readonly id: string; readonly set: Readonly<Record<string, unknown>> }
    | { readonly add: { readonly id: string } }
    | { readonly remove: string }
  );

/** The record of a change for a row: a sentence, or facts that are put into words where they are shown. */
interface What {
  readonly says?: string;
  readonly facts?: readonly OrderFact[];
  readonly moves?: Moves;
}

export interface ChangeHead {
  readonly by: 'person' | 'rule';
  readonly name: string;
  readonly why?: string;
  /** Whether taking it back makes sense; what was told to the outside is not taken back by undo. */
  readonly undoable?: boolean;
  /** Whether it only carries out or notes what another change decided. */
  readonly quiet?: boolean;
  /** The change that it takes back. */
  readonly undoes?: string;
  /** Whether it brings back what an undo took. */
  readonly redoes?: true;
  /** How many rows the transaction added besides that tell by themselves where they come from. */
  readonly told?: number;
}

/** A change as it is told among all changes. */
const headRow = (id: string, head: ChangeHead, now: Now, edits: number): Change => ({
  id,
  at: now.at,
  by: head.by,
  name: head.name,
  why: head.why ?? null,
  edits,
  undoneBy: null,
  undoable: head.undoable ?? head.by === 'person',
  ...(head.by === 'person' && now.tab && { tab: now.tab }),
  ...(head.quiet && { quiet: true }),
  ...(head.undoes && { undoes: head.undoes }),
  ...(head.redoes && { redoes: true }),
});

async function keepHead(db: SampanDatabase, head: Change, now: Now): Promise<void> {
  await db.changes.add(head);
  now.made?.(head);
}

export interface Now {
  readonly at: number;
  readonly newId: () => string;
  /** The tab in which a person makes the change. */
  readonly tab?: string;
  /** Hears of each change that is made. */
  readonly made?: (change: Change) => void;
}

/**
 * Fields of which a change that cannot be undone keeps only what it says of them: whole states of purchases, and what is
 * worked out or told elsewhere. Each step of an order would keep all of its purchases twice.
 */
const TOLD_IN_WORDS: ReadonlySet<string> = new Set([
  'purchases',
  'cases',
  'checks',
  'expected',
  'last',
  'soldAt',
  'soldOn',
  'times',
]);

const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** `listing:ID` for a row of `listings`, and so on: what a history is asked for. */
export const subjectOf = (table: ChangedTable, id: string) => `${table.replace(/s$/, '')}:${id}`;

/** Rows of one table from which on a change keeps one edit for many of them: a record costs more than what is in it. */
const MANY = 16;
/** Rows of such an edit at most. */
const PACK = 2_000;
/** Orders are laid away with their own history, each by itself. */
const isPacked = (table: ChangedTable) => table !== 'orders';

function packed(edits: readonly Edit[]): Edit[] {
  const out: Edit[] = [];
  for (const table of new Set(edits.map((e) => e.table))) {
    const own = edits.filter((e) => e.table === table);
    if (own.length < MANY || !isPacked(table)) {
      out.push(...own);
      continue;
    }
    for (let from = 0; from < own.length; from += PACK) {
      const some = own.slice(from, from + PACK);
      const [{ id, change, at }] = some as [Edit];
      out.push({
        id,
        change,
        subject: `${table}:`,
        table,
        at,
        before: {},
        after: {},
        says: null,
        rows: some.map(({ subject, before, after, says, moves }) => ({
          subject,
          before,
          after,
          says,
          ...(moves && { moves }),
        })),
      });
    }
  }
  return out;
}

/** Edits of one row each, whatever they are stored in. */
const unpacked = (edits: readonly Edit[]): Edit[] =>
  edits.flatMap(({ rows, ...edit }) => (rows ? rows.map((row) => ({ ...edit, ...row })) : [edit]));

/**
 * Writes rows as one named change, with what they were before. Must run inside a read-write transaction that
 * holds the tables, `changes` and `edits`. Rows that would not change are passed over; without any, nothing
 * is written.
 * @param known rows as they are stored now, where the caller has them; null for those to be read
 * @returns the change's id, or null where nothing changed
 */
export async function applyChange(
  db: SampanDatabase,
  head: ChangeHead,
  rows: readonly RowChange[],
  now: Now,
  known: (table: ChangedTable, id: string) => object | null = () => null,
): Promise<string | null> {
  const id = now.newId();
  const undoable = head.undoable ?? head.by === 'person';
  const edits: Edit[] = [];
  const edit = (
    table: ChangedTable,
    row: string,
    before: Edit['before'],
    after: Edit['after'],
    { says, facts, moves }: What = {},
  ) =>
    edits.push({
      id: `${id}:${edits.length}`,
      change: id,
      subject: subjectOf(table, row),
      table,
      at: now.at,
      before,
      after,
      says: says ?? null,
      ...(facts?.length && { facts }),
      ...(moves && { moves }),
    });

  for (const name of CHANGED_TABLES) {
    const own = rows.filter((r) => r.table === name);
    if (!own.length) continue;
    const table = db.table(name) as Table<Record<string, unknown> & { id: string }, string>;
    const sets = own.filter((r) => 'set' in r);
    const before = new Map<string, Record<string, unknown> & { id: string }>();
    const unread: string[] = [];
    for (const { id: rowId } of sets) {
      const row = known(name, rowId);
      if (row) before.set(rowId, row as Record<string, unknown> & { id: string });
      else unread.push(rowId);
    }
    for (const row of await table.bulkGet(unread)) if (row) before.set(row.id, row);
    await noteEarlier(db, name, sets, before, now.at);
    const puts = new Map<string, Record<string, unknown> & { id: string }>();
    for (const { id: rowId, set, ...what } of sets) {
      const row = puts.get(rowId) ?? before.get(rowId);
      if (!row) continue;
      const fields = Object.keys(set).filter((f) => !same(row[f], set[f]));
      // What happened may change nothing here, as when a buyer was written to.
      if (!fields.length && !what.facts?.length) continue;
      const part = (from: Readonly<Record<string, unknown>>, of = fields) =>
        Object.fromEntries(of.map((f) => [f, from[f]]));
      const noted = undoable ? fields : fields.filter((f) => !TOLD_IN_WORDS.has(f));
      edit(name, rowId, part(row, noted), part(set, noted), what);
      puts.set(rowId, { ...row, ...part(set) } as Record<string, unknown> & { id: string });
    }
    for (const r of own) {
      if ('add' in r) {
        puts.set(r.add.id, r.add as Record<string, unknown> & { id: string });
        edit(name, r.add.id, null, {}, r);
      }
    }
    if (puts.size) await table.bulkPut([...puts.values()]);
    const removes = own.filter((r) => 'remove' in r);
    for (const row of await table.bulkGet(removes.map((r) => r.remove)))
      if (row) edit(name, row.id, row, null);
    if (removes.length) await table.bulkDelete(removes.map((r) => r.remove));
  }
  const { told = 0 } = head;
  if (!edits.length && !told) return null;
  await db.edits.bulkAdd(packed(edits));
  await keepHead(db, headRow(id, head, now, edits.length + told), now);
  return id;
}

/**
 * Adds many rows as one named change. Their history is one edit for each table, not one for each row, so that tens of
 * thousands can be added and taken back. Runs inside a transaction like {@link applyChange}.
 * @param tell hears how many rows were written, after each table
 */
export async function addAll(
  db: SampanDatabase,
  head: ChangeHead,
  added: readonly { readonly table: ChangedTable; readonly rows: readonly { readonly id: string }[] }[],
  now: Now,
  tell?: (n: number) => void,
): Promise<string | null> {
  const count = added.reduce((n, a) => n + a.rows.length, 0);
  if (!count) return null;
  const id = now.newId();
  const edits: Edit[] = [];
  for (const { table, rows } of added) {
    if (!rows.length) continue;
    await db.table(table).bulkAdd(rows as object[]);
    edits.push({
      id: `${id}:${edits.length}`,
      change: id,
      subject: `${table}:`,
      table,
      at: now.at,
      before: null,
      after: { ids: rows.map((r) => r.id) },
      says: null,
    });
    tell?.(rows.length);
  }
  await db.edits.bulkAdd(edits);
  await keepHead(db, headRow(id, head, now, count), now);
  return id;
}

/** The rows that an edit of {@link addAll} added; null for an edit of one row. */
const addedBy = (edit: Edit) =>
  edit.before === null ? ((edit.after?.ids as readonly string[] | undefined) ?? null) : null;

/** Rows that an undo takes out at most to be brought back by redo. */
const MOST_KEPT = 2_000;

/** The rows that an edit of an undo took out together, where they were kept; null for other edits. */
const takenOutBy = (edit: Edit): { readonly rows: readonly { id: string }[] | undefined } | null =>
  edit.after === null && edit.before && 'ids' in edit.before
    ? { rows: edit.before.rows as { id: string }[] | undefined }
    : null;

/** Ids of the rows that a change added, by table. */
export async function addedIn(db: SampanDatabase, change: string): Promise<Map<ChangedTable, string[]>> {
  const added = new Map<ChangedTable, string[]>();
  for (const e of unpacked(await db.edits.where('change').equals(change).toArray())) {
    if (e.before !== null) continue;
    const ids = addedBy(e) ?? [e.subject.slice(e.subject.indexOf(':') + 1)];
    added.set(e.table, [...(added.get(e.table) ?? []), ...ids]);
  }
  return added;
}

/** `touched`: the rows that were changed or came back; those that went again are not among them. */
export type Undone =
  | {
      ok: true;
      name: string;
      /** It was an undo that was taken back: the change stands again. */
      redone?: true;
      kept: number;
      touched: readonly {
        readonly table: ChangedTable;
        readonly id: string;
        /** Fields that were set; none of a row that came back whole. */
        readonly fields: readonly string[];
      }[];
    }
  | { ok: false; reason: string };

/**
 * Takes a change back as a change of its own; of an undo, does again what it took back. A row that was changed again since keeps its newer values;
 * `kept` counts those. `mayUndo` can refuse rows whose state has gone too far (a listing already live).
 * @param isThere whether a row is stored, where the caller knows; null where it is to be read
 */
export async function undoChange(
  db: SampanDatabase,
  id: string,
  now: Now,
  mayUndo: (edit: Edit, row: unknown) => boolean = () => true,
  isThere: (table: ChangedTable, id: string) => boolean | null = () => null,
): Promise<Undone> {
  const change = await db.changes.get(id);
  if (!change) return { ok: false, reason: 'This change is not known any more.' };
  if (change.undoneBy) return { ok: false, reason: `“${change.name}” was undone before.` };
  const { undoes } = change;
  if (!change.undoable && !undoes)
    return { ok: false, reason: `“${change.name}” cannot be undone: it was told to the outside.` };
  const edits = unpacked(await db.edits.where('change').equals(id).toArray());
  const rows: RowChange[] = [];
  let kept = 0;
  const idOf = (e: Edit) => e.subject.slice(e.subject.indexOf(':') + 1);
  // What was added together goes together: with one edit for all of it, as it came.
  const removed: { table: ChangedTable; ids: string[] }[] = [];
  for (const e of edits) {
    const ids = addedBy(e);
    if (!ids) continue;
    const asked = ids.filter((rowId) => isThere(e.table, rowId) === null);
    const read = (await db.table(e.table).bulkGet(asked)) as ({ id: string } | undefined)[];
    const rowsRead = new Map(read.flatMap((row) => (row ? [[row.id, row] as const] : [])));
    const going = ids.filter(
      (rowId) =>
        (isThere(e.table, rowId) ?? rowsRead.has(rowId)) &&
        mayUndo({ ...e, subject: subjectOf(e.table, rowId), after: {} }, rowsRead.get(rowId)),
    );
    kept += ids.length - going.length;
    if (going.length) removed.push({ table: e.table, ids: going });
  }
  // What an undo took out together comes back together.
  const returned: { table: ChangedTable; rows: { id: string }[] }[] = [];
  for (const e of edits) {
    const gone = takenOutBy(e);
    if (!gone) continue;
    if (!gone.rows)
      return {
        ok: false,
        reason: `“${change.name}” took out more rows than are kept: do it once more instead.`,
      };
    const there = await db.table(e.table).bulkGet(gone.rows.map((row) => row.id));
    const back = gone.rows.filter((_, k) => !there[k]);
    kept += gone.rows.length - back.length;
    if (back.length) returned.push({ table: e.table, rows: back });
  }
  const parts = edits.filter((e) => !addedBy(e) && !takenOutBy(e)).reverse();
  const stored = new Map<string, Record<string, unknown>>();
  for (const table of new Set(parts.map((e) => e.table))) {
    const ids = [...new Set(parts.filter((e) => e.table === table).map(idOf))];
    for (const row of (await db.table(table).bulkGet(ids)) as ({ id: string } | undefined)[])
      if (row) stored.set(subjectOf(table, row.id), { ...row });
  }
  const current = new Map(stored);
  for (const e of parts) {
    const rowId = idOf(e);
    const row = current.get(e.subject);
    if (!mayUndo(e, row)) kept++;
    else if (e.before === null && row) rows.push({ table: e.table, remove: rowId });
    else if (e.after === null && !row) rows.push({ table: e.table, add: e.before as { id: string } });
    else if (e.before && e.after && row && Object.entries(e.after).every(([f, v]) => same(row[f], v))) {
      rows.push({ table: e.table, id: rowId, set: e.before });
      // A row that the change set more than once goes back step by step.
      current.set(e.subject, { ...row, ...e.before });
    } else kept++;
  }
  const head: ChangeHead = undoes
    ? { by: 'person', name: `Redo: ${change.name.replace(/^Undo: /, '')}`, undoable: false, redoes: true }
    : { by: 'person', name: `Undo: ${change.name}`, undoable: false, undoes: id };
  if (!rows.length && !removed.length && !returned.length)
    return {
      ok: false,
      reason: `“${change.name}” cannot be undone: everything in it was changed again since.`,
    };
  const known = (table: ChangedTable, rowId: string) => stored.get(subjectOf(table, rowId)) ?? null;
  let undo = await applyChange(db, head, rows, now, known);
  if (returned.length) {
    const own = undo ?? now.newId();
    const count = returned.reduce((n, r) => n + r.rows.length, 0);
    for (const [k, { table, rows: back }] of returned.entries()) {
      await db.table(table).bulkAdd(back);
      await db.edits.add({
        id: `${own}:returned${k}`,
        change: own,
        subject: `${table}:`,
        table,
        at: now.at,
        before: null,
        after: { ids: back.map((row) => row.id) },
        says: null,
      });
    }
    if (undo) await db.changes.update(undo, { edits: rows.length + count });
    else await keepHead(db, headRow(own, head, now, count), now);
    undo = own;
  }
  if (removed.length) {
    const own = undo ?? now.newId();
    const count = removed.reduce((n, r) => n + r.ids.length, 0);
    for (const [k, { table, ids: gone }] of removed.entries()) {
      const rowsOfIt = gone.length <= MOST_KEPT ? await db.table(table).bulkGet(gone) : undefined;
      await db.table(table).bulkDelete(gone);
      await db.edits.add({
        id: `${own}:removed${k}`,
        change: own,
        subject: `${table}:`,
        table,
        at: now.at,
        before: { ids: gone, ...(rowsOfIt && { rows: rowsOfIt }) },
        after: null,
        says: null,
      });
    }
    if (undo) await db.changes.update(undo, { edits: rows.length + count });
    else await keepHead(db, headRow(own, head, now, count), now);
    undo = own;
  }
  await db.changes.update(id, { undoneBy: undo });
  // Done again, the first change stands, and can be taken back as before.
  if (undoes) await db.changes.update(undoes, { undoneBy: null });
  const touched = rows.flatMap((r) => {
    if ('set' in r) return [{ table: r.table, id: r.id, fields: Object.keys(r.set) }];
    return 'add' in r ? [{ table: r.table, id: r.add.id, fields: [] }] : [];
  });
  for (const { table, rows: back } of returned)
    for (const row of back) touched.push({ table, id: row.id, fields: [] });
  return {
    ok: true,
    name: change.name.replace(/^Undo: /, ''),
    ...(undoes && { redone: true }),
    kept,
    touched,
  };
}
