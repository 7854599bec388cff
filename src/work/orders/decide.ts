import { type Going, goesAt, weightOf } from '../../core/forwarding';
import { accountOf, type ExpectedCost, expectedEntries } from '../../core/ledger';
import { convert, factorOf } from '../../core/money';
import {
  type Address,
  activeOf,
  type Buyer,
  type Check,
  chargeOf,
  checkOrder,
  type Go,
  holdsBack,
  holdsOf,
  isApproved,
  isOpen,
  isOpenReturn,
  isReprinting,
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
import { deductionsFor, type FeeTable, furtherCosts, type SoldLine } from '../../core/pricing';
import type { Condition } from '../../core/query';
import { Promised } from '../../core/sourcing';
import { itemKey, type Order, orderRules } from '../../store';
import type { Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import type { FullListing } from '../quoting/full-listing';
import { planFor } from '../quoting/plan-choice';
import { categoryOf, supplierCosts } from '../quoting/pricing-terms';
import { listingOf } from '../quoting/promised';
import { marketOf, type Shop, supplierOf } from '../quoting/worth';
import { fitter, paidOf } from './buying';
import { ANYTHING, type Linked, noticesFor, type Planned, plan } from './sources';

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

/** Fees are kept by their table: one is made for each. */
const freeOf = new WeakMap<FeeTable, FeeTable>();

/** What is taken of an order that no marketplace sold: the tax inside it. */
function withoutFees(table: FeeTable): FeeTable {
  let free = freeOf.get(table);
  if (!free) {
    free = { ...table, rules: [] };
    freeOf.set(table, free);
  }
  return free;
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
    const deductions = order.own
      ? deductionsFor(withoutFees(market.site.fees), category ?? '', [])
      : category
        ? deductionsFor(market.site.fees, category, market.optedIn)
        : null;
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

const DAY = 86_400_000;

function checksOf(
  order: Order,
  buyer: Buyer,
  planned: readonly Planned[],
  profit: number | null,
  linked: Linked,
  shop: Shop,
  promised: Promised,
  at: number,
): Check[] {
  const rules = orderRules(shop.settings);
  const books = factorOf(shop.rates, order.currency, shop.settings.currency);
  const email = buyer.email.trim().toLowerCase();
  const watched = email ? rules.watched.find((w) => w.email === email) : undefined;
  const bought = planned.flatMap((p) => p.lines);
  /** A line that is split over sources is told once. */
  const told = new Set<string>();
  /** A line whose print has room for the buyer's words is read as its proof, others by themselves. */
  const own = (line: OpenLine, made: boolean) => {
    if (told.has(line.id)) return { personalised: false, unproofed: false };
    told.add(line.id);
    const proofed = line.proof !== undefined || (line.print === undefined && made);
    return {
      personalised: !proofed && line.personalisation !== null,
      unproofed: proofed && !isApproved(line),
    };
  };
  const unlinked = openLines(order).filter((l) => !bought.some((b) => b.line.id === l.id));
  return checkOrder({
    lines: [
      ...bought.map(({ line, units, full: { source, item } }) => {
        const key = itemKey(source.supplier, source.item);
        return {
          title: line.title,
          quantity: units,
          ...own(line, source.made?.personal === true),
          item: {
            key,
            supplier: supplierOf(shop, source.supplier)!.name,
            pieces: item ? item.stock - promised.piecesOf(key) : 0,
            pack: source.pack,
          },
        };
      }),
      ...unlinked.map((line) => ({
        ...{ title: line.title, quantity: line.open, ...own(line, false), item: null },
      })),
    ],
    address: addressOf(order, buyer),
    suppliers: planned.map(({ supplier, goods, shipping }) => {
      const { name, shipsTo, currency, notices, takes = ANYTHING } = supplierOf(shop, supplier)!;
      const read = shop.readAt?.get(supplier);
      return {
        name,
        shipsTo: notices?.some((n) => n.kind === 'restricted' && n.to.includes(order.country))
          ? shipsTo.filter((to) => to !== order.country)
          : shipsTo,
        takes,
        stopped: rules.stopped.includes(supplier),
        notices: noticesFor({ notices }, order.country),
        costDays: read === undefined ? null : Math.floor((at - read) / DAY),
        currency,
        balance: promised.balanceAt(supplier),
        spend: goods === null || shipping === null ? null : goods + shipping,
      };
    }),
    profit,
    least: leastProfit(order, linked, shop),
    books: shop.settings.currency,
    note: order.buyerNote !== undefined,
    paid: books && convert(paidOf(order), books),
    repeats: order.repeats ?? [],
    watched: watched?.why ?? null,
    usual: rules.usual,
    costDays: rules.costDays,
  });
}

/** How an order that passed its checks goes: by the first rule that fits, else as the shop is set. */
function goingOf(shop: Shop, fits: (when: Condition) => boolean): { going: Going; rule: string } {
  const rule = orderRules(shop.settings).forwarding.find((r) => r.on && fits(r.when));
  return rule ? { going: rule.going, rule: rule.name } : { going: { kind: shop.settings.forward }, rule: '' };
}

/** Where an order goes. @throws where its buyer is not known */
export function addressOf(order: Pick<Order, 'id' | 'address'>, buyer: Buyer | undefined): Address {
  const address = buyer?.addresses[order.address];
  if (!address) throw new Error(`The order ${order.id} has no address.`);
  return address;
}

/** 1 while there is something to do, to await, or for a person to see. */
export const openOf = (order: OrderState): 0 | 1 =>
  isOpen(standingOf(order)) ||
  unseenOf(order).length > 0 ||
  order.cases.some((c) => isReprinting(c) || isOpenReturn(c))
    ? 1
    : 0;

/**
 * Checks an order as things stand and decides: held, ready, or forwarded, to each supplier what it is to send. Pure but
 * for `promised`, to which it adds what it forwards.
 * @param buyer whom it goes to
 */
export function decide(
  order: Order,
  buyer: Buyer | undefined,
  linked: Linked,
  shop: Shop,
  promised: Promised,
  go: Go,
  at: number,
): Extract<OrderEvent, { kind: 'decided' }> {
  const rules = orderRules(shop.settings);
  if (!buyer) throw new Error(`The buyer of the order ${order.id} is not known.`);
  const planned = plan(order, buyer, linked, shop, promised).filter((p) => supplierOf(shop, p.supplier));
  const expected = expectedNow(order, planned, linked, shop, at);
  const profit = expected && (accountOf(expected, shop.settings.currency)?.profit ?? null);
  const suppliers = [...new Set(planned.map((p) => p.supplier))];
  const fits = fitter({ order, suppliers, profit, shop });
  const checks = checksOf(order, buyer, planned, profit, linked, shop, promised, at).map((c): Check => {
    const weight = c.passed ? 'hold' : weightOf(c.kind, rules.checks, fits);
    return weight === 'hold' ? c : { ...c, weight };
  });
  const holds = holdsOf(checks, order.released);
  // Where the next source is bought of, what the one before said is over.
  const over =
    rules.refused === 'next source' && suppliers.length
      ? order.cases.filter(
          (c) =>
            holdsBack(c) &&
            (c.kind === 'refused' || c.kind === 'called off') &&
            !suppliers.includes(c.supplier),
        )
      : [];
  const passed =
    !order.aside && holds.length === 0 && !order.cases.some((c) => holdsBack(c) && !over.includes(c));
  const { going, rule } = goingOf(shop, fits);
  const goes = order.kept ? null : goesAt(going, order.checkedAt ?? at);
  const buys = passed && (go === 'now' || (go === 'by rule' && goes !== null && goes <= at));
  const purchases = buys ? planned.map((p) => purchaseOf(order, p, shop, at)) : [];
  for (const p of purchases) promised.addPurchase(p);
  return {
    ...{ kind: 'decided', checks, expected, passed, why: holds.map((c) => c.kind), purchases },
    due: passed && goes !== null && goes > at ? { at: goes, rule } : null,
    over: passed ? over.map((c) => c.id) : [],
  };
}

function purchaseOf(
  order: Order,
  { supplier, lines, goods, shipping, service, sites }: Planned,
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
        ...{ line: line.id, item, units, pack, calledOff: 0 },
        // What is made with a buyer's words is made with those that were approved.
        personalisation: line.proof?.approved?.words ?? line.personalisation,
        ...(print && { print }),
      };
    }),
    at,
    currency,
    expected: { goods: goods ?? 0, shipping: shipping ?? 0 },
    ...(service && { service: { id: service.id, name: service.name } }),
    ...(sites.length && { sites: sites.map((s) => s.site.id) }),
  };
}

/** Purchases that a person has to place: by hand, or in the next order file. */
export const toPlace = (order: OrderState): Purchase[] =>
  order.purchases.filter((p) => p.state === 'waiting' && p.lane !== 'service');
