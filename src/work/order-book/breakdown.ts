import {
  type Account,
  addAccounts,
  NOTHING,
  PERIODS,
  type Period,
  periodOf,
  shareAccount,
} from '../../core/ledger';
import { addDays } from '../../core/units';
import type { Assortment } from '../memory/assortment';
import { brandOf, titleOf } from '../quoting/copy';
import { listingOf } from '../quoting/promised';
import type { OrderBook } from './order-book';
import { accountAt, dayFromNumber, IS } from './order-columns';

/** What money is broken down by: periods, what an order has, and what its lines have. */
export const OF_ORDERS = ['marketplace', 'country', 'label', 'mark'] as const;
export const OF_LINES = ['supplier', 'product', 'listing', 'category', 'brand'] as const;
export const BREAKDOWNS = [...PERIODS, ...OF_ORDERS, ...OF_LINES] as const;
export type Breakdown = (typeof BREAKDOWNS)[number];

export const isPeriod = (by: Breakdown): by is Period => (PERIODS as readonly string[]).includes(by);
const isOfLines = (by: Breakdown): boolean => (OF_LINES as readonly string[]).includes(by);

/** What stands for money that cannot be told apart: goods that are not ours any more, orders laid away long ago. */
export const UNTOLD = '';

/** Sums of what has one name. Amounts in the books. */
export interface BrokenDown {
  readonly id: string;
  /** As it is shown. */
  readonly name: string;
  /** Orders that have any of it, and units that were sold. */
  readonly orders: number;
  readonly units: number;
  /** By what was really charged where that is known, else as expected. */
  readonly best: Account;
  /** Of the orders that both sides have settled: how many, what was expected of them and what came of it. */
  readonly settled: number;
  readonly expected: Account;
  readonly actual: Account;
}

export interface BreakdownQuestion {
  readonly by: Breakdown;
  /** Days of the shop's zone, both ends included. */
  readonly from: string;
  readonly to: string;
}

type Sum = { -readonly [K in keyof Omit<BrokenDown, 'name'>]: BrokenDown[K] };

const DAY = 86_400_000;

/** Calls what is found with each share of the orders of some days. @param only of orders that have a share of this id */
function eachShare(
  book: OrderBook,
  assortment: Assortment,
  { by, from, to }: BreakdownQuestion,
  found: (share: {
    readonly place: number;
    readonly id: string;
    readonly units: number;
    readonly best: Account | null;
    readonly expected: Account | null;
    readonly actual: Account | null;
  }) => void,
  only?: string,
): void {
  const c = book.all;
  const [first, last] = [Date.parse(from) / DAY, Date.parse(to) / DAY];
  const periods = new Map<number, string>();
  const periodAt = (day: number, period: Period): string => {
    let name = periods.get(day);
    if (name === undefined) {
      name = periodOf(dayFromNumber(day), period);
      periods.set(day, name);
    }
    return name;
  };
  const lines = new Map<string, string>();
  const ofGoods = (marketplace: string, sku: string): string => {
    const key = listingOf({ marketplace }, { sku });
    if (by === 'listing') return key;
    let id = lines.get(key);
    if (id === undefined) {
      const full = assortment.get(key);
      id =
        (by === 'product'
          ? full?.product.id
          : by === 'brand'
            ? full && brandOf(full)
            : full?.product.taken.category) ?? UNTOLD;
      lines.set(key, id);
    }
    return id;
  };
  const wholeAt = (place: number, day: number): string => {
    if (isPeriod(by)) return periodAt(day, by);
    if (by === 'label') return c.labels[place]!;
    if (by === 'mark') return c.mark[place]!;
    if (by === 'country') return c.country[place]!;
    return by === 'marketplace' ? c.marketplace[place]! : UNTOLD;
  };
  for (let place = 0; place < book.idAt.length; place++) {
    const day = c.day[place]!;
    if (!book.idAt[place] || day < first || day > last || !(c.flags[place]! & IS.counted)) continue;
    const sold = c.sold[place]!;
    const ids =
      isOfLines(by) && sold.length
        ? sold.map((l) => (by === 'supplier' ? l.supplier : ofGoods(c.marketplace[place]!, l.sku)))
        : [wholeAt(place, day)];
    if (only !== undefined && !ids.includes(only)) continue;
    const [expected, actual] = [accountAt(c.expected, place), accountAt(c.actual, place)];
    const best = actual ?? expected;
    if (ids.length === 1) {
      const units = sold.length ? sold.reduce((n, l) => n + l.units, 0) : c.units[place]!;
      found({ place, id: ids[0]!, units, best, expected, actual });
      continue;
    }
    const paid = sold.map((l) => l.paid);
    const share = (account: Account | null) => (account ? shareAccount(account, paid) : null);
    const [wanted, real] = [share(expected), share(actual)];
    for (const [k, l] of sold.entries())
      found({
        ...{ place, id: ids[k]!, units: l.units },
        best: (real ?? wanted)?.[k] ?? null,
        expected: wanted?.[k] ?? null,
        actual: real?.[k] ?? null,
      });
  }
}

/**
 * What the orders of some days brought, broken down; every breakdown adds up to the same whole. An order of several lines
 * is shared over them by what was paid for each. Cost: one pass over the columns of all orders.
 */
