import { accountOf, type ExpectedCost, expectedEntries } from '../../core/ledger';
import { convert, factorOf } from '../../core/money';
import {
  activeOf,
  type Check,
  chargeOf,
  checkOrder,
  holdsBack,
  holdsOf,
  isOpen,
  nextReference,
  type OpenLine,
  type OrderEvent,
  type OrderState,
  openLines,
  type Purchase,
  soldIn,
  standingOf,
  unseenOf,
} from '../../core/orders';
import {
  deductionsFor,
  furtherCosts,
  goodsFor,
  handlingFor,
  type SoldLine,
  shippingTo,
} from '../../core/pricing';
import { Promised } from '../../core/sourcing';
import { itemKey, type Order } from '../../store';
import { type Assortment, caughtUp } from '../assortment/assortment';
import type { Work } from '../context';
import type { FullListing } from '../shop/full-listing';
import { planFor } from '../shop/plan-choice';
import {
  boughtUnitOf,
  categoryOf,
  listingOf,
  marketOf,
  type Priceable,
  type Shop,
  supplierCosts,
  supplierOf,
} from '../shop/quote';

/** Listings that orders' lines were bought of, by id, as they are linked now. */
export type Linked = ReadonlyMap<string, FullListing>;

export const linkedOf = async (work: Work, orders: readonly Order[]): Promise<Linked> =>
  linkedIn(await caughtUp(work), orders);

/** {@link linkedOf}, in an assortment that is caught up. */
export function linkedIn(assortment: Assortment, orders: readonly Order[]): Linked {
  const linked = new Map<string, FullListing>();
  for (const order of orders)
    for (const line of order.lines) {
      const full = assortment.get(listingOf(order, line));
      if (full) linked.set(full.listing.id, full);
    }
  return linked;
}

export const promisedNow = async (work: Work): Promise<Promised> => promisedIn(await caughtUp(work));

/** What an assortment that is caught up knows to be on its way. */
export const promisedIn = ({ openOrders, shop }: Assortment): Promised =>
  new Promised(openOrders, (supplier) => shop.readAt?.get(supplier) ?? 0);

/** A purchase as it would be made now. Null costs cannot be told. */
interface Planned {
  readonly supplier: string;
  readonly lines: readonly OpenLine[];
  readonly goods: number | null;
  readonly shipping: number | null;
}

/** What would be bought for the lines that nothing is bought for yet, by supplier, as they are linked now. */
function plan(order: Order, linked: Linked, shop: Shop): Planned[] {
  const of = (line: OpenLine) => linked.get(listingOf(order, line));
  const groups = new Map<string, OpenLine[]>();
  for (const line of openLines(order)) {
    const supplier = of(line)?.source?.supplier;
    if (supplier !== undefined) groups.set(supplier, [...(groups.get(supplier) ?? []), line]);
  }
  return [...groups].map(([supplier, lines]) => {
    const units = lines.map((l) => ({ quantity: l.open, unit: boughtUnitOf(of(l)!) }));
    const known = units.every((u) => u.unit !== null);
    const weighed = known && units.every((u) => u.unit!.grams !== null);
    const sum = (of: (unit: Priceable) => number) =>
      units.reduce((all, u) => all + of(u.unit!) * u.quantity, 0);
    const terms = supplierCosts(shop, supplier);
    const items = known ? sum((unit) => unit.pack ?? 1) : 0;
    const sized = known && units.every((u) => u.unit!.cubicMillimetres != null);
    const parcel = {
      items,
      grams: weighed ? sum((unit) => unit.grams!) : null,
      heaviest: weighed
        ? Math.max(...units.map((u) => Math.ceil(u.unit!.grams! / (u.unit!.pack ?? 1))))
        : null,
      cubicMillimetres: sized ? sum((unit) => unit.cubicMillimetres!) : null,
    };
    const country = order.address.country;
    const carriage = shippingTo(terms, country, parcel);
    const goods = known
      ? units.reduce(
          (all, { unit, quantity }) =>
            all + goodsFor(unit!.cost * quantity, (unit!.pack ?? 1) * quantity, unit!.sku ?? '', terms.rules),
          0,
        )
      : null;
    if (goods === null || carriage === null) return { supplier, lines, goods, shipping: null };
    return { supplier, lines, goods, shipping: carriage + handlingFor(items, terms.rules) };
  });
}

/** The lines of an order as they were sold; null where the fees of one cannot be told. */
export function soldLines(order: Order, linked: Linked, shop: Shop): SoldLine[] | null {
  const market = marketOf(shop, order.marketplace);
  if (!market) return null;
  const lines: SoldLine[] = [];
  for (const line of order.lines) {
    if (soldIn(line) === 0) continue;
    const full = linked.get(listingOf(order, line));
    const category = full && categoryOf(full, market);
    const deductions = category ? deductionsFor(market.site.fees, category, market.optedIn) : null;
    if (!deductions) return null;
    lines.push({ unitPrice: line.unitPrice, quantity: soldIn(line), deductions });
  }
  return lines;
}

