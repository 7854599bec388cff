import { halfUp, type Ppm, WHOLE } from '../money';
import { type DemandRule, demandProblems } from './demand';

/** What a plan aims for. Amounts in minor units of the marketplace. */
export type Target =
  | { readonly kind: 'margin'; readonly rate: Ppm }
  | { readonly kind: 'markup'; readonly rate: Ppm }
  | { readonly kind: 'profit'; readonly minor: number }
  /** The market price times a factor, and an amount more or less. */
  | { readonly kind: 'market'; readonly rate: Ppm; readonly minor: number }
  /** The price on another marketplace times a factor, and an amount more or less. */
  | { readonly kind: 'site'; readonly marketplace: string; readonly rate: Ppm; readonly minor: number }
  | { readonly kind: 'fixed'; readonly minor: number }
  | { readonly kind: 'formula'; readonly text: string };

/** A target for goods of some landed cost. */
export interface PriceBand {
  /** Landed cost up to which it holds; null without an end. */
  readonly upTo: number | null;
  readonly target: Target;
  /** Added to the profit that the target asks for, or to the price that it names. */
  readonly flat: number;
}

/** The last digits of a price: `minor` within `per` (99 within 100 is “.99”; 0 within 100 is whole). */
export interface Ending {
  readonly minor: number;
  readonly per: number;
  readonly direction: 'up' | 'down' | 'nearest';
}

/** An ending for prices of some height. */
export interface EndingBand {
  /** Price up to which it holds; null without an end. */
  readonly upTo: number | null;
  /** Null for any digit. */
  readonly ending: Ending | null;
}

/**
 * A price plan: targets by landed cost, guards, endings, and how far a price may move. Amounts in minor units of the
 * marketplace.
 */
export interface PricePlan {
  /** By rising cost; the last one has no end. */
  readonly bands: readonly PriceBand[];
  readonly neverUnderMap: boolean;
  /** Never over this share of MSRP; null for no such guard. */
  readonly mostOfMsrp: Ppm | null;
  readonly smallestProfit: number;
  /** Smallest profit as a share of the price; 0 for none. */
  readonly smallestMargin: Ppm;
  /** Never under or over a price of one's own; null for none. */
  readonly floor: number | null;
  readonly ceiling: number | null;
  /** By rising price; the last one has no end. */
  readonly endings: readonly EndingBand[];
  /**
   * Room for a sale: after a discount of this share a sale still earns what the target asks for and no less than the
   * smallest profit. 0 for none.
   */
  readonly room: Ppm;
  /**
   * What happens to a listing that sells while its guards contradict: it shows none where a sale would lose, is
   * sold at the floor, or stays as it is.
   */
  readonly contradiction: 'show none' | 'floor' | 'stay';
  /** How the price follows demand; missing for not at all. */
  readonly demand?: DemandRule | null;
  /** Digits after the point that its amounts are written with; missing for two. */
  readonly digits?: number;
}

const USUAL_DIGITS = 2;
const scaled = new WeakMap<PricePlan, Map<number, PricePlan>>();

/**
 * A plan as it is meant in a currency with so many digits after the point: an amount of 1 is one whole unit of every currency,
 * be it 100, 1 or 1,000 of the smallest. Digits that it has too many are rounded half up. Endings keep their part after the
 * point, and as whole digits where the currency has none. Made once for each plan and number of digits.
 */
export function planIn<P extends Scalable>(plan: P, digits: number): P {
  const own = plan.digits ?? USUAL_DIGITS;
  if (own === digits) return plan;
  let known = scaled.get(plan);
  if (!known) {
    known = new Map();
    scaled.set(plan, known);
  }
  const made = (known.get(digits) as P | undefined) ?? scaledBy(plan, own, digits);
  known.set(digits, made);
  return made;
}

/** A plan, with what else of it is an amount. */
type Scalable = PricePlan & { readonly steps?: { readonly least: number } };

