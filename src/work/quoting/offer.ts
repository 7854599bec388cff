import { WHOLE } from '../../core/money';
import { landedOf, type PricedBy, type PricePlan, profitAt, withinGuards } from '../../core/pricing';
import type { StockRule } from '../../core/stock';
import type { Listing, OfferState, PlanRow, Published } from '../../store';
import type { Quote, Solved } from './solve';

/** Live listings follow cost and stock; the Bench waits for a person. */
export const follows = (listing: Listing) => listing.state === 'live' || listing.state === 'paused';

/** The state of an offer with so many units; the stock rule decides it for none. */
export const offerState = (quantity: number, { whenOut }: Pick<StockRule, 'whenOut'>): OfferState =>
  quantity > 0 || whenOut === 'show none' ? 'live' : whenOut === 'end' ? 'ended' : 'paused';

/** Whether a marketplace was told another state than it is to show. */
export const stateMoved = ({ state }: Published, to: OfferState): boolean =>
  state !== undefined && state !== to;

/** The cause of a price, for the history. */
export function pricedBy(quote: Quote, plan: PlanRow | null): PricedBy {
  if (quote.by === 'own') return 'own';
  return plan && quote.answer?.ok
    ? { plan: plan.name, steps: quote.answer.steps }
    : { problem: quote.problem ?? { why: 'no plan' } };
}

/** Whether a price loses at each sale, or breaks MAP or the share of MSRP. */
function isBroken(price: number, { costs, deductions, map, msrp }: Solved, plan: PricePlan): boolean {
  if (costs && deductions && profitAt(price, landedOf(costs), deductions) < 0) return true;
  if (plan.neverUnderMap && map !== null && price < map) return true;
  return plan.mostOfMsrp !== null && msrp !== null && price > Math.floor((msrp * plan.mostOfMsrp) / WHOLE);
}

/**
 * Price and quantity to sell at. Without a price to sell at, of the plan or an own one that keeps its guards, the old one
 * stays, and the plan says what then: by default nothing is shown where a sale at the old price would lose, or where that
 * breaks MAP or MSRP.
 */
export function sellingNow(
  published: number,
  quote: Solved,
  plan: PricePlan | null,
): { price: number; quantity: number } {
  const { quantity, answer, costs, deductions, priced } = quote;
  if (quote.problem === null && quote.price !== null) return { price: quote.price, quantity };
  if (!costs || !deductions || !priced || !plan || plan.contradiction === 'stay')
    return { price: published, quantity };
  if (plan.contradiction === 'floor') {
    const contradicts = answer?.ok === false && answer.why === 'guards' ? answer : null;
    if (contradicts) return { price: contradicts.floor, quantity };
    if (quote.by === 'own') return { price: withinGuards(plan, priced, deductions, quote.price!), quantity };
  }
  return { price: published, quantity: isBroken(published, quote, plan) ? 0 : quantity };
}
