import { type ListingDraft, OFFERS_AT_ONCE } from '../connect/marketplace';
import type { Result, Trouble } from '../connect/reach';
import { formatMinor } from '../core/money';
import {
  applyChange,
  type ChangeHead,
  type Connection,
  type Listing,
  type MarketConnection,
  type OutboxRow,
  type RowChange,
  type SupplierConnection,
} from '../store';
import { backoff, noteTrouble, noteWell } from './circuit';
import { nowOf, type Work } from './context';
import { type BuyBody, decide, deskTables, linkedOf } from './desk';
import { marketDoor, supplierDoor } from './doors';
import { type DispatchBody, moveOn } from './intake';
import type { OfferBody } from './reprice';
import { readShop } from './shop';

/** What an outbox row of kind `publish` carries. */
export interface PublishBody {
  readonly listing: string;
  readonly draft: ListingDraft;
}

const orderOf = (row: OutboxRow) => row.subject.slice('order:'.length);

/** Marks a row as answered, unless it was replaced while the answer was awaited. */
async function close(work: Work, row: OutboxRow, state: 'done' | 'refused', says: string | null): Promise<void> {
  const now = await work.db.outbox.get(row.id);
  if (now?.at === row.at) await work.db.outbox.update(row.id, { state, says, attempts: row.attempts + 1 });
}

const tables = (work: Work) => deskTables(work);

async function settle(
  work: Work,
  head: Omit<ChangeHead, 'by'>,
  rows: RowChange[],
  row: OutboxRow,
  state: 'done' | 'refused',
  says: string | null,
): Promise<void> {
  await work.db.transaction('rw', tables(work), async () => {
    await close(work, row, state, says);
    await applyChange(work.db, { by: 'rule', ...head }, rows, nowOf(work));
  });
}

/** Whether a refusal concerns only what was asked, so that asking again is of no use. */
const isFinal = (trouble: Trouble) => trouble.kind === 'refused';

async function publish(work: Work, c: MarketConnection, row: OutboxRow): Promise<Trouble | null> {
  const { listing: id, draft } = row.body as PublishBody;
  const answer = await marketDoor(work.reach, c).publish(draft);
  if (!answer.ok && !isFinal(answer.trouble)) return answer.trouble;
  const at = work.clock();
  const price = formatMinor(draft.price, c.site.currency);
  const errors = answer.ok ? '' : (answer.trouble.errors ?? []).map((e) => `${e.field}: ${e.reason}`).join(' ') || answer.trouble.says;
  const says = answer.ok ? `${c.name} took it at ${price}, ${draft.quantity} shown.` : `${c.name} refused it. ${errors}`;
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
  const answer = await marketDoor(work.reach, c).offers(bodies);
  if (!answer.ok) {
    if (!isFinal(answer.trouble)) return answer.trouble;
    for (const row of batch) await close(work, row, 'refused', answer.trouble.says);
    return null;
  }
  await db.transaction('rw', tables(work), async () => {
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
        refusal === null ? { told: { price: body.price, quantity: body.quantity, at }, state: body.live ? 'live' : 'paused' } : { problem: says };
      rows.push({ table: 'listings', id: listing.id, set, says });
    }
    await applyChange(db, { by: 'rule', name: `${c.name} was told of ${rows.length} ${rows.length === 1 ? 'offer' : 'offers'}` }, rows, nowOf(work));
  });
  return null;
}

async function buy(work: Work, c: SupplierConnection, row: OutboxRow): Promise<Trouble | null> {
  const { db } = work;
  const answer = await supplierDoor(work.reach, c).buy(row.id, row.body as BuyBody);
  if (!answer.ok && !isFinal(answer.trouble)) return answer.trouble;
  await db.transaction('rw', tables(work), async () => {
    const order = await db.orders.get(orderOf(row));
    if (!order) return close(work, row, 'done', 'The order is gone.');
    if (answer.ok) {
      const moved = await moveOn(work, order, answer.value);
      await close(work, row, 'done', `Accepted as ${answer.value.number}.`);
      if (moved)
        await applyChange(
          db,
          { by: 'rule', name: `${c.name} accepted ${order.number}` },
          [{ table: 'orders', id: order.id, set: moved.set, says: moved.says }],
          nowOf(work),
        );
      if (answer.value.balance !== null) await db.connections.update(c.id, { balance: answer.value.balance } as Partial<Connection>);
      return;
    }
    const refusal = answer.trouble.says;
    const refused = { ...order, forwarding: false, attempt: order.attempt + 1, refusal };
    const { set } = decide(refused, await linkedOf(work, [order]), await readShop(db), 0, false, work.clock());
    await close(work, row, 'refused', refusal);
    await applyChange(
      db,
      { by: 'rule', name: `${c.name} refused ${order.number}` },
      [
        {
          table: 'orders',
          id: order.id,
          set: { ...set, forwarding: false, attempt: refused.attempt, refusal },
          says: `${c.name} refused: ${refusal}`,
        },
      ],
      nowOf(work),
    );
  });
  return null;
}

async function tell(work: Work, c: MarketConnection, row: OutboxRow): Promise<Trouble | null> {
  const door = marketDoor(work.reach, c);
  const order = await work.db.orders.get(orderOf(row));
  let answer: Result<null>;
  if (row.kind === 'dispatch') {
    const { number, ...dispatch } = row.body as DispatchBody;
    answer = await door.dispatch(row.id, number, dispatch);
  } else {
    const { number, reason } = row.body as { number: string; reason: string };
    answer = await door.cancel(row.id, number, reason);
  }
  if (!answer.ok && !isFinal(answer.trouble)) return answer.trouble;
  const what = row.kind === 'dispatch' ? 'the parcel' : 'the cancellation';
  const says = answer.ok ? `${c.name} was told of ${what}.` : `${c.name} refused ${what}: ${answer.trouble.says}`;
  const at = work.clock();
  const set = answer.ok ? (row.kind === 'dispatch' && order ? { facts: { ...order.facts, toldAt: at }, open: 0 as const } : {}) : { refusal: says };
  await settle(
    work,
    { name: `${order?.number ?? ''}: ${says}` },
    order ? [{ table: 'orders', id: order.id, set, says }] : [],
    row,
    answer.ok ? 'done' : 'refused',
    says,
  );
  return null;
}

/**
 * Sends what is due to one connection, buying first, oldest first; offers go in batches. Every answer is stored before the next is sent; a row whose
 * answer did not come goes again with the same key.
 * @returns how many rows were answered, and whether trouble stopped it
 */
export async function pumpOutbox(work: Work, c: Connection, most = 25): Promise<{ sent: number; stopped: boolean }> {
  const { db } = work;
  const due = (await db.outbox.where('[state+nextAt]').between(['waiting', 0], ['waiting', work.clock()], true, true).toArray())
    .filter((r) => r.connection === c.id)
    .sort((a, b) => a.at - b.at);
  let sent = 0;
  const singles = due.filter((r) => r.kind !== 'offer').slice(0, most);
  const batch = due.filter((r) => r.kind === 'offer').slice(0, OFFERS_AT_ONCE);
  for (const rows of [...singles.map((r) => [r]), ...(batch.length ? [batch] : [])]) {
    const row = rows[0]!;
    const trouble =
      c.role === 'supplier'
        ? await buy(work, c, row)
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
