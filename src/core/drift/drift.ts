/** What was expected of one order and what came of it, in minor units of one currency, and the day of its sale. */
export interface Pair {
  readonly expected: number;
  readonly actual: number;
  /** Days since 1970. */
  readonly day: number;
}

/** How far what came is from what was expected, of many orders. */
export interface Drift {
  readonly orders: number;
  readonly expected: number;
  readonly actual: number;
  /** Actual by expected: 1.05 is five percent more. With the bounds between which it lies with 99 % confidence. */
  readonly ratio: number;
  readonly low: number;
  readonly high: number;
  /** It is no chance, and large enough to matter. */
  readonly sure: boolean;
  /** The first day of the weeks in which it has held without a break, days since 1970. */
  readonly since: number;
}

/** Orders below which nothing is said to be sure, whatever they look like. */
export const FEWEST = 20;
/** Two-sided 99 % of the normal distribution. */
const Z = 2.576;
/** What is nearer to what was expected matters to no price. */
export const TOLERANCE = 0.01;
const WEEK = 7;

/**
 * The ratio of what came to what was expected, with its confidence interval by the ratio estimator (W. G. Cochran, Sampling
 * Techniques, section 6.4): the variance is that of the residuals `actual − ratio · expected`. Sure is a drift of at least
 * {@link FEWEST} orders whose whole interval lies more than {@link TOLERANCE} from what was expected.
 * @returns null where nothing was expected at all
 */
export function driftOf(pairs: readonly Pair[]): Drift | null {
  const n = pairs.length;
  const expected = pairs.reduce((sum, p) => sum + p.expected, 0);
  const actual = pairs.reduce((sum, p) => sum + p.actual, 0);
  if (!n || expected <= 0) return null;
  const ratio = actual / expected;
  const residuals = pairs.reduce((sum, p) => sum + (p.actual - ratio * p.expected) ** 2, 0);
  const error = n > 1 ? Math.sqrt((residuals * n) / (n - 1)) / expected : Number.POSITIVE_INFINITY;
  const [low, high] = [ratio - Z * error, ratio + Z * error];
  const sure = n >= FEWEST && (low > 1 + TOLERANCE || high < 1 - TOLERANCE);
  return { orders: n, expected, actual, ratio, low, high, sure, since: sinceWhen(pairs, ratio) };
}

/** Goes back week by week for as long as each is off to the same side. */
function sinceWhen(pairs: readonly Pair[], ratio: number): number {
  const last = pairs.reduce((day, p) => Math.max(day, p.day), 0);
  const weeks = new Map<number, { expected: number; actual: number; first: number }>();
  for (const p of pairs) {
    const week = Math.floor((last - p.day) / WEEK);
    const sum = weeks.get(week) ?? { expected: 0, actual: 0, first: p.day };
    sum.expected += p.expected;
    sum.actual += p.actual;
    sum.first = Math.min(sum.first, p.day);
    weeks.set(week, sum);
  }
  let since = last;
  for (const week of [...weeks.keys()].sort((a, b) => a - b)) {
    const { expected, actual, first } = weeks.get(week)!;
    const own = expected > 0 ? actual / expected : 1;
    if (Math.abs(own - 1) <= TOLERANCE || own > 1 !== ratio > 1) break;
    since = first;
  }
  return since;
}
