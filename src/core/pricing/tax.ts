import type { Ppm } from '../money';

/**
 * Tax on what is sold. `inside`: the price contains it and the seller pays it over (VAT). `added`: the marketplace
 * adds it at checkout and pays it over itself (sales tax); it matters only where fees are taken of it. `none`: there
 * is none.
 */
export interface Tax {
  readonly model: 'inside' | 'added' | 'none';
  /** Of `added` the usual rate, as it differs by where the buyer lives. */
  readonly rate: Ppm;
}
