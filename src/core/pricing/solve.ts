import { LARGEST_MINOR, type Ppm, WHOLE } from '../money';
import type { Deductions } from './fees';
import type { PricePlan, Target } from './plan';
import { profitAt } from './sum';

/**
 * Profit times a million must reach `rate × price + amount`: every target in one integer form, so that
 * nothing is rounded before it is compared.
 */
interface Wanted {
  readonly rate: Ppm;
  readonly amount: number;
}

function wanted(target: Target, flat: number, landed: number): Wanted {
  switch (target.kind) {
    case 'margin':
      return { rate: target.rate, amount: flat * WHOLE };
    case 'markup':
      return { rate: 0, amount: target.rate * landed + flat * WHOLE };
    case 'profit':
      return { rate: 0, amount: (target.minor + flat) * WHOLE };
  }
}

const reaches = (price: number, landed: number, d: Deductions, want: Wanted) =>
  profitAt(price, landed, d) * WHOLE >= want.rate * price + want.amount;

/**
 * The smallest price from `from` on at which the sale earns what is wanted, exactly.
 *
 * Rounded parts make profit dip by a minor unit or two as the price rises, so bisection over rounded profit can
 * miss the smallest price. On one straight piece the profit beyond what is wanted, were nothing rounded, is a
 * line. Where it lies below all the rounding there can be, no price reaches the target; from there on each minor
 * unit is tried, by the exact sum. Pieces are taken one after the other, as a dear band may make profit fall. The
 * line only says where to begin: it decides nothing.
 * @returns the price, or null where no price up to the largest amount reaches it (shares of 100 % and more)
 */
function smallest(landed: number, d: Deductions, want: Wanted, from: number): number | null {
  const fixed = landed + want.amount / WHOLE;
  let start = Math.max(from, 0);
  for (const piece of d.pieces) {
    const end = Math.min(Math.floor(piece.upTo), LARGEST_MINOR);
    if (end < start) continue;
    const slope = piece.slope - want.rate / WHOLE;
    const base = piece.base - fixed;
    const near = (price: number) => slope * price + base >= -d.slack;
    const low = slope > 0 ? Math.max(start, Math.floor((-d.slack - base) / slope) - 1) : start;
    for (let price = low; price <= end; price++) {
      if (reaches(price, landed, d, want)) return price;
      if (slope <= 0 && !near(price)) break;
    }
    start = end + 1;
  }
  return null;
}

/**
 * The smallest price that meets a target, flat amount added, whatever the guards say. Null where none does.
 */
export function solveTarget(target: Target, flat: number, landed: number, d: Deductions): number | null {
  return smallest(landed, d, wanted(target, flat, landed), 0);
}

/** The smallest price at which a sale does not lose. Null where none exists. */
export function breakEven(landed: number, d: Deductions): number | null {
  return smallest(landed, d, { rate: 0, amount: 0 }, 0);
}

/** What is known of one item when it is priced, minor units of the marketplace. */
export interface Priced {
  readonly landed: number;
  readonly map: number | null;
  readonly msrp: number | null;
}

/** What moved the price, in the order in which it happened. */
export type PriceStep =
  | { readonly rule: 'target'; readonly price: number }
  | {
      readonly rule: 'map' | 'msrp' | 'smallest-profit' | 'ending';
      readonly from: number;
      readonly price: number;
    };

/** Why no price can be given. */
export type PriceRefusal =
  | { readonly why: 'unreachable' }
  | {
      readonly why: 'guards';
      readonly floor: number;
      readonly floorBy: 'map' | 'smallest-profit';
      readonly ceiling: number;
    };

export type PriceAnswer =
  | {
      readonly ok: true;
      readonly price: number;
      readonly steps: readonly PriceStep[];
      readonly meetsTarget: boolean;
    }
  | ({ readonly ok: false } & PriceRefusal);

/**
 * Solves one price under a plan: target, then floor (MAP, smallest profit), then ceiling (MSRP), then ending,
 * which never goes through a guard.
 *
 * Where the ceiling stops the price below its target, the price stands at the ceiling and `meetsTarget` is
 * false.
 * @example solvePrice(plan with 20 % margin and .99 up, { landed: 1120, map: null, msrp: null }, d) → {
 *   ok: true, price: 2499, … }
 */
export function solvePrice(plan: PricePlan, item: Priced, d: Deductions): PriceAnswer {
  const want = wanted(plan.target, plan.flat, item.landed);
  const keep: Wanted = { rate: 0, amount: plan.smallestProfit * WHOLE };
  const solved = smallest(item.landed, d, want, 0);
  const least = smallest(item.landed, d, keep, 0);
  if (solved === null || least === null) return { ok: false, why: 'unreachable' };

  const map = plan.neverUnderMap ? (item.map ?? 0) : 0;
  const ceiling = plan.neverOverMsrp && item.msrp !== null ? item.msrp : LARGEST_MINOR;
  const floor = Math.max(map, least);
  const floorBy = map > least ? 'map' : 'smallest-profit';
  if (floor > ceiling) return { ok: false, why: 'guards', floor, floorBy, ceiling };

  const allowed = (price: number) =>
    price >= floor && price <= ceiling && reaches(price, item.landed, d, keep);
  const steps: PriceStep[] = [{ rule: 'target', price: solved }];
  let price = solved;
  const move = (rule: 'map' | 'msrp' | 'smallest-profit' | 'ending', to: number) => {
    if (to !== price) steps.push({ rule, from: price, price: to });
    price = to;
  };
  if (price < floor) move(floorBy, floor);
  if (price > ceiling) move('msrp', ceiling);
  // A dip of rounding just above a floor may earn a unit less than the smallest profit: step past it.
  if (!allowed(price)) {
    const past = smallest(item.landed, d, keep, price);
    if (past === null || past > ceiling)
      return { ok: false, why: 'guards', floor, floorBy: 'smallest-profit', ceiling };
    move('smallest-profit', past);
  }
  if (plan.ending)
    move(
      'ending',
      endAt(price, plan.ending, allowed, (p) => reaches(p, item.landed, d, want)),
    );
  return { ok: true, price, steps, meetsTarget: reaches(price, item.landed, d, want) };
}

/**
 * The price with the wanted ending in the wanted direction. Upwards it also keeps the target, if the price
 * before met it (rounding may dip); where no such price lies between the guards, the nearest one on the other
 * side, and where that is none either, the price as it was.
 */
function endAt(
  price: number,
  { minor, per, direction }: { minor: number; per: number; direction: 'up' | 'down' | 'nearest' },
  allowed: (price: number) => boolean,
  meets: (price: number) => boolean,
): number {
  const met = meets(price);
  const up = () => {
    const first = Math.ceil((price - minor) / per) * per + minor;
    for (let k = 0; k < 4; k++)
      if (allowed(first + k * per) && (!met || meets(first + k * per))) return first + k * per;
    return null;
  };
  const down = () => {
    const first = Math.floor((price - minor) / per) * per + minor;
    for (let k = 0; k < 2; k++) if (first - k * per > 0 && allowed(first - k * per)) return first - k * per;
    return null;
  };
  const above = up();
  const below = down();
  if (direction === 'up') return above ?? below ?? price;
  if (direction === 'down') return below ?? above ?? price;
  if (above === null || below === null) return above ?? below ?? price;
  return price - below < above - price ? below : above;
}
