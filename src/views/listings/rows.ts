import type { Factor } from '../../core/money';
import type { Sum } from '../../core/pricing';
import type { FullListing } from '../../work/shop/full-listing';
import type { Quote } from '../../work/shop/quote';

export interface ListingRow extends FullListing {
  /** Null where no supplier item is linked, or its supplier is not connected. */
  readonly quote: Quote | null;
  /** At the price the marketplace shows. */
  readonly sum: Sum | null;
  readonly title: string;
  /** Of its marketplace. */
  readonly currency: string;
  readonly market: string;
  /** From its currency to that of the books, so that rows of several marketplaces sort by worth; null without a rate. */
  readonly toBooks: Factor | null;
}
