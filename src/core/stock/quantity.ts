import { type Ppm, WHOLE } from '../money';

/** How much of a supplier's stock a marketplace shows. Units of the supplier's, but for what is shown: that is in ours. */
export interface StockRule {
  /** A share of the supplier's stock, or a number for as long as the supplier has enough. */
  readonly show:
    | { readonly is: 'share'; readonly share: Ppm }
    | { readonly is: 'number'; readonly units: number };
  /** Never show more than this. */
  readonly atMost: number;
  /** Rather none than fewer than this. */
  readonly atLeast: number;
  /** Kept back for what happens between two refreshes. */
  readonly safety: number;
  /** None is shown once the supplier has this many or fewer. */
  readonly outAt: number;
  /** Stock that was read longer ago counts less; null where its age does not matter. */
  readonly aging: { readonly hours: number; readonly share: Ppm } | null;
  /**
   * What is shown sells down to `downTo` and is then filled up to `backTo`; null where it follows the supplier at once.
   */
  readonly topUp: { readonly downTo: number; readonly backTo: number } | null;
  /** What becomes of a listing with nothing to show: paused, or on sale with none. */
  readonly whenOut: 'pause' | 'show none' | 'end';
}

export const STARTING_STOCK_RULE: StockRule = {
  show: { is: 'share', share: WHOLE },
  atMost: 5,
  atLeast: 1,
  safety: 2,
  outAt: 0,
  aging: null,
  topUp: null,
  whenOut: 'pause',
};

/** What a quantity is worked out from. Units of the supplier's, but for `shownNow`. */
export interface Stocked {
  readonly stock: number;
  /** Sold, and not yet taken off its stock as last read. */
  readonly promised: number;
  /** Kept back for other use. */
  readonly keptBack?: number;
  /** Units of the supplier's that make one of ours. */
  readonly pack?: number;
  /** Whether its stock was read longer ago than the rule allows. */
  readonly old?: boolean;
  /** It is not sold on this marketplace. */
  readonly keptOff?: boolean;
  /** Its cost leapt, and none is shown until a person has looked at it. */
  readonly costWaits?: boolean;
  /** What the marketplace shows now, in ours; null where it shows nothing yet. */
  readonly shownNow?: number | null;
}

/** What made the quantity what it is, in the order in which it happened; units after each. */
export interface StockStep {
  readonly rule:
    | 'supplier'
    | 'kept off'
    | 'cost waits'
    | 'old'
    | 'out'
    | 'share'
    | 'safety'
    | 'kept back'
    | 'promised'
    | 'pack'
    | 'number'
    | 'at most'
    | 'at least'
    | 'top-up';
  readonly units: number;
}

/**
 * Units to show, with how it came to that: the supplier's stock (less of it where it is old), a share of it, less the safety
 * amount, what is kept back and what is promised to buyers but not yet bought, in whole units of ours, then the limits.
 * @example stockSteps({ stock: 18, promised: 0 }, STARTING_STOCK_RULE) → supplier 18, safety 16, at most 5
 */
export function stockSteps(of: Stocked, rule: StockRule): StockStep[] {
  const { promised, keptBack = 0, pack = 1, shownNow = null } = of;
  const steps: StockStep[] = [{ rule: 'supplier', units: of.stock }];
  let units = of.stock;
  const to = (name: StockStep['rule'], next: number) => {
    if (next !== units) steps.push({ rule: name, units: next });
    units = next;
  };
  const down = (n: number) => Math.max(0, Math.floor(n));
  if (of.keptOff) to('kept off', 0);
  if (of.costWaits) to('cost waits', 0);
  if (of.old && rule.aging) to('old', down((units * rule.aging.share) / WHOLE));
  if (units <= rule.outAt) to('out', 0);
  const { show } = rule;
  if (show.is === 'share') {
    to('share', down((units * show.share) / WHOLE));
    to('safety', down(units - rule.safety));
  }
  to('kept back', down(units - keptBack));
  to('promised', down(units - promised));
  to('pack', down(units / pack));
  if (show.is === 'number') to('number', Math.min(units, show.units));
  to('at most', Math.min(units, rule.atMost));
  if (units < rule.atLeast) to('at least', 0);
  const { topUp } = rule;
  if (topUp && shownNow !== null && units > 0)
    to('top-up', Math.min(units, shownNow > topUp.downTo ? shownNow : topUp.backTo));
  return steps;
}

/** The last of {@link stockSteps}: units to show, never negative. */
export const quantityShown = (of: Stocked, rule: StockRule): number => stockSteps(of, rule).at(-1)!.units;

/** What is wrong with a rule, one sentence each. */
export function stockProblems(rule: StockRule): string[] {
  const problems: string[] = [];
  if (rule.atLeast > rule.atMost) problems.push('It shows at least more than at most.');
  if (rule.topUp && rule.topUp.downTo >= rule.topUp.backTo)
    problems.push('It is filled up to no more than it sells down to.');
  if (rule.topUp && rule.topUp.backTo > rule.atMost)
    problems.push('It is filled up over what is shown at most.');
  return problems;
}
