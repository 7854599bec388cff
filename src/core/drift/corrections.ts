import type { Ppm } from '../money';
import { type CostRules, type FeeRule, NO_COST_RULES } from '../pricing';
import type { Drift } from './drift';

/** Rates of fees are told in hundredths of a percent. */
const STEP = 100;
const MOST_RATE = 1_000_000;

/**
 * Fee rules that would have charged what was charged: what is missing is put on the rate of the first sale fee, as the
 * share of what buyers paid. Null where there is no rate to move, or nothing to move it by.
 * @param paid what buyers paid for the same orders
 */
export function feesBy(
  drift: Pick<Drift, 'expected' | 'actual'>,
  paid: number,
  rules: readonly FeeRule[],
): { readonly rules: FeeRule[]; readonly by: Ppm } | null {
  if (paid <= 0) return null;
  const by = Math.round(((drift.actual - drift.expected) * 1_000_000) / paid / STEP) * STEP;
  const meant = rules.find(
    (r) => r.kind === 'sale' && !r.optional && Object.values(r.bands).some((b) => b.length),
  );
  if (!meant || by === 0) return null;
  const bands = Object.fromEntries(
    Object.entries(meant.bands).map(([category, all]) => [
      category,
      all.map((b) => ({ ...b, rate: Math.min(MOST_RATE, Math.max(0, b.rate + by)) })),
    ]),
  );
  return { rules: rules.map((r) => (r === meant ? { ...r, bands } : r)), by };
}

/** What a supplier charges for each order besides, moved by what its parcels cost more or less than expected; halves up. */
export function handlingBy(
  perOrder: number,
  costs: CostRules | null,
): { readonly costs: CostRules; readonly by: number } | null {
  const by = Math.floor(perOrder + 0.5);
  const known = costs ?? NO_COST_RULES;
  const order = Math.max(0, known.handling.order + by);
  if (order === known.handling.order) return null;
  return { costs: { ...known, handling: { ...known.handling, order } }, by: order - known.handling.order };
}

const MOST_CUSHION = 200_000;

/**
 * The cushion on exchange rates that would have covered what goods cost more than by the rates of the sale, in tenths of a
 * percent; null where the one there is does.
 */
export function cushionBy({ ratio }: Pick<Drift, 'ratio'>, cushion: Ppm): Ppm | null {
  const wanted = Math.ceil(Math.round((ratio - 1) * 1_000_000) / 1_000) * 1_000;
  return wanted > cushion ? Math.min(MOST_CUSHION, wanted) : null;
}
