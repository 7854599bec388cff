import {
  type Account,
  accountOf,
  boughtParts,
  differences,
  type Entry,
  type EntryKind,
  rateFor,
} from '../../core/ledger';
import type { Currency } from '../../core/money';
import { activeOf, chargeOf, isCancelled, type Purchase } from '../../core/orders';
import { type FeeKind, furtherCosts, taxInside } from '../../core/pricing';
import type { LedgerRow, MarketConnection, Order } from '../../store';
import type { Work } from '../context';
import { type Shop, supplierCosts } from '../shop/quote';

/** Adds entries to what is on record of an order. Runs inside the caller's transaction. */
async function post(work: Work, order: string, of: (known: readonly Entry[]) => Entry[]): Promise<void> {
  const { ledger } = work.db;
  const known = (await ledger.get(order))?.entries ?? [];
  const added = of(known);
  if (added.length) await ledger.put({ id: order, entries: [...known, ...added] });
}

/**
 * Brings sales on record to what their orders say now: what was paid, what was given back for lines that were cancelled or
 * else, and the tax inside what is left. Asks storage once for all of them.
 */
export async function postSales(
  { db, clock }: Work,
  orders: readonly Order[],
  market: MarketConnection,
  shop: Shop,
): Promise<void> {
  const at = clock();
  const known = await db.ledger.bulkGet(orders.map((o) => o.id));
  const rows = orders.flatMap((order, k) => {
    const entries = known[k]?.entries ?? [];
    const own = entries.filter((e) => e.from === '');
    const added = differences(own, saleEntries(order, market, shop, at), at);
    return added.length ? [{ id: order.id, entries: [...entries, ...added] }] : [];
  });
  await db.ledger.bulkPut(rows);
}

export const postSale = (work: Work, order: Order, market: MarketConnection, shop: Shop): Promise<void> =>
  postSales(work, [order], market, shop);

function saleEntries(order: Order, market: MarketConnection, shop: Shop, at: number): Entry[] {
  const sum = (of: (l: Order['lines'][number]) => number) =>
    order.lines.reduce((n, l) => n + l.unitPrice * of(l), 0);
  const sold = sum((l) => l.quantity);
  const paid = sold + order.shipping;
  const refund = Math.max(order.refunded, isCancelled(order) ? paid : sum((l) => l.cancelled));
  const { tax } = market.site.fees;
  const entry = (kind: EntryKind, amount: number): Entry => ({
    kind,
    name: '',
    amount,
    currency: order.currency,
    rate: rateFor(shop.rates, order.currency),
    at,
    from: '',
    purchase: null,
  });
  return [
    entry('sale', sold),
    entry('buyer shipping', order.shipping),
    entry('refund', -refund),
    entry('tax', tax.model === 'inside' ? -taxInside(tax.rate, paid - refund) : 0),
  ];
}

const FEE: Readonly<Record<FeeKind, EntryKind>> = {
  sale: 'sale fee',
  payment: 'payment fee',
  advertising: 'advertising',
  listing: 'listing fee',
};

/** Brings a marketplace's charges on record to what it says now. */
export async function postCharges(
  work: Work,
  order: Pick<Order, 'id' | 'currency'>,
  market: string,
  charges: readonly { readonly kind: FeeKind; readonly name: string; readonly minor: number }[],
  shop: Shop,
): Promise<void> {
  const at = work.clock();
  const rate = rateFor(shop.rates, order.currency);
  const said = charges.map(
    ({ kind, name, minor }): Entry => ({
      kind: FEE[kind],
      name,
      amount: -minor,
      currency: order.currency,
      rate,
      at,
      from: market,
      purchase: null,
    }),
  );
  await post(work, order.id, (known) =>
    differences(
      known.filter((e) => e.from === market),
      said,
      at,
    ),
  );
}

/** Brings a purchase's charge on record to what its supplier says now, with what it costs besides by the rules. */
export async function postPurchase(work: Work, order: Order, p: Purchase, shop: Shop): Promise<void> {
  const charge = chargeOf(p);
  if (!charge) return;
  const at = work.clock();
  const { goods, shipping } = charge;
  const { rules } = supplierCosts(shop, p.supplier);
  const further = furtherCosts(goods, shipping, order.address.country, rules);
  const entry = (kind: EntryKind, amount: number): Entry => ({
    kind,
    name: '',
    amount: -amount,
    currency: p.currency,
    rate: rateFor(shop.rates, p.currency),
    at,
    from: p.supplier,
    purchase: p.reference,
  });
  const said = boughtParts({ goods, shipping, further }, shop.settings.costTax).map((part) => entry(...part));
  await post(work, order.id, (known) =>
    differences(
      known.filter((e) => e.from === p.supplier && e.purchase === p.reference),
      said,
      at,
    ),
  );
}

/** Gives entries that were made without a rate the one that is on record by now. */
export async function fillRates(work: Work, shop: Shop): Promise<void> {
  const { db } = work;
  const open = (await db.orders.where('open').equals(1).primaryKeys()) as string[];
  const rows = (await db.ledger.bulkGet(open)).filter((r) => r !== undefined);
  const lacks = (e: Entry) => e.rate === null && rateFor(shop.rates, e.currency) !== null;
  const filled = rows
    .filter((r) => r.entries.some(lacks))
    .map((r) => ({
      ...r,
      entries: r.entries.map((e) => (lacks(e) ? { ...e, rate: rateFor(shop.rates, e.currency) } : e)),
    }));
  await db.ledger.bulkPut(filled);
}

/** What an order is expected to bring; null where it cannot be told, and of a cancelled one. */
export const expectedOf = (order: Order, books: Currency): Account | null =>
  order.expected && !isCancelled(order) ? accountOf(order.expected, books) : null;

/** The account by what was really paid and charged, once all of it is known. Of a cancelled sale only what it cost is left. */
export function actualOf(order: Order, ledger: LedgerRow | undefined, books: Currency): Account | null {
  if (!ledger) return null;
  const known = order.settledAt !== null && activeOf(order).every((p) => chargeOf(p) !== null);
  const over = isCancelled(order) && order.purchases.some((p) => chargeOf(p) !== null);
  return (known && !isCancelled(order) && activeOf(order).length > 0) || over
    ? accountOf(ledger.entries, books)
    : null;
}

/** What an order brings to the sums. */
export const accountsOf = (order: Order, ledger: LedgerRow | undefined, books: Currency) => ({
  placedAt: order.paidAt,
  expected: expectedOf(order, books),
  actual: actualOf(order, ledger, books),
});

/** Whether an order belongs to the sums: a cancelled one does where something was bought for it. */
export const isCounted = (order: Order) =>
  !isCancelled(order) || order.purchases.some((p) => chargeOf(p) !== null);

/** Ledger rows of some orders, by order. */
export async function ledgersOf(
  work: Pick<Work, 'db'>,
  orders: readonly Order[],
): Promise<Map<string, LedgerRow>> {
  const rows = await work.db.ledger.bulkGet(orders.map((o) => o.id));
  return new Map(rows.flatMap((r) => (r ? [[r.id, r] as const] : [])));
}
