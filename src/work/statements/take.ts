import { hashOf } from '../../core/catalogue';
import type { Entry } from '../../core/ledger';
import type { Currency } from '../../core/money';
import {
  amountsOf,
  correctionOf,
  coversOf,
  differencesOf,
  newAmong,
  type ReadStatement,
  type Side,
  type Stated,
  type StatementLine,
  sumsByKind,
  undecided,
  wrongTotals,
} from '../../core/statements';
import { addDays, grouped, instantOf } from '../../core/units';
import {
  applyChange,
  type Connection,
  connectionById,
  type LedgerRow,
  type LooseLine,
  type StatementRow,
  settingsOf,
  statementRules,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { currencyOf, missingIn, type Place, placesOf } from './places';

export type TakenStatement =
  | {
      readonly ok: true;
      readonly id: string;
      readonly orders: number;
      /** Lines that belong to no order or not as they should. */
      readonly loose: number;
      /** Orders that differ, and those of them that were taken as stated by the rule. */
      readonly differing: number;
      readonly corrected: number;
    }
  | { readonly ok: false; readonly reason: string };

/** Orders that are written together: after each writing, all that holds orders in memory reads them again. */
const AT_ONCE = 4_000;
/** Rows that could not be read, as they are kept. */
const MOST_REFUSED = 500;

/** The rate that an order's entries of a currency were made with. */
export const rateIn = (entries: readonly Entry[], currency: Currency): number | null =>
  entries.find((e) => e.currency === currency && e.rate !== null)?.rate ?? null;

/**
 * Takes in an account statement: what it says of each order is kept beside the order's entries, what differs by no more
 * than the seller's rule is corrected by entries of its own, and what belongs to no order is kept with the statement. The
 * same one is taken once; one that was cut off is made whole by taking it again.
 * @param goesOn told how many lines are done; false leaves it cut off
 */
export async function takeStatementIn(
  work: Work,
  from: string,
  read: ReadStatement & { readonly file: string | null; readonly closedAt?: number },
  goesOn: (lines: number) => boolean | Promise<boolean> = () => true,
): Promise<TakenStatement> {
  const { db } = work;
  const c = await connectionById(db, from);
  if (!c) return { ok: false, reason: 'This connection is not there any more.' };
  if (!read.lines.length) return { ok: false, reason: 'No line of it can be taken.' };
  const number = read.number.trim().slice(0, 80);
  if (!number) return { ok: false, reason: 'Give the statement a number, as the other side does.' };
  const id = `${from}:${number}`;
  const marked = read.lines.map((l) => [l.day, l.order, l.kind, l.amount, l.currency]);
  const mark = `${read.lines.length} ${hashOf(JSON.stringify(marked))}`;
  const before = await db.statements.where('from').equals(from).toArray();
  const same = before.find((s) => s.whole && (s.id === id || s.mark === mark));
  if (same)
    return {
      ok: false,
      reason:
        same.id === id
          ? `Statement ${number} of ${c.name} is taken already.`
          : `It has the same lines as statement ${same.number}, which is taken already.`,
    };
  const side: Side = c.role;
  const { zone } = await settingsOf(db);
  const until = read.closedAt ?? instantOf(`${addDays(read.lastDay, 1)}T00:00`, zone) ?? 0;
  const covers = coversOf(read.lines, side);
  const sorted = sort(read.lines, await placesOf(db, c, read.lines));
  const row = (rest: Pick<StatementRow, 'whole' | 'missing' | 'loose'>): StatementRow => ({
    ...{ id, from, side, number, until, mark, at: work.clock(), file: read.file },
    ...{ firstDay: read.firstDay, lastDay: read.lastDay, closing: read.closing, due: read.due, paidOn: null },
    ...{ lines: read.lines.length, orders: sorted.byOrder.size },
    ...{ sums: sumsByKind(read.lines), wrongTotals: wrongTotals(read) },
    payouts: newPayouts(
      read.lines,
      before.filter((s) => s.id !== id),
    ),
    refused: read.refused.slice(0, MOST_REFUSED),
    ...rest,
  });
  await db.statements.put(row({ whole: false, missing: [], loose: [] }));
  const said = await stateLines(work, c, { id, side, until, covers }, sorted.byOrder, (n) =>
    goesOn(read.lines.length - sorted.placed + n),
  );
  if (!said) return { ok: false, reason: `Stopped: take ${number} again to make it whole.` };
  const missing = covers.includes(side === 'marketplace' ? 'sales' : 'goods')
    ? await missingIn(db, c, read.firstDay, until)
    : [];
  const loose = [...sorted.loose, ...said.loose].sort((a, b) => a.line - b.line);
  await db.transaction('rw', db.shopTables, async () => {
    await db.statements.delete(id);
    await applyChange(
      db,
      {
        by: read.file === null ? 'rule' : 'person',
        name: `Statement ${number} of ${c.name}`,
        undoable: false,
      },
      [{ table: 'statements', add: row({ whole: true, missing, loose }) }],
      nowOf(work),
    );
  });
  return { ok: true, id, orders: sorted.byOrder.size, loose: loose.length, ...said.sum };
}

interface Part {
  readonly place: Place;
  readonly lines: StatementLine[];
}

const apart = (line: StatementLine, why: LooseLine['why']): LooseLine => ({ ...line, why, done: null });

/** Lines by their order, and those that have none. */
function sort(lines: readonly StatementLine[], places: ReadonlyMap<string, Place>) {
  const loose: LooseLine[] = [];
  const byPlace = new Map<string, Part>();
  let placed = 0;
  for (const line of lines) {
    if (line.kind === 'payout') continue;
    const place = line.kind === 'charge' ? undefined : places.get(line.order);
    if (!place) {
      loose.push(apart(line, line.kind === 'charge' || !line.order ? 'charge' : 'unknown'));
      continue;
    }
    placed++;
    const key = `${place.order} ${place.purchase ?? ''}`;
    const own = byPlace.get(key);
    if (own) own.lines.push(line);
    else byPlace.set(key, { place, lines: [line] });
  }
  return { loose, placed, byOrder: grouped(byPlace.values(), (b) => b.place.order) };
}

/** Keeps what a statement says of some orders beside their entries. @returns null where it was stopped */
async function stateLines(
  work: Work,
  c: Connection,
  { id, side, until, covers }: Pick<StatementRow, 'id' | 'side' | 'until'> & Pick<Stated, 'covers'>,
  byOrder: ReadonlyMap<string, readonly Part[]>,
  goesOn: (lines: number) => boolean | Promise<boolean>,
): Promise<{ loose: LooseLine[]; sum: { differing: number; corrected: number } } | null> {
  const { db } = work;
  const { under } = statementRules(await settingsOf(db));
  const from = c.id;
  const loose: LooseLine[] = [];
  const sum = { differing: 0, corrected: 0 };
  let done = 0;
  const all = [...byOrder];
  for (let k = 0; k < all.length; k += AT_ONCE) {
    const some = all.slice(k, k + AT_ONCE);
    await db.transaction('rw', [db.ledger, db.journal], async () => {
      const at = work.clock();
      const known = await db.ledger.bulkGet(some.map(([order]) => order));
      const changed: LedgerRow[] = [];
      for (const [n, [order, parts]] of some.entries()) {
        let ledger: LedgerRow = known[n] ?? { id: order, entries: [] };
        for (const { place, lines } of parts) {
          const currency = currencyIn(ledger.entries, from, place) ?? currencyOf(c);
          for (const l of lines) if (l.currency !== currency) loose.push(apart(l, 'currency'));
          const isOwn = (s: Stated) => s.statement === id && s.purchase === place.purchase;
          const others = (ledger.stated ?? []).filter((s) => !isOwn(s));
          const { fresh, twice } = newAmong(
            lines.filter((l) => l.currency === currency),
            others.filter((s) => s.from === from && s.purchase === place.purchase),
          );
          loose.push(...twice.map((l) => apart(l, 'twice')));
          const stated: Stated = {
            ...{ statement: id, from, side, purchase: place.purchase, currency, until, covers },
            amounts: amountsOf(fresh),
          };
          ledger = { ...ledger, stated: fresh.length ? [...others, stated] : others };
        }
        const differing = undecided(
          differencesOf(ledger.entries, ledger.stated ?? []),
          ledger.kept ?? [],
        ).filter((d) => d.from === from);
        const small = differing.filter((d) => Math.abs(d.minor) <= under);
        if (differing.length > small.length) sum.differing++;
        if (small.length) {
          sum.corrected++;
          const entries = small.map((d) => correctionOf(d, rateIn(ledger.entries, d.currency), at));
          ledger = { ...ledger, entries: [...ledger.entries, ...entries] };
        }
        changed.push(ledger);
      }
      await db.ledger.bulkPut(changed);
    });
    done += some.reduce((n, [, parts]) => n + parts.reduce((m, b) => m + b.lines.length, 0), 0);
    if (!(await goesOn(done))) return null;
  }
  return { loose, sum };
}

/** Looks again for the orders that a statement spoke of before they were known here. @returns how many lines have theirs now */
export async function placeUnknown(work: Work, id: string): Promise<number> {
  const { db } = work;
  const row = await db.statements.get(id);
  const c = row && (await connectionById(db, row.from));
  const unknown = row?.loose.filter((l) => l.why === 'unknown' && l.done === null) ?? [];
  if (!row?.whole || !c || !unknown.length) return 0;
  const places = await placesOf(db, c, unknown);
  const now = unknown.filter((l) => places.has(l.order));
  if (!now.length) return 0;
  // All that it says of an order comes at once: its lines stand together, and none of them was known.
  const said = await stateLines(
    work,
    c,
    { ...row, covers: coversOf(row.sums, row.side) },
    sort(now, places).byOrder,
    () => true,
  );
  await db.statements
    .where('id')
    .equals(id)
    .modify((s: { -readonly [K in keyof StatementRow]: StatementRow[K] }) => {
      s.loose = [
        ...s.loose.filter((l) => !(l.why === 'unknown' && places.has(l.order))),
        ...(said?.loose ?? []),
      ];
      s.orders += places.size;
    });
  return now.length;
}

/** Payouts that no earlier statement has. */
function newPayouts(
  lines: readonly StatementLine[],
  before: readonly StatementRow[],
): StatementRow['payouts'] {
  const known = before.flatMap((s) => s.payouts.map((p) => `${p.day} ${p.minor} ${p.currency}`));
  return lines.flatMap(({ kind, day, amount, currency }) => {
    if (kind !== 'payout') return [];
    const k = known.indexOf(`${day} ${amount} ${currency}`);
    if (k < 0) return [{ day, minor: amount, currency }];
    known.splice(k, 1);
    return [];
  });
}

/** The currency of a sale or purchase, as its entries have it. */
const currencyIn = (entries: readonly Entry[], from: string, { purchase }: Place): Currency | undefined =>
  entries.find((e) => (purchase === null ? e.purchase === null : e.from === from && e.purchase === purchase))
    ?.currency;
