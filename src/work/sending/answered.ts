import type { ListingSaid } from '../../connect/marketplace';
import { formatMinor } from '../../core/money';
import type { OrderEvent } from '../../core/orders';
import { countOf } from '../../core/units';
import {
  applyChange,
  type ChangeHead,
  type DocumentRow,
  type Drift,
  type Listing,
  type ListingDocument,
  type MarketConnection,
  type OfferState,
  type Order,
  type OrderKind,
  type OutboxRow,
  orderById,
  type RowChange,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { reprice } from '../listings/reprice';
import { caughtUp, shopNow } from '../memory/assortment';
import { advance, orderChange } from '../orders/advance';
import { listingOfRow } from '../outbox/row';
import { markOfDocument } from '../quoting/listing-standing';

/** Marks a row as answered, unless it was replaced while the answer was awaited. */
export async function close(
  work: Work,
  row: OutboxRow,
  state: 'done' | 'refused' | 'withdrawn',
  says: string | null,
): Promise<void> {
  await closeAll(work, [{ row, state, says }]);
}

/** Tells an order what was answered to a row, and closes the row, in one transaction. */
export async function answer(
  work: Work,
  row: OutboxRow<OrderKind>,
  state: 'done' | 'refused' | 'withdrawn',
  says: string,
  head: (order: Order) => string,
  eventOf: (order: Order) => OrderEvent | Promise<OrderEvent>,
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    // As it is now: it may have moved on while the answer was awaited.
    const order = await orderById(db, row.order);
    await close(work, row, state, says);
    if (!order) return;
    const shop = await shopNow(work);
    const moved = await advance(work, shop, order, [await eventOf(order)]);
    if (moved)
      await applyChange(
        db,
        { by: 'rule', name: head(order) } satisfies ChangeHead,
        [orderChange(moved)],
        nowOf(work),
      );
  });
}

/** Whether a listing's price and quantity reach its marketplace by files. */
const byFile = (c: MarketConnection) => c.lanes.listings !== 'service';

/** A listing on its way to its marketplace, as it was told. */
export interface Told {
  readonly row: OutboxRow<'publish'>;
  readonly document: ListingDocument;
  readonly price: number;
  readonly quantity: number;
}

/**
 * Writes what became of listings that were published, as one change. @param saidOf undefined where nothing was said of one:
 * that one is left as it is
 */
export async function published(
  work: Work,
  c: MarketConnection,
  batch: readonly Told[],
  saidOf: (told: Told) => ListingSaid | undefined,
): Promise<void> {
  const { db } = work;
  const at = work.clock();
  await db.transaction('rw', db.shopTables, async () => {
    const listings = await db.listings.bulkGet(batch.map((one) => one.row.body.listing));
    const rows: RowChange[] = [];
    const documents: DocumentRow[] = [];
    const answers: Answered[] = [];
    let refused = 0;
    for (const [i, told] of batch.entries()) {
      const said = saidOf(told);
      if (!said) continue;
      const { row, document, price, quantity } = told;
      const asDraft = row.body.draft === true;
      const shown = `at ${formatMinor(price, c.site.currency)}, ${quantity} shown`;
      const says = !said.ok
        ? `${c.name} refused it. ${said.reason}`
        : asDraft
          ? `${c.name} keeps it as a draft.`
          : byFile(c)
            ? `Written into a listing file for ${c.name} ${shown}.`
            : `${c.name} took it ${shown}.`;
      answers.push({ row, state: said.ok ? 'done' : 'refused', says });
      if (!said.ok) refused++;
      const listing = listings[i];
      if (!listing) continue;
      const { id } = listing;
      const state = quantity > 0 ? 'live' : 'paused';
      // What was on sale before goes on as it was when its change is refused.
      const set: Partial<Listing> = said.ok
        ? {
            // What was ended meanwhile is told so next.
            ...(listing.state !== 'ended' && { state: asDraft ? ('draft' as const) : sellingState(state) }),
            problem: null,
            ...(said.page && { page: said.page }),
            ...(listing.drift && { drift: null }),
            published: { price, quantity, at, mark: markOfDocument(document), ...(!asDraft && { state }) },
            last: { at, says },
          }
        : {
            ...(listing.published && listing.state !== 'publishing' ? {} : { state: 'refused' }),
            problem: { why: 'refused', said: said.reason },
            last: { at, says },
          };
      if (said.ok) documents.push({ id, document, at });
      rows.push({ table: 'listings', id, set, says });
    }
    await closeAll(work, answers);
    await db.documents.bulkPut(documents);
    const [first] = rows;
    const one = rows.length === 1 && first && 'id' in first ? first.id.slice(c.id.length + 1) : null;
    const taken = rows.length - refused;
    const name = one
      ? refused
        ? `${one} was refused`
        : `Published ${one}`
      : `${c.name} took ${countOf(taken, 'listing')}${refused ? `, refused ${refused}` : ''}`;
    await applyChange(db, { by: 'rule', name }, rows, nowOf(work));
    await followSince(work, answers);
  });
}