function scaledBy<P extends Scalable>(plan: P, from: number, digits: number): P {
  const amount = (minor: number) =>
    digits > from ? minor * 10 ** (digits - from) : halfUp(minor, 10 ** (from - digits));
  const orNull = (minor: number | null) => (minor === null ? null : amount(minor));
  const target = (t: Target): Target => ('minor' in t ? { ...t, minor: amount(t.minor) } : t);
  const ending = (e: Ending): Ending =>
    digits > from
      ? { ...e, minor: amount(e.minor), per: amount(e.per) }
      : digits === 0
        ? e
        : endingIn(e, from - digits);
  const { demand, steps } = plan;
  return {
    ...plan,
    digits,
    bands: plan.bands.map((b) => ({ upTo: orNull(b.upTo), target: target(b.target), flat: amount(b.flat) })),
    smallestProfit: amount(plan.smallestProfit),
    floor: orNull(plan.floor),
    ceiling: orNull(plan.ceiling),
    endings: plan.endings.map((e) => ({ upTo: orNull(e.upTo), ending: e.ending && ending(e.ending) })),
    ...(steps && { steps: { ...steps, least: amount(steps.least) } }),
    ...(demand && {
      demand: {
        raise: demand.raise && { ...demand.raise, minor: amount(demand.raise.minor) },
        lower: demand.lower && { ...demand.lower, minor: amount(demand.lower.minor) },
      },
    }),
  };
}

/** An ending with fewer digits after the point: the last ones fall away. */
const endingIn = ({ minor, per, direction }: Ending, fewer: number): Ending => ({
  minor: Math.floor(minor / 10 ** fewer),
  per: Math.max(1, Math.floor(per / 10 ** fewer)),
  direction,
});

export const STARTING_PLAN: PricePlan = {
  bands: [{ upTo: null, target: { kind: 'margin', rate: 200_000 }, flat: 0 }],
  neverUnderMap: true,
  mostOfMsrp: WHOLE,
  smallestProfit: 100,
  smallestMargin: 0,
  floor: null,
  ceiling: null,
  endings: [{ upTo: null, ending: { minor: 99, per: 100, direction: 'up' } }],
  room: 0,
  contradiction: 'show none',
};

/** The band that holds for a landed cost: the first that reaches it. */
export function bandFor(plan: Pick<PricePlan, 'bands'>, landed: number): PriceBand {
  const { bands } = plan;
  for (const band of bands) if (band.upTo === null || landed <= band.upTo) return band;
  return bands.at(-1)!;
}

/** Whether a plan's price depends on nothing but landed cost, MAP and MSRP. */
export const goesByCost = ({ bands }: Pick<PricePlan, 'bands'>): boolean =>
  bands.every(({ target: { kind } }) => kind !== 'market' && kind !== 'site' && kind !== 'formula');

/** The ending that prices of a height have. */
export const endingFor = ({ endings }: Pick<PricePlan, 'endings'>, price: number): Ending | null =>
  endings.find((e) => e.upTo === null || price <= e.upTo)?.ending ?? null;

/** What a buyer pays of a price with a discount; halves rounded up. */
export const discounted = (price: number, off: Ppm): number =>
  off ? halfUp(price * (WHOLE - off), WHOLE) : price;

/** What is wrong with a plan, one sentence each. */
export function planProblems(plan: PricePlan): string[] {
  const problems: string[] = [];
  const rising = (ends: readonly (number | null)[], what: string) => {
    if (!ends.length || ends.at(-1) !== null) problems.push(`The last of the ${what} must have no end.`);
    for (let i = 1; i < ends.length - 1; i++)
      if (ends[i] === null || ends[i - 1] === null || ends[i]! <= ends[i - 1]!)
        problems.push(`The ${what} do not rise: each ends above the one before it.`);
  };
  rising(
    plan.bands.map((b) => b.upTo),
    'bands of cost',
  );
  rising(
    plan.endings.map((e) => e.upTo),
    'bands of endings',
  );
  if (plan.floor !== null && plan.ceiling !== null && plan.floor > plan.ceiling)
    problems.push('The floor is above the ceiling.');
  if (plan.demand) problems.push(...demandProblems(plan.demand));
  if (plan.room < 0 || plan.room >= WHOLE) problems.push('A discount is from 0 % to under 100 %.');
  return problems;
}
