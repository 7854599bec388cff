import { convert, type Factor, type Ppm } from '../money';
import { type ShippingBand, type SoldLine, type SumKind, shippingFor, takenOf, withTax } from '../pricing';
import { addDays, dayOf, type Instant } from '../units';

/** One order's account. Minor units of the marketplace's currency. */
export interface Account {
  readonly revenue: number;
  readonly goods: number;
  readonly shipping: number;
  readonly fee: number;
  readonly payment: number;
  readonly tax: number;
  readonly profit: number;
}

/** One line of an order, with what a unit costs at the supplier in its currency. */
export interface AccountLine extends SoldLine {
  readonly cost: number;
  readonly grams: number | null;
}

const account = (a: Omit<Account, 'profit'>): Account => ({
  ...a,
  profit: a.revenue - a.goods - a.shipping - a.fee - a.payment - a.tax,
});

/**
 * What an order earns at given costs, in the marketplace's currency: what the marketplace takes by {@link takenOf},
 * one parcel by the weight of everything in it.
 * @returns null where the supplier ships no parcel of that weight
 */
export function expectedAccount(
  lines: readonly AccountLine[],
  bands: readonly ShippingBand[],
  exchange: Factor,
  costTax: Ppm,
): Account | null {
  const grams = lines.reduce<number | null>(
    (sum, l) => (sum === null || l.grams === null ? null : sum + l.grams * l.quantity),
    0,
  );
  const shipping = shippingFor(bands, grams);
  if (shipping === null) return null;
  const costs = withTax(
    convert(
      lines.reduce((sum, l) => sum + l.cost * l.quantity, 0),
      exchange,
    ),
    convert(shipping, exchange),
    costTax,
  );
  const taken = takenOf(lines, 0);
  const total = (...kinds: SumKind[]) =>
    taken.reduce((sum, l) => (kinds.includes(l.kind) ? sum + l.minor : sum), 0);
  return account({
    revenue: lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0),
    goods: costs.goods + costs.tax,
    shipping: costs.shipping,
    fee: total('sale', 'listing', 'advertising'),
    payment: total('payment'),
    tax: total('tax'),
  });
}

/** What really was charged, as far as the outside has said it; null parts are not known yet. */
export interface Charged {
  readonly goods: number | null;
  readonly shipping: number | null;
  readonly fee: number | null;
  readonly payment: number | null;
}

/**
 * What a cancelled sale cost: the buyer is refunded, what the supplier charged and did not give back stays.
 * Null where nothing was bought.
 */
export function cancelledAccount({ goods, shipping, fee, payment }: Charged): Account | null {
  if (goods === null || shipping === null) return null;
  return account({ revenue: 0, tax: 0, goods, shipping, fee: fee ?? 0, payment: payment ?? 0 });
}

/** The actual account once both the supplier's charge and the marketplace's fees are known, else null. */
export function actualAccount(expected: Account, charged: Charged): Account | null {
  const { goods, shipping, fee, payment } = charged;
  if (goods === null || shipping === null || fee === null || payment === null) return null;
  return account({ revenue: expected.revenue, tax: expected.tax, goods, shipping, fee, payment });
}

export const NOTHING: Account = { revenue: 0, goods: 0, shipping: 0, fee: 0, payment: 0, tax: 0, profit: 0 };

export function addAccounts(a: Account, b: Account): Account {
  return account({
    revenue: a.revenue + b.revenue,
    goods: a.goods + b.goods,
    shipping: a.shipping + b.shipping,
    fee: a.fee + b.fee,
    payment: a.payment + b.payment,
    tax: a.tax + b.tax,
  });
}

/**
 * A day's totals; `best` takes the actual account of an order where it is known and the expected one where
 * not.
 */
export interface DayTotal {
  readonly day: string;
  readonly orders: number;
  readonly best: Account;
  readonly expectedProfit: number;
  readonly actualKnown: number;
}

/**
 * Totals by calendar day in a zone, days without orders included where `days` names them, in order. Orders of
 * other days are none of it.
 */
export function totalsByDay(
  orders: readonly { placedAt: Instant; expected: Account | null; actual: Account | null }[],
  days: readonly string[],
  zone: string,
): DayTotal[] {
  const byDay = new Map(
    days.map((day) => [day, { day, orders: 0, best: NOTHING, expectedProfit: 0, actualKnown: 0 }]),
  );
  for (const order of orders) {
    const total = byDay.get(dayOf(order.placedAt, zone));
    const best = order.actual ?? order.expected;
    if (!total) continue;
    total.orders++;
    if (best) total.best = addAccounts(total.best, best);
    total.expectedProfit += order.expected?.profit ?? 0;
    if (order.actual) total.actualKnown++;
  }
  return [...byDay.values()];
}

/** Days of a range up to which all are told; of a longer one, those that have orders. */
const MOST_DAYS = 400;

/**
 * The calendar days of a range that have a total: every day of up to 400; in longer ranges, however long,
 * those with orders. Both ends included.
 */
export function daysOf(
  from: string,
  to: string,
  orders: readonly { readonly placedAt: Instant }[],
  zone: string,
): string[] {
  const days: string[] = [];
  for (let day = from; day <= to && days.length <= MOST_DAYS; day = addDays(day, 1)) days.push(day);
  if (days.length <= MOST_DAYS) return days;
  const sold = new Set(orders.map((o) => dayOf(o.placedAt, zone)));
  return [...sold].filter((day) => day >= from && day <= to).sort();
}
