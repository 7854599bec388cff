import { accountOf, type ExpectedCost, expectedEntries } from '../../core/ledger';
import { convert, factorOf } from '../../core/money';
import {
  activeOf,
  bySupplier,
  type Check,
  checkInWords,
  checkOrder,
  holdsOf,
  isActive,
  isOpen,
  linesIn,
  nextReference,
  type OrderLine,
  openLines,
  type Purchase,
  standingOf,
  withPurchase,
} from '../../core/orders';
import {
  deductionsFor,
  furtherCosts,
  goodsFor,
  handlingFor,
  type SoldLine,
  shippingTo,
} from '../../core/pricing';
import { itemKey, type Order, type OutboxRow } from '../../store';
import { type Assortment, caughtUp } from '../assortment/assortment';
import type { Work } from '../context';
import { outgoing, purchaseKey } from '../outbox/row';
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

/** What is on its way to suppliers already: money by supplier, units by item. Grows as orders are decided one after the other. */
export class Committed {
  private readonly money = new Map<string, number>();
  private readonly units = new Map<string, number>();

  /** @param readAt when a supplier's stock was read last: what it accepted before is not on it any more */
  constructor(open: readonly Order[], readAt: (supplier: string) => number) {
    for (const order of open)
      for (const p of activeOf(order))
        this.add(p, p.acceptedAt === null || p.acceptedAt >= readAt(p.supplier));
  }

  add(p: Purchase, onStock = true): void {
    if (p.state !== 'accepted')
      this.money.set(p.supplier, this.moneyTo(p.supplier) + p.expected.goods + p.expected.shipping);
    if (!onStock) return;
    for (const l of linesIn(p)) {
      const key = itemKey(p.supplier, l.item);
      this.units.set(key, this.unitsOf(key) + l.quantity);
    }
  }

  moneyTo(supplier: string): number {
    return this.money.get(supplier) ?? 0;
  }

  unitsOf(item: string): number {
    return this.units.get(item) ?? 0;
  }
}

export const committedNow = async (work: Work): Promise<Committed> => committedIn(await caughtUp(work));

/** What an assortment that is caught up knows to be on its way. */
export const committedIn = ({ openOrders, shop }: Assortment): Committed =>
  new Committed([...openOrders], (supplier) => shop.readAt?.get(supplier) ?? 0);

/** A purchase as it would be made now. Null costs cannot be told. */
interface Planned {
  readonly supplier: string;
  readonly lines: readonly OrderLine[];
  readonly goods: number | null;
  readonly shipping: number | null;
}

