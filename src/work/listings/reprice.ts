import { WHOLE } from '../../core/money';
import { type Cause, type ListingProblem, type OfferMoves, sameProblem } from '../../core/pricing';
import { dayOf } from '../../core/units';
import type { HeldStep, Listing, OfferState, OutboxRow, Published, RowChange, StepRule } from '../../store';
import type { Work } from '../context/work';
import type { Assortment } from '../memory/assortment';
import { FLAG } from '../memory/columns';
import { listingOfRow, listingRowId, offerRow } from '../outbox/row';
import type { FullListing } from '../quoting/full-listing';
import { follows, offerState, pricedBy, sellingNow, stateMoved } from '../quoting/offer';
import { planFor } from '../quoting/plan-choice';
import { quoteListing } from '../quoting/quote';
import { marketOf, type Shop } from '../quoting/worth';

/** Whether the very same offer has changes to hand over already, or was refused. */
const wasOffered = (known: OutboxRow | undefined, row: OutboxRow<'offer'>): boolean =>
  (known?.state === 'refused' || known?.state === 'waiting') &&
  known.kind === 'offer' &&
  known.body.price === row.body.price &&
  known.body.quantity === row.body.quantity &&
  known.body.state === row.body.state;

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
    const place = assortment.placeOf(listingOfRow(id));
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
  /** The changes of listings: the caller applies them under the name of their cause. */
  readonly rows: readonly RowChange[];
  /** How many offers wait to be told. */
  readonly told: number;
}

/**
 * Lets live listings follow today's shop: compares each with what the marketplace was last told, and puts the offers
 * that differ into the outbox, where a new one replaces a waiting one of the same listing. A quote without a price holds
 * the listing at its old price, says so, and still lets the quantity follow. Runs inside the caller's transaction.
 * @param because what set it off, for each listing's history
 * @param by what waits, or was refused, is offered anew only where a person asks for it; how far a price may move by itself
 *   holds for what the supplier set off alone; right after something was `told` only what has to be told anew is touched
 */
export async function reprice(
  work: Work,
  listings: readonly FullListing[],
  shop: Shop,
  because: (f: FullListing) => Cause,
  by: 'person' | 'rule' | 'calendar' | 'told',
): Promise<Repriced> {
  const rows: RowChange[] = [];
  const outbox: OutboxRow[] = [];
  const overtaken: string[] = [];
  const at = work.clock();
  const day = dayOf(at, shop.settings.zone);
  const following = listings.filter((f) => follows(f.listing) && f.listing.published);
  const known = await work.db.outbox.bulkGet(following.map((f) => listingRowId('offer', f.listing.id)));
  for (const [k, full] of following.entries()) {
    const { listing } = full;
    const before = listing.published!;
    const site = marketOf(shop, listing.marketplace)?.site;
    const plan = planFor(shop, full);
    const quote = site && quoteListing(full, shop, plan);
    if (!site || !quote) continue;
    const wanted = sellingNow(before.price, quote, plan);
    const { quantity } = wanted;
    const limit =
      by === 'rule' && quote.by === 'plan' && plan && wanted.price !== before.price
        ? stepLimit(listing, wanted.price, plan.steps, day)
        : null;
    const price = limit ? before.price : wanted.price;
    const held =
      limit === 'waits' ? (sameStep(listing, wanted.price) ?? stepOf(before.price, wanted.price)) : null;
    const problem: ListingProblem | null = held
      ? { why: 'step', from: held.from, to: held.to }
      : quote.problem;
    const troubled = !sameProblem(problem, listing.problem);
    const state = offerState(quantity, plan?.stock ?? shop.settings.stock);
    const moved = price !== before.price || quantity !== before.quantity || stateMoved(before, state);
    const row = offerRow(listing, { price, quantity, state }, at);
    if (moved && by !== 'person' && wasOffered(known[k], row)) continue;
    if (by === 'told' && !moved) continue;
    if (moved || troubled || held?.to !== listing.held?.to) {
      const stated = STATE_MOVES[state](listing.state === 'live', before);
      const moves: OfferMoves = {
        because: because(full),
        currency: site.currency,
        ...(price !== before.price && {
          price: { from: before.price, to: price, by: pricedBy(quote, plan) },
        }),
        ...(quantity !== before.quantity && { shown: { from: before.quantity, to: quantity } }),
        ...(stated && { state: stated }),
        ...(problem &&
          troubled && { held: { at: price, none: !quantity && quote.quantity > 0, why: problem } }),
      };
      rows.push({
        table: 'listings',
        id: listing.id,
        set: {
          problem,
          held: held && { ...held, at, because: because(full) },
          ...(price !== before.price &&
            by === 'rule' &&
            plan?.steps.perDay != null && { moves: movedOnce(listing, day) }),
          last: { at, moves },
        },
        moves,
      });
    }
    if (moved) outbox.push(row);
    // An offer that still waits says something older than what is right again.
    else if (known[k]?.state === 'waiting') overtaken.push(row.id);
  }
  await work.db.outbox.bulkPut(outbox);
  await work.db.outbox.bulkDelete(overtaken);
  return { rows, told: outbox.length };
}

/**
 * What keeps a price from moving by itself: it `waits` for a person, or `stays` as the change is too small or the last of
 * the day was told. Null where nothing does.
 */
function stepLimit(
  listing: Listing,
  to: number,
  { most, least, perDay }: StepRule,
  day: string,
): 'waits' | 'stays' | null {
  const from = listing.published!.price;
  const step = Math.abs(to - from);
  if (step < least) return 'stays';
  if (most !== null && step * WHOLE > most * from) return 'waits';
  return perDay !== null && movesOn(listing, day) >= perDay ? 'stays' : null;
}

const movesOn = ({ moves }: Listing, day: string) => (moves?.day === day ? moves.n : 0);
const movedOnce = (listing: Listing, day: string) => ({ day, n: movesOn(listing, day) + 1 });

type Step = Pick<HeldStep, 'from' | 'to'>;
const stepOf = (from: number, to: number): Step => ({ from, to });
const sameStep = ({ held }: Listing, to: number): Step | null => (held?.to === to ? held : null);

/** The new state as buyers see it, where it changed. */
const STATE_MOVES: Readonly<Record<OfferState, (live: boolean, before: Published) => OfferMoves['state']>> = {
  live: (live) => (live ? undefined : 'on sale again'),
  paused: (live) => (live ? 'paused' : undefined),
  ended: (_, { state }) => (state === 'ended' ? undefined : 'ended'),
};
