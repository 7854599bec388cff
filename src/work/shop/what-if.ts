import { type ExchangeRate, type Rates, ratesOn } from '../../core/money';
import { landedOf, profitAt } from '../../core/pricing';
import type { StockRule } from '../../core/stock';
import { dayOf } from '../../core/units';
import type {
  Connection,
  Listing,
  MarketConnection,
  PlanRow,
  Settings,
  SupplierConnection,
} from '../../store';
import { type Assortment, assortmentOf, shopNow } from '../assortment/assortment';
import type { Work } from '../context';
import { follows, sellingNow } from '../listings/offer';
import { titleOf } from './copy';
import type { FullListing } from './full-listing';
import { coversGoods, coversListing, planFor } from './plan-choice';
import { marketOf, type Shop, type Solved, solveListing } from './quote';

/** What a plan would do to one listing. Amounts in minor units. */
export interface Prospect {
  readonly id: string;
  readonly title: string;
  readonly sku: string;
  readonly from: number;
  readonly to: number | null;
  readonly profitFrom: number;
  readonly profitTo: number | null;
  readonly shownFrom: number;
  readonly shownTo: number;
  /** It is held at its price already. */
  readonly wasHeld?: boolean;
  /** Guards that stop it, or why it has no price. */
  readonly says: string;
  readonly currency: string;
  readonly market: string;
}

export interface WhatIf {
  readonly listings: number;
  readonly rise: number;
  readonly fall: number;
  readonly stay: number;
  readonly held: number;
  /** Why those are held, most first: how many for each reason. */
  readonly holds: readonly (readonly [why: string, n: number])[];
  /** Prices that would at least double, or fall to half: something may be mistyped. */
  readonly leaps: number;
  /** Sold at a loss after it that were not before. */
  readonly losing: number;
  readonly shown: number;
  /** By marketplace, those with most listings first. */
  readonly markets: readonly MarketAhead[];
  /** Median margin in tenths of a percent. */
  readonly marginFrom: number | null;
  readonly marginTo: number | null;
  /** What is held first, then what moves most; at most {@link MOST_TOLD}. */
  readonly prospects: readonly Prospect[];
  /** How many listings change by how much, in columns of {@link STEP} percent. */
  readonly spread: readonly Column[];
}

/** What would happen on one marketplace. Profits of one sale of each listing, minor units of its currency. */
export interface MarketAhead {
  readonly market: string;
  readonly currency: string;
  readonly listings: number;
  readonly rise: number;
  readonly fall: number;
  readonly profitFrom: number;
  readonly profitTo: number;
}

/** Listings told one by one; of more, the others are counted only. */
export const MOST_TOLD = 1_000;

/** Listings whose price changes by up to `percent`; the ends hold all beyond. */
export interface Column {
  readonly percent: number;
  readonly moved: number;
  readonly held: number;
}
/** Percent that one column of the spread stands for, and its ends. */
export const STEP = 2;
export const FROM = -20;
export const TO = 40;

/** How many prices change by how much, counted one by one. */
export class Spread {
  private readonly moved = new Map<number, number>();
  private readonly held = new Map<number, number>();

  /** @param to null where it has no price */
  add(from: number, to: number | null): void {
    const change = to === null ? 0 : ((to - from) * 100) / from;
    const steps = Math.sign(change) * Math.max(1, Math.ceil(Math.abs(change) / STEP));
    const percent = change === 0 ? 0 : Math.min(TO, Math.max(FROM, steps * STEP));
    const counts = to === null ? this.held : this.moved;
    counts.set(percent, (counts.get(percent) ?? 0) + 1);
  }

  columns(): Column[] {
    const all = [...new Set([...this.moved.keys(), ...this.held.keys()])].sort((a, b) => a - b);
    return all.map((percent) => ({
      percent,
      moved: this.moved.get(percent) ?? 0,
      held: this.held.get(percent) ?? 0,
    }));
  }
}

/** Whether a price moves so far that a person is asked. */
export const isLeap = (from: number, to: number): boolean => from > 0 && (to >= 2 * from || 2 * to <= from);

/** Why a quote is held, in few words that are the same for many listings. */
function holdOf({ by, answer }: Solved): string {
  if (by === 'own') return 'own price breaks a guard';
  if (!answer || answer.ok) return 'something is not known';
  switch (answer.why) {
    case 'guards':
      return 'guards contradict';
    case 'unreachable':
      return 'no price reaches the target';
    case 'unknown':
      return answer.says.replace(/\.$/, '').replace(/^I/, 'i');
  }
}

