import { formatMinor } from '../../core/money';
import { afterRest, afterSale, type Demand, landedOf, noDemand, profitAt } from '../../core/pricing';
import { countOf, dayName, dayOf, type Instant } from '../../core/units';
import type { Listing, RowChange } from '../../store';
import type { Assortment } from '../memory/assortment';
import type { FullListing } from '../quoting/full-listing';
import { follows } from '../quoting/offer';
import { planFor } from '../quoting/plan-choice';
import { solveListing } from '../quoting/quote';
import { marketOf, type Shop } from '../quoting/worth';

const DAY = 86_400_000;

/** Where a listing stands under the plan that holds now; none yet where another one held before. */
const demandOf = ({ demand }: Listing, plan: string): Demand | null =>
  demand?.plan === plan ? demand : null;

/** The price of a listing without its steps, and what a sale at a price earns; null where it has none. */
function baseOf(full: FullListing, shop: Shop) {
  const quote = solveListing({ ...full, listing: { ...full.listing, demand: null } }, shop);
  if (!quote?.answer?.ok || !quote.costs || !quote.deductions) return null;
  const { answer, costs, deductions } = quote;
  const target = answer.steps.find((s) => s.rule === 'target');
  return {
    price: target?.price ?? answer.price,
    earns: (price: number) => profitAt(price, landedOf(costs), deductions),
  };
}

/** Counts sold units of a listing. @returns what is set, and a sentence where it made a step; null where no plan follows demand */
export function countSale(
  full: FullListing,
  shop: Shop,
  units: number,
  unitPrice: number,
  at: Instant,
): { readonly set: Partial<Listing>; readonly says: string } | null {
  const plan = planFor(shop, full);
  const base = plan?.demand ? baseOf(full, shop) : null;
  if (!plan?.demand || !base) return null;
  const known = demandOf(full.listing, plan.id) ?? noDemand(at);
  const earned = base.earns(unitPrice) * units;
  const demand = afterSale(known, plan.demand, { units, earned, price: base.price, at });
  const since = dayName(dayOf(known.since, shop.settings.zone));
  const says =
    demand.steps === known.steps
      ? ''
      : `${stepInWords(demand.steps - known.steps)}: ${countOf(known.sold + units, 'unit')} sold since ${since} earned ${money(full, shop, known.earned + earned)}.`;
  return { set: { demand: { ...demand, plan: plan.id } }, says };
}

/** Lets time pass for one listing whose plan lowers what does not sell. As {@link countSale}; its days begin where such a plan is new. */
export function letRest(
  full: FullListing,
  shop: Shop,
  at: Instant,
): { readonly set: Pick<Listing, 'demand'>; readonly says: string } | null {
  const plan = planFor(shop, full);
  if (!plan?.demand?.lower) return null;
  const known = demandOf(full.listing, plan.id);
  if (!known) return { set: { demand: { ...noDemand(at), plan: plan.id } }, says: '' };
  const { days } = plan.demand.lower;
  if (at - known.since < days * DAY) return null;
  const base = baseOf(full, shop);
  const demand = base && afterRest(known, plan.demand, base.price, at);
  if (!demand || demand === known) return null;
  const before = known.sold ? `; ${known.sold} before earned ${money(full, shop, known.earned)}` : '';
  return {
    set: { demand: { ...demand, plan: plan.id } },
    says: `${stepInWords(-1)}: none sold for ${countOf(days, 'day')}${before}.`,
  };
}

/** Lets time pass for all listings: the rows that change. */
export function restingListings(assortment: Assortment, at: Instant): RowChange[] {
  const { shop } = assortment;
  if (!shop.plans.some((p) => p.on && p.demand?.lower)) return [];
  return [...assortment.all()].flatMap(([, full]): RowChange[] => {
    const { listing } = full;
    // What cannot be bought is not slow to sell.
    const rested = follows(listing) && listing.published?.quantity ? letRest(full, shop, at) : null;
    if (!rested) return [];
    const { set, says } = rested;
    return [
      { table: 'listings', id: listing.id, set: { ...set, ...(says && { last: { at, says } }) }, says },
    ];
  });
}

const money = (full: FullListing, shop: Shop, minor: number) =>
  formatMinor(minor, marketOf(shop, full.listing.marketplace)?.site.currency ?? shop.settings.currency, true);

const stepInWords = (steps: number) => `${countOf(Math.abs(steps), 'step')} ${steps > 0 ? 'up' : 'down'}`;
