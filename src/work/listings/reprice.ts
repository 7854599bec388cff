import { formatMinor } from '../../core/money';
import type { Listing, OutboxRow, RowChange } from '../../store';
import type { Assortment } from '../assortment/assortment';
import { FLAG } from '../assortment/columns';
import type { Work } from '../context';
import { outgoing } from '../outbox/row';
import type { FullListing } from '../shop/full-listing';
import { planFor } from '../shop/plan-choice';
import { marketOf, quoteListing, type Shop } from '../shop/quote';
import { follows, reasonOf, sellingNow } from './offer';

/** Whether the very same offer has changes to hand over already, or was refused. */
const wasOffered = (known: OutboxRow | undefined, row: OutboxRow<'offer'>): boolean =>
  (known?.state === 'refused' || known?.state === 'waiting') &&
  known.kind === 'offer' &&
  known.body.price === row.body.price &&
  known.body.quantity === row.body.quantity &&
  known.body.live === row.body.live;

/**
 * Listings that their marketplace is to be told of, or that an offer waits for: all others need not be looked at.
 * @param places those to look at; all for null
 */
export async function movingListings(
  work: Work,
  assortment: Assortment,
  places: readonly number[] | null,
): Promise<FullListing[]> {
  const { flags } = assortment.columns;
  const moving: number[] = [];
  const look = places ?? assortment.rows.keys();
  for (const place of look) if (place >= 0 && flags[place]! & FLAG.moves) moving.push(place);
  const among = places && new Set(places);
  for (const { id } of await waitingOffers(work, assortment)) {
    const place = assortment.placeOf(id.slice(OFFER.length));
    if (place >= 0 && (!among || among.has(place))) moving.push(place);
  }
  return assortment.rowsAt(moving);
}

async function waitingOffers(work: Work, { shop }: Assortment): Promise<{ id: string }[]> {
  const found = await Promise.all(
    [...shop.connections.keys()].map((connection) =>
      work.db.outbox
        .where('[connection+state+kind+nextAt]')
        .between(
          [connection, 'waiting', 'offer', 0],
          [connection, 'waiting', 'offer', Number.MAX_SAFE_INTEGER],
        )
        .primaryKeys(),
    ),
  );
  return found.flat().map((id) => ({ id: id as string }));
}

export interface Repriced {
  /** What became of the listings: for the caller to apply, under the name of what set it off. */
  readonly rows: readonly RowChange[];
  /** How many offers wait to be told. */
  readonly told: number;
}

/**
 * Lets live listings follow today's shop: compares each with what the marketplace was last told, and puts the offers
 * that differ into the outbox, where a new one replaces a waiting one of the same listing. A quote without a price holds
 * the listing at its old price, says so, and still lets the quantity follow. Runs inside the caller's transaction.
 * @param because what set it off, for each listing's history
 * @param by what waits, or was refused, is offered anew only where a person asks for it
 */
export async function reprice(
  work: Work,
  listings: readonly FullListing[],
  shop: Shop,
  because: (f: FullListing) => string,
  by: 'person' | 'rule',
): Promise<Repriced> {
  const rows: RowChange[] = [];
  const outbox: OutboxRow[] = [];
  const at = work.clock();
  const following = listings.filter((f) => follows(f.listing) && f.listing.published);
  const known = await work.db.outbox.bulkGet(following.map((f) => offerId(f.listing)));
  for (const [k, full] of following.entries()) {
    const { listing } = full;
    const before = listing.published!;
    const site = marketOf(shop, listing.marketplace)?.site;
    const plan = planFor(shop.plans, full);
    const quote = site && quoteListing(full, shop, plan);
    if (!site || !quote) continue;
    const { price, quantity } = sellingNow(before.price, quote, plan);
    const live = quantity > 0;
    const moved = price !== before.price || quantity !== before.quantity;
    const row = outgoing(
      offerId(listing),
      listing.marketplace,
      'offer',
      `listing:${listing.id}`,
      { listing: listing.id, sku: listing.sku, price, quantity, live },
      at,
    );
    if (moved && by === 'rule' && wasOffered(known[k], row)) continue;
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
    if (moved) outbox.push(row);
    // An offer that still waits says something older than what is right again.
    else if (known[k]?.state === 'waiting') outbox.push({ ...row, state: 'done' });
  }
  await work.db.outbox.bulkPut(outbox);
  return { rows, told: outbox.filter((o) => o.state === 'waiting').length };
}

const OFFER = 'offer:';
const offerId = (listing: Listing) => OFFER + listing.id;