export function breakdownOf(book: OrderBook, assortment: Assortment, q: BreakdownQuestion): BrokenDown[] {
  const sums = new Map<string, Sum>();
  const seen = new Map<string, number>();
  eachShare(book, assortment, q, ({ place, id, units, best, expected, actual }) => {
    let sum = sums.get(id);
    if (!sum) {
      sum = { id, orders: 0, units: 0, best: NOTHING, settled: 0, expected: NOTHING, actual: NOTHING };
      sums.set(id, sum);
    }
    // An order that has two lines of one counts once.
    const isNew = seen.get(id) !== place;
    seen.set(id, place);
    sum.units += units;
    if (isNew) sum.orders++;
    if (best) sum.best = addAccounts(sum.best, best);
    if (!expected || !actual) return;
    if (isNew) sum.settled++;
    sum.expected = addAccounts(sum.expected, expected);
    sum.actual = addAccounts(sum.actual, actual);
  });
  if (isPeriod(q.by)) fill(sums, q.by, q.from, q.to);
  const name = namesFor(book, assortment, q.by);
  const rows = [...sums.values()].map((sum) => ({ ...sum, name: name(sum.id) }));
  return isPeriod(q.by)
    ? rows.sort((a, b) => (a.id < b.id ? -1 : 1))
    : rows.sort((a, b) => b.best.profit - a.best.profit || (a.id < b.id ? -1 : 1));
}

/** Days up to which periods without an order stand there, too. */
const MOST_FILLED = 400;

/** Puts the periods in between that have no orders; of a long range from the first that has any to the last. */
function fill(sums: Map<string, Sum>, by: Period, from: string, to: string): void {
  let [first, last] = [from, to];
  if ((Date.parse(to) - Date.parse(from)) / DAY > MOST_FILLED) {
    if (by === 'day' || !sums.size) return;
    const years = [...sums.keys()].map((id) => id.slice(0, 4)).sort();
    first = from > `${years[0]}-01-01` ? from : `${years[0]}-01-01`;
    last = to < `${years.at(-1)}-12-31` ? to : `${years.at(-1)}-12-31`;
  }
  for (let day = first; day <= last; day = addDays(day, 1)) {
    const id = periodOf(day, by);
    if (!sums.has(id))
      sums.set(id, {
        id,
        orders: 0,
        units: 0,
        best: NOTHING,
        settled: 0,
        expected: NOTHING,
        actual: NOTHING,
      });
  }
}

function namesFor(book: OrderBook, assortment: Assortment, by: Breakdown): (id: string) => string {
  const connections = book.shop.connections;
  const countries = new Intl.DisplayNames(['en-GB'], { type: 'region', fallback: 'code' });
  return (id) => {
    if (id === UNTOLD)
      return (
        {
          supplier: 'Not bought, or laid away before this was kept',
          label: 'Without a label',
          mark: 'Came by no feed',
          country: 'Laid away before this was kept',
          brand: 'No brand, or not yours any more',
          category: 'Goods that are not yours any more',
          product: 'Goods that are not yours any more',
          listing: 'Laid away before this was kept',
        }[by as string] ?? '–'
      );
    switch (by) {
      case 'marketplace':
      case 'supplier':
        return connections.get(id)?.name ?? id;
      case 'country':
        return /^[A-Z]{2}$/.test(id) ? (countries.of(id) ?? id) : id;
      case 'product':
        return assortment.titleOfProduct(id) ?? id;
      case 'listing': {
        const full = assortment.get(id);
        const at = id.indexOf(':');
        const market = connections.get(id.slice(0, at))?.name ?? id.slice(0, at);
        return `${full ? titleOf(full) : id.slice(at + 1)} · ${market}`;
      }
      default:
        return id;
    }
  };
}

/** Orders behind one row of a breakdown, the newest first, at most so many; each with its share. */
export function ordersBehind(
  book: OrderBook,
  assortment: Assortment,
  q: BreakdownQuestion,
  id: string,
  limit: number,
): { readonly all: number; readonly orders: readonly OrderShare[] } {
  const shares = new Map<number, { best: Account | null; actual: boolean }>();
  eachShare(
    book,
    assortment,
    q,
    (share) => {
      if (share.id !== id) return;
      const before = shares.get(share.place)?.best;
      const best = before && share.best ? addAccounts(before, share.best) : (share.best ?? before ?? null);
      shares.set(share.place, { best, actual: share.actual !== null });
    },
    id,
  );
  const c = book.all;
  const places = [...shares.keys()].sort((a, b) => c.paidAt[b]! - c.paidAt[a]!);
  return {
    all: places.length,
    orders: places.slice(0, limit).map((place) => {
      const { best, actual } = shares.get(place)!;
      const order = book.idAt[place]!;
      return {
        id: order,
        number: order.slice(order.indexOf(':') + 1),
        revenue: best?.revenue ?? null,
        profit: best?.profit ?? null,
        actual,
      };
    }),
  };
}

/** One order's share in a row. Amounts in the books; null where it has no account yet. */
export interface OrderShare {
  readonly id: string;
  readonly number: string;
  readonly revenue: number | null;
  readonly profit: number | null;
  readonly actual: boolean;
}
