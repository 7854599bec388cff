import type { SupplierOrder } from '../../connect/supplier';
import { isFor, numberOf } from '../../core/orders';
import type { Instant } from '../../core/units';
import {
  allConnections,
  healthOf,
  type Order,
  type OutboxRow,
  orderById,
  type SupplierConnection,
} from '../../store';
import { supplierAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { takeSupplierNews } from '../orders/supplier-news';
import { mayAsk, noteTrouble } from '../outbox/circuit';

/**
 * Milliseconds after this copy of the shop began to buy in which it is not trusted to know of every purchase: it may have
 * been put back, and what was bought since of another source is heard by the news of suppliers later.
 */
const DOUBTFUL = 15 * 60_000;
/** Milliseconds until a supplier that did not answer is asked again. */
const AGAIN = 30_000;

const begun = new WeakMap<Work, Instant>();

function isDoubtful(work: Work): boolean {
  const at = work.clock();
  const since = begun.get(work) ?? at;
  begun.set(work, since);
  return at - since < DOUBTFUL;
}

/**
 * Purchases of an order at a supplier that are not known here, as the supplier knows them; null where it does not answer, or
 * its circuit is open.
 */
async function unknownAt(work: Work, s: SupplierConnection, order: Order): Promise<SupplierOrder[] | null> {
  if (!mayAsk(s, await healthOf(work.db, s.id), work.clock())) return null;
  const unknown: SupplierOrder[] = [];
  const adapter = await supplierAdapter(work, s);
  for (let n = 1; ; n++) {
    const reference = n === 1 ? order.id : `${order.id}#${n}`;
    const found = await adapter.find(reference);
    if (!found.ok) {
      await noteTrouble(work, s.id, found.trouble);
      return null;
    }
    const newest = found.value.find((one) => one.status !== 'cancelled');
    if (!found.value.length) return unknown;
    const known = order.purchases.find((p) => isFor(p, s.id, reference));
    if (newest && (!known || numberOf(known) !== newest.number)) unknown.push(newest);
  }
}

/**
 * Asks all other suppliers, in the first minutes, whether they have a purchase for the order that is to be bought; what
 * they have is taken in as their news, by which the row may be withdrawn. Each is asked by itself for what only it knows:
 * the same purchase at the same supplier is bought once by its key.
 * @returns whether it may be bought now
 */
export async function askElsewhere(work: Work, row: OutboxRow<'buy'>): Promise<boolean> {
  if (!isDoubtful(work)) return true;
  const others = (await allConnections(work.db)).filter(
    (c): c is SupplierConnection =>
      c.role === 'supplier' &&
      c.id !== row.connection &&
      c.service !== null &&
      c.lanes.purchases === 'service',
  );
  for (const s of others) {
    const order = await orderById(work.db, row.order);
    if (!order) return true;
    const unknown = await unknownAt(work, s, order);
    if (unknown?.length) await takeSupplierNews(work, s, unknown, [], null);
    if (unknown) continue;
    const says = `Waits until ${s.name} says whether it has the order.`;
    await work.db.outbox.update(row.id, { nextAt: work.clock() + AGAIN, says });
    return false;
  }
  return true;
}
