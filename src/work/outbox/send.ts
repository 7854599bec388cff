import { type ListingDraft, OFFERS_AT_ONCE } from '../../connect/marketplace';
import type { Result, Trouble } from '../../connect/reach';
import type { SupplierOrder } from '../../connect/supplier';
import { formatMinor } from '../../core/money';
import {
  applyChange,
  type ChangeHead,
  type Connection,
  type Listing,
  type MarketConnection,
  type Order,
  type OutboxRow,
  type RowChange,
  type SupplierConnection,
} from '../../store';
import { marketAdapter, supplierAdapter } from '../connections/adapters';
import { nowOf, type Work } from '../context';
import type { OfferBody } from '../listings/reprice';
import { type CancelBody, endSale, notTakenBack, type TakeBackBody } from '../orders/cancel';
import { type BuyBody, decide, isRecalling, linkedOf, openOf } from '../orders/decide';
import { type DispatchBody, moveOn } from '../orders/intake';
import { readShop } from '../shop/read-shop';
import { backoff, noteTrouble, noteWell } from './circuit';

/** What an outbox row of kind `publish` carries. */
export interface PublishBody {
  readonly listing: string;
  readonly draft: ListingDraft;
}

const orderOf = (row: OutboxRow) => row.subject.slice('order:'.length);

/** Marks a row as answered, unless it was replaced while the answer was awaited. */
async function close(
  work: Work,
  row: OutboxRow,
  state: 'done' | 'refused' | 'withdrawn',
  says: string | null,
): Promise<void> {
  const now = await work.db.outbox.get(row.id);
  if (now?.at === row.at) await work.db.outbox.update(row.id, { state, says, attempts: row.attempts + 1 });
}

async function settle(
  work: Work,
  head: Omit<ChangeHead, 'by'>,
  rows: RowChange[],
  row: OutboxRow,
  state: 'done' | 'refused',
  says: string | null,
): Promise<void> {
  await work.db.transaction('rw', work.db.shopTables, async () => {
    await close(work, row, state, says);
    await applyChange(work.db, { by: 'rule', ...head }, rows, nowOf(work));
  });
}

/**
 * Tries after which an answer from between (a proxy's 404 or 413) is taken for what it says, where a person
 * can simply publish again.
 */
const STRAY_TRIES = 5;

/**
 * Whether asking again is of no use: the other side itself refused, or what stands between never lets a
 * listing through. Nothing of an order is given up.
 */
const isFinal = (trouble: Trouble, row: OutboxRow) =>
  trouble.kind === 'refused' ||
  (trouble.kind === 'stray' && row.kind === 'publish' && row.attempts + 1 >= STRAY_TRIES);

async function publish(work: Work, c: MarketConnection, row: OutboxRow): Promise<Trouble | null> {
  const { listing: id, draft } = row.body as PublishBody;
  const answer = await marketAdapter(work.reach, c).publish(draft);
  if (!answer.ok && !isFinal(answer.trouble, row)) return answer.trouble;
  const at = work.clock();
  const price = formatMinor(draft.price, c.site.currency);
  const errors = answer.ok
    ? ''
    : (answer.trouble.errors ?? []).map((e) => `${e.field}: ${e.reason}`).join(' ') || answer.trouble.says;
  const says = answer.ok
    ? `${c.name} took it at ${price}, ${draft.quantity} shown.`
    : `${c.name} refused it. ${errors}`;
  const set: Partial<Listing> = answer.ok
    ? {
        state: draft.quantity > 0 ? 'live' : 'paused',
        problem: null,
        told: { price: draft.price, quantity: draft.quantity, at },
        last: { at, says },
      }
    : { state: 'refused', problem: errors, last: { at, says } };
  await settle(
    work,
    { name: answer.ok ? `Published ${draft.sku}` : `${draft.sku} was refused` },
    [{ table: 'listings', id, set, says }],
    row,
    answer.ok ? 'done' : 'refused',
    says,
  );
  return null;
}

