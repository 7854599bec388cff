import type { Site } from '../../core/checks';
import type { Listing, Product, SampanDatabase } from '../../store';
import { type benchStanding, inGroups } from '../../work/listings/bench';
import { type FullListing, fullListings } from '../../work/shop/full-listing';
import type { Quote } from '../../work/shop/quote';

/** One product on the Bench for one marketplace. */
export interface BenchRow {
  /** Marketplace and product. */
  readonly key: string;
  readonly product: Product;
  readonly listings: readonly Listing[];
  readonly full: readonly FullListing[];
  readonly standing: ReturnType<typeof benchStanding>;
  /** Of the cheapest variant. */
  readonly quote: Quote | null;
  readonly site: Site | undefined;
  readonly title: string;
  readonly approved: boolean;
  readonly publishing: number;
  readonly refused: number;
}

/** What is on the Bench, by product and marketplace, newest taken first. */
export async function readBench(db: SampanDatabase): Promise<{ key: string; full: FullListing[] }[]> {
  const listings = await db.listings.where('state').anyOf(['bench', 'refused', 'publishing']).toArray();
  return [...inGroups(await fullListings(db, listings))]
    .map(([key, full]) => ({ key, full }))
    .sort((a, b) => takenAt(b.full) - takenAt(a.full) || (a.key < b.key ? -1 : 1));
}

const takenAt = (full: readonly FullListing[]) => full[0]!.product.taken.at;
