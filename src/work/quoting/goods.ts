import { fold } from '../../core/copy';
import { fieldsOf, KINDS, type Readers } from '../../core/fields';
import { type GroupOf, Membership } from '../../core/groups';
import type { Currency } from '../../core/money';
import {
  type Condition,
  compile,
  type Fields,
  isEverything,
  lineOf,
  type Problem,
  problemsOf,
  readCondition,
} from '../../core/query';
import { brandOf, picturesOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import type { Connected } from './worth';

/** The goods as conditions of plans and presets see them: nothing in it depends on a price. */
export const GOODS = KINDS.goods;

/** How what the goods of a listing are is read. */
export const goodsReaders = (
  { connections }: Connected,
  groups: Membership<FullListing> | null,
): Readers<'goods', FullListing> => ({
  group: (f, name) => groups?.has(f, name) ?? false,
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
interface Compiled {
  readonly fields: Fields<FullListing>;
  readonly tests: WeakMap<Condition, Test>;
}
const known = new WeakMap<Connected['connections'], WeakMap<readonly GroupOf[], Compiled>>();

const NO_GROUPS: readonly GroupOf[] = [];

const wordsOf = (f: FullListing) => fold(titleOf(f));

function compiledFor(shop: Connected): Compiled {
  let byGroups = known.get(shop.connections);
  if (!byGroups) {
    byGroups = new WeakMap();
    known.set(shop.connections, byGroups);
  }
  const groups = shop.groups ?? NO_GROUPS;
  let own = byGroups.get(groups);
  if (!own) {
    const fieldsWith = (members: Membership<FullListing>) =>
      fieldsOf('goods', goodsReaders(shop, members), costCurrency, members.named);
    const members = new Membership<FullListing>(groups, GOODS, fieldsWith, wordsOf, (f) => f.product.id);
    own = { fields: fieldsWith(members), tests: new WeakMap() };
    byGroups.set(groups, own);
  }
  return own;
}

/** What is not understood of a condition over goods, with the groups there are. */
export const goodsProblems = (condition: Condition, shop: Connected): Problem[] =>
  problemsOf(condition, compiledFor(shop).fields);

/** Whether a condition over goods covers a listing. One that is not wholly understood covers nothing. */
export function coversGoods(condition: Condition, f: FullListing, shop: Connected): boolean {
  if (isEverything(condition)) return true;
  const own = compiledFor(shop);
  let test = own.tests.get(condition);
  if (!test) {
    const read = compile(condition, own.fields, wordsOf);
    test = read.problems.length ? () => false : read.test;
    own.tests.set(condition, test);
  }
  return test(f);
}

/** A condition over goods as its search line; '' for everything. */
export const goodsLine = (condition: Condition): string => lineOf(condition, GOODS);

/** A search line over goods; what is not understood of it covers nothing. */
export const readGoods = (line: string): Condition => readCondition(line, GOODS);