async function offers(work: Work, c: MarketConnection, batch: readonly OutboxRow[]): Promise<Trouble | null> {
  const { db } = work;
  const bodies = batch.map((r) => r.body as OfferBody);
  const answer = await marketAdapter(work.reach, c).offers(bodies);
  if (!answer.ok) {
    if (!isFinal(answer.trouble, batch[0]!)) return answer.trouble;
    for (const row of batch) await close(work, row, 'refused', answer.trouble.says);
    return null;
  }
  await db.transaction('rw', db.shopTables, async () => {
    const listings = await db.listings.bulkGet(bodies.map((b) => b.listing));
    const rows: RowChange[] = [];
    const at = work.clock();
    for (const [i, row] of batch.entries()) {
      const body = bodies[i]!;
      const refusal = answer.value.get(body.sku);
      if (refusal === undefined) continue;
      const says =
        refusal === null
          ? `${c.name} shows ${formatMinor(body.price, c.site.currency)}, ${body.live ? `${body.quantity} in stock` : 'paused'}.`
          : `${c.name} refused: ${refusal}`;
      await close(work, row, refusal === null ? 'done' : 'refused', says);
      const listing = listings[i];
      if (!listing) continue;
      const set: Partial<Listing> =
        refusal === null
          ? { told: { price: body.price, quantity: body.quantity, at }, state: body.live ? 'live' : 'paused' }
          : { problem: says };
      rows.push({ table: 'listings', id: listing.id, set, says });
    }
    await applyChange(
      db,
      { by: 'rule', name: `${c.name} was told of ${rows.length} ${rows.length === 1 ? 'offer' : 'offers'}` },
      rows,
      nowOf(work),
    );
  });
  return null;
}

/** Writes down that a row is about to leave, unless it was withdrawn or replaced meanwhile. */
async function claim(work: Work, row: OutboxRow): Promise<OutboxRow | null> {
  const { outbox } = work.db;
  return work.db.transaction('rw', outbox, async () => {
    const now = await outbox.get(row.id);
    if (now?.state !== 'waiting' || now.at !== row.at) return null;
    await outbox.update(row.id, { sentAt: work.clock() });
    return now;
  });
}

/**
 * The purchase of an order that may be there already, as its supplier knows it; null where it is sure that
 * there is none.
 */
async function lookUp(
  work: Work,
  c: SupplierConnection,
  row: OutboxRow,
): Promise<Result<SupplierOrder | null>> {
  const found = await supplierAdapter(work.reach, c).find((row.body as BuyBody).reference);
  if (!found.ok) return found;
  const order = await work.db.orders.get(orderOf(row));
  return { ok: true, value: found.value.find((p) => !order?.ended.includes(p.number)) ?? null };
}

/**
 * Buys. Where it left before and no answer is known, the supplier is first asked whether it has the purchase:
 * only if it has none does it go again, with the same key; and not at all if the sale was cancelled
 * meanwhile.
 */
async function buy(work: Work, c: SupplierConnection, row: OutboxRow): Promise<Trouble | null> {
  const { db } = work;
  const before = await claim(work, row);
  if (!before) return null;
  if (before.sentAt !== null) {
    const found = await lookUp(work, c, row);
    if (!found.ok) return doubtful(found.trouble);
    if (found.value) return bought(work, c, row, found.value);
    const order = await db.orders.get(orderOf(row));
    if (order && isRecalling(order)) {
      await db.transaction('rw', db.shopTables, async () => {
        await close(work, row, 'withdrawn', `${c.name} does not have it; the order was cancelled.`);
        const { set, says } = await endSale(work, order, order.recall!);
        const head: ChangeHead = { by: 'rule', name: `${order.number} was cancelled` };
        await applyChange(
          db,
          head,
          [{ table: 'orders', id: order.id, set, says: `${says} ${c.name} has no purchase of it.` }],
          nowOf(work),
        );
      });
      return null;
    }
  }
  const answer = await supplierAdapter(work.reach, c).buy(row.id, row.body as BuyBody);
  if (answer.ok) return bought(work, c, row, answer.value);
  if (answer.trouble.type === 'urn:wire:key-reused') {
    // A key that was used before belongs to a purchase that is there: made before this copy of the shop, and
    // edited since.
    const found = await lookUp(work, c, row);
    return found.ok && found.value
      ? bought(work, c, row, found.value)
      : doubtful(found.ok ? answer.trouble : found.trouble);
  }
  if (answer.trouble.kind !== 'refused') return answer.trouble;
  return notBought(work, c, row, answer.trouble.says);
}

