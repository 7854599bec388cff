import type { Field } from '../../core/query';
import { brandOf } from '../shop/copy';
import type { FullListing } from '../shop/full-listing';
import { supplierOf } from '../shop/quote';
import { problemOf } from '../shop/terms';
import type { Assortment } from './assortment';

/** Texts of a listing that every list of listings can be searched by, by field. */
const TEXTS: Readonly<Record<string, (full: FullListing, shop: Assortment, place: number) => string>> = {
  sku: ({ variant, listing, source }) => `${listing.sku} ${variant.sku} ${source?.item ?? ''}`,
  brand: (full) => brandOf(full),
  category: ({ product, listing }, shop) => {
    const on = shop.shop.connections.get(listing.marketplace);
    const own = on?.role === 'marketplace' && on.site.categories.find((c) => c.id === listing.category);
    return `${product.taken.category} ${own ? own.name : ''}`;
  },
  supplier: ({ source }, shop) => supplierOf(shop.shop, source?.supplier ?? '')?.name ?? '',
  template: ({ listing }, shop) => shop.shop.templates.get(listing.copy ?? '')?.name ?? '',
  fault: (full, shop, place) =>
    [
      ...(shop.columns.missing[place] ?? []).flatMap((m) => [m.field, m.reason]),
      problemOf(full, shop.shop),
    ].join(' '),
};

/** What can be typed of them, each with an example. */
export const GOODS_EXAMPLES = [
  { example: 'brand:Fellmoor', means: 'a brand' },
  { example: 'category:lamps', means: 'a category of the supplier or the marketplace' },
  { example: 'supplier:Hollin', means: 'a supplier' },
  { example: 'sku:DD-0101', means: 'our SKU or the supplier’s' },
  { example: 'template:Everyday', means: 'the copy template its texts are made of' },
  { example: 'fault:picture', means: 'a word of what is missing or wrong' },
] as const;

/**
 * Fields of texts over rows that stand for one listing or several.
 * @param placesOf of a row's listings
 */
export function goodsFields<R>(
  shop: Assortment,
  placesOf: (row: R) => Iterable<number>,
): Record<string, Field<R>> {
  return Object.fromEntries(
    Object.entries(TEXTS).map(([name, text]) => [
      name,
      {
        kind: 'text',
        get: (row: R) => {
          const all: string[] = [];
          for (const place of placesOf(row)) {
            const full = shop.rows[place];
            if (full) all.push(text(full, shop, place));
          }
          return all.join('\n');
        },
      } as const,
    ]),
  );
}
