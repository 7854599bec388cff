import type { Condition, Problem } from '../../core/query';
import type { PlanRow } from '../../store';
import { type Assortment, groupStamp } from '../memory/assortment';
import { titleOf } from '../quoting/copy';
import { coversGoods, goodsProblems } from '../quoting/goods';
import { calendarNow, coversListing, planFor, planOn } from '../quoting/plan-choice';
import type { Shop } from '../quoting/worth';
import type { OnSale, PlanStanding } from './on-sale';

/** Which plan holds for a listing on sale, by its place; chosen again only where what the choice goes by is another. */
export function plansWith(onSale: OnSale, shop: Shop): (place: number) => PlanRow | null {
  const { plans } = shop;
  const choosing = plans.map(({ id, on, marketplaces, filter }) => [id, on, marketplaces, filter]);
  const key = `${calendarNow(shop)} ${groupStamp(shop)} ${JSON.stringify(choosing)}`;
  if (onSale.chosen?.key !== key) {
    const places = new Map(plans.map((plan, place) => [plan.id, place]));
    const of = ({ prepared }: PlanStanding) => places.get(planFor(shop, prepared.listing)?.id ?? '') ?? -1;
    onSale.chosen = { key, places: Int16Array.from(onSale.standing, of) };
  }
  const { places } = onSale.chosen;
  return (k) => {
    const plan = plans[places[k]!];
    return plan ? planOn(plan, shop, onSale.standing[k]!.prepared.listing.listing.marketplace) : null;
  };
}

/** The listings that each plan covers, in order, and how many of them an earlier plan takes. */
export function caughtBy(assortment: Assortment, plans: readonly PlanRow[]): PlanCatch[] {
  const terms = { ...assortment.shop, plans };
  const counts = plans.map(() => ({ covers: 0, holds: 0 }));
  for (const [, full] of assortment.all()) {
    if (full.listing.state === 'ended') continue;
    const holding = planFor(terms, full)?.id;
    for (const [k, plan] of plans.entries()) {
      if (plan.id === holding) counts[k]!.holds++;
      if (coversListing(terms, plan, full)) counts[k]!.covers++;
    }
  }
  return counts;
}

/** The listings whose goods match a condition. */
export interface GoodsCaught {
  readonly listings: number;
  readonly examples: readonly string[];
  /** What is not understood with the groups there are: nothing is caught then. */
  readonly problems: readonly Problem[];
}

const EXAMPLES = 3;

/** Counts what a condition over goods catches, ended listings left out. @param marketplaces null for all */
export function goodsCaught(
  assortment: Assortment,
  filter: Condition,
  marketplaces: readonly string[] | null,
): GoodsCaught {
  let listings = 0;
  const examples = new Set<string>();
  for (const [, full] of assortment.all()) {
    const { state, marketplace } = full.listing;
    if (
      state === 'ended' ||
      (marketplaces && !marketplaces.includes(marketplace)) ||
      !coversGoods(filter, full, assortment.shop)
    )
      continue;
    listings++;
    if (examples.size < EXAMPLES) examples.add(titleOf(full));
  }
  return { listings, examples: [...examples], problems: goodsProblems(filter, assortment.shop) };
}

/** Listings that a plan covers, and those of them that it holds for. */
export interface PlanCatch {
  readonly covers: number;
  readonly holds: number;
}