/** What an order should bring at today's cost; null where something of it cannot be told. */
function expectedNow(order: Order, planned: readonly Planned[], linked: Linked, shop: Shop, at: number) {
  const lines = soldLines(order, linked, shop);
  const unplanned = openLines(order).length - planned.reduce((n, p) => n + p.lines.length, 0);
  if (!lines || unplanned > 0) return null;
  const costs: ExpectedCost[] = activeOf(order).map((p) => ({ ...p, ...(chargeOf(p) ?? p.expected) }));
  for (const { supplier, goods, shipping } of planned) {
    const { currency } = supplierOf(shop, supplier)!;
    if (goods === null || shipping === null) return null;
    const reference = nextReference(order.id, supplier, order.purchases);
    costs.push({ reference, supplier, currency, goods, shipping });
  }
  for (const [k, cost] of costs.entries()) {
    const { rules } = supplierCosts(shop, cost.supplier);
    costs[k] = { ...cost, further: furtherCosts(cost.goods, cost.shipping, order.address.country, rules) };
  }
  const { marketplace, currency, shipping } = order;
  return expectedEntries(
    { marketplace, currency, lines, shipping, costs, costTax: shop.settings.costTax },
    shop.rates,
    at,
  );
}

/** The smallest profit that the plan of its first line wants, in the currency of the books. */
function leastProfit(order: Order, linked: Linked, shop: Shop): number {
  const first = order.lines[0] && linked.get(listingOf(order, order.lines[0]));
  const least = (first && planFor(shop, first)?.smallestProfit) ?? 0;
  const factor = factorOf(shop.rates, order.currency, shop.settings.currency);
  return factor ? convert(least, factor) : 0;
}

function checksOf(
  order: Order,
  planned: readonly Planned[],
  profit: number | null,
  linked: Linked,
  shop: Shop,
  promised: Promised,
): Check[] {
  return checkOrder({
    lines: openLines(order).map((line) => {
      const full = linked.get(listingOf(order, line));
      const supplier = full?.source && supplierOf(shop, full.source.supplier);
      return {
        title: line.title,
        quantity: line.open,
        personalisation: line.personalisation,
        item:
          full?.source && supplier
            ? {
                key: itemKey(full.source.supplier, full.source.item),
                supplier: supplier.name,
                pieces: full.item ? full.item.stock - promised.piecesOf(full.item.id) : 0,
                pack: full.source.pack,
              }
            : null,
      };
    }),
    address: order.address,
    suppliers: planned.map(({ supplier, goods, shipping }) => {
      const { name, shipsTo, currency, balance } = supplierOf(shop, supplier)!;
      return {
        name,
        shipsTo,
        currency,
        balance: balance === null ? null : balance - promised.moneyTo(supplier),
        spend: goods === null || shipping === null ? null : goods + shipping,
      };
    }),
    profit,
    least: leastProfit(order, linked, shop),
    books: shop.settings.currency,
  });
}

/** 1 while there is something to do, to await, or for a person to see. */
export const openOf = (order: OrderState): 0 | 1 =>
  isOpen(standingOf(order)) || unseenOf(order).length > 0 ? 1 : 0;

/**
 * Checks an order as things stand and decides: held, ready, or forwarded, to each supplier what it is to send. Pure but
 * for `promised`, to which it adds what it forwards.
 * @param go whether it is forwarded if nothing holds it
 */
export function decide(
  order: Order,
  linked: Linked,
  shop: Shop,
  promised: Promised,
  go: boolean,
  at: number,
): Extract<OrderEvent, { kind: 'decided' }> {
  const planned = plan(order, linked, shop).filter((p) => supplierOf(shop, p.supplier));
  const expected = expectedNow(order, planned, linked, shop, at);
  const profit = expected && (accountOf(expected, shop.settings.currency)?.profit ?? null);
  const checks = checksOf(order, planned, profit, linked, shop, promised);
  const holds = holdsOf(checks, order.released);
  const passed = holds.length === 0 && !order.cases.some(holdsBack);
  const purchases = passed && go ? planned.map((p) => purchaseOf(order, p, linked, shop, at)) : [];
  for (const p of purchases) promised.addPurchase(p);
  return { kind: 'decided', checks, expected, passed, why: holds.map((c) => c.kind), purchases };
}

function purchaseOf(
  order: Order,
  { supplier, lines, goods, shipping }: Planned,
  linked: Linked,
  shop: Shop,
  at: number,
): Purchase {
  const { lanes, currency } = supplierOf(shop, supplier)!;
  return {
    reference: nextReference(order.id, supplier, order.purchases),
    supplier,
    lane: lanes.purchases,
    state: 'waiting',
    lines: lines.map((line) => {
      const { item, pack } = linked.get(listingOf(order, line))!.source!;
      const { personalisation } = line;
      return { line: line.id, item, units: line.open, pack, personalisation, calledOff: 0 };
    }),
    at,
    currency,
    expected: { goods: goods ?? 0, shipping: shipping ?? 0 },
  };
}

/** Purchases that a person has to place: by hand, or in the next order file. */
export const toPlace = (order: OrderState): Purchase[] =>
  order.purchases.filter((p) => p.state === 'waiting' && p.lane !== 'service');
