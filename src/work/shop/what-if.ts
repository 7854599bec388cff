import type { PricePlan } from '../../core/pricing';
import type { StockRule } from '../../core/stock';
import type { Work } from '../context';
import { follows } from '../listings/reprice';
import { quoteListing } from './quote';
import { readShop } from './read-shop';

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
}

export interface WhatIf {
  readonly listings: number;
  readonly rise: number;
  readonly fall: number;
  readonly stay: number;
  readonly held: number;
  readonly shown: number;
  /** Median margin in tenths of a percent. */
  readonly marginFrom: number | null;
  readonly marginTo: number | null;
  readonly prospects: readonly Prospect[];
}

const median = (numbers: number[]) =>
  numbers.length ? numbers.sort((a, b) => a - b)[Math.floor(numbers.length / 2)]! : null;

/**
 * What would happen to every live listing of a plan if it were saved as given. Reads, writes nothing.
 * Cost: every live listing solved once under the new plan.
 */
export async function whatIf(work: Work, planId: string, plan: PricePlan, stock: StockRule): Promise<WhatIf> {
  const { db } = work;
  const [before, products, listings] = await Promise.all([
    readShop(db, work.clock()),
    db.products.toArray(),
    db.listings.where('state').anyOf(['live', 'paused']).toArray(),
  ]);
  const shop = { ...before, settings: { ...before.settings, stock } };
  const byId = new Map(products.map((p) => [p.id, p]));
  const prospects: Prospect[] = [];
  const marginsFrom: number[] = [];
  const marginsTo: number[] = [];
  let held = 0;
  for (const listing of listings) {
    const product = byId.get(listing.product);
    if (!product || !follows(listing) || !listing.told || (product.plan ?? before.plans[0]?.id) !== planId)
      continue;
    const quote = quoteListing(listing, product, shop, plan);
    if (!quote?.costs) continue;
    const now = quoteListing({ ...listing, ownPrice: listing.told.price }, product, shop, plan);
    const profitFrom = now?.sum?.profit ?? 0;
    const stopped = quote.answer?.ok && !quote.answer.meetsTarget ? 'Stopped at MSRP' : '';
    const raised =
      quote.answer?.ok && quote.answer.steps.some((s) => s.rule === 'map') ? 'Raised to MAP' : '';
    const to = quote.problem === null ? quote.price : null;
    if (quote.problem) held++;
    if (listing.told.price > 0) marginsFrom.push(Math.round((profitFrom * 1000) / listing.told.price));
    if (to) marginsTo.push(Math.round((quote.sum!.profit * 1000) / to));
    prospects.push({
      id: listing.id,
      title: product.title ?? product.taken.title,
      sku: listing.sku,
      from: listing.told.price,
      to,
      profitFrom,
      profitTo: to === null ? null : quote.sum!.profit,
      shownFrom: listing.told.quantity,
      shownTo: quote.quantity,
      says: quote.problem ?? (quote.by === 'own' ? 'Own price stays' : stopped || raised),
    });
  }
  const moved = (p: Prospect) => (p.to === null ? 0 : p.to - p.from);
  return {
    listings: prospects.length,
    rise: prospects.filter((p) => moved(p) > 0).length,
    fall: prospects.filter((p) => moved(p) < 0).length,
    stay: prospects.filter((p) => p.to !== null && moved(p) === 0).length,
    held,
    shown: prospects.filter((p) => p.shownFrom !== p.shownTo).length,
    marginFrom: median(marginsFrom),
    marginTo: median(marginsTo),
    prospects: prospects.sort(
      (a, b) =>
        Number(a.to !== null) - Number(b.to !== null) ||
        Math.abs(moved(b)) * a.from - Math.abs(moved(a)) * b.from,
    ),
  };
}
