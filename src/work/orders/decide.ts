import { accountOf, type ExpectedCost, expectedEntries } from '../../core/ledger';
import { convert, factorOf } from '../../core/money';
import {
  type Address,
  activeOf,
  type Buyer,
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
import { Promised, splitUnits } from '../../core/sourcing';
import { itemKey, type Order, type Source } from '../../store';
import type { Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { type FullListing, offersOf } from '../quoting/full-listing';
import { planFor } from '../quoting/plan-choice';
import { categoryOf, supplierCosts } from '../quoting/pricing-terms';
import { listingOf } from '../quoting/promised';
import { boughtUnitOf } from '../quoting/quote';
import type { Priceable } from '../quoting/solve';
import { marketOf, type Shop, supplierOf } from '../quoting/worth';

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

export const promisedNow = async (work: Work): Promise<Promised> => promisedIn(work, await caughtUp(work));

/** The pieces and the money on their way, from an assortment that is caught up. */
export async function promisedIn(
  { db }: Pick<Work, 'db'>,
  { openOrders, shop }: Assortment,
): Promise<Promised> {
  const balances = new Map<string, number>();
  for (const { id, balance } of await db.health.toArray()) if (balance !== null) balances.set(id, balance);
  return new Promised(openOrders, (supplier) => shop.readAt?.get(supplier) ?? 0, balances);
}

/** Units of a line as they would be bought now. */
interface PlannedLine {
  readonly line: OpenLine;
  readonly units: number;
  /** The listing as it is bought of this source. */
  readonly full: FullListing & { readonly source: Source };
}

/** A purchase as it would be made now. Null costs cannot be told. */
interface Planned {
  readonly supplier: string;
  readonly lines: readonly PlannedLine[];
  readonly goods: number | null;
  readonly shipping: number | null;
}

/**
 * What would be bought for the units that nothing is bought for yet: each line of its preferred source as far as that has
 * units, the rest of the next; by supplier.
 */
function plan(order: Order, linked: Linked, shop: Shop, promised: Promised): Planned[] {
  const groups = new Map<string, PlannedLine[]>();
  const taken = new Map<string, number>();
  for (const line of openLines(order)) {
    const full = linked.get(listingOf(order, line));
    const offers = full ? offersOf(full) : [];
    const keys = offers.map(({ source }) => itemKey(source.supplier, source.item));
    const shares = splitUnits(
      line.open,
      offers.map(({ source, item }, k) => ({
        pack: source.pack,
        pieces: item && item.stock - promised.piecesOf(keys[k]!) - (taken.get(keys[k]!) ?? 0),
      })),
    );
    for (const [k, { source, item }] of offers.entries()) {
      const units = shares[k]!;
      if (!units) continue;
      taken.set(keys[k]!, (taken.get(keys[k]!) ?? 0) + units * source.pack);
      const own = { line, units, full: { ...full!, source, item } };
      groups.set(source.supplier, [...(groups.get(source.supplier) ?? []), own]);
    }
  }
  return [...groups].map(([supplier, lines]) => costOf(supplier, lines, order.country, shop));
}

function costOf(supplier: string, lines: readonly PlannedLine[], country: string, shop: Shop): Planned {
  const units = lines.map((l) => ({ quantity: l.units, unit: boughtUnitOf(l.full) }));
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
    heaviest: weighed ? Math.max(...units.map((u) => Math.ceil(u.unit!.grams! / (u.unit!.pack ?? 1)))) : null,
    cubicMillimetres: sized ? sum((unit) => unit.cubicMillimetres!) : null,
  };
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
}

/** The lines of an order as they were sold; null where the fees of one cannot be told. */
export function soldLines(order: Order, linked: Linked, shop: Shop): SoldLine[] | null {
  const market = marketOf(shop, order.marketplace);
  if (!market) return null;
  const lines: SoldLine[] = [];
  for (const line of order.lines) {
    if (soldIn(line) === 0) continue;
    const full = linked.get(listingOf(order, line));
    const category = full && categoryOf(full, market, shop);
    const deductions = category ? deductionsFor(market.site.fees, category, market.optedIn) : null;
    if (!deductions) return null;
    lines.push({ unitPrice: line.unitPrice, quantity: soldIn(line), deductions });
  }
  return lines;
}

/** The expected entries of an order at today’s cost; null where a cost or fee is unknown. */
function expectedNow(order: Order, planned: readonly Planned[], linked: Linked, shop: Shop, at: number) {
  const lines = soldLines(order, linked, shop);
  const open = openLines(order).reduce((n, l) => n + l.open, 0);
  const held = planned.reduce((n, p) => n + p.lines.reduce((m, l) => m + l.units, 0), 0);
  if (!lines || held < open) return null;
  const costs: ExpectedCost[] = activeOf(order).map((p) => ({ ...p, ...(chargeOf(p) ?? p.expected) }));
  for (const { supplier, goods, shipping } of planned) {
    const { currency } = supplierOf(shop, supplier)!;
    if (goods === null || shipping === null) return null;
    const reference = nextReference(order.id, supplier, order.purchases);
    costs.push({ reference, supplier, currency, goods, shipping });
  }
  for (const [k, cost] of costs.entries()) {
    const { rules } = supplierCosts(shop, cost.supplier);
    costs[k] = { ...cost, further: furtherCosts(cost.goods, cost.shipping, order.country, rules) };
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
  address: Address,
  planned: readonly Planned[],
  profit: number | null,
  linked: Linked,
  shop: Shop,
  promised: Promised,
): Check[] {
  const bought = planned.flatMap((p) => p.lines);
  /** A line that is split over sources is told once. */
  const told = new Set<string>();
  const isPersonalised = ({ id, personalisation }: OpenLine) => {
    if (told.has(id)) return false;
    told.add(id);
    return personalisation !== null;
  };
  const unlinked = openLines(order).filter((l) => !bought.some((b) => b.line.id === l.id));
  return checkOrder({
    lines: [
      ...bought.map(({ line, units, full: { source, item } }) => {
        const key = itemKey(source.supplier, source.item);
        return {
          title: line.title,
          quantity: units,
          personalised: isPersonalised(line),
          item: {
            key,
            supplier: supplierOf(shop, source.supplier)!.name,
            pieces: item ? item.stock - promised.piecesOf(key) : 0,
            pack: source.pack,
          },
        };
      }),
      ...unlinked.map(({ title, open, personalisation }) => ({
        ...{ title, quantity: open, personalised: personalisation !== null, item: null },
      })),
    ],
    address,
    suppliers: planned.map(({ supplier, goods, shipping }) => {
      const { name, shipsTo, currency } = supplierOf(shop, supplier)!;
      return {
        name,
        shipsTo,
        currency,
        balance: promised.balanceAt(supplier),
        spend: goods === null || shipping === null ? null : goods + shipping,
      };
    }),
    profit,
    least: leastProfit(order, linked, shop),
    books: shop.settings.currency,
  });
}

/** Where an order goes. @throws where its buyer is not known */
export function addressOf(order: Pick<Order, 'id' | 'address'>, buyer: Buyer | undefined): Address {
  const address = buyer?.addresses[order.address];
  if (!address) throw new Error(`The order ${order.id} has no address.`);
  return address;
}

/** 1 while there is something to do, to await, or for a person to see. */
export const openOf = (order: OrderState): 0 | 1 =>
  isOpen(standingOf(order)) || unseenOf(order).length > 0 ? 1 : 0;

/**
 * Checks an order as things stand and decides: held, ready, or forwarded, to each supplier what it is to send. Pure but
 * for `promised`, to which it adds what it forwards.
 * @param address where it goes
 * @param go whether it is forwarded if nothing holds it
 */
export function decide(
  order: Order,
  address: Address,
  linked: Linked,
  shop: Shop,
  promised: Promised,
  go: boolean,
  at: number,
): Extract<OrderEvent, { kind: 'decided' }> {
  const planned = plan(order, linked, shop, promised).filter((p) => supplierOf(shop, p.supplier));
  const expected = expectedNow(order, planned, linked, shop, at);
  const profit = expected && (accountOf(expected, shop.settings.currency)?.profit ?? null);
  const checks = checksOf(order, address, planned, profit, linked, shop, promised);
  const holds = holdsOf(checks, order.released);
  const passed = holds.length === 0 && !order.cases.some(holdsBack);
  const purchases = passed && go ? planned.map((p) => purchaseOf(order, p, shop, at)) : [];
  for (const p of purchases) promised.addPurchase(p);
  return { kind: 'decided', checks, expected, passed, why: holds.map((c) => c.kind), purchases };
}

function purchaseOf(
  order: Order,
  { supplier, lines, goods, shipping }: Planned,
  shop: Shop,
  at: number,
): Purchase {
  const { lanes, currency } = supplierOf(shop, supplier)!;
  return {
    reference: nextReference(order.id, supplier, order.purchases),
    supplier,
    lane: lanes.purchases,
    state: 'waiting',
    lines: lines.map(({ line, units, full }) => {
      const { item, pack, made } = full.source;
      // As it was shown when it was sold, whatever is printed on it since.
      const print = made ? (line.print ?? made.print) : null;
      return {
        ...{ line: line.id, item, units, pack, personalisation: line.personalisation, calledOff: 0 },
        ...(print && { print }),
      };
    }),
    at,
    currency,
    expected: { goods: goods ?? 0, shipping: shipping ?? 0 },
  };
}

/** Purchases that a person has to place: by hand, or in the next order file. */
export const toPlace = (order: OrderState): Purchase[] =>
  order.purchases.filter((p) => p.state === 'waiting' && p.lane !== 'service');
