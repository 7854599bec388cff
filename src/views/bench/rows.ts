import type { Site } from '../../core/checks';
import type { Listing, Product, SampanDatabase } from '../../store';
import type { benchStanding } from '../../work/listings/bench';
import type { Quote } from '../../work/shop/quote';

export interface BenchRow {
  readonly product: Product;
  readonly listings: readonly Listing[];
  readonly standing: ReturnType<typeof benchStanding>;
  /** Of the cheapest variant. */
  readonly quote: Quote | null;
  readonly site: Site | undefined;
  readonly title: string;
  readonly publishing: number;
  readonly refused: number;
}

/** Products with something on the Bench, each with its variants there, newest taken first. */
export async function readBench(db: SampanDatabase): Promise<{ product: Product; listings: Listing[] }[]> {
  const listings = await db.listings.where('state').anyOf(['bench', 'refused', 'publishing']).toArray();
  const byProduct = new Map<string, Listing[]>();
  for (const l of listings) byProduct.set(l.product, [...(byProduct.get(l.product) ?? []), l]);
  const products = await db.products.bulkGet([...byProduct.keys()]);
  return products
    .flatMap((product) => (product ? [{ product, listings: byProduct.get(product.id)! }] : []))
    .sort((a, b) => b.product.taken.at - a.product.taken.at || (a.product.id < b.product.id ? -1 : 1));
}
