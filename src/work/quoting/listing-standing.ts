import { hashOf } from '../../core/catalogue';
import type { Missing } from '../../core/checks';
import type { Listing, ListingDocument, MarketConnection, Product } from '../../store';
import { brandOf, descriptionOf, picturesOf, tagsOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import { attributesOf } from './preset-choice';
import { quoteListing } from './quote';
import type { Quote } from './solve';
import type { Connected, Shop } from './worth';

/** On the Bench: not on sale, and not on its way there. */
export const isOnBench = (l: Listing) => l.state === 'bench' || l.state === 'draft' || l.state === 'refused';

/** The state that a listing returns to when it is withdrawn from sending. */
export const waitingState = (l: Listing): 'bench' | 'draft' => (l.published ? 'draft' : 'bench');

/** The listings of one product on one marketplace: what is approved and published together. */
export const groupOf = (l: Pick<Listing, 'marketplace' | 'product'>) => `${l.marketplace} ${l.product}`;

/** Listings by {@link groupOf}, in the order of their first ones. */
export function inGroups<T extends { readonly listing: Listing }>(all: readonly T[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const key = groupOf(one.listing);
    const own = groups.get(key);
    if (own) own.push(one);
    else groups.set(key, [one]);
  }
  return groups;
}

/** The document of a listing: all that a marketplace gets besides price and quantity. */
export function documentOf(
  full: FullListing,
  { category, full: before }: Pick<Quote, 'full'> & { readonly category: string },
  market: MarketConnection,
  shop: Connected,
): ListingDocument {
  const { product, variant, listing } = full;
  const pictures = picturesOf(product).slice(0, market.site.pictures.most);
  const alts = altsOf(product, pictures);
  return {
    title: titleOf(full),
    description: descriptionOf(full),
    category,
    brand: brandOf(full),
    gtin: variant.gtin,
    group: listing.apart ? null : product.group,
    options: variant.options,
    pictures,
    ...(alts && { alts }),
    ...(variant.grams !== null && { grams: variant.grams }),
    ...(variant.size && { size: variant.size }),
    attributes: attributesOf(full, market, category, shop, before),
    tags: tagsOf(full, market.site),
  };
}

/** The alt texts of some pictures; null where none has one. */
function altsOf({ alts = {} }: Product, pictures: readonly string[]): Record<string, string> | null {
  const said = pictures.flatMap((name) => (alts[name] ? [[name, alts[name]] as const] : []));
  return said.length ? Object.fromEntries(said) : null;
}

/** By which it is seen whether a document is another than the one that was told. */
export const markOfDocument = (document: ListingDocument): number => hashOf(JSON.stringify(document));

/** Whether what a marketplace was told of a listing is no longer what would be told now. */
export function differs(full: FullListing, quote: Quote, market: MarketConnection, shop: Connected): boolean {
  const mark = full.listing.published?.mark ?? null;
  return (
    mark !== null &&
    quote.category !== null &&
    markOfDocument(documentOf(full, { ...quote, category: quote.category }, market, shop)) !== mark
  );
}

/** The listings of one product on the Bench for one marketplace, each with its quote and the missing parts. */
export function benchStanding(
  listings: readonly FullListing[],
  shop: Shop,
  missingFor: (full: FullListing) => readonly Missing[],
) {
  const variants = listings.map((full) => ({
    full,
    listing: full.listing,
    quote: quoteListing(full, shop),
    missing: missingFor(full),
  }));
  const missing = variants.flatMap((v) => v.missing);
  const quoted = variants.every((v) => v.quote !== null);
  return { variants, missing, ready: missing.length === 0 && variants.length > 0 && quoted };
}