/** Which listings are told one by one: those that move most, earn least or earn most of their price. */
export type AheadOrder = 'moves' | 'worst' | 'best';

const median = (numbers: number[]) =>
  numbers.length ? numbers.sort((a, b) => a - b)[Math.floor(numbers.length / 2)]! : null;

/** Rules as they would be. */
export interface RulesDraft {
  /** All plans, in order. */
  readonly plans: readonly PlanRow[];
  readonly stock: StockRule;
}

/**
 * What would happen to every listing on sale if plans and stock rule were these. Reads, writes nothing. Cost: every live
 * listing solved once.
 * @param only the plan that is looked at: listings that it holds for, before or after; null for all
 */
export async function whatIf(
  work: Work,
  draft: RulesDraft,
  only: string | null,
  order: AheadOrder = 'moves',
): Promise<WhatIf> {
  const before = await shopNow(work);
  const after: Shop = {
    ...before,
    plans: draft.plans,
    settings: { ...before.settings, stock: draft.stock },
  };
  const touches = (full: FullListing) =>
    only === null || [planFor(before, full), planFor(after, full)].some((plan) => plan?.id === only);
  return lookAhead(work, before, after, touches, order);
}

/** What each plan catches of what is listed, in order, and how much of it an earlier one takes away. */
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

/** What a search line over goods catches of what is listed. */
export interface GoodsCaught {
  readonly listings: number;
  readonly examples: readonly string[];
}

const EXAMPLES = 3;

/** Counts what a search line over goods catches, ended listings left out. @param marketplaces null for all */
export function goodsCaught(
  assortment: Assortment,
  filter: string,
  marketplaces: readonly string[] | null,
): GoodsCaught {
  let listings = 0;
  const examples = new Set<string>();
  for (const [, full] of assortment.all()) {
    const { state, marketplace } = full.listing;
    if (
      state === 'ended' ||
      (marketplaces && !marketplaces.includes(marketplace)) ||
      !coversGoods(filter, full)
    )
      continue;
    listings++;
    if (examples.size < EXAMPLES) examples.add(titleOf(full));
  }
  return { listings, examples: [...examples] };
}

/** Listings that a plan covers, and those of them that it holds for. */
export interface PlanCatch {
  readonly covers: number;
  readonly holds: number;
}

/** Terms of a connection that prices depend on. */
export type ConnectionTerms =
  | Partial<Pick<MarketConnection, 'site' | 'optedIn' | 'buyers' | 'keptOff'>>
  | Partial<Pick<SupplierConnection, 'costs' | 'leap'>>;

/** What prices are made with besides plans, as it would be; what is missing stays. */
export interface TermsDraft {
  readonly connection?: { readonly id: string; readonly terms: ConnectionTerms };
  readonly settings?: Partial<Pick<Settings, 'cushion' | 'costTax'>>;
  /** Rates that would be on record, or stand in place of those of the same day. */
  readonly rates?: readonly ExchangeRate[];
  /** Id of a rate that would be taken off the record. */
  readonly withoutRate?: string;
  /** Fields of listings, by id. */
  readonly listings?: ReadonlyMap<string, Partial<Listing>>;
}

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
  return lookAhead(work, before, after, touches, 'moves', (full) => {
    const set = listings?.get(full.listing.id);
    return set ? { ...full, listing: { ...full.listing, ...set } } : full;
  });
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

