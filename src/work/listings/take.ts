import type { Item, ItemDetail } from '../../core/catalogue';
import { countOf, skuBy } from '../../core/units';
import {
  addAll,
  allConnections,
  type ChangeHead,
  connectionById,
  type ItemRow,
  itemKey,
  type Listing,
  type Product,
  settingsOf,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { itemRow } from '../memory/facts';

/** A SKU that nothing else has, or had: where it is taken a count is put behind. @example BW-1 → BW-1-2 */
export function freeSku(own: string, used: Set<string>): string {
  let free = own;
  for (let n = 2; used.has(free); n++) free = `${own}-${n}`;
  used.add(free);
  return free;
}

/** What a SKU pattern may name of an item. */
const skuFields = ({ sku, brand, category, options }: Item): Record<string, string> => ({
  ...Object.fromEntries(Object.entries(options).map(([name, value]) => [name.toLowerCase(), value])),
  brand,
  category: category.split('/').at(-1)!,
  sku,
  number: sku.replace(/^[A-Za-z]+-/, ''),
});

export interface Taken {
  readonly products: number;
  readonly listings: number;
}

/** An item on its way to the Bench. */
export interface Taking {
  readonly supplier: string;
  readonly item: Item;
  readonly detail: ItemDetail | null;
  /** Hash of the detail as the supplier gave it. */
  readonly mark?: number;
}

/** A variant on a marketplace where it is not yet. */
export const newListing = (variant: Variant, marketplace: string, at: number, says: string): Listing => ({
  id: `${marketplace}:${variant.sku}`,
  product: variant.product,
  variant: variant.id,
  marketplace,
  sku: variant.sku,
  state: 'bench',
  title: null,
  description: null,
  category: null,
  attributes: {},
  tags: [],
  plan: null,
  approvedAt: null,
  ownPrice: null,
  published: null,
  problem: null,
  last: { at, says },
});

/** SKUs that are, or were, somebody's: those of listings that were taken out go on selling under them. */
export async function usedSkus(work: Work, assortment: Assortment): Promise<Set<string>> {
  const used = new Set<string>();
  for (const { sku } of assortment.allVariants()) used.add(sku);
  for (const [, { listing }] of assortment.all()) used.add(listing.sku);
  for (const key of await work.db.removed.toCollection().primaryKeys())
    used.add(key.slice(key.indexOf(':') + 1));
  return used;
}

/**
 * Puts items on the Bench as one change: items of one group become one product with a variant for each, listed on a
 * marketplace. Items taken already are passed over, and blanks, which are printed first. All in one transaction.
 * @param head who does it and why, where it is not a person's own taking
 * @param tell hears how many rows are written
 */
export async function takeItems(
  work: Work,
  marketplace: string,
  items: readonly Taking[],
  head: Partial<ChangeHead> = {},
  tell?: (done: number, total: number) => void,
): Promise<Taken> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const assortment = await caughtUp(work);
    const used = await usedSkus(work, assortment);
    const pattern = (await settingsOf(db)).sku;
    const suppliers = new Map(
      (await allConnections(db)).flatMap((c) =>
        c.role === 'supplier' && items.some((i) => i.supplier === c.id) ? [[c.id, c] as const] : [],
      ),
    );
    const taken = new Set<string>();
    for (const supplier of suppliers.keys())
      for (const item of assortment.takenOf(supplier)) taken.add(itemKey(supplier, item));
    // A blank is nothing to sell: what is printed on it comes from the print room.
    await db.blanks.each(({ supplier, items: own }) => {
      for (const { sku } of own) taken.add(itemKey(supplier, sku));
    });
    const groups = new Map<string, Taking[]>();
    for (const one of items) {
      const key = itemKey(one.supplier, one.item.sku);
      if (taken.has(key)) continue;
      taken.add(key);
      const group = itemKey(one.supplier, one.item.group ?? one.item.sku);
      const own = groups.get(group);
      if (own) own.push(one);
      else groups.set(group, [one]);
    }
    const products: Product[] = [];
    const variants: Variant[] = [];
    const facts: ItemRow[] = [];
    for (const [id, members] of groups) {
      if (!assortment.has('products', id)) products.push(newProduct(id, members[0]!, at));
      for (const { supplier, item } of members) {
        const key = itemKey(supplier, item.sku);
        variants.push({
          id: key,
          product: id,
          sku: freeSku(skuBy(pattern, skuFields(item)) || item.sku, used),
          options: item.options,
          gtin: item.gtin,
          grams: null,
          size: null,
          sources: [{ supplier, item: item.sku, pack: 1, role: 'preferred' }],
        });
        facts.push(itemRow(suppliers.get(supplier)!, item, at));
      }
    }
    const listings = variants.map((v) => newListing(v, marketplace, at, 'Taken from the catalogue.'));
    // What is known of an item is known once: a row of before, left by an undo, is written over.
    await db.items.bulkDelete(facts.flatMap(({ id }) => (assortment.has('items', id) ? [id] : [])));
    const rows = [
      { table: 'products', rows: products },
      { table: 'variants', rows: variants },
      { table: 'items', rows: facts },
      { table: 'listings', rows: listings },
    ] as const;
    const total = rows.reduce((n, r) => n + r.rows.length, 0);
    let done = 0;
    const name = `Take ${countOf(listings.length, 'item')} to the Bench`;
    await addAll(db, { by: 'person', name, ...head }, rows, nowOf(work), (n) => {
      done += n;
      tell?.(done, total);
    });
    return { products: groups.size, listings: listings.length };
  });
}

