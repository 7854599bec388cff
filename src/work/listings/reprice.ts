import { formatMinor } from '../../core/money';
import { landedOf, type PricePlan, profitAt, stepInWords } from '../../core/pricing';
import type { Listing, OutboxRow, PlanRow, RowChange } from '../../store';
import type { Work } from '../context';
import { outgoing } from '../outbox/row';
import type { FullListing } from '../shop/full-listing';
import { planFor } from '../shop/plan-choice';
import { marketOf, type Quote, quoteListing, type Shop } from '../shop/quote';

/** Live listings follow cost and stock; the Bench waits for a person. */
export const follows = (listing: Listing) => listing.state === 'live' || listing.state === 'paused';

/** Why a price is what it is, in one sentence for the history. */
export function reasonOf(quote: Quote, plan: PlanRow | null, currency: string): string {
  if (quote.by === 'own') return 'own price';
  if (!plan || !quote.answer?.ok) return quote.problem ?? 'no price';
  return `plan “${plan.name}”: ${quote.answer.steps.map((s) => stepInWords(s, plan, currency)).join('; ')}`;
}

/**
 * Price and quantity to sell at. Without a price of the plan the old one stays; where the guards contradict, the
 * plan says what then: by default nothing is shown where a sale at the old price would lose.
 */
export function sellingNow(
  published: number,
  quote: Quote,
  plan: PricePlan | null,
): { price: number; quantity: number } {
  const { quantity, answer, costs, deductions } = quote;
  if (quote.problem === null && quote.price !== null) return { price: quote.price, quantity };
  const contradicts = quote.by === 'plan' && answer?.ok === false && answer.why === 'guards' ? answer : null;
  if (!contradicts || !costs || !deductions || !plan || plan.contradiction === 'stay')
    return { price: published, quantity };
  if (plan.contradiction === 'floor') return { price: contradicts.floor, quantity };
  return { price: published, quantity: profitAt(published, landedOf(costs), deductions) < 0 ? 0 : quantity };
}

export interface Moves {
  readonly rows: RowChange[];
  readonly outbox: OutboxRow[];
}

/**
 * What listings must be changed to under today's shop, compared with what the marketplace was last told. Pure
 * but for the clock. A quote without a price holds the listing at its old price, says so, and still lets the
 * quantity follow.
 * @param because what set it off, for each listing's history
 */
export function movesFor(
  listings: readonly FullListing[],
  shop: Shop,
  work: Work,
  because: (f: FullListing) => string,
): Moves {
  const rows: RowChange[] = [];
  const outbox: OutboxRow[] = [];
  const at = work.clock();
  for (const full of listings) {
    const { listing } = full;
    const before = listing.published;
    const site = marketOf(shop, listing.marketplace)?.site;
    if (!follows(listing) || !before || !site) continue;
    const plan = planFor(shop.plans, full);
    const quote = quoteListing(full, shop, plan);
    if (!quote) continue;
    const { price, quantity } = sellingNow(before.price, quote, plan);
    const live = quantity > 0;
    const moved = price !== before.price || quantity !== before.quantity;
    const money = (minor: number) => formatMinor(minor, site.currency);
    const says = [
      price !== before.price
        ? `Price ${money(before.price)} → ${money(price)} by ${reasonOf(quote, plan, site.currency)}.`
        : '',
      quantity !== before.quantity
        ? `Shown ${before.quantity} → ${quantity}${live ? '' : ', paused'}${live && listing.state === 'paused' ? ', on sale again' : ''}.`
        : '',
      quote.problem && quote.problem !== listing.problem
        ? `${quantity || !quote.quantity ? 'Held' : 'Held back, none shown,'} at ${money(price)}: ${quote.problem}`
        : '',
    ]
      .filter(Boolean)
      .join(' ');
    if (moved || quote.problem !== listing.problem) {
      const sentence = `${because(full)} ${says}`.trim();
      rows.push({
        table: 'listings',
        id: listing.id,
        set: { problem: quote.problem, last: { at, says: sentence } },
        says: sentence,
      });
    }
    // Written even where nothing moved from what was last told: an offer still waiting may say something
    // older.
    const row = outgoing(
      `offer:${listing.id}`,
      listing.marketplace,
      'offer',
      `listing:${listing.id}`,
      { listing: listing.id, sku: listing.sku, price, quantity, live },
      at,
    );
    outbox.push(moved ? row : { ...row, state: 'done' });
  }
  return { rows, outbox };
}

/**
 * Puts offers into the outbox: a new one replaces a waiting one of the same listing; one that says what is
 * known already only clears a stale one.
 */
export async function queueOffers(work: Work, outbox: readonly OutboxRow[]): Promise<void> {
  const known = await work.db.outbox.bulkGet(outbox.map((o) => o.id));
  await work.db.outbox.bulkPut(
    outbox.filter((o, i) => o.state === 'waiting' || known[i]?.state === 'waiting'),
  );
}
