import { digitsOf } from '../../core/money';
import { type Choosing, choosePlan, isWithin, nextBoundary, planIn } from '../../core/pricing';
import type { Condition } from '../../core/query';
import type { Instant } from '../../core/units';
import type { MarketConnection, PlanRow } from '../../store';
import type { FullListing } from './full-listing';
import { coversGoods } from './goods';
import type { Connected, ShopTerms } from './worth';

/** The condition by which a listing is not sold on its marketplace; null where none does. */
export const keptOffBy = (
  f: FullListing,
  { keptOff }: Pick<MarketConnection, 'keptOff'>,
  shop: Connected,
): Condition | null => keptOff?.find((one) => coversGoods(one, f, shop)) ?? null;

/** Inputs of the choice of a plan besides the goods: the seller’s order, and the time on each marketplace. */
export type PlanTerms = Pick<ShopTerms, 'plans' | 'at' | 'connections' | 'groups'>;

/** A marketplace as plans are chosen for it. */
export function choosingFor({ at, connections }: PlanTerms, marketplace: string): Choosing {
  const market = connections.get(marketplace);
  return { marketplace, zone: market?.role === 'marketplace' ? market.site.zone : 'UTC', at };
}

/** A plan with its amounts as they are meant on a marketplace: see {@link planIn}. */
export function planOn(
  plan: PlanRow,
  { connections }: Pick<PlanTerms, 'connections'>,
  marketplace: string,
): PlanRow {
  const market = connections.get(marketplace);
  return market?.role === 'marketplace' ? planIn(plan, digitsOf(market.site.currency)) : plan;
}

/**
 * The plan that holds for a listing: its own where one was chosen, else the first in order that covers it; its amounts as they
 * are meant there. Null where none does.
 */
export function planFor(terms: PlanTerms, f: FullListing): PlanRow | null {
  const { plans } = terms;
  const { marketplace } = f.listing;
  const own = f.listing.plan === null ? undefined : plans.find((p) => p.id === f.listing.plan);
  const plan =
    own ?? choosePlan(plans, choosingFor(terms, marketplace), (p) => coversGoods(p.filter, f, terms));
  return plan && planOn(plan, terms, marketplace);
}

/** Whether a plan that is on covers a listing, be an earlier one there or not. */
export const coversListing = (terms: PlanTerms, plan: PlanRow, f: FullListing): boolean =>
  choosePlan([plan], choosingFor(terms, f.listing.marketplace), (p) => coversGoods(p.filter, f, terms)) !==
  null;

/**
 * A fingerprint of all plans that are in force now, by marketplace: it changes when time alone lets a plan begin or end.
 */
export function calendarNow(terms: PlanTerms): string {
  const zones = new Set(
    [...terms.connections.values()].flatMap((c) => (c.role === 'marketplace' ? [c.site.zone] : [])),
  );
  return [...zones]
    .map((zone) =>
      terms.plans
        .map((p) => `${isWithin(p, terms.at, zone)}${p.sale && isWithin(p.sale, terms.at, zone)}`)
        .join(),
    )
    .join(';');
}

/** The next instant at which a plan or a sale begins or ends somewhere; null where none is left. */
export function nextChange({ plans, at, connections }: PlanTerms): Instant | null {
  let next: Instant | null = null;
  for (const c of connections.values()) {
    if (c.role !== 'marketplace') continue;
    for (const plan of plans)
      for (const span of [plan, plan.sale]) {
        const when = plan.on && span ? nextBoundary(span, at, c.site.zone) : null;
        if (when !== null && (next === null || when < next)) next = when;
      }
  }
  return next;
}