/** @param touches whether a listing is looked at */
async function lookAhead(
  work: Work,
  before: Shop,
  after: Shop,
  touches: (full: FullListing) => boolean,
  order: AheadOrder = 'moves',
  then: (full: FullListing) => FullListing = (full) => full,
): Promise<WhatIf> {
  const prospects: Prospect[] = [];
  const marginsFrom: number[] = [];
  const marginsTo: number[] = [];
  const holds = new Map<string, number>();
  let held = 0;
  const costsStay =
    before.connections === after.connections &&
    before.rates === after.rates &&
    before.settings.cushion === after.settings.cushion &&
    before.settings.costTax === after.settings.costTax;
  for (const [, now] of assortmentOf(work).all()) {
    const { listing } = now;
    const { published } = listing;
    if (!follows(listing) || !published || !touches(now)) continue;
    const full = then(now);
    const next = planFor(after, full);
    const quote = solveListing(full, after, next);
    if (!quote?.costs || !quote.deductions) continue;
    const old = costsStay && full === now ? quote : solveListing(now, before);
    const profitFrom =
      old?.costs && old.deductions ? profitAt(published.price, landedOf(old.costs), old.deductions) : 0;
    const earns = (price: number) => profitAt(price, landedOf(quote.costs!), quote.deductions!);
    const stopped =
      quote.answer?.ok && quote.answer.steps.some((s) => s.rule === 'msrp') ? 'Stopped at MSRP' : '';
    const raised =
      quote.answer?.ok && quote.answer.steps.some((s) => s.rule === 'map') ? 'Raised to MAP' : '';
    if (quote.problem) {
      held++;
      const why = holdOf(quote);
      holds.set(why, (holds.get(why) ?? 0) + 1);
    }
    const to = sellingNow(published.price, quote, next);
    const price = quote.problem === null ? quote.price : to.price === published.price ? null : to.price;
    if (published.price > 0) marginsFrom.push(Math.round((profitFrom * 1000) / published.price));
    if (quote.problem === null && price) marginsTo.push(Math.round((earns(price) * 1000) / price));
    const market = marketOf(after, listing.marketplace);
    prospects.push({
      id: listing.id,
      title: '',
      sku: listing.sku,
      currency: market?.site.currency ?? after.settings.currency,
      market: market?.name ?? listing.marketplace,
      from: published.price,
      to: price,
      profitFrom,
      profitTo: quote.problem === null && price !== null ? earns(price) : null,
      shownFrom: published.quantity,
      shownTo: to.quantity,
      wasHeld: listing.problem !== null,
      says: quote.problem ?? (quote.by === 'own' ? 'Own price stays' : stopped || raised),
    });
  }
  const moved = (p: Prospect) => (p.to === null ? 0 : p.to - p.from);
  const titleFor = (id: string) => {
    const full = assortmentOf(work).get(id);
    return full ? titleOf(full) : '';
  };
  const earned = (p: Prospect) => (p.to === null ? p.profitFrom / p.from : p.profitTo! / p.to);
  const orders: Readonly<Record<AheadOrder, (a: Prospect, b: Prospect) => number>> = {
    moves: (a, b) =>
      Number(a.to !== null) - Number(b.to !== null) ||
      Math.abs(moved(b)) * a.from - Math.abs(moved(a)) * b.from,
    worst: (a, b) => earned(a) - earned(b),
    best: (a, b) => earned(b) - earned(a),
  };
  prospects.sort(orders[order]);
  const spread = new Spread();
  for (const { from, to } of prospects) spread.add(from, to);
  return {
    listings: prospects.length,
    rise: prospects.filter((p) => moved(p) > 0).length,
    fall: prospects.filter((p) => moved(p) < 0).length,
    stay: prospects.filter((p) => p.to !== null && moved(p) === 0).length,
    held,
    holds: [...holds].sort((a, b) => b[1] - a[1]),
    leaps: prospects.filter((p) => p.to !== null && isLeap(p.from, p.to)).length,
    losing: prospects.filter((p) => (p.profitTo ?? 0) < 0 && p.profitFrom >= 0).length,
    shown: prospects.filter((p) => p.shownFrom !== p.shownTo).length,
    markets: byMarket(prospects, moved),
    marginFrom: median(marginsFrom),
    marginTo: median(marginsTo),
    prospects: prospects.slice(0, MOST_TOLD).map((p) => ({ ...p, title: titleFor(p.id) })),
    spread: spread.columns(),
  };
}

function byMarket(prospects: readonly Prospect[], moved: (p: Prospect) => number): MarketAhead[] {
  const markets = new Map<string, { -readonly [K in keyof MarketAhead]: MarketAhead[K] }>();
  for (const p of prospects) {
    const one = markets.get(p.market) ?? {
      ...{ market: p.market, currency: p.currency, listings: 0, rise: 0, fall: 0 },
      ...{ profitFrom: 0, profitTo: 0 },
    };
    markets.set(p.market, one);
    one.listings++;
    if (moved(p) > 0) one.rise++;
    if (moved(p) < 0) one.fall++;
    one.profitFrom += p.profitFrom;
    one.profitTo += p.profitTo ?? p.profitFrom;
  }
  return [...markets.values()].sort((a, b) => b.listings - a.listings);
}
