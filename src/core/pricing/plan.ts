import type { Ppm } from '../money';

/** What a plan aims for. */
export type Target =
  | { readonly kind: 'margin'; readonly rate: Ppm }
  | { readonly kind: 'markup'; readonly rate: Ppm }
  | { readonly kind: 'profit'; readonly minor: number };

/** The last digits of a price: `minor` within `per` (99 within 100 is “.99”; 0 within 100 is whole). */
export interface Ending {
  readonly minor: number;
  readonly per: number;
  readonly direction: 'up' | 'down' | 'nearest';
}

/**
 * A price plan: target, flat amount, guards, ending and how much stock is shown. Amounts in minor units of
 * the marketplace.
 */
export interface PricePlan {
  readonly target: Target;
  /** Added to the profit the target asks for. */
  readonly flat: number;
  readonly neverUnderMap: boolean;
  readonly neverOverMsrp: boolean;
  readonly smallestProfit: number;
  readonly ending: Ending | null;
  /**
   * What happens to a listing that sells while its guards contradict: it shows none where a sale would lose, is
   * sold at the floor, or stays as it is.
   */
  readonly contradiction: 'show none' | 'floor' | 'stay';
}

export const STARTING_PLAN: PricePlan = {
  target: { kind: 'margin', rate: 200_000 },
  flat: 0,
  neverUnderMap: true,
  neverOverMsrp: true,
  smallestProfit: 100,
  ending: { minor: 99, per: 100, direction: 'up' },
  contradiction: 'show none',
};
