/** How much of a supplier's stock a marketplace shows. Units, never negative. */
export interface StockRule {
  /** Never show more than this. */
  readonly atMost: number;
  /** Kept back for what happens between two refreshes. */
  readonly safety: number;
}

export const STARTING_STOCK_RULE: StockRule = { atMost: 5, safety: 2 };

/**
 * Units to show: the supplier's stock less the safety amount and what is promised to buyers but not yet
 * bought, at most n.
 * @param pack units of the supplier's that make one of ours; stock, safety and promises are counted in the supplier's
 * @example quantityShown(18, 0, { atMost: 5, safety: 2 }) → 5; quantityShown(4, 1, …) → 1
 */
export function quantityShown(supplierStock: number, promised: number, rule: StockRule, pack = 1): number {
  return Math.max(0, Math.min(rule.atMost, Math.floor((supplierStock - rule.safety - promised) / pack)));
}