/** A refusal that says nothing of whether it was bought is one trouble among others. */
const doubtful = (trouble: Trouble): Trouble =>
  trouble.kind === 'refused' ? { ...trouble, kind: 'nonsense' } : trouble;

async function bought(work: Work, c: SupplierConnection, row: OutboxRow, said: SupplierOrder): Promise<null> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await db.orders.get(orderOf(row));
    if (!order) return close(work, row, 'done', 'The order is gone.');
    const moved = await moveOn(work, order, said, c.name);
    await close(work, row, 'done', `Accepted as ${said.number}.`);
    const head: ChangeHead = { by: 'rule', name: `${c.name} accepted ${order.number}` };
    if (moved)
      await applyChange(
        db,
        head,
        [{ table: 'orders', id: order.id, set: moved.set, says: moved.says }],
        nowOf(work),
      );
    await noteBalance(work, c, said);
  });
  return null;
}

async function noteBalance(work: Work, c: SupplierConnection, { balance }: SupplierOrder): Promise<void> {
  if (balance !== null) await work.db.connections.update(c.id, { balance } as Partial<Connection>);
}

async function notBought(work: Work, c: SupplierConnection, row: OutboxRow, why: string): Promise<null> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await db.orders.get(orderOf(row));
    await close(work, row, 'refused', why);
    if (!order) return;
    const says = `${c.name} refused: ${why}`;
    const refused: Order = { ...order, forwarding: false, refusal: says };
    const ended = isRecalling(order) ? await endSale(work, order, order.recall!) : null;
    const set = ended?.set ?? {
      ...decide(
        refused,
        await linkedOf(work, [order]),
        await readShop(db, work.clock()),
        0,
        false,
        work.clock(),
      ).set,
      forwarding: false,
      refusal: says,
    };
    const head: ChangeHead = { by: 'rule', name: `${c.name} refused ${order.number}` };
    await applyChange(
      db,
      head,
      [{ table: 'orders', id: order.id, set, says: ended ? `${says} ${ended.says}` : says }],
      nowOf(work),
    );
  });
  return null;
}

async function takeBack(work: Work, c: SupplierConnection, row: OutboxRow): Promise<Trouble | null> {
  const { db } = work;
  const { number, reason } = row.body as TakeBackBody;
  const answer = await supplierAdapter(work.reach, c).takeBack(row.id, number, reason);
  if (!answer.ok && !isFinal(answer.trouble, row)) return answer.trouble;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await db.orders.get(orderOf(row));
    const refused = answer.ok ? null : `${c.name} does not take ${number} back: ${answer.trouble.says}`;
    await close(work, row, answer.ok ? 'done' : 'refused', refused ?? `${number} was taken back.`);
    if (!order || !isRecalling(order)) return;
    const moved = answer.ok
      ? await moveOn(work, order, answer.value, c.name)
      : await notTakenBack(work, order, refused!);
    const head: ChangeHead = {
      by: 'rule',
      name: answer.ok ? `${c.name} took ${number} back` : `${c.name} keeps ${number}`,
    };
    if (moved)
      await applyChange(
        db,
        head,
        [{ table: 'orders', id: order.id, set: moved.set, says: moved.says }],
        nowOf(work),
      );
    if (answer.ok) await noteBalance(work, c, answer.value);
  });
  return null;
}

/**
 * An order whose cancellation the marketplace refused is open again; what was bought for it is not any more.
 */
