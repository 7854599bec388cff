import { fold } from '../../core/copy';
import { digitsOf } from '../../core/money';
import { type Choosing, choosePlan, isWithin, nextBoundary, planIn } from '../../core/pricing';
import { compile, type Fields, notUnderstood, type Problem, parseQuery } from '../../core/query';
import type { Instant } from '../../core/units';
import type { MarketConnection, PlanRow } from '../../store';
import { brandOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import type { ShopTerms } from './terms';

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

/** Whether a search line over goods covers a listing. '' covers all; one that is not wholly understood covers nothing. */
export function coversGoods(filter: string, f: FullListing): boolean {
  if (!filter) return true;
  let test = compiled.get(filter);
  if (!test) {
    if (compiled.size >= MOST_KEPT) compiled.clear();
    const read = compile(parseQuery(filter), GOODS, (one: FullListing) => fold(titleOf(one)));
    test = read.problems.length ? () => false : read.test;
    compiled.set(filter, test);
  }
  return test(f);
}

/** What is not understood of a search line over goods: one that is kept must be understood whole. */
export const goodsProblems = (filter: string): readonly Problem[] => {
  const terms = parseQuery(filter);
  // Signs alone are no search for anything, and no search for everything.
  return filter.trim() && !terms.length
    ? [{ raw: filter.trim(), reason: 'It has no word and no field.' }]
    : notUnderstood(terms, GOODS);
};

/** The search line by which a listing is not sold on its marketplace; null where none does. */
export const keptOffBy = (f: FullListing, { keptOff }: Pick<MarketConnection, 'keptOff'>): string | null =>
  keptOff?.find((line) => coversGoods(line, f)) ?? null;

/** What the choice of a plan goes by besides the goods: the seller's order, and the time on each marketplace. */
export type PlanTerms = Pick<ShopTerms, 'plans' | 'at' | 'connections'>;

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
  const plan = own ?? choosePlan(plans, choosingFor(terms, marketplace), (p) => coversGoods(p.filter, f));
  return plan && planOn(plan, terms, marketplace);
}

/** Whether a plan that is on covers a listing, be an earlier one there or not. */
export const coversListing = (terms: PlanTerms, plan: PlanRow, f: FullListing): boolean =>
  choosePlan([plan], choosingFor(terms, f.listing.marketplace), (p) => coversGoods(p.filter, f)) !== null;

/** How often the plans that hold change with time alone: what holds at each marketplace now, as text. */
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
