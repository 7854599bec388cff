import { type CheckKind, FIRM } from '../orders';
import type { Condition } from '../query';
import type { ServiceWish, Strategy } from '../sourcing';
import type { ForwardingRule } from './going';

/** What a failed check does: holds the order, says so and lets it go, or nothing. */
export type Weight = 'hold' | 'warn' | 'pass';

/** A failed check of orders of a condition does this. Of several rules for a check the first that fits counts. */
export interface CheckRule {
  readonly id: string;
  readonly check: CheckKind;
  readonly weight: Weight;
  readonly when: Condition;
}

/** Somebody to whom nothing is sold unseen, by the mail address. */
export interface Watched {
  readonly email: string;
  readonly why: string;
}

/** Orders of a condition are to be there within days: a service is taken where the usual shipping takes longer. */
export interface ServiceRule extends ServiceWish {
  readonly id: string;
  readonly on: boolean;
  readonly when: Condition;
}

/** The seller's rules for orders, between the sale and the purchase. */
export interface OrderRules {
  readonly forwarding: readonly ForwardingRule[];
  readonly checks: readonly CheckRule[];
  /** From where on an order is unusual: what is paid, in the currency of the books, and units of one line. */
  readonly usual: { readonly paid: number; readonly units: number };
  /** Days after which costs are too old to buy by unseen. */
  readonly costDays: number;
  /** How a source is chosen of several; `upTo` is what nearness may cost more, in the currency of the books. */
  readonly sourcing: { readonly by: Strategy; readonly upTo: number };
  /** What happens when a supplier refuses, or cancels: a person is asked, or the next source is bought of. */
  readonly refused: 'ask' | 'next source';
  /** Suppliers of which nothing is bought for now. */
  readonly stopped: readonly string[];
  readonly watched: readonly Watched[];
  /** What happens to orders with no line of ours: they are held, or set aside. */
  readonly foreign: 'hold' | 'set aside';
  /** Faster shipping where the usual one takes too long, by the first rule that fits; missing for none. */
  readonly services?: readonly ServiceRule[];
  /** What printing nearest to the buyer may cost more, in the currency of the books; missing for {@link NEAR_PRINT}. */
  readonly printNear?: number;
  /** A buyer asks to cancel what nothing is bought for: a person is asked, or it is accepted. Missing for the first. */
  readonly requests?: 'ask' | 'accept unbought';
}

/** What printing nearest to the buyer may cost more, where the seller sets nothing else. */
export const NEAR_PRINT = 200;

export const USUAL_RULES: OrderRules = {
  forwarding: [],
  checks: [],
  usual: { paid: 50_000, units: 20 },
  costDays: 14,
  sourcing: { by: 'preferred', upTo: 0 },
  refused: 'ask',
  stopped: [],
  watched: [],
  foreign: 'hold',
};

/** What each check does where no rule says otherwise; what is not named holds. */
const USUAL_WEIGHTS: Readonly<Partial<Record<CheckKind, Weight>>> = { costs: 'warn', delivery: 'warn' };

/** Checks that always hold: there is nothing to buy, or a person has to read first. */
export const ALWAYS_HOLD: readonly CheckKind[] = [...FIRM, 'personalised'];

/** What a failed check does. @param fits whether the order is of a condition */
export function weightOf(
  check: CheckKind,
  rules: readonly CheckRule[],
  fits: (when: Condition) => boolean,
): Weight {
  if (ALWAYS_HOLD.includes(check)) return 'hold';
  return (
    rules.find((rule) => rule.check === check && fits(rule.when))?.weight ?? USUAL_WEIGHTS[check] ?? 'hold'
  );
}
