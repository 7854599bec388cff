import { halfUp, type Ppm, WHOLE } from '../money';

/** Cost and stock of what a listing sells, from the beginning of a day on. Minor units of the supplier, units. */
export interface PastMove {
  readonly day: number;
  readonly cost: number;
  readonly stock: number;
}

/** A sale of the past. */
export interface PastSale {
  readonly day: number;
  /** Place of the listing. */
  readonly listing: number;
  readonly units: number;
  /** What the buyer paid for one, minor units of the marketplace. */
  readonly price: number;
  readonly order: string;
}

/** What recorded days are rehearsed with. Days count from 1970. */
export interface Past {
  readonly from: number;
  readonly to: number;
  /** By listing: its moves by day, the first one at or before the beginning. */
  readonly moves: readonly (readonly PastMove[])[];
  /** By day. */
  readonly sales: readonly PastSale[];
}

/** A listing under some plans, at some cost and stock. */
export interface Rehearsed {
  /** Null where the plans give none: it keeps the one it had. */
  readonly price: number | null;
  readonly shown: number;
  /** What one sale at a price earns, in minor units of the books. */
  readonly profitAt: (price: number) => number;
}

/** How plans are tried on the past. */
export interface Trial {
  /** A listing at a cost and stock on a day. */
  readonly quote: (listing: number, move: PastMove) => Rehearsed | null;
  /** Whether all listings are quoted anew on a day, as plans or sales begin or end. */
  readonly turns: (day: number) => boolean;
  /** Listings whose price moves at the beginning of a day as they did not sell. */
  readonly rested?: (day: number) => Iterable<number>;
  /** Counts what was sold at a price. @returns whether the price moves by it */
  readonly sold?: (listing: number, units: number, price: number, day: number) => boolean;
  /** By how many percent fewer sell for each percent that a price is higher; 0 for as many. */
  readonly fewer: Ppm;
}

/** One sale as it would have been. */
export interface TriedSale {
  readonly listing: number;
  readonly order: string;
  /** Thousandths of a unit: fewer may sell than did. */
  readonly milli: number;
  readonly price: number;
  readonly was: number;
  readonly profit: number;
  readonly shown: number;
}

export interface TriedDay {
  readonly day: number;
  /** Minor units of the books. */
  readonly profit: number;
  /** Thousandths of units. */
  readonly milli: number;
  /** Sales below cost. */
  readonly below: number;
  /** Units sold beyond what would have been shown. */
  readonly oversold: number;
  /** Prices that moved. */
  readonly changes: number;
  readonly sales: readonly TriedSale[];
}

/** Units as they sell at another price: fewer by a share for each percent that it is higher, more where it is lower. */
export function unitsAt(units: number, was: number, price: number, fewer: Ppm): number {
  if (!fewer || was <= 0) return units * 1000;
  const milli = units * 1000 - Math.round((units * 1000 * fewer * (price - was)) / (was * WHOLE));
  return Math.max(0, milli);
}

/**
 * Tries plans on recorded days, one after the other: what changed is quoted anew, then the day's sales are sold at the price
 * of then. Sales stay as many as they were unless it is said how many fewer sell. Yields each day once it is done.
 */
export function* rehearse(past: Past, trial: Trial): Generator<TriedDay> {
  const { moves, sales } = past;
  const next = new Int32Array(moves.length);
  const now: (Rehearsed | null)[] = new Array(moves.length).fill(null);
  const prices = new Float64Array(moves.length).fill(-1);
  /** Listings by the days on which something of theirs moves. */
  const movingOn = new Map<number, number[]>();
  for (const [listing, own] of moves.entries())
    for (const { day } of own) {
      if (day <= past.from || day > past.to) continue;
      const some = movingOn.get(day);
      if (some) some.push(listing);
      else movingOn.set(day, [listing]);
    }
  let sale = 0;
  /** Listings that made a step by what they sold the day before. */
  const stepped = new Set<number>();
  for (let day = past.from; day <= past.to; day++) {
    let changes = 0;
    const all = day === past.from || trial.turns(day);
    const rested = trial.rested ? [...trial.rested(day)] : [];
    const quoted = all ? moves.keys() : new Set([...(movingOn.get(day) ?? []), ...stepped, ...rested]);
    stepped.clear();
    for (const listing of quoted) {
      const own = moves[listing]!;
      while (next[listing]! + 1 < own.length && own[next[listing]! + 1]!.day <= day) next[listing]!++;
      const move = own[next[listing]!];
      const quote = move ? trial.quote(listing, move) : null;
      now[listing] = quote;
      const price = quote?.price ?? null;
      if (price === null || price === prices[listing]) continue;
      if (prices[listing]! >= 0) changes++;
      prices[listing] = price;
    }
    while (sale < sales.length && sales[sale]!.day < day) sale++;
    const tried: TriedSale[] = [];
    let [profit, milli, below, oversold] = [0, 0, 0, 0];
    for (; sale < sales.length && sales[sale]!.day === day; sale++) {
      const one = sales[sale]!;
      const quote = now[one.listing];
      if (!quote) continue;
      const price = prices[one.listing]! >= 0 ? prices[one.listing]! : one.price;
      const sold = unitsAt(one.units, one.price, price, trial.fewer);
      const each = quote.profitAt(price);
      const earned = Math.sign(each) * halfUp(Math.abs(each) * sold, 1000);
      profit += earned;
      milli += sold;
      if (trial.sold?.(one.listing, Math.round(sold / 1000), price, day)) stepped.add(one.listing);
      if (each < 0) below++;
      oversold += Math.max(0, Math.ceil(sold / 1000) - quote.shown);
      tried.push({
        ...{ listing: one.listing, order: one.order, milli: sold, price, was: one.price },
        ...{ profit: earned, shown: quote.shown },
      });
    }
    yield { day, profit, milli, below, oversold, changes, sales: tried };
  }
}

/** Sums of tried days. */
export function totalsOf(days: readonly TriedDay[]): Omit<TriedDay, 'day' | 'sales'> {
  const sum = { profit: 0, milli: 0, below: 0, oversold: 0, changes: 0 };
  for (const day of days) for (const name of Object.keys(sum) as (keyof typeof sum)[]) sum[name] += day[name];
  return sum;
}