/** What would be bought for the lines that nothing is bought for yet, by supplier, as they are linked now. */
function plan(order: Order, linked: Linked, shop: Shop): Planned[] {
  const of = (line: OrderLine) => linked.get(listingOf(order, line));
  const groups = bySupplier(openLines(order), (line) => of(line)?.source?.supplier ?? null);
  return [...groups].map(([supplier, lines]) => {
    const units = lines.map((l) => ({ quantity: l.quantity, unit: boughtUnitOf(of(l)!) }));
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
    if (line.cancelledAt !== null) continue;
    const full = linked.get(listingOf(order, line));
    const category = full && categoryOf(full, market);
    const deductions = category ? deductionsFor(market.site.fees, category, market.optedIn) : null;
    if (!deductions) return null;
    lines.push({ unitPrice: line.unitPrice, quantity: line.quantity, deductions });
  }
  return lines;
}

/** What an order should bring at today's cost; null where something of it cannot be told. */
function expectedNow(order: Order, planned: readonly Planned[], linked: Linked, shop: Shop, at: number) {
  const lines = soldLines(order, linked, shop);
  const unplanned = openLines(order).length - planned.reduce((n, p) => n + p.lines.length, 0);
  if (!lines || unplanned > 0) return null;
  const costs: ExpectedCost[] = activeOf(order).map((p) => ({ ...p, ...(p.charged ?? p.expected) }));
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
  committed: Committed,
): Check[] {
  return checkOrder({
    lines: openLines(order).map((line) => {
      const full = linked.get(listingOf(order, line));
      const supplier = full?.source && supplierOf(shop, full.source.supplier);
      return {
        title: line.title,
        quantity: line.quantity,
        personalisation: line.personalisation,
        item:
          full?.source && supplier
            ? {
                supplier: supplier.name,
                available: full.item
                  ? Math.floor((full.item.stock - committed.unitsOf(full.item.id)) / full.source.pack)
                  : 0,
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
        balance: balance === null ? null : balance - committed.moneyTo(supplier),
        spend: goods === null || shipping === null ? null : goods + shipping,
      };
    }),
    profit,
    least: leastProfit(order, linked, shop),
    books: shop.settings.currency,
  });
}

/** 1 while there is something to do, to await, or for a person to see. */
export const openOf = (order: Order): 0 | 1 => (isOpen(standingOf(order)) || order.notice !== null ? 1 : 0);

/** What a decision makes of an order, and what it asks of the outside. */
export interface Decided {
  readonly set: Partial<Order>;
  readonly buys: readonly OutboxRow<'buy'>[];
  readonly says: string;
}

/**
 * Checks an order as things stand and decides: held, ready, or forwarded, to each supplier what it is to send. Pure but
 * for the clock and `committed`, to which it adds what it forwards.
 * @param go whether it may be forwarded if nothing holds it
 */
export function decide(
  order: Order,
  linked: Linked,
  shop: Shop,
  committed: Committed,
  go: boolean,
  at: number,
): Decided {
  const planned = plan(order, linked, shop).filter((p) => supplierOf(shop, p.supplier));
  const expected = expectedNow(order, planned, linked, shop, at);
  const profit = expected && (accountOf(expected, shop.settings.currency)?.profit ?? null);
  const checks = checksOf(order, planned, profit, linked, shop, committed);
  const holds = holdsOf(checks, order.released);
  const passed = holds.length === 0 && order.notice === null && openLines(order).length > 0;
  const base = { checks, expected, checkedAt: passed ? (order.checkedAt ?? at) : null };
  if (!passed || !go) {
    const why = order.notice ?? holds.map(checkInWords).join(' ');
    return {
      set: { ...base, open: openOf({ ...order, ...base }) },
      buys: [],
      says: passed ? 'All checks passed; waits to be forwarded.' : `Held. ${why}`,
    };
  }
  const made = planned.map((p) => purchaseOf(order, p, linked, shop, at));
  for (const p of made) committed.add(p);
  const purchases = made.reduce(withPurchase, [...order.purchases]);
  const to = made.map((p) => {
    const { name } = supplierOf(shop, p.supplier)!;
    return p.lane === 'service' ? name : p.lane === 'file' ? `${name} by file` : `${name} by hand`;
  });
  return {
    set: { ...base, purchases, open: 1 },
    buys: made.filter((p) => p.lane === 'service').map((p) => buyRow(order, p, shop, at)),
    says: `All checks passed; goes to ${to.join(' and ')}.`,
  };
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
      return { line: line.id, item, quantity: line.quantity * pack, personalisation, cancelledAt: null };
    }),
    at,
    number: null,
    acceptedAt: null,
    currency,
    expected: { goods: goods ?? 0, shipping: shipping ?? 0 },
    charged: null,
    parcels: [],
    complete: false,
    recall: null,
  };
}

/** The outbox row that buys a purchase: what the supplier gets is frozen in it. */
export function buyRow(order: Order, p: Purchase, shop: Shop, at: number): OutboxRow<'buy'> {
  return outgoing(
    purchaseKey(p.supplier, p.reference),
    p.supplier,
    'buy',
    order.id,
    {
      reference: p.reference,
      shop: shop.settings.shop,
      address: order.address,
      lines: linesIn(p).map((l) => ({
        sku: l.item,
        quantity: l.quantity,
        personalisation: l.personalisation,
      })),
      slip: order.slip ?? shop.settings.slip,
    },
    at,
  );
}

/** An order with one of its purchases changed. */
export const changed = (
  order: Order,
  reference: string,
  supplier: string,
  set: Partial<Purchase>,
): Purchase[] =>
  order.purchases.map((p) => (p.reference === reference && p.supplier === supplier ? { ...p, ...set } : p));

export const purchaseIn = (order: Order, reference: string, supplier: string): Purchase | undefined =>
  order.purchases.find((p) => p.reference === reference && p.supplier === supplier);

/** Purchases that a person has to place: by hand, or in the next order file. */
export const toPlace = (order: Order): Purchase[] =>
  order.purchases.filter((p) => isActive(p) && p.state === 'waiting' && p.lane !== 'service');
