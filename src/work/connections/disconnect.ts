import type { OrderEvent } from '../../core/orders';
import { applyChange, dropPieces, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import { advance, orderChange } from '../orders/advance';
import { ALL_KINDS, waitingFor } from '../outbox/waiting';
import { dropFiles } from '../readings/dropped-lists';
import { dropStage } from '../readings/ending';

/**
 * Takes a connection away with all that was read from it. What waited to be sent there is withdrawn, so that it does not
 * go out when it is connected again; purchases that may have left stay to be looked up.
 */
export async function disconnect(work: Work, id: string): Promise<void> {
  const { db } = work;
  await dropStage(work, id);
  await db.transaction('rw', db.shopTables, () => withdrawWaiting(work, id));
  await db.transaction(
    'rw',
    [
      db.connections,
      db.credentials,
      db.stated,
      db.health,
      db.jobs,
      db.notes,
      db.pieces,
      db.cold,
      db.pages,
      db.readings,
      db.refused,
      db.files,
      db.bytes,
      db.doubts,
    ],
    async () => {
      for (const table of [db.connections, db.credentials, db.stated, db.health]) await table.delete(id);
      await db.jobs.where('subject').equals(id).delete();
      await db.notes.bulkDelete([`catalogue:${id}`, `followed:${id}`, `dispatch-file:${id}`]);
      await dropPieces(db, id);
      await db.doubts.delete(id);
      await db.pages.where('[supplier+from]').between([id, ''], [id, '￿']).delete();
      await db.readings.where('[supplier+at]').between([id, 0], [id, Number.MAX_SAFE_INTEGER]).delete();
      await db.refused.where('supplier').equals(id).delete();
      await dropFiles(db, await db.files.where('supplier').equals(id).toArray());
    },
  );
}

async function withdrawWaiting(work: Work, id: string): Promise<void> {
  const { db } = work;
  const waiting = (await waitingFor(db, id, ALL_KINDS)).filter(
    (r) => !(r.kind === 'buy' && r.sentAt !== null),
  );
  const says = 'Its connection was taken away before it was sent.';
  await db.outbox.bulkUpdate(waiting.map((r) => ({ key: r.id, changes: { state: 'withdrawn', says } })));
  const references = waiting.flatMap((r) => (r.kind === 'buy' ? [r.body.reference] : []));
  const orders = await db.orders.where('open').equals(1).toArray();
  const shop = await shopNow(work);
  const rows: RowChange[] = [];
  for (const order of orders) {
    const own = order.purchases.filter((p) => p.supplier === id && references.includes(p.reference));
    const events = own.map((p): OrderEvent => ({ kind: 'not sent', supplier: id, reference: p.reference }));
    const moved = events.length ? await advance(work, shop, order, events) : null;
    if (moved) rows.push(orderChange(moved));
  }
  const publishing = waiting.flatMap((r) => (r.kind === 'publish' ? [r.body.listing] : []));
  for (const l of await db.listings.bulkGet(publishing))
    if (l?.state === 'publishing') rows.push({ table: 'listings', id: l.id, set: { state: 'bench' }, says });
  await applyChange(db, { by: 'rule', name: 'Withdrawn with its connection' }, rows, nowOf(work));
}
