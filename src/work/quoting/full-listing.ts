import { chooseSource } from '../../core/sourcing';
import {
  type CopyTemplate,
  type ItemRow,
  itemKey,
  type Listing,
  type Product,
  type SampanDatabase,
  type Source,
  type Variant,
} from '../../store';

/** A listing with all that its texts, price and quantity are made of. */
export interface FullListing {
  readonly listing: Listing;
  readonly product: Product;
  readonly variant: Variant;
  /** The source it is bought from now: the preferred one, or a backup while that has none. Null where no item is linked. */
  readonly source: Source | null;
  /** The facts about its item; null where none are known. */
  readonly item: ItemRow | null;
  /** All that it can be bought as, the preferred first; missing where there is one at most. */
  readonly offers?: readonly Offer[];
  /** Other goods that may be bought in its place, by a person's word alone; missing for none. */
  readonly substitutes?: readonly Offer[];
  /** The template that its texts are made of; null for none. */
  readonly template: CopyTemplate | null;
}

/** A supplier's item that a variant can be bought as. */
export interface Offer {
  readonly source: Source;
  readonly item: ItemRow | null;
}

/** The current source of a variant, and all its sources. */
export function sourced(
  { sources }: Variant,
  itemOf: (key: string) => ItemRow | undefined,
): Pick<FullListing, 'source' | 'item' | 'offers' | 'substitutes'> {
  const all = sources.map((source) => ({
    source,
    item: itemOf(itemKey(source.supplier, source.item)) ?? null,
  }));
  const isOther = ({ source }: Offer) => source.role === 'substitute';
  const offers = all.filter((one) => !isOther(one));
  const substitutes = all.length > offers.length ? all.filter(isOther) : null;
  const at = chooseSource(
    offers.map(({ source, item }) => ({ pack: source.pack, pieces: item?.stock ?? null })),
  );
  const { source = null, item = null } = offers[at] ?? {};
  return { source, item, ...(offers.length > 1 && { offers }), ...(substitutes && { substitutes }) };
}

/** All that a listing can be bought as, the preferred first. */
export const offersOf = ({ offers, source, item }: FullListing): readonly Offer[] =>
  offers ?? (source ? [{ source, item }] : []);

/** The source that a backup stands in for; null where the preferred one is bought of. */
export const standsInFor = ({ offers, source }: FullListing): Source | null =>
  offers && offers[0]!.source !== source ? offers[0]!.source : null;

type ById<T> = ReadonlyMap<string, T>;

const byId = <T extends { readonly id: string }>(rows: readonly (T | undefined)[]): Map<string, T> =>
  new Map(rows.flatMap((row) => (row ? [[row.id, row] as const] : [])));

/** Puts listings together with their products, variants and items. Those whose product or variant is missing are left out. */
export function assemble(
  listings: readonly Listing[],
  products: ById<Product>,
  variants: ById<Variant>,
  items: ById<ItemRow>,
  templates: ById<CopyTemplate>,
): FullListing[] {
  return listings.flatMap((listing) => {
    const product = products.get(listing.product);
    const variant = variants.get(listing.variant);
    if (!product || !variant) return [];
    const template = templates.get(listing.copy ?? '') ?? null;
    return [{ listing, product, variant, ...sourced(variant, (key) => items.get(key)), template }];
  });
}

/** The listings in full. Cost: three reads by key. */
export async function fullListings(db: SampanDatabase, listings: readonly Listing[]): Promise<FullListing[]> {
  const [products, variants] = await Promise.all([
    db.products.bulkGet([...new Set(listings.map((l) => l.product))]),
    db.variants.bulkGet([...new Set(listings.map((l) => l.variant))]),
  ]);
  const keys = new Set(variants.flatMap((v) => v?.sources.map((s) => itemKey(s.supplier, s.item)) ?? []));
  const [items, templates] = await Promise.all([db.items.bulkGet([...keys]), db.templates.toArray()]);
  return assemble(listings, byId(products), byId(variants), byId(items), byId(templates));
}

/** Every listing of the shop in full. Cost: the whole of four tables. */
export async function allFullListings(
  db: SampanDatabase,
  listings?: readonly Listing[],
): Promise<FullListing[]> {
  const [all, products, variants, items, templates] = await Promise.all([
    listings ?? db.listings.toArray(),
    db.products.toArray(),
    db.variants.toArray(),
    db.items.toArray(),
    db.templates.toArray(),
  ]);
  return assemble(all, byId(products), byId(variants), byId(items), byId(templates));
}

/** The subjects of a listing’s history: itself and its parts. */
export const historyOf = ({ listing, product, variant, item }: FullListing): string[] => [
  `listing:${listing.id}`,
  `product:${product.id}`,
  `variant:${variant.id}`,
  ...(item ? [`item:${item.id}`] : []),
];
