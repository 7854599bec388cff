import { halfUp, LARGEST_MINOR, type Ppm, WHOLE } from '../money';
import { steppedPrice } from './demand';
import type { Deductions } from './fees';
import { evaluate, parseFormula } from './formula';
import {
  bandFor,
  discounted,
  type Ending,
  endingFor,
  type PriceBand,
  type PricePlan,
  type Target,
} from './plan';
import type { CeilingBy, FloorBy, PriceRefusal, Unpriced } from './problem';
import { type LeftTable, leftTable } from './sum';

/**
 * Profit times a million must reach `rate × price + amount`: every target in one integer form, so that
 * nothing is rounded before it is compared.
 */
interface Wanted {
  readonly rate: Ppm;
  readonly amount: number;
}

/** What a target asks a sale to earn; null for one that names a price. */
function wanted(target: Target, flat: number, landed: number): Wanted | null {
  switch (target.kind) {
    case 'margin':
      return { rate: target.rate, amount: flat * WHOLE };
    case 'markup':
      return { rate: 0, amount: target.rate * landed + flat * WHOLE };
    case 'profit':
      return { rate: 0, amount: (target.minor + flat) * WHOLE };
    default:
      return null;
  }
}

/** The least that a plan lets a sale earn: an amount, and a share of the price where it names one. */
const leastOf = ({ smallestProfit, smallestMargin }: PricePlan): readonly Wanted[] => {
  const profit = { rate: 0, amount: smallestProfit * WHOLE };
  return smallestMargin ? [profit, { rate: smallestMargin, amount: 0 }] : [profit];
};

const reaches = (price: number, landed: number, left: LeftTable, want: Wanted) =>
  (left.at(price) - landed) * WHOLE >= want.rate * price + want.amount;

/**
 * The smallest price from `from` on at which the sale earns what is wanted, exactly.
 *
 * Rounded parts make profit dip by a minor unit or two as the price rises, so bisection over rounded profit can
 * miss the smallest price. On one straight piece the profit beyond what is wanted, were nothing rounded, is a
 * line. As long as that line is lower than zero by more than all roundings together, no price can reach the target;
 * from the first price where it is not, each minor unit is tried with the exact sum. Pieces are searched in order, since
 * a band with higher fees may make profit fall. The line only tells where to begin: the exact sum decides.
 * @returns the price, or null where no price up to the largest amount reaches it (shares of 100 % and more)
 */
function smallest(landed: number, d: Deductions, want: Wanted, from: number): number | null {
  const fixed = landed + want.amount / WHOLE;
  const left = leftTable(d);
  let start = Math.max(from, 0);
  for (const piece of d.pieces) {
    const end = Math.min(Math.floor(piece.upTo), LARGEST_MINOR);
    if (end < start) continue;
    const slope = piece.slope - want.rate / WHOLE;
    const base = piece.base - fixed;
    const near = (price: number) => slope * price + base >= -d.slack;
    const low = slope > 0 ? Math.max(start, Math.floor((-d.slack - base) / slope) - 1) : start;
    for (let price = low; price <= end; price++) {
      if (reaches(price, landed, left, want)) return price;
      if (slope <= 0 && !near(price)) break;
    }
    start = end + 1;
  }
  return null;
}

/** The smallest price from `from` on that reaches several at once; null where none does. */
function smallestOfAll(landed: number, d: Deductions, wants: readonly Wanted[], from: number): number | null {
  for (let price = from; ; ) {
    let next = price;
    for (const want of wants) {
      const reached = smallest(landed, d, want, next);
      if (reached === null) return null;
      next = reached;
    }
    if (next === price || wants.length === 1) return next;
    price = next;
  }
}

/**
 * The smallest price that meets a target, flat amount added, whatever the guards say. Null where none does, and for a target
 * that names a price.
 */
export function solveTarget(target: Target, flat: number, landed: number, d: Deductions): number | null {
  const want = wanted(target, flat, landed);
  return want && smallest(landed, d, want, 0);
}

/** The smallest price at which a sale does not lose. Null where none exists. */
export function breakEven(landed: number, d: Deductions): number | null {
  return smallest(landed, d, { rate: 0, amount: 0 }, 0);
}

/** What is known of one item when it is priced, minor units of the marketplace; null where it is not known. */
export interface Priced {
  readonly landed: number;
  readonly map: number | null;
  readonly msrp: number | null;
  /** What others ask for the same goods there. */
  readonly market?: number | null;
  /** Its price on another marketplace, in this one's currency; the reason where there is none. */
  readonly priceOn?: (marketplace: string) => number | Unpriced;
  /** What formulas may name besides. */
  readonly goods?: number;
  readonly shipping?: number;
  readonly grams?: number | null;
  readonly stock?: number;
  /** Steps that demand moved its price by; 0 or missing for none. */
  readonly demand?: number;
  /** Of the currency after the point; 2 where it is not said. */
  readonly digits?: number;
}

