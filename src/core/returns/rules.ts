import type { Currency } from '../money';
import type { Return, ReturnAnswer } from '../orders';
import { type Reason, reasonById, USUAL_REASONS } from './reasons';

/** How the seller wants returns to be handled. */
export interface ReturnRules {
  readonly reasons: readonly Reason[];
  /** Up to this much, in minor units by currency, a buyer is refunded and keeps the goods; missing for never. */
  readonly keepUpTo: Readonly<Record<Currency, number>>;
  /** What {@link keepUpTo} proposes is done without being asked. */
  readonly byItself: boolean;
  /** Of each hundred units that were sold how many may come back, and the fewest that say anything. */
  readonly limit: { readonly percent: number; readonly least: number };
}

export const USUAL_RETURN_RULES: ReturnRules = {
  reasons: USUAL_REASONS,
  keepUpTo: {},
  byItself: false,
  limit: { percent: 10, least: 3 },
};

/** What is proposed for a return that waits for an answer, and why. */
export interface Proposal {
  readonly answer: ReturnAnswer;
  /** Asked of the supplier besides. */
  readonly claim: boolean;
  readonly why: 'small' | 'fault' | 'usual' | 'delivered' | 'lost';
}

/**
 * How a return would be answered by the rules.
 * @param paid what the buyer paid for its units, in minor units of `currency`
 * @param delivered the parcel was delivered, as far as is known
 */
export function proposalFor(
  c: Pick<Return, 'what' | 'reason'>,
  {
    paid,
    currency,
    delivered,
  }: { readonly paid: number; readonly currency: Currency; readonly delivered: boolean },
  rules: ReturnRules,
): Proposal {
  const { fault } = reasonById(rules.reasons, c.reason);
  const claim = fault === 'supplier' || fault === 'carrier';
  // A bank is told what happened; money is given up only where it did not.
  if (c.what === 'chargeback')
    return delivered
      ? { answer: 'decline', claim: false, why: 'delivered' }
      : { answer: 'refund', claim, why: 'lost' };
  if (c.what === 'not received')
    return delivered
      ? { answer: 'decline', claim: false, why: 'delivered' }
      : { answer: 'refund', claim: true, why: 'lost' };
  if (paid <= (rules.keepUpTo[currency] ?? -1)) return { answer: 'refund', claim, why: 'small' };
  if (claim) return { answer: c.what === 'return' ? 'accept' : 'refund', claim: true, why: 'fault' };
  return { answer: c.what === 'return' ? 'accept' : 'refund', claim: false, why: 'usual' };
}

/** Whether a proposal may be carried out without a person: only what the seller said so of, never a bank's matter. */
export const isByItself = (c: Pick<Return, 'what'>, { why }: Proposal, rules: ReturnRules): boolean =>
  rules.byItself && why === 'small' && (c.what === 'return' || c.what === 'refund');