/**
 * What was told is as old as the request: a sale that came in while it was answered, or a cost that moved, is told next.
 * Runs inside the caller's transaction, where what was written is at hand.
 */
async function followSince(work: Work, answers: readonly Answered[]): Promise<void> {
  const assortment = await caughtUp(work);
  const told = answers.flatMap(({ row, state }) =>
    state === 'done' ? (assortment.get(listingOfRow(row.id)) ?? []) : [],
  );
  const moved = await reprice(work, told, assortment.shop, () => ({ by: 'meanwhile' }), 'told');
  const head = { by: 'rule', name: 'Offers follow what moved meanwhile', quiet: true } as const;
  await applyChange(work.db, head, moved.rows, nowOf(work));
}

/** The other side’s answer to a row. */
interface Answered {
  readonly row: OutboxRow;
  readonly state: 'done' | 'refused' | 'withdrawn';
  readonly says: string | null;
}

/**
 * Marks rows as answered, and deletes those of listings that were taken; but for those that were replaced while the answer
 * was awaited: the newer ones follow.
 */
async function closeAll(work: Work, answers: readonly Answered[]): Promise<void> {
  const { outbox } = work.db;
  const now = await outbox.bulkGet(answers.map((a) => a.row.id));
  const over: string[] = [];
  const rows: OutboxRow[] = [];
  for (const [i, { row, state, says }] of answers.entries()) {
    const there = now[i];
    if (there?.at !== row.at) continue;
    if (state === 'done' && row.order === null) over.push(row.id);
    else rows.push({ ...there, state, says, attempts: row.attempts + 1 });
  }
  await outbox.bulkDelete(over);
  await outbox.bulkPut(rows);
}

/**
 * Writes what became of offers. @param refusalOf null where one was taken, undefined where nothing was said of it:
 * that one is left as it is
 */
export async function offered(
  work: Work,
  c: MarketConnection,
  batch: readonly OutboxRow<'offer'>[],
  refusalOf: (row: OutboxRow<'offer'>) => string | null | undefined,
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const listings = await db.listings.bulkGet(batch.map((row) => row.body.listing));
    const rows: RowChange[] = [];
    const answers: Answered[] = [];
    const at = work.clock();
    for (const [i, row] of batch.entries()) {
      const { body } = row;
      const refusal = refusalOf(row);
      if (refusal === undefined) continue;
      const shown =
        body.state === 'ended'
          ? 'ended'
          : `${formatMinor(body.price, c.site.currency)}, ${body.state === 'live' ? `${body.quantity} in stock` : 'paused'}`;
      const says =
        refusal !== null
          ? `${c.name} refused: ${refusal}`
          : byFile(c)
            ? `Written into a listing file for ${c.name}: ${shown}.`
            : `${c.name} shows ${shown}.`;
      answers.push({ row, state: refusal === null ? 'done' : 'refused', says });
      const listing = listings[i];
      if (!listing) continue;
      const told = {
        price: body.price,
        quantity: body.quantity,
        state: body.state,
        at,
        mark: listing.published?.mark ?? null,
      };
      const set: Partial<Listing> =
        refusal === null
          ? {
              published: told,
              ...(listing.state !== 'ended' && { state: sellingState(body.state) }),
              ...(listing.drift && { drift: driftOfTexts(listing.drift) }),
            }
          : // What could not be ended is on sale still.
            {
              problem: { why: 'refused', said: refusal, marketplace: c.id },
              ...(listing.state === 'ended' && {
                state: (listing.published?.quantity ?? 0) > 0 ? 'live' : 'paused',
              }),
            };
      rows.push({ table: 'listings', id: listing.id, set, says });
    }
    await closeAll(work, answers);
    const name = `${c.name} was told of ${countOf(rows.length, 'offer')}`;
    await applyChange(db, { by: 'rule', name, quiet: true }, rows, nowOf(work));
    await followSince(work, answers);
  });
}

/** Out of stock and ended is paused here: it comes back by itself. */
/** The texts of an edit on the site, which stay there after price and state were sent. */
function driftOfTexts({ at, theirs: { price: _, state: __, ...texts } }: Drift): Drift | null {
  return Object.keys(texts).length ? { at, theirs: texts } : null;
}

const sellingState = (state: OfferState): 'live' | 'paused' => (state === 'live' ? 'live' : 'paused');

/** Writes what became of a parcel that a marketplace was told of. @param refusal null where it was taken */
export async function dispatched(
  work: Work,
  c: MarketConnection,
  row: OutboxRow<'dispatch'>,
  refusal: string | null,
): Promise<void> {
  const says =
    refusal === null ? `${c.name} was notified of the parcel.` : `${c.name} refused the parcel: ${refusal}`;
  const { tracking } = row.body;
  await answer(
    work,
    row,
    refusal === null ? 'done' : 'refused',
    says,
    (o) => `${o.number}: ${says}`,
    () =>
      refusal === null
        ? { kind: 'parcel told', tracking }
        : { kind: 'parcel refused', tracking, says: refusal },
  );
}
