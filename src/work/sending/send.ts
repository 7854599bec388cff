import { OFFERS_AT_ONCE } from '../../connect/marketplace';
import type { Trouble } from '../../connect/reach';
import type {
  Connection,
  ListingKind,
  MarketConnection,
  OrderKind,
  OutboxRow,
  SupplierConnection,
} from '../../store';
import type { Work } from '../context/work';
import { backoff, noteTrouble, noteWell } from '../outbox/circuit';
import { dueOf, OF_ORDERS } from '../outbox/waiting';
import { ordersComeIn } from '../schedule/job';
import { sendOffers, sendPublications } from './listings';
import { sendMisprint, sendPurchase, sendTakeBack } from './purchases';
import { sendClaim, sendParcelAgain, sendReturn } from './returns';
import { sendCancellation, sendDecline, sendDispatch, sendMessage } from './sales';
import { stepAside, wentWell } from './stuck';

/** Sends one row of an order. */
function send(work: Work, c: Connection, row: OutboxRow<OrderKind>): Promise<Trouble | null> {
  const supplier = c as SupplierConnection;
  const market = c as MarketConnection;
  switch (row.kind) {
    case 'buy':
      return sendPurchase(work, supplier, row);
    case 'take back':
      return sendTakeBack(work, supplier, row);
    case 'misprint':
      return sendMisprint(work, supplier, row);
    case 'dispatch':
      return sendDispatch(work, market, row);
    case 'cancel':
      return sendCancellation(work, market, row);
    case 'decline':
      return sendDecline(work, market, row);
    case 'return':
      return sendReturn(work, market, row);
    case 'claim':
      return sendClaim(work, supplier, row);
    case 'send again':
      return sendParcelAgain(work, supplier, row);
    case 'message':
      return sendMessage(work, market, row);
  }
}

/** Trouble that is about the connection: whatever else is sent meets the same. */
const isOfAll = ({ kind }: Trouble) =>
  kind === 'credentials' || kind === 'unreachable' || kind === 'outage' || kind === 'limit';

/** Rows of orders sent in one round at most, and batches of listings. */
const MOST_ROWS = 25;

const MOST_BATCHES = 16;

/** Puts rows off after trouble, each for longer the more often it was tried. */
async function putOff(work: Work, id: string, rows: readonly OutboxRow[], trouble: Trouble): Promise<void> {
  const until = await noteTrouble(work, id, trouble);
  const at = work.clock();
  await work.db.outbox.bulkUpdate(
    rows.map((r) => ({
      key: r.id,
      changes: {
        attempts: r.attempts + 1,
        nextAt: Math.max(until, at + (trouble.retryAfter ?? backoff(r.attempts, work.chance()))),
        says: trouble.says,
      },
    })),
  );
}

/** How many rows were answered, and whether trouble stopped it. */
export interface SentRows {
  readonly sent: number;
  readonly stopped: boolean;
}

/** Milliseconds for which purchases wait while orders come in: each of them holds storage up. */
const BUYING_WAITS = 30_000;

/**
 * Sends what is due of orders to one connection, one row after the other and oldest first, each answer stored before the
 * next is sent. A row whose answer did not come goes again with the same key.
 */
export async function sendOrders(work: Work, c: Connection): Promise<SentRows> {
  let sent = 0;
  for (const row of await dueOf(work, c.id, OF_ORDERS, MOST_ROWS)) {
    if (row.kind === 'buy' && (await ordersComeIn(work, BUYING_WAITS))) break;
    let trouble: Trouble | null;
    try {
      trouble = await send(work, c, row);
    } catch (error) {
      await stepAside(work, [row], error);
      continue;
    }
    await wentWell(work, row);
    if (trouble) {
      await putOff(work, c.id, [row], trouble);
      return { sent, stopped: true };
    }
    await noteWell(work, c.id);
    sent++;
  }
  return { sent, stopped: false };
}

/** Sends what is due of listings to a marketplace: listings, then offers, in batches. */
export async function sendListings(work: Work, c: MarketConnection): Promise<SentRows> {
  let sent = 0;
  for (const kind of ['publish', 'offer'] as const) {
    const done = await sendBatches(work, c, kind);
    sent += done.sent;
    if (done.stopped) return { sent, stopped: true };
  }
  return { sent, stopped: false };
}

/** Rows that were neither called back nor replaced since they were read; those that were replaced as they are now. */
async function stillWaiting(work: Work, rows: readonly OutboxRow[]): Promise<OutboxRow[]> {
  const now = await work.db.outbox.bulkGet(rows.map((r) => r.id));
  return now.flatMap((row) => (row?.state === 'waiting' ? [row] : []));
}

/**
 * Sends batches of listings or offers side by side, and none while orders come in. What one batch meets alone does not keep
 * the others.
 */
async function sendBatches(work: Work, c: MarketConnection, kind: ListingKind): Promise<SentRows> {
  const { listingsAtOnce } = c.site.limits;
  // One of the requests that the site allows at a time is left to orders.
  const inFlight = Math.max(1, c.site.limits.inFlight - 1);
  const atOnce = kind === 'offer' ? OFFERS_AT_ONCE : listingsAtOnce;
  const due = await dueOf(work, c.id, [kind], atOnce * Math.max(inFlight, MOST_BATCHES));
  const batches: OutboxRow[][] = [];
  // What failed before goes alone, so that one that always fails keeps no other.
  const fresh = due.filter((r) => r.attempts === 0);
  for (let from = 0; from < fresh.length; from += atOnce) batches.push(fresh.slice(from, from + atOnce));
  batches.push(...due.filter((r) => r.attempts > 0).map((r) => [r]));
  let sent = 0;
  let stopped = false;
  const lane = async () => {
    for (let next = batches.shift(); next && !stopped; next = batches.shift()) {
      if (await ordersComeIn(work)) return;
      const batch = await stillWaiting(work, next);
      if (!batch.length) continue;
      let trouble: Trouble | null;
      try {
        trouble =
          kind === 'publish'
            ? await sendPublications(work, c, batch as OutboxRow<'publish'>[])
            : await sendOffers(work, c, batch as OutboxRow<'offer'>[]);
      } catch (error) {
        await stepAside(work, batch, error);
        continue;
      }
      if (trouble) {
        stopped ||= isOfAll(trouble);
        await putOff(work, c.id, batch, trouble);
      } else {
        await noteWell(work, c.id);
        for (const row of batch) await wentWell(work, row);
        sent += batch.length;
      }
    }
  };
  const ended = await Promise.allSettled(Array.from({ length: inFlight }, lane));
  const thrown = ended.find((e) => e.status === 'rejected');
  if (thrown) throw thrown.reason;
  return { sent, stopped };
}