/** What moved the price, in the order in which it happened. */
export type PriceStep =
  /** Under the band that holds for its landed cost, and so that as much is left after a discount of `room`. */
  | { readonly rule: 'target'; readonly price: number; readonly band: PriceBand; readonly room: Ppm }
  | { readonly rule: 'demand'; readonly from: number; readonly price: number; readonly steps: number }
  | {
      readonly rule: 'smallest-profit';
      readonly from: number;
      readonly price: number;
      readonly least: number;
      readonly leastMargin: Ppm;
    }
  /** `most` is the share of MSRP that the price may be. */
  | { readonly rule: 'msrp'; readonly from: number; readonly price: number; readonly most: Ppm }
  | { readonly rule: 'map' | 'floor' | 'ceiling'; readonly from: number; readonly price: number }
  | { readonly rule: 'ending'; readonly from: number; readonly price: number; readonly ending: Ending };

export type PriceAnswer =
  | {
      readonly ok: true;
      readonly price: number;
      readonly steps: readonly PriceStep[];
      readonly meetsTarget: boolean;
    }
  | ({ readonly ok: false } & PriceRefusal);

/** The price that a target names, flat amount added; the reason where it cannot. */
function named(target: Target, flat: number, item: Priced): number | Unpriced {
  const factored = (price: number, rate: Ppm, minor: number): number | Unpriced => {
    const value = halfUp(price * rate, WHOLE) + minor + flat;
    return value > 0 ? value : { is: 'nothing' };
  };
  switch (target.kind) {
    case 'fixed':
      return target.minor + flat;
    case 'market':
      return item.market == null ? { is: 'market price' } : factored(item.market, target.rate, target.minor);
    case 'site': {
      const { marketplace } = target;
      const there = item.priceOn?.(marketplace) ?? ({ is: 'no price there', marketplace } as const);
      return typeof there === 'number' ? factored(there, target.rate, target.minor) : there;
    }
    case 'formula': {
      const formula = parseFormula(target.text);
      if (!formula.ok)
        return { is: 'formula', said: `The formula cannot be read: ${formula.problem.reason}` };
      const { landed, goods = null, shipping = null, market = null, map, msrp } = item;
      const { grams: weight = null, stock = null, digits = 2 } = item;
      const values = { cost: landed, goods, shipping, market, map, msrp, weight, stock };
      const answer = evaluate(formula.formula, values, digits);
      return answer.ok ? answer.minor + flat : { is: 'formula', said: answer.reason };
    }
    default:
      throw new RangeError(`A ${target.kind} names no price.`);
  }
}

/**
 * Solves one price under a plan: target, then steps of demand, then floor (MAP, smallest profit and margin, own floor), then ceiling (share of
 * MSRP, own ceiling), then ending, which never goes through a guard. With room for a sale what a sale earns is that of the
 * discounted price; guards of price hold for the price before the discount.
 *
 * Where the ceiling stops the price below its target, the price stands at the ceiling and `meetsTarget` is
 * false.
 * @example solvePrice(plan with 20 % margin and .99 up, { landed: 1120, map: null, msrp: null }, d) → {
 *   ok: true, price: 2499, … }
 */
export function solvePrice(plan: PricePlan, item: Priced, d: Deductions): PriceAnswer {
  const { landed } = item;
  const left = leftTable(d);
  const band = bandFor(plan, landed);
  const { target, flat } = band;
  const off = plan.room;
  const keeps = leastOf(plan);
  /** The smallest price from `from` on of which a sale earns all that is wanted. */
  const solve = (wants: readonly Wanted[], from: number): number | null => {
    const paid = smallestOfAll(landed, d, wants, discounted(from, off));
    return paid === null ? null : Math.max(from, undiscounted(paid, off));
  };
  const earns = (price: number, want: Wanted) => reaches(discounted(price, off), landed, left, want);

  const want = wanted(target, flat, landed);
  const goal = want ? solve([want], 0) : named(target, flat, item);
  if (goal !== null && typeof goal !== 'number') return { ok: false, why: 'unknown', what: goal };
  const least = solve(keeps, 0);
  if (goal === null || least === null) return { ok: false, why: 'unreachable' };
  const meets = (price: number) => (want ? earns(price, want) : price >= goal);

  const map = plan.neverUnderMap ? (item.map ?? 0) : 0;
  const own = plan.floor ?? 0;
  const floor = Math.max(map, least, own);
  const floorBy: FloorBy = floor === least ? 'smallest-profit' : floor === map ? 'map' : 'floor';
  const ofMsrp =
    plan.mostOfMsrp !== null && item.msrp !== null
      ? Math.floor((item.msrp * plan.mostOfMsrp) / WHOLE)
      : LARGEST_MINOR;
  const ceiling = Math.min(ofMsrp, plan.ceiling ?? LARGEST_MINOR);
  const ceilingBy: CeilingBy = ceiling === ofMsrp ? 'msrp' : 'ceiling';
  const contradiction = (by: FloorBy): PriceAnswer => ({
    ok: false,
    why: 'guards',
    floor,
    floorBy: by,
    ceiling,
    ceilingBy,
  });
  if (floor > ceiling) return contradiction(floorBy);

  const allowed = (price: number) =>
    price >= floor && price <= ceiling && keeps.every((keep) => earns(price, keep));
  const steps: PriceStep[] = [{ rule: 'target', price: goal, band, room: off }];
  let price = goal;
  if (plan.demand && item.demand) {
    price = steppedPrice(goal, item.demand, plan.demand);
    if (price !== goal) steps.push({ rule: 'demand', from: goal, price, steps: item.demand });
  }
  const move = (rule: FloorBy | CeilingBy, to: number) => {
    if (to !== price) steps.push(guardStep(plan, rule, price, to));
    price = to;
  };
  if (price < floor) move(floorBy, floor);
  if (price > ceiling) move(ceilingBy, ceiling);
  // A dip of rounding just above a floor may earn a unit less than the smallest profit: step past it.
  if (!allowed(price)) {
    const past = solve(keeps, price);
    if (past === null || past > ceiling) return contradiction('smallest-profit');
    move('smallest-profit', past);
  }
  const ending = endingFor(plan, price);
  if (ending) {
    const to = endAt(price, ending, allowed, meets);
    if (to !== price) steps.push({ rule: 'ending', from: price, price: to, ending });
    price = to;
  }
  return { ok: true, price, steps, meetsTarget: meets(price) };
}

