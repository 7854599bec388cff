import { type Account, addAccounts, type DayTotal, NOTHING } from '../../core/ledger';
import { addDays } from '../../core/units';
import type { OrderBook } from './order-book';
import { accountAt, dayFromNumber, IS } from './order-columns';

/** Sums of some days. */
export interface Sums {
  readonly orders: number;
  readonly sum: Account;
  /** By day, or by month (`2026-03`) where there are many days. */
  readonly totals: readonly DayTotal[];
  readonly by: 'day' | 'month';
  /** Orders that both sides have settled. */
  readonly settled: number;
  readonly expected: Account;
  readonly actual: Account;
  readonly unpriced: number;
}

const DAY = 86_400_000;
/** Days up to which each has its own total. */
const MOST_DAYS = 120;

/** Sums over days of the shop's zone, both ends included. Cost: one pass over the columns of all orders. */
export function sumsOf(book: OrderBook, from: string, to: string): Sums {
  const c = book.all;
  const ids = book.idAt;
  const [first, last] = [Date.parse(from) / DAY, Date.parse(to) / DAY];
  const by = last - first >= MOST_DAYS ? 'month' : 'day';
  const totals = new Map<string, Total>();
  const totalOf = (name: string): Total => {
    let total = totals.get(name);
    if (!total) {
      total = { day: name, orders: 0, best: NOTHING, expectedProfit: 0, actualKnown: 0 };
      totals.set(name, total);
    }
    return total;
  };
  if (by === 'day') for (let day = from; day <= to; day = addDays(day, 1)) totalOf(day);
  const named = new Map<number, Total>();
  const totalAt = (day: number): Total => {
    let total = named.get(day);
    if (!total) {
      const name = dayFromNumber(day);
      total = totalOf(by === 'day' ? name : name.slice(0, 7));
      named.set(day, total);
    }
    return total;
  };
  let [orders, settled, unpriced] = [0, 0, 0];
  let [sum, expected, actual] = [NOTHING, NOTHING, NOTHING];
  for (let place = 0; place < ids.length; place++) {
    const day = c.day[place]!;
    if (!ids[place] || day < first || day > last || !(c.flags[place]! & IS.counted)) continue;
    const [wanted, real] = [accountAt(c.expected, place), accountAt(c.actual, place)];
    const best = real ?? wanted;
    const total = totalAt(day);
    orders++;
    total.orders++;
    total.expectedProfit += wanted?.profit ?? 0;
    if (real) total.actualKnown++;
    if (best) {
      total.best = addAccounts(total.best, best);
      sum = addAccounts(sum, best);
    } else unpriced++;
    if (wanted && real) {
      settled++;
      expected = addAccounts(expected, wanted);
      actual = addAccounts(actual, real);
    }
  }
  const sorted = [...totals.values()].sort((a, b) => (a.day < b.day ? -1 : 1));
  return { orders, sum, totals: sorted, by, settled, expected, actual, unpriced };
}

type Total = { -readonly [K in keyof DayTotal]: DayTotal[K] };
