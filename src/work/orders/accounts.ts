import {
  type Account,
  accountOf,
  boughtParts,
  differences,
  type Entry,
  type EntryKind,
  isReturnEntry,
  rateFor,
} from '../../core/ledger';
import type { Currency, Rates } from '../../core/money';
import { activeOf, chargeOf, isCancelled, isReturn, type Purchase } from '../../core/orders';
import {
  type CostRules,
  type FeeKind,
  furtherCosts,
  NO_COST_RULES,
  type Tax,
  taxInside,
} from '../../core/pricing';
import { takenOff } from '../../core/statements';
import {
  type LedgerRow,
  type LedgerTerms,
  type MarketConnection,
  type Order,
  ordersById,
  unpackRows,
  type WholeOrder,
} from '../../store';
import type { Work } from '../context/work';
import { supplierCosts } from '../quoting/pricing-terms';
import { marketOf, type Shop } from '../quoting/worth';

type Known = LedgerRow | undefined;

/** The rate that entries of a currency were made with first; today's where there are none. */
function rateOn(known: readonly Entry[], currency: Currency, rates: Rates): number | null {
  const first = known.find((e) => e.currency === currency && e.rate !== null);
  return first ? first.rate : rateFor(rates, currency);
}

/** Adds entries to what is on record of an order. Runs inside the caller's transaction. */
async function post(
  work: Work,
  order: string,
  of: (known: Known) => { readonly added: readonly Entry[]; readonly terms?: LedgerTerms | undefined },
): Promise<void> {
  const { ledger } = work.db;
  const known = await ledger.get(order);
  const { added, terms } = of(known);
  const all = withTakenOff(known, added, work.clock());
  if (all.length) await ledger.put(rowOf(order, known, all, terms));
}

/** What comes in, and what it takes off corrections by statements that said so before. */
const withTakenOff = (known: Known, added: readonly Entry[], at: number): readonly Entry[] =>
  added.length && known?.stated ? [...added, ...takenOff(known.entries, added, at)] : added;

const rowOf = (
  id: string,
  known: Known,
  added: readonly Entry[],
  terms: LedgerTerms | undefined = known?.terms,
): LedgerRow => ({ ...known, id, entries: [...(known?.entries ?? []), ...added], ...(terms && { terms }) });

/** Whether the other side told an entry with the order itself: neither by a return nor by a statement. */
const isTold = (e: Entry) => !isReturnEntry(e) && e.statement === undefined;

/**
 * Brings sales on record to what their orders say now: what was paid, what was given back for units that were cancelled or
 * else, and the tax inside what is left, by the tax of the first entry. Asks storage once for all of them.
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
    const before = known[k];
    const entries = before?.entries ?? [];
    const own = entries.filter((e) => e.from === '');
    const terms = before?.terms ?? { tax: market.site.fees.tax, bought: {} };
    const rate = rateOn(own, order.currency, shop.rates);
    const added = differences(own, saleEntries(order, terms.tax, rate, at), at);
    const all = withTakenOff(before, added, at);
    return all.length ? [rowOf(order.id, before, all, terms)] : [];
  });
  await db.ledger.bulkPut(rows);
}

export const postSale = (work: Work, order: Order, market: MarketConnection, shop: Shop): Promise<void> =>
  postSales(work, [order], market, shop);

function saleEntries(order: Order, tax: Tax, rate: number | null, at: number): Entry[] {
  const sum = (of: (l: Order['lines'][number]) => number) =>
    order.lines.reduce((n, l) => n + l.unitPrice * of(l), 0);
  const sold = sum((l) => l.quantity);
  const paid = sold + order.shipping;
  const refund = Math.max(order.refunded, isCancelled(order) ? paid : sum((l) => l.cancelled));
  const entry = (kind: EntryKind, amount: number): Entry => ({
    ...{ kind, name: '', amount, currency: order.currency, rate, at, from: '', purchase: null },
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
  await post(work, order.id, (known) => {
    const own = (known?.entries ?? []).filter((e) => e.from === market && isTold(e));
    const rate = rateOn(known?.entries ?? [], order.currency, shop.rates);
    const said = charges.map(({ kind, name, minor }): Entry => {
      const entry = { kind: FEE[kind], name, amount: -minor, currency: order.currency, rate, at };
      return { ...entry, from: market, purchase: null };
    });
    return { added: differences(own, said, at) };
  });
}

/** Of a supplier's rules those that charge besides what it says itself, for one country; null for none. */
function chargingOf(rules: CostRules | null, country: string): CostRules | null {
  if (!rules) return null;
  const { cashback, paying } = rules;
  const imports = rules.imports.filter((rule) => rule.countries.includes(country)).slice(0, 1);
  const none = !cashback.rate && !paying.rate && !paying.fixed && !imports.length;
  return none ? null : { ...NO_COST_RULES, cashback, paying, imports };
}

/**
 * Brings a purchase's charge on record to what its supplier says now, with what it costs besides by the rules, tax and rate
 * of its first entry.
 */
