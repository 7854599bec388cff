import { fold } from '../../core/copy';
import { fieldsOf, KINDS, type Readers } from '../../core/fields';
import type { Currency } from '../../core/money';
import { type Condition, compile, type Fields, isEverything, lineOf, readCondition } from '../../core/query';
import { brandOf, picturesOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import type { Connected } from './worth';

/** The goods as conditions of plans and presets see them: nothing in it depends on a price. */
export const GOODS = KINDS.goods;

/** How what the goods of a listing are is read. */
export const goodsReaders = ({ connections }: Connected): Readers<'goods', FullListing> => ({
  cost: (f) => f.item?.cost ?? null,
  stock: (f) => f.item?.stock ?? null,
  weight: (f) => f.variant.grams ?? f.item?.grams ?? null,
  brand: (f) => brandOf(f),
  category: ({ product, listing }) => {
    const on = connections.get(listing.marketplace);
    const own = on?.role === 'marketplace' && on.site.categories.find((c) => c.id === listing.category);
    return own ? `${product.taken.category} ${own.name}` : product.taken.category;
  },
  supplier: ({ source }) => (source ? (connections.get(source.supplier)?.name ?? source.supplier) : null),
  sku: ({ variant, listing, source }) => `${listing.sku} ${variant.sku} ${source?.item ?? ''}`,
  has: (f, flag) => {
    switch (flag) {
      case 'barcode':
        return f.variant.gtin !== null;
      case 'picture':
        return picturesOf(f.product).length > 0;
      case 'map':
        return f.item !== null && f.item.map !== null;
      case 'msrp':
        return f.item !== null && f.item.msrp !== null;
    }
  },
});

/** The currency that goods are bought in; irrelevant for goods without an item. */
export const costCurrency = ({ item }: FullListing): Currency => item?.currency ?? 'EUR';

type Test = (f: FullListing) => boolean;

/** Conditions that were compiled, and the fields they were compiled with: both as long as the terms are those. */
const known = new WeakMap<
  Connected['connections'],
  { readonly fields: Fields<FullListing>; readonly tests: WeakMap<Condition, Test> }
>();

/** Whether a condition over goods covers a listing. One that is not wholly understood covers nothing. */
export function coversGoods(condition: Condition, f: FullListing, shop: Connected): boolean {
  if (isEverything(condition)) return true;
  let own = known.get(shop.connections);
  if (!own) {
    own = { fields: fieldsOf('goods', goodsReaders(shop), costCurrency), tests: new WeakMap() };
    known.set(shop.connections, own);
  }
  let test = own.tests.get(condition);
  if (!test) {
    const read = compile(condition, own.fields, (one) => fold(titleOf(one)));
    test = read.problems.length ? () => false : read.test;
    own.tests.set(condition, test);
  }
  return test(f);
}

/** A condition over goods as its search line; '' for everything. */
export const goodsLine = (condition: Condition): string => lineOf(condition, GOODS);

/** A search line over goods; what is not understood of it covers nothing. */
export const readGoods = (line: string): Condition => readCondition(line, GOODS);
