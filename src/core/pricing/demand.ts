import { halfUp, type Ppm, WHOLE } from '../money';
import type { Instant } from '../units';

/** A step of a price: by a share and an amount of the price without steps, all of them together by no more than a share. */
export interface DemandStep {
  readonly rate: Ppm;
  readonly minor: number;
  readonly most: Ppm;
}

/** How a price follows demand: up each time so many were sold, down each time none was for so many days. Null for never. */
export interface DemandRule {
  readonly raise: (DemandStep & { readonly sales: number }) | null;
  readonly lower: (DemandStep & { readonly days: number }) | null;
}

/** How far demand has moved a price. */
export interface Demand {
  /** Steps up above nothing, down below. */
  readonly steps: number;
  /** Units sold since the last step, and what they earned, minor units. */
  readonly sold: number;
  readonly earned: number;
  /** The last sale or step. */
  readonly since: Instant;
}

export const noDemand = (since: Instant): Demand => ({ steps: 0, sold: 0, earned: 0, since });

const DAY = 86_400_000;

/** A price after so many steps; each is rounded half up, as is the most that they come to. */
export function steppedPrice(price: number, steps: number, { raise, lower }: DemandRule): number {
  const step = steps > 0 ? raise : lower;
  if (!step || !steps) return price;
  const each = halfUp(price * step.rate, WHOLE) + step.minor;
  const moved = Math.min(Math.abs(steps) * each, halfUp(price * step.most, WHOLE));
  return Math.max(0, price + Math.sign(steps) * moved);
}

/** Whether a further step would still move a price of this height. */
const moves = (price: number, from: number, to: number, rule: DemandRule) =>
  steppedPrice(price, from, rule) !== steppedPrice(price, to, rule);

/**
 * After a sale: a step up each time that enough were sold, as long as one moves the price.
 * @param price without steps @param earned by all units of the sale
 */
export function afterSale(
  known: Demand,
  rule: DemandRule,
  sale: { readonly units: number; readonly earned: number; readonly price: number; readonly at: Instant },
): Demand {
  let { steps } = known;
  let sold = known.sold + sale.units;
  const wanted = rule.raise?.sales ?? Number.POSITIVE_INFINITY;
  while (sold >= wanted) {
    sold -= wanted;
    if (moves(sale.price, steps, steps + 1, rule)) steps++;
  }
  const stepped = steps !== known.steps;
  return { steps, sold, earned: stepped ? 0 : known.earned + sale.earned, since: sale.at };
}

/** After days without a sale: a step down once enough have passed, as long as one moves the price; else as it is. */
export function afterRest(known: Demand, rule: DemandRule, price: number, at: Instant): Demand {
  const { lower } = rule;
  if (!lower || at - known.since < lower.days * DAY) return known;
  if (!moves(price, known.steps, known.steps - 1, rule)) return known;
  return { steps: known.steps - 1, sold: 0, earned: 0, since: at };
}

/** What is wrong with a rule, one sentence each. */
export function demandProblems({ raise, lower }: DemandRule): string[] {
  const problems: string[] = [];
  for (const [step, what] of [
    [raise, 'raised'],
    [lower, 'lowered'],
  ] as const) {
    if (!step) continue;
    if (step.rate <= 0 && step.minor <= 0)
      problems.push(`A step by which it is ${what} is more than nothing.`);
    if (step.most <= 0) problems.push(`All steps by which it is ${what} come to more than nothing.`);
  }
  if (raise && raise.sales < 1) problems.push('A step up comes after at least one sale.');
  if (lower && lower.days < 1) problems.push('A step down comes after at least one day.');
  if (lower && lower.most >= WHOLE) problems.push('A price is lowered by less than all of it.');
  return problems;
}
