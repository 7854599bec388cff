import type { Ppm } from '../money';

/** One band of a fee: the rate holds for the part of its base up to `upTo` minor units, the last band has no end. */
export interface FeeBand {
  readonly upTo: number | null;
  readonly rate: Ppm;
}

/** What a fee is for; a line of a sum and an entry of the ledger carry it. */
export type FeeKind = 'sale' | 'payment' | 'advertising' | 'listing';

/** A rule as it holds in one category, ready for the inner loop. */
export interface Fee {
  readonly kind: FeeKind;
  readonly name: string;
  readonly per: 'item' | 'order' | 'listing';
  readonly bands: readonly FeeBand[];
  readonly fixed: number;
  readonly least: number;
  readonly most: number;
  readonly onShipping: boolean;
  /** Tax that is added to the price to get its base; 0 for none. */
  readonly plusTax: Ppm;
  /** Tax that is taken out of the price to get its base; 0 for none. */
  readonly lessTax: Ppm;
}
