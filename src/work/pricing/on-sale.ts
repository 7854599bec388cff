import { profitAt } from '../../core/pricing';
import type { Published } from '../../store';
import type { Assortment } from '../memory/assortment';
import type { FullListing } from '../quoting/full-listing';
import { follows } from '../quoting/offer';
import { type Prepared, prepareListing } from '../quoting/quote';
import type { Shop } from '../quoting/worth';

/** A listing on sale, as a look ahead begins from it. */
export interface PlanStanding {
  readonly prepared: Prepared;
  readonly published: Published;
  /** What one sale earns as it is. */
  readonly profit: number;
}

/** All that is on sale, and which plan of which draft holds for each. */
export interface OnSale {
  readonly version: number;
  readonly standing: readonly PlanStanding[];
  chosen: { readonly key: string; readonly places: Int16Array } | null;
}

export const known = new WeakMap<Assortment, OnSale>();

export function onSaleNow(assortment: Assortment, shop: Shop): OnSale {
  const kept = known.get(assortment);
  if (kept?.version === assortment.version) return kept;
  const standing: PlanStanding[] = [];
  for (const [, full] of assortment.all()) {
    const one = follows(full.listing) && planStandingOf(full, prepareListing(full, shop));
    if (one) standing.push(one);
  }
  const made: OnSale = { version: assortment.version, standing, chosen: null };
  known.set(assortment, made);
  return made;
}

/** Null where it is not on sale, or nothing can be said of its costs. */
export function planStandingOf(
  { listing: { published } }: FullListing,
  prepared: Prepared | null,
): PlanStanding | null {
  const { priced = null, deductions = null } = prepared?.basis ?? {};
  if (!published || !prepared || !priced || !deductions) return null;
  return { prepared, published, profit: profitAt(published.price, priced.landed, deductions) };
}