/** What a guard moved, with what the plan asks for by it. */
function guardStep(plan: PricePlan, rule: FloorBy | CeilingBy, from: number, price: number): PriceStep {
  if (rule === 'msrp') return { rule, from, price, most: plan.mostOfMsrp ?? WHOLE };
  if (rule !== 'smallest-profit') return { rule, from, price };
  return { rule, from, price, least: plan.smallestProfit, leastMargin: plan.smallestMargin };
}

/** The price nearest to a wanted one that keeps the plan's guards; the floor where they contradict. */
export function withinGuards(plan: PricePlan, item: Priced, d: Deductions, price: number): number {
  const least = smallestOfAll(item.landed, d, leastOf(plan), 0) ?? 0;
  const floor = Math.max(plan.neverUnderMap ? (item.map ?? 0) : 0, least, plan.floor ?? 0);
  const ofMsrp =
    plan.mostOfMsrp !== null && item.msrp !== null
      ? Math.floor((item.msrp * plan.mostOfMsrp) / WHOLE)
      : LARGEST_MINOR;
  return Math.max(floor, Math.min(price, ofMsrp, plan.ceiling ?? LARGEST_MINOR));
}

/**
 * The price during a sale: a discount off the full price, never under MAP, and never so low that a sale earns less than
 * the smallest profit. @param full what the plan gives without the sale
 */
export function salePrice(plan: PricePlan, item: Priced, d: Deductions, full: number, off: Ppm): number {
  const keeps = leastOf(plan);
  const map = plan.neverUnderMap ? (item.map ?? 0) : 0;
  const from = Math.max(discounted(full, off), map, plan.floor ?? 0);
  return Math.min(full, smallestOfAll(item.landed, d, keeps, from) ?? full);
}

/**
 * The most that goods may cost until they are at the buyer for the plan to sell them at a price or less; null where no cost
 * would do. Found by halving, as a dearer item is never sold for less within one band; bands are tried one by one.
 */
export function mostCost(plan: PricePlan, item: Priced, price: number, d: Deductions): number | null {
  const sellsFor = (landed: number) => {
    const answer = solvePrice(plan, { ...item, landed }, d);
    return answer.ok && answer.price <= price;
  };
  let best: number | null = null;
  let from = 0;
  for (const { upTo } of plan.bands) {
    const end = Math.min(upTo ?? LARGEST_MINOR, price);
    if (from <= end && sellsFor(from)) {
      let [low, high] = [from, end + 1];
      while (high - low > 1) {
        const middle = Math.floor((low + high) / 2);
        if (sellsFor(middle)) low = middle;
        else high = middle;
      }
      best = low;
    }
    from = end + 1;
  }
  return best;
}

/** The smallest price of which a buyer with a discount pays as much; see {@link discounted}. */
function undiscounted(paid: number, off: Ppm): number {
  if (!off) return paid;
  let price = Math.max(0, Math.floor(((paid - 1) * WHOLE) / (WHOLE - off)));
  while (discounted(price, off) < paid) price++;
  while (price > 0 && discounted(price - 1, off) >= paid) price--;
  return price;
}

/**
 * The price with the wanted ending in the wanted direction. Upwards it also keeps the target, if the price
 * before met it (rounding may dip); where no such price lies between the guards, the nearest one on the other
 * side, and where that is none either, the price as it was.
 */
function endAt(
  price: number,
  { minor, per, direction }: Ending,
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
