import type { Instant } from '../units';
import { isWithin } from './calendar';

/** What the choice of a plan goes by, besides the goods it covers. */
export interface Choosable {
  readonly on: boolean;
  /** Null for all. */
  readonly marketplaces: readonly string[] | null;
  /** Local times of each marketplace between which it holds. */
  readonly from: string | null;
  readonly to: string | null;
}

/** The marketplace that a plan is chosen for, and when. */
export interface Choosing {
  readonly marketplace: string;
  readonly zone: string;
  readonly at: Instant;
}

const meantFor = (plan: Choosable, { marketplace, zone, at }: Choosing) =>
  plan.on &&
  (plan.marketplaces === null || plan.marketplaces.includes(marketplace)) &&
  isWithin(plan, at, zone);

/** The first plan, in the seller's order, that is on, meant for the marketplace and covers the goods; null where none does. */
export function choosePlan<P extends Choosable>(
  plans: readonly P[],
  choosing: Choosing,
  covers: (plan: P) => boolean,
): P | null {
  return plans.find((plan) => meantFor(plan, choosing) && covers(plan)) ?? null;
}

/** Which plan holds for each of many rows, and what became of each plan. */
export interface Choice {
  /** Place of the plan in the list; -1 where none covers the row. */
  readonly of: Int16Array;
  /** Rows that a plan covers, and those of them that it holds for: the others an earlier plan takes away. */
  readonly plans: readonly { readonly covers: number; readonly holds: number }[];
}

/**
 * {@link choosePlan} for many rows at once, by sets of rows.
 * @param rowsOf the rows that a plan covers; null for all of them
 */
export function choosePlans<P extends Choosable>(
  plans: readonly P[],
  choosing: Choosing,
  rows: number,
  rowsOf: (plan: P) => Iterable<number> | null,
): Choice {
  const of = new Int16Array(rows).fill(-1);
  const counts = plans.map((plan, k) => {
    if (!meantFor(plan, choosing)) return { covers: 0, holds: 0 };
    let covers = 0;
    let holds = 0;
    const take = (row: number) => {
      covers++;
      if (of[row] !== -1) return;
      of[row] = k;
      holds++;
    };
    const some = rowsOf(plan);
    if (some) for (const row of some) take(row);
    else for (let row = 0; row < rows; row++) take(row);
    return { covers, holds };
  });
  return { of, plans: counts };
}