const newProduct = (id: string, { supplier, item, detail, mark }: Taking, at: number): Product => ({
  id,
  supplier,
  group: item.group,
  taken: {
    title: item.title,
    description: detail?.description ?? '',
    category: item.category,
    brand: item.brand,
    pictures: detail?.pictures ?? [],
    at,
    mark,
  },
  theirs: null,
  title: null,
  description: null,
  brand: null,
  pictures: null,
  keywords: {},
});

/**
 * Copies a product with its variants, as one change: on the Bench for the same marketplaces, with the same texts and sources
 * and SKUs of its own. @returns the id of the copy; null where the product is not there
 */
export async function duplicateProduct(work: Work, id: string): Promise<string | null> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const assortment = await caughtUp(work);
    const all = assortment.rowsAt(assortment.ofProducts([id]));
    const [first] = all;
    if (!first) return null;
    const used = await usedSkus(work, assortment);
    let copy = 2;
    while (assortment.has('products', `${id}~${copy}`)) copy++;
    const suffix = `~${copy}`;
    const variants = new Map<string, Variant>();
    for (const { variant } of all)
      if (!variants.has(variant.id))
        variants.set(variant.id, {
          ...variant,
          id: variant.id + suffix,
          product: id + suffix,
          sku: freeSku(`${variant.sku}-${copy}`, used),
          // Two goods cannot have one barcode.
          gtin: null,
        });
    const listings = all.map(({ listing }): Listing => {
      const variant = variants.get(listing.variant)!;
      const {
        title,
        description,
        category,
        attributes,
        tags,
        plan,
        copy: template = null,
        ownPrice,
      } = listing;
      return {
        ...newListing(variant, listing.marketplace, at, `Copied from ${listing.sku}.`),
        ...{ title, description, category, attributes, tags, plan, ownPrice },
        copy: template,
      };
    });
    const { product } = first;
    const name = `Duplicate ${product.title ?? product.taken.title}`;
    const copied = { ...product, id: id + suffix, group: product.group && product.group + suffix };
    await addAll(
      db,
      { by: 'person', name },
      [
        { table: 'products', rows: [copied] },
        { table: 'variants', rows: [...variants.values()] },
        { table: 'listings', rows: listings },
      ],
      nowOf(work),
    );
    return id + suffix;
  });
}

/** Puts products on the Bench for one more marketplace, as one change; variants that are there already stay as they are. */
export async function listOn(work: Work, products: readonly string[], marketplace: string): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const market = await connectionById(db, marketplace);
    const assortment = await caughtUp(work);
    const listed = assortment.rowsAt(assortment.ofProducts(products));
    const there = new Set(
      listed.flatMap((f) => (f.listing.marketplace === marketplace ? [f.variant.id] : [])),
    );
    const variants = new Map(listed.map((f) => [f.variant.id, f.variant]));
    const listings = [...variants.values()]
      .filter((v) => !there.has(v.id) && assortment.placeOf(`${marketplace}:${v.sku}`) < 0)
      .map((v) => newListing(v, marketplace, at, `Meant for ${market?.name ?? marketplace} too.`));
    const name = `${countOf(listings.length, 'listing')} for ${market?.name ?? marketplace}`;
    await addAll(db, { by: 'person', name }, [{ table: 'listings', rows: listings }], nowOf(work));
    return listings.length;
  });
}
