import { fold } from '../../core/copy';
import type { Currency } from '../../core/money';
import { chargeOf, isAccepted, orderOf } from '../../core/orders';
import type { StatementLine } from '../../core/statements';
import type { Instant } from '../../core/units';
import {
  type Connection,
  ordersById,
  readArchived,
  type SampanDatabase,
  type StatementRow,
} from '../../store';

/** The sale, or the purchase, that lines of a statement belong to. */
export interface Place {
  readonly order: string;
  /** Its reference; null for the sale. */
  readonly purchase: string | null;
}

export const currencyOf = (c: Connection): Currency =>
  c.role === 'marketplace' ? c.site.currency : c.currency;

const DAY = 86_400_000;
/** Days before a statement's first day from which on orders may be placed that are settled in it. */
const OPEN_DAYS = 60;
/** Ids that are looked for at once. */
const AT_ONCE = 2_000;

/** Which of some orders are known; those that were laid away come back, as they are about to change. */
async function knownOf(db: SampanDatabase, ids: readonly string[]): Promise<Set<string>> {
  const known = new Set<string>();
  for (let k = 0; k < ids.length; k += AT_ONCE) {
    const some = ids.slice(k, k + AT_ONCE);
    const rows = await db.ledger.bulkGet(some);
    for (const [n, row] of rows.entries()) if (row) known.add(some[n]!);
    const missing = some.filter((id) => !known.has(id));
    if (missing.length) for (const id of (await ordersById(db, missing)).keys()) known.add(id);
  }
  return known;
}

/**
 * The sales or purchases that a statement speaks of, by the names it has for them: a marketplace's number, our reference or
 * the supplier's number. What is not among them is not known here.
 */
export async function placesOf(
  db: SampanDatabase,
  c: Connection,
  lines: readonly StatementLine[],
): Promise<Map<string, Place>> {
  const names = [...new Set(lines.flatMap((l) => (l.order ? [l.order] : [])))];
  const places = new Map<string, Place>();
  if (c.role === 'marketplace') {
    const known = await knownOf(
      db,
      names.map((n) => `${c.id}:${n}`),
    );
    for (const n of names)
      if (known.has(`${c.id}:${n}`)) places.set(n, { order: `${c.id}:${n}`, purchase: null });
    return places;
  }
  const known = await knownOf(db, [...new Set(names.map(orderOf))]);
  const others: string[] = [];
  for (const n of names) {
    if (known.has(orderOf(n))) places.set(n, { order: orderOf(n), purchase: n });
    else others.push(n);
  }
  for (const [number, place] of await byNumber(db, c.id, new Set(others))) places.set(number, place);
  return places;
}

/** Purchases of a supplier by its own numbers. Cost: one pass over the orders, those laid away too. */
async function byNumber(
  db: SampanDatabase,
  supplier: string,
  numbers: ReadonlySet<string>,
): Promise<Map<string, Place>> {
  const found = new Map<string, Place>();
  if (!numbers.size) return found;
  const look = (order: {
    id: string;
    purchases: Parameters<typeof isAccepted>[0][] | readonly Parameters<typeof isAccepted>[0][];
  }) => {
    for (const p of order.purchases)
      if (isAccepted(p) && p.supplier === supplier && numbers.has(p.number))
        found.set(p.number, { order: order.id, purchase: p.reference });
  };
  await db.orders.each(look);
  const left = new Set([...numbers].filter((n) => !found.has(n)).map(fold));
  if (!left.size) return found;
  const ids: string[] = [];
  await db.archive.each(({ ids: own, columns }) => {
    const { words } = columns as { readonly words: readonly string[] };
    own.forEach((id, k) => {
      if (id && words[k]?.split(' ').some((word) => left.has(word))) ids.push(id);
    });
  });
  for (const { order } of await readArchived(db, ids)) look(order);
  // As of all that are about to change.
  await ordersById(db, [...new Set([...found.values()].map((p) => p.order))]);
  return found;
}

/** Sales, or purchases, that were settled in a statement's days and stand in no statement. */
export async function missingIn(
  db: SampanDatabase,
  c: Connection,
  firstDay: string,
  until: Instant,
): Promise<StatementRow['missing']> {
  const first = Date.parse(firstDay);
  const settled: { order: string; purchase: string | null }[] = [];
  await db.orders
    .where('paidAt')
    .between(first - OPEN_DAYS * DAY, until)
    .each((o) => {
      if (c.role === 'marketplace') {
        if (o.marketplace === c.id && o.settledAt !== null && o.settledAt >= first && o.settledAt <= until)
          settled.push({ order: o.id, purchase: null });
        return;
      }
      for (const p of o.purchases)
        if (
          p.supplier === c.id &&
          isAccepted(p) &&
          chargeOf(p) &&
          p.acceptedAt >= first &&
          p.acceptedAt <= until
        )
          settled.push({ order: o.id, purchase: p.reference });
    });
  const ledgers = await db.ledger.bulkGet(settled.map((s) => s.order));
  return settled.filter(({ purchase }, k) => {
    const row = ledgers[k];
    const stated = row?.stated?.some(
      (s) => s.from === c.id && (s.purchase === null || s.purchase === purchase),
    );
    // What comes to nothing is stated nowhere, nor what was entered by hand.
    const own = (row?.entries ?? []).filter((e) =>
      purchase === null ? e.purchase === null && e.kind !== 'tax' : e.purchase === purchase,
    );
    const isTheirs = purchase !== null || own.some((e) => e.from === c.id);
    return !stated && isTheirs && own.reduce((n, e) => n + e.amount, 0) !== 0;
  });
}
