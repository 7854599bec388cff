import { landedOf, profitAt } from '../../core/pricing';
import type { StockRule } from '../../core/stock';
import type { Connection, MarketConnection, PlanRow, SupplierConnection } from '../../store';
import { type Assortment, assortmentOf, shopNow } from '../assortment/assortment';
import type { Work } from '../context';
import { follows, sellingNow } from '../listings/offer';
import { titleOf } from './copy';
import type { FullListing } from './full-listing';
import { coversListing, planFor } from './plan-choice';
import { marketOf, type Shop, solveListing } from './quote';

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

/** Listings that a plan covers, and those of them that it holds for. */
export interface PlanCatch {
  readonly covers: number;
  readonly holds: number;
}

/**
 * What would happen to every live listing on a marketplace, or of a supplier, if its fees, rules or costs were these. Reads,
 * writes nothing. Cost: every such listing solved twice.
 */
export async function whatIfConnection(
  work: Work,
  id: string,
  terms:
    | Partial<Pick<MarketConnection, 'site' | 'optedIn' | 'buyers' | 'keptOff'>>
    | Pick<SupplierConnection, 'costs'>,
): Promise<WhatIf> {
  const before = await shopNow(work);
  const connections = new Map(before.connections);
  const c = connections.get(id);
  if (c) connections.set(id, { ...c, ...terms } as Connection);
  return lookAhead(
    work,
    before,
    { ...before, connections },
    ({ listing, source }) => listing.marketplace === id || source?.supplier === id,
  );
}

/** @param touches whether a listing is looked at */
async function lookAhead(
  work: Work,
  before: Shop,
  after: Shop,
  touches: (full: FullListing) => boolean,
  order: AheadOrder = 'moves',
): Promise<WhatIf> {
  const prospects: Prospect[] = [];
  const marginsFrom: number[] = [];
  const marginsTo: number[] = [];
  let held = 0;
  for (const [, full] of assortmentOf(work).all()) {
    const { listing } = full;
    const { published } = listing;
    if (!follows(listing) || !published || !touches(full)) continue;
    const next = planFor(after, full);
    const quote = solveListing(full, after, next);
    if (!quote?.costs || !quote.deductions) continue;
    const costsStay = before.connections === after.connections;
    const old = costsStay ? quote : solveListing(full, before);
    const profitFrom =
      old?.costs && old.deductions ? profitAt(published.price, landedOf(old.costs), old.deductions) : 0;
    const earns = (price: number) => profitAt(price, landedOf(quote.costs!), quote.deductions!);
    const stopped =
      quote.answer?.ok && quote.answer.steps.some((s) => s.rule === 'msrp') ? 'Stopped at MSRP' : '';
    const raised =
      quote.answer?.ok && quote.answer.steps.some((s) => s.rule === 'map') ? 'Raised to MAP' : '';
    if (quote.problem) held++;
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
