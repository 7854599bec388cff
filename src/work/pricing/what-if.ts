import { type ExchangeRate, type Rates, ratesOn, WHOLE } from '../../core/money';
import { type PriceStep, problemInWords, profitAt } from '../../core/pricing';
import { dayOf } from '../../core/units';
import type { Connection, PlanRow } from '../../store';
import type { Work } from '../context/work';
import { assortmentOf, shopNow } from '../memory/assortment';
import { titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { follows, sellingNow } from '../quoting/offer';
import { planFor } from '../quoting/plan-choice';
import { prepareListing, solvePrepared } from '../quoting/quote';
import type { Solved } from '../quoting/solve';
import { marketOf, nameIn, type Shop } from '../quoting/worth';
import type { RulesDraft, TermsDraft } from './draft';
import { plansWith } from './goods-caught';
import { known, onSaleNow, type PlanStanding, planStandingOf } from './on-sale';
import {
  type AheadOrder,
  type Column,
  isLeap,
  largest,
  type MarketAhead,
  MOST_TOLD,
  medianTenths,
  type Prospect,
  Spread,
  type WhatIf,
} from './prospects';

/** Why a quote is held, in few words that are the same for many listings. */
function holdOf({ by, answer, problem }: Solved, shop: Shop): string {
  if (problem?.why === 'no plan') return 'covered by no plan';
  if (by === 'own') return 'own price breaks a guard';
  if (!answer || answer.ok) return 'something is not known';
  switch (answer.why) {
    case 'guards':
      return 'guards contradict';
    case 'unreachable':
      return 'no price reaches the target';
    case 'unknown':
      return problemInWords(answer, shop.settings.currency, nameIn(shop))
        .replace(/\.$/, '')
        .replace(/^I/, 'i');
  }
}

/**
 * What would happen to every listing on sale if plans and stock rule were these. Reads, writes nothing. Cost: every live
 * listing solved once, some 2 µs each; what no plan decides is worked out once and kept until a listing, its goods or terms
 * change.
 */
export async function whatIf(work: Work, draft: RulesDraft, order: AheadOrder = 'moves'): Promise<WhatIf> {
  const before = await shopNow(work);
  const after = shopWith(before, draft);
  const onSale = onSaleNow(assortmentOf(work), before);
  return lookAhead(onSale.standing, after, plansWith(onSale, after), order);
}

/** Listings that a glimpse looks at. */
const GLIMPSED = 1_500;

/**
 * Roughly how many prices would change by how much: of every so manieth listing, counted as often. Takes a few milliseconds, so
 * that a picture follows the hand until {@link whatIf} has counted all. Empty before the first count.
 */
export function glimpse(work: Work, draft: RulesDraft): Column[] {
  const assortment = assortmentOf(work);
  const onSale = known.get(assortment);
  if (!onSale) return [];
  const after = shopWith(assortment.shop, draft);
  const planAt = plansWith(onSale, after);
  const spread = new Spread();
  const each = Math.max(1, Math.ceil(onSale.standing.length / GLIMPSED));
  for (let k = 0; k < onSale.standing.length; k += each) {
    const one = onSale.standing[k]!;
    const looked = lookAt(one, after, planAt(k));
    if (looked) spread.add(one.published.price, looked.to);
  }
  return spread
    .columns()
    .map(({ percent, moved, held }) => ({ percent, moved: moved * each, held: held * each }));
}

const shopWith = (shop: Shop, { plans, stock }: RulesDraft): Shop => ({
  ...shop,
  plans,
  settings: { ...shop.settings, stock },
});

/**
 * What would happen to every live listing that is touched if terms were these. Reads, writes nothing. Cost: every such
 * listing solved twice.
 */
export async function whatIfTerms(work: Work, draft: TermsDraft): Promise<WhatIf> {
  const before = await shopNow(work);
  const { connection, listings } = draft;
  const connections = new Map(before.connections);
  const c = connection && connections.get(connection.id);
  if (c) connections.set(c.id, { ...c, ...connection.terms } as Connection);
  const after: Shop = {
    ...before,
    connections,
    settings: { ...before.settings, ...draft.settings },
    rates: draft.rates || draft.withoutRate ? await ratesAs(work, before, draft) : before.rates,
  };
  const touches = ({ listing, source }: FullListing) =>
    listings
      ? listings.has(listing.id)
      : !connection || listing.marketplace === connection.id || source?.supplier === connection.id;
  const standing: PlanStanding[] = [];
  for (const [, now] of assortmentOf(work).all()) {
    if (!follows(now.listing) || !touches(now)) continue;
    const set = listings?.get(now.listing.id);
    const full = set ? { ...now, listing: { ...now.listing, ...set } } : now;
    const one = planStandingOf(full, prepareListing(full, after));
    // What it earns as it is goes by the terms of now.
    const was = planStandingOf(now, prepareListing(now, before));
    if (one) standing.push({ ...one, profit: was?.profit ?? 0 });
  }
  return lookAhead(standing, after, (k) => planFor(after, standing[k]!.prepared.listing), 'moves');
}

async function ratesAs(
  { db, clock }: Work,
  shop: Shop,
  { rates = [], withoutRate }: TermsDraft,
): Promise<Rates> {
  const same = (a: ExchangeRate, b: ExchangeRate) => a.currency === b.currency && a.day === b.day;
  const kept = (await db.rates.toArray()).filter(
    (r) => r.id !== withoutRate && !rates.some((own) => same(own, r)),
  );
  return ratesOn([...kept, ...rates], shop.settings.currency, dayOf(clock(), shop.settings.zone));
}

/** A listing under the rules as they would be. */
interface Looked {
  readonly quote: Solved;
  /** Null where it has no price. */
  readonly to: number | null;
  readonly shown: number;
  readonly profit: number | null;
}

/** Null where nothing can be said of what it would earn. Without a plan it has no price, and is held at the one it has. */
function lookAt({ prepared, published }: PlanStanding, after: Shop, plan: PlanRow | null): Looked | null {
  const quote = solvePrepared(prepared, after, plan);
  if (!quote.deductions) return null;
  const { price, quantity } = sellingNow(published.price, quote, plan);
  const free = quote.problem === null;
  const to = free ? quote.price : price === published.price ? null : price;
  const profit = free && to !== null ? profitAt(to, prepared.basis.priced!.landed, quote.deductions) : null;
  return { quote, to, shown: quantity, profit };
}

/**
 * Counts what would happen, and tells of what stands first. Only numbers are kept of each listing: objects of twenty thousand
 * would cost more than solving them, and those that are told of are solved again.
 * @param planOf the plan that would hold for a listing, by its place
 */
function lookAhead(
  standing: readonly PlanStanding[],
  after: Shop,
  planOf: (place: number) => PlanRow | null,
  order: AheadOrder,
): WhatIf {
  const counts = { listings: 0, rise: 0, fall: 0, stay: 0, held: 0, losing: 0, leaps: 0, shown: 0 };
  const holds = new Map<string, number>();
  const markets = new Map<string, { -readonly [K in keyof MarketAhead]: MarketAhead[K] }>();
  const spread = new Spread();
  const places = new Int32Array(standing.length);
  const weights = new Float64Array(standing.length);
  const marginsFrom = new Float64Array(standing.length);
  const marginsTo = new Float64Array(standing.length);
  let [had, priced] = [0, 0];
  for (let place = 0; place < standing.length; place++) {
    const one = standing[place]!;
    const looked = lookAt(one, after, planOf(place));
    if (!looked) continue;
    const { quote, to, profit } = looked;
    const from = one.published.price;
    const moved = to === null ? 0 : to - from;
    const { marketplace } = one.prepared.listing.listing;
    let market = markets.get(marketplace);
    if (!market) {
      market = marketAhead(after, marketplace);
      markets.set(marketplace, market);
    }
    market.listings++;
    market.profitFrom += one.profit;
    market.profitTo += profit ?? one.profit;
    if (moved > 0) market.rise++;
    else if (moved < 0) market.fall++;
    else if (to !== null) counts.stay++;
    if (quote.problem !== null) {
      counts.held++;
      const why = holdOf(quote, after);
      holds.set(why, (holds.get(why) ?? 0) + 1);
    }
    if (to !== null && isLeap(from, to)) counts.leaps++;
    if ((profit ?? 0) < 0 && one.profit >= 0) counts.losing++;
    if (one.published.quantity !== looked.shown) counts.shown++;
    if (from > 0) marginsFrom[had++] = (one.profit * WHOLE) / from;
    if (profit !== null && to) marginsTo[priced++] = (profit * WHOLE) / to;
    spread.add(from, to);
    const margin = to === null ? one.profit / from : (profit ?? 0) / to;
    weights[counts.listings] =
      order === 'worst'
        ? -margin
        : order === 'best'
          ? margin
          : to === null
            ? HELD_FIRST
            : Math.abs(moved) / from;
    places[counts.listings++] = place;
  }
  const all = [...markets.values()].sort((a, b) => b.listings - a.listings);
  const told = largest(weights.subarray(0, counts.listings), MOST_TOLD).map((k) => places[k]!);
  return {
    ...counts,
    rise: all.reduce((n, m) => n + m.rise, 0),
    fall: all.reduce((n, m) => n + m.fall, 0),
    holds: [...holds].sort((a, b) => b[1] - a[1]),
    markets: all,
    marginFrom: medianTenths(marginsFrom.subarray(0, had)),
    marginTo: medianTenths(marginsTo.subarray(0, priced)),
    prospects: told.map((place) => prospectOf(standing[place]!, after, planOf(place), markets)),
    spread: spread.columns(),
  };
}

/** Weighs more than any change of a price. */
const HELD_FIRST = Number.MAX_VALUE;

function marketAhead(shop: Shop, marketplace: string): MarketAhead {
  const market = marketOf(shop, marketplace);
  return {
    ...{ market: market?.name ?? marketplace, listings: 0, rise: 0, fall: 0 },
    ...{ currency: market?.site.currency ?? shop.settings.currency, profitFrom: 0, profitTo: 0 },
  };
}

function prospectOf(
  one: PlanStanding,
  after: Shop,
  plan: PlanRow | null,
  markets: ReadonlyMap<string, MarketAhead>,
): Prospect {
  const { prepared, published, profit } = one;
  const { quote, to, shown, profit: profitTo } = lookAt(one, after, plan)!;
  const { listing } = prepared.listing;
  const { market, currency } = markets.get(listing.marketplace)!;
  const by = (rule: PriceStep['rule']) => quote.answer?.ok && quote.answer.steps.some((s) => s.rule === rule);
  const guard = by('msrp') ? 'Stopped at MSRP' : by('map') ? 'Raised to MAP' : '';
  return {
    id: listing.id,
    title: titleOf(prepared.listing),
    sku: listing.sku,
    market,
    currency,
    from: published.price,
    to,
    profitFrom: profit,
    profitTo,
    shownFrom: published.quantity,
    shownTo: shown,
    wasHeld: listing.problem !== null,
    says: quote.problem
      ? problemInWords(quote.problem, currency, nameIn(after))
      : quote.by === 'own'
        ? 'Own price stays'
        : guard,
  };
}
