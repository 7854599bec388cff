import { accountOf } from '../../core/ledger';
import { type Difference, differencesOf, slotOf, undecided } from '../../core/statements';
import type { LedgerRow, StatementRow } from '../../store';
import type { OrderBook } from '../order-book/order-book';

/** Which difference is meant: of which order, what it is about and what it amounts to as it was shown. */
export interface WhichDifference {
  readonly order: string;
  readonly slot: string;
  readonly minor: number;
}

/** A statement as a list shows it. */
export interface StatementLineRow {
  readonly statement: Omit<StatementRow, 'loose' | 'missing' | 'refused'>;
  readonly name: string;
  /** Orders that differ and nobody decided about, and by how much in all, by currency. */
  readonly differing: number;
  readonly minor: Readonly<Record<string, number>>;
  /** Lines of no order that nobody decided about. */
  readonly loose: number;
  /** Orders that stand in no statement yet. */
  readonly missing: number;
}

/** A difference with the order that it is about. */
export interface DifferingOrder extends Difference {
  readonly order: string;
  readonly number: string;
  readonly slot: string;
}

/** A statement in full. */
export interface StatementInFull extends StatementLineRow {
  readonly row: StatementRow;
  /** The first of them. */
  readonly differences: readonly DifferingOrder[];
  /** Orders whose record was brought to what it says. */
  readonly corrected: readonly {
    readonly order: string;
    readonly number: string;
    readonly minor: number;
    readonly currency: string;
  }[];
  /** Sales or purchases in no statement yet, and what is recorded of them. */
  readonly absent: readonly {
    readonly order: string;
    readonly number: string;
    readonly profit: number | null;
  }[];
}

/** Orders that are told one by one. */
const MOST_SHOWN = 100;

/** All statements, the newest first. Cost: one pass over the orders. */
export async function statementsIn(book: OrderBook): Promise<StatementLineRow[]> {
  const rows = await book.work.db.statements.toArray();
  const open = new Map<string, { orders: number; minor: Record<string, number> }>();
  book.all.differing.forEach((notes, place) => {
    if (!notes || !book.idAt[place]) return;
    for (const statement of new Set(notes.map((n) => n.statement))) {
      const sum = open.get(statement) ?? { orders: 0, minor: {} };
      sum.orders++;
      for (const n of notes)
        if (n.statement === statement) sum.minor[n.currency] = (sum.minor[n.currency] ?? 0) + n.minor;
      open.set(statement, sum);
    }
  });
  const missing = await stillMissing(book, rows);
  return rows
    .sort((a, b) => (a.lastDay === b.lastDay ? b.at - a.at : a.lastDay < b.lastDay ? 1 : -1))
    .map((row) => lineOf(book, row, open.get(row.id), missing.get(row.id)?.length ?? 0));
}

function lineOf(
  book: OrderBook,
  row: StatementRow,
  open: { orders: number; minor: Record<string, number> } | undefined,
  missing: number,
): StatementLineRow {
  const { loose, missing: _, refused: __, ...statement } = row;
  return {
    ...{ statement, name: book.shop.connections.get(row.from)?.name ?? row.from, missing },
    ...{ differing: open?.orders ?? 0, minor: open?.minor ?? {} },
    loose: loose.filter((l) => l.done === null && l.why !== 'twice').length,
  };
}

/** All that differs by a statement and nobody decided about. */
export function differingIn(book: OrderBook, id: string): WhichDifference[] {
  return book.all.differing.flatMap((notes, place) => {
    const order = book.idAt[place];
    if (!notes || !order) return [];
    return notes.flatMap((n) => (n.statement === id ? [{ order, slot: n.slot, minor: n.minor }] : []));
  });
}

/** What was missing when a statement came, and still is. */
async function stillMissing(
  { work: { db } }: OrderBook,
  rows: readonly StatementRow[],
): Promise<Map<string, StatementRow['missing']>> {
  const ids = [...new Set(rows.flatMap((r) => r.missing.map((m) => m.order)))];
  const ledgers = new Map((await db.ledger.bulkGet(ids)).flatMap((l) => (l ? [[l.id, l] as const] : [])));
  return new Map(
    rows.map((row) => [
      row.id,
      row.missing.filter(({ order, purchase }) => {
        const ledger = ledgers.get(order);
        // One that was laid away meanwhile was over long ago.
        if (!ledger) return false;
        return !isStated(ledger, row.from, purchase) && !isKept(ledger, row.from, purchase);
      }),
    ]),
  );
}

const isStated = ({ stated = [] }: LedgerRow, from: string, purchase: string | null): boolean =>
  stated.some((s) => s.from === from && (s.purchase === null || s.purchase === purchase));

/** Names a sale or purchase that is in no statement, as {@link slotOf} names a difference. */
export const absentSlot = (from: string, purchase: string | null): string =>
  `${from} ${purchase ?? ''} absent`;

const isKept = ({ kept = [] }: LedgerRow, from: string, purchase: string | null): boolean =>
  kept.some((k) => k.slot === absentSlot(from, purchase));

/** One statement in full; null where it is not there any more. */
export async function statementInFull(book: OrderBook, id: string): Promise<StatementInFull | null> {
  const { db } = book.work;
  const row = await db.statements.get(id);
  if (!row) return null;
  const line = (await statementsIn(book)).find((l) => l.statement.id === id);
  // The dearest first: that is where looking pays.
  const worth = new Map<string, number>();
  for (const n of differingIn(book, id)) worth.set(n.order, (worth.get(n.order) ?? 0) + Math.abs(n.minor));
  const dearest = [...worth].sort((a, b) => b[1] - a[1]).slice(0, MOST_SHOWN);
  const numberOf = (order: string) => order.slice(order.indexOf(':') + 1);
  const differences: DifferingOrder[] = [];
  for (const { order, ledger } of await book.ledgersOf(dearest.map(([order]) => order)))
    for (const d of undecided(differencesOf(ledger.entries, ledger.stated ?? []), ledger.kept ?? []))
      if (d.statement === id) differences.push({ ...d, order, number: numberOf(order), slot: slotOf(d) });
  differences.sort((a, b) => Math.abs(b.minor) - Math.abs(a.minor));
  const missing = (await stillMissing(book, [row])).get(id) ?? [];
  const absent = await book.ledgersOf(missing.slice(0, MOST_SHOWN).map((m) => m.order));
  return {
    ...line!,
    row,
    differences,
    corrected: await correctedBy(book, id, numberOf),
    absent: absent.map(({ order, ledger }) => ({
      ...{ order, number: numberOf(order) },
      profit: accountOf(ledger.entries, book.shop.settings.currency)?.profit ?? null,
    })),
  };
}

/** What was corrected by a statement, of orders that are not laid away. */
async function correctedBy(
  { work: { db } }: OrderBook,
  id: string,
  numberOf: (order: string) => string,
): Promise<StatementInFull['corrected']> {
  const out: { order: string; number: string; minor: number; currency: string }[] = [];
  await db.ledger.each((ledger) => {
    if (!ledger.stated?.some((s) => s.statement === id)) return;
    const own = ledger.entries.filter((e) => e.statement === id);
    const minor = own.reduce((n, e) => n + e.amount, 0);
    if (own.length && minor)
      out.push({ order: ledger.id, number: numberOf(ledger.id), minor, currency: own[0]!.currency });
  });
  return out.slice(0, MOST_SHOWN);
}
