import type { Sum } from '../../core/pricing';
import type { Listing, Product } from '../../store';
import type { Quote } from '../../work/shop/quote';

export interface ListingRow {
  readonly listing: Listing;
  readonly product: Product;
  /** Null where no supplier item is linked, or its supplier is not connected. */
  readonly quote: Quote | null;
  /** At the price the marketplace shows. */
  readonly sum: Sum | null;
  readonly title: string;
}