export async function postPurchase(work: Work, order: Order, p: Purchase, shop: Shop): Promise<void> {
  const charge = chargeOf(p);
  if (!charge) return;
  const at = work.clock();
  const { goods, shipping } = charge;
  const { country } = order;
  const key = `${p.supplier} ${p.reference}`;
  await post(work, order.id, (known) => {
    const own = (known?.entries ?? []).filter(
      (e) => e.from === p.supplier && e.purchase === p.reference && isTold(e),
    );
    const frozen = known?.terms?.bought[key] ?? {
      costTax: shop.settings.costTax,
      rules: chargingOf(supplierCosts(shop, p.supplier).rules, country),
    };
    const rate = rateOn(own, p.currency, shop.rates);
    const further = furtherCosts(goods, shipping, country, frozen.rules);
    const said = boughtParts({ goods, shipping, further }, frozen.costTax).map(([kind, amount]): Entry => {
      const entry = { kind, name: '', amount: -amount, currency: p.currency, rate, at };
      return { ...entry, from: p.supplier, purchase: p.reference };
    });
    const tax = known?.terms?.tax ?? marketOf(shop, order.marketplace)?.site.fees.tax;
    const terms = tax && { tax, bought: { ...known?.terms?.bought, [key]: frozen } };
    return { added: differences(own, said, at), terms };
  });
}

/** Brings what returns bring and cost besides refunds on record: labels, credits, restocking, parcels sent again. */
export async function postReturns(work: Work, order: Order, shop: Shop): Promise<void> {
  const at = work.clock();
  await post(work, order.id, (known) => {
    const entries = known?.entries ?? [];
    const said = returnEntries(order, (currency) => rateOn(entries, currency, shop.rates), at);
    return {
      added: differences(
        entries.filter((e) => isReturnEntry(e) && e.statement === undefined),
        said,
        at,
      ),
    };
  });
}

/** What an order's returns bring and cost besides refunds, as they stand. */
export function returnEntries(
  order: Pick<Order, 'cases' | 'purchases' | 'currency' | 'marketplace'>,
  rateOf: (currency: Currency) => number | null,
  at: number,
): Entry[] {
  const theirs = (supplier: string, reference: string) =>
    order.purchases.find((p) => p.supplier === supplier && p.reference === reference)?.currency;
  return order.cases.filter(isReturn).flatMap((c) => {
    const entry = (
      kind: EntryKind,
      amount: number,
      currency: Currency,
      from: string,
      purchase: string | null,
    ) => (amount ? [{ kind, name: c.id, amount, currency, rate: rateOf(currency), at, from, purchase }] : []);
    const { claim, parcel } = c;
    const claimed = claim && theirs(claim.supplier, claim.reference);
    const sent = parcel && theirs(parcel.supplier, parcel.reference);
    return [
      ...entry('return label', -c.label, order.currency, order.marketplace, null),
      ...(claim && claimed
        ? [
            ...entry('credit', claim.credit, claimed, claim.supplier, claim.reference),
            ...entry('restocking', -claim.restocking, claimed, claim.supplier, claim.reference),
          ]
        : []),
      ...(parcel?.again && sent
        ? entry('sending again', -parcel.again.charged, sent, parcel.supplier, parcel.reference)
        : []),
    ];
  });
}

/**
 * Gives entries that were made without a rate the one that is on record by now, of orders that are over too, and what they
 * were expected to bring with them.
 */
export async function fillRates(work: Work, shop: Shop): Promise<void> {
  const { db } = work;
  const lacks = (e: Entry) => e.rate === null && rateFor(shop.rates, e.currency) !== null;
  const filled = (entries: readonly Entry[]) =>
    entries.map((e) => (lacks(e) ? { ...e, rate: rateFor(shop.rates, e.currency) } : e));
  const rows = await db.ledger.filter((r) => r.entries.some(lacks)).toArray();
  await db.ledger.bulkPut(rows.map((r) => ({ ...r, entries: filled(r.entries) })));
  const orders = await db.orders.filter((o) => o.expected?.some(lacks) ?? false).toArray();
  await db.orders.bulkPut(orders.map((o) => ({ ...o, expected: o.expected && filled(o.expected) })));
}

/**
 * Brings archived orders back that have entries of some currencies without a rate: {@link fillRates} gives them theirs then.
 * Block by block, so that nothing waits for all of it. Cost: every block is unpacked, some ten milliseconds each.
 */
export async function bringBackUnrated(
  { db }: Pick<Work, 'db'>,
  currencies: ReadonlySet<string>,
): Promise<void> {
  const lacks = (e: Entry) => e.rate === null && currencies.has(e.currency);
  for (const key of await db.archive.toCollection().primaryKeys()) {
    const [block, rows] = await Promise.all([db.archive.get(key), db.archivedRows.get(key)]);
    if (!block || !rows) continue;
    const places = block.ids.flatMap((id, place) => (id ? [place] : []));
    const unrated = unpackRows<Omit<WholeOrder, 'buyer'>>(rows, places).filter(
      ({ order, ledger }) => ledger?.entries.some(lacks) || order.expected?.some(lacks),
    );
    await ordersById(
      db,
      unrated.map(({ order }) => order.id),
    );
  }
}

/** The expected account of an order; null where it is unknown or the order is cancelled. */
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

/** The account of an order that sums count. */
export const accountsOf = (order: Order, ledger: LedgerRow | undefined, books: Currency) => ({
  placedAt: order.paidAt,
  expected: expectedOf(order, books),
  actual: actualOf(order, ledger, books),
});

/** Whether an order belongs to the sums: a cancelled one does where something was bought for it. */
export const isCounted = (order: Order) =>
  !isCancelled(order) || order.purchases.some((p) => chargeOf(p) !== null);