function reopened(order: Order, says: string): Partial<Order> {
  const { facts, supplierNumber, ended, recall } = order;
  const lost = recall?.state === 'agreed' && supplierNumber !== null;
  return {
    facts: { ...facts, cancelledAt: null, checkedAt: null, boughtAt: lost ? null : facts.boughtAt },
    ...(lost && {
      supplierNumber: null,
      ended: [...ended, supplierNumber],
      charged: { ...order.charged, goods: null, shipping: null },
    }),
    recall: null,
    refusal: says,
    open: 1,
  };
}

async function tell(work: Work, c: MarketConnection, row: OutboxRow): Promise<Trouble | null> {
  const door = marketAdapter(work.reach, c);
  let answer: Result<null>;
  if (row.kind === 'dispatch') {
    const { number, ...dispatch } = row.body as DispatchBody;
    answer = await door.dispatch(row.id, number, dispatch);
  } else {
    const { number, reason } = row.body as CancelBody;
    answer = await door.cancel(row.id, number, reason);
  }
  if (!answer.ok && !isFinal(answer.trouble, row)) return answer.trouble;
  const what = row.kind === 'dispatch' ? 'the parcel' : 'the cancellation';
  const says = answer.ok
    ? `${c.name} was told of ${what}.`
    : `${c.name} refused ${what}: ${answer.trouble.says}`;
  const at = work.clock();
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    // As it is now: it may have moved on while the answer was awaited.
    const order = await db.orders.get(orderOf(row));
    await close(work, row, answer.ok ? 'done' : 'refused', says);
    if (!order) return;
    const told = { facts: { ...order.facts, toldAt: at } };
    const set = answer.ok
      ? row.kind === 'dispatch'
        ? { ...told, open: openOf({ ...order, ...told }) }
        : {}
      : row.kind === 'cancel'
        ? reopened(order, says)
        : { refusal: says };
    await applyChange(
      db,
      { by: 'rule', name: `${order.number}: ${says}` },
      [{ table: 'orders', id: order.id, set, says }],
      nowOf(work),
    );
  });
  return null;
}

/**
 * Sends what is due to one connection, buying first, oldest first; offers go in batches. Every answer is
 * stored before the next is sent; a row whose answer did not come goes again with the same key.
 * @returns how many rows were answered, and whether trouble stopped it
 */
export async function pumpOutbox(
  work: Work,
  c: Connection,
  most = 25,
): Promise<{ sent: number; stopped: boolean }> {
  const { db } = work;
  const due = (
    await db.outbox
      .where('[state+nextAt]')
      .between(['waiting', 0], ['waiting', work.clock()], true, true)
      .toArray()
  )
    .filter((r) => r.connection === c.id)
    .sort((a, b) => a.at - b.at);
  let sent = 0;
  const singles = due.filter((r) => r.kind !== 'offer').slice(0, most);
  const batch = due.filter((r) => r.kind === 'offer').slice(0, OFFERS_AT_ONCE);
  for (const rows of [...singles.map((r) => [r]), ...(batch.length ? [batch] : [])]) {
    const row = rows[0]!;
    const trouble =
      c.role === 'supplier'
        ? row.kind === 'take back'
          ? await takeBack(work, c, row)
          : await buy(work, c, row)
        : row.kind === 'publish'
          ? await publish(work, c, row)
          : row.kind === 'offer'
            ? await offers(work, c, rows)
            : await tell(work, c, row);
    if (trouble) {
      const until = await noteTrouble(work, c.id, trouble);
      const at = work.clock();
      await db.outbox.bulkUpdate(
        rows.map((r) => ({
          key: r.id,
          changes: {
            attempts: r.attempts + 1,
            nextAt: Math.max(until, at + (trouble.retryAfter ?? backoff(r.attempts, work.chance()))),
            says: trouble.says,
          },
        })),
      );
      return { sent, stopped: true };
    }
    await noteWell(work, (await db.connections.get(c.id)) ?? c);
    sent += rows.length;
  }
  return { sent, stopped: false };
}
