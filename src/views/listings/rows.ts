import type { Sum } from '../../core/pricing';
import type { Listing, Product } from '../../store';
import type { Quote } from '../../work/quote';

export interface ListingRow {
  readonly listing: Listing;
  readonly product: Product;
  readonly quote: Quote;
  /** At the price the marketplace shows. */
  readonly sum: Sum | null;
  readonly title: string;
}
