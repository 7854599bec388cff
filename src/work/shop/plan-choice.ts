import { fold } from '../../core/copy';
import { choosePlan } from '../../core/pricing';
import { compile, type Fields, parseQuery } from '../../core/query';
import type { PlanRow } from '../../store';
import { brandOf, titleOf } from './copy';
import type { FullListing } from './full-listing';

/** What a plan's filter may look at: what the goods are, nothing that a price decides. */
const GOODS: Fields<FullListing> = {
  cost: { kind: 'number', scale: 100, get: (f) => f.item?.cost ?? null },
  stock: { kind: 'number', get: (f) => f.item?.stock ?? null },
  weight: { kind: 'number', get: (f) => f.variant.grams ?? f.item?.grams ?? null },
  brand: { kind: 'text', get: (f) => brandOf(f) },
  category: { kind: 'text', get: (f) => f.product.taken.category },
  supplier: { kind: 'text', get: (f) => f.source?.supplier ?? null },
  sku: { kind: 'text', get: (f) => `${f.variant.sku} ${f.source?.item ?? ''}` },
  has: {
    kind: 'flags',
    flags: ['barcode', 'map', 'msrp'],

    get: (f, flag) =>
      flag === 'barcode'
        ? f.variant.gtin !== null
        : flag === 'map'
          ? (f.item?.map ?? null) !== null
          : (f.item?.msrp ?? null) !== null,
  },
};

/** Search lines that were compiled, by their text. */
const compiled = new Map<string, (f: FullListing) => boolean>();
/** More than a shop has at once: what one types is not kept for good. */
const MOST_KEPT = 500;

/** Whether a search line over goods covers a listing. '' covers all. */
export function coversGoods(filter: string, f: FullListing): boolean {
  if (!filter) return true;
  let test = compiled.get(filter);
  if (!test) {
    if (compiled.size >= MOST_KEPT) compiled.clear();
    test = compile(parseQuery(filter), GOODS, (one) => fold(titleOf(one))).test;
    compiled.set(filter, test);
  }
  return test(f);
}

/**
 * The plan that holds for a listing: its own where one was chosen, else the first in order that covers it. Null where
 * none does. @param plans in the seller's order
 */
export function planFor(plans: readonly PlanRow[], f: FullListing): PlanRow | null {
  const own = f.listing.plan === null ? undefined : plans.find((p) => p.id === f.listing.plan);
  return own ?? choosePlan(plans, f.listing.marketplace, (plan) => coversGoods(plan.filter, f));
}
