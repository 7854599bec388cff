import { ORDER_YEARS } from '../../core/ledger';
import { isOpen, standingOf, unseenOf } from '../../core/orders';
import { countOf, dayOf } from '../../core/units';
import {
  type ArchiveBlock,
  type ArchivedRows,
  buyersByOrder,
  type Edit,
  type Order,
  packOrders,
  settingsOf,
  type WholeOrder,
} from '../../store';
import type { Work } from '../context/work';
import { assortmentOf } from '../memory/assortment';
import type { ShopTerms } from '../quoting/worth';
import { deriveOrder, emptyColumns, foundBy } from './order-columns';

const DAY = 86_400_000;
/** Days after which an order that is over is laid away. */
export const RECENT_DAYS = 60;
/** Orders of a block: one is unpacked in some ten milliseconds. */
export const BLOCK = 500;

/** An order that nothing more is expected of. */
const isOver = (order: Order): boolean =>
  order.open === 0 && unseenOf(order).length === 0 && !isOpen(standingOf(order));

/**
 * Lays orders that are over away: by month, as columns that are still searched and rows that are packed, each with its
 * ledger and history. Whatever is heard of one later brings it back. One transaction for each block.
 * @param days how old they are at least
 */
export async function archiveOrders(work: Work, days = RECENT_DAYS): Promise<string> {
  const { db } = work;
  const before = work.clock() - days * DAY;
  let done = 0;
  const passed = new Set<string>();
  for (;;) {
    const some = await db.orders
      .where('paidAt')
      .below(before)
      .filter((o) => isOver(o) && !passed.has(o.id))
      .limit(BLOCK)
      .toArray();
    if (!some.length) break;
    const month = monthOf(some[0]!);
    const own = some.filter((o) => monthOf(o) === month);
    const laid = await archiveSome(
      work,
      month,
      own.map((o) => o.id),
    );
    done += laid;
    // What changed meanwhile stays where it is until next time.
    if (laid < own.length) for (const o of own) passed.add(o.id);
  }
  return done ? `${countOf(done, 'order')} from before ${dayOf(before, 'UTC')} archived.` : '';
}

const monthOf = (order: Order) => new Date(order.paidAt).toISOString().slice(0, 7);

async function archiveSome(work: Work, month: string, ids: readonly string[]): Promise<number> {
  const { db } = work;
  const assortment = assortmentOf(work);
  await assortment.catchUp();
  return db.transaction('rw', db.shopTables, async () => {
    const waiting = new Set(
      (
        await db.outbox
          .where('order')
          .anyOf(ids)
          .filter((r) => r.state === 'waiting')
          .toArray()
      ).map((r) => r.order),
    );
    const orders = (await db.orders.bulkGet([...ids])).flatMap((o) =>
      o && isOver(o) && !waiting.has(o.id) ? [o] : [],
    );
    if (!orders.length) return 0;
    const ledgers = await db.ledger.bulkGet(orders.map((o) => o.id));
    const buyers = await buyersByOrder(db, orders);
    const whole: WholeOrder[] = [];
    const edits: string[] = [];
    for (const [place, order] of orders.entries()) {
      const subject = `order:${order.id}`;
      const own = await db.edits
        .where('[subject+at]')
        .between([subject, 0], [subject, Number.MAX_SAFE_INTEGER])
        .toArray();
      edits.push(...own.map((e) => e.id));
      whole.push({
        order,
        ledger: ledgers[place] ?? null,
        edits: own.map(folded),
        buyer: buyers.get(order.id)!,
      });
    }
    const { block, rows, buyers: packed } = archived(await freeId(work, month), whole, assortment.shop);
    await db.archive.put(block);
    await db.archivedRows.put(rows);
    await db.archivedBuyers.put(packed);
    await db.orders.bulkDelete(orders.map((o) => o.id));
    await db.buyers.bulkDelete(orders.map((o) => o.id));
    await db.ledger.bulkDelete(orders.map((o) => o.id));
    await db.edits.bulkDelete(edits);
    for (const order of orders)
      await db.outbox
        .where('order')
        .equals(order.id)
        .filter((r) => r.state !== 'waiting')
        .delete();
    return orders.length;
  });
}

/** Orders as they are laid away. @param id month and number */
export function archived(
  id: string,
  whole: readonly WholeOrder[],
  terms: Pick<ShopTerms, 'settings'>,
): { readonly block: ArchiveBlock; readonly rows: ArchivedRows; readonly buyers: ArchivedRows } {
  const columns = emptyColumns(terms, whole.length);
  for (const [place, { order, ledger }] of whole.entries())
    deriveOrder(columns, place, order, ledger ?? undefined);
  const found = whole.map(({ order, buyer }) => foundBy(buyer, order));
  const block = {
    ...{ id, ids: whole.map((w) => w.order.id), columns },
    ...{ who: found.map((f) => f.who), towns: found.map((f) => f.town) },
  };
  return { block, ...packOrders(id, whole) };
}

/** Keeps the event and its time of an edit; the former values of the row are of no use any more. */
const folded = (edit: Edit): Edit => ({ ...edit, before: {}, after: {} });

async function freeId(work: Work, month: string): Promise<string> {
  const used = new Set(await work.db.archive.where('id').startsWith(`${month}:`).primaryKeys());
  let n = used.size;
  while (used.has(`${month}:${n}`)) n++;
  return `${month}:${n}`;
}

/** Deletes archived orders, with what belongs to them, that are older than the settings keep them. */
export async function dropOldOrders(work: Work): Promise<void> {
  const { db } = work;
  const { orderYears = ORDER_YEARS } = await settingsOf(db);
  const last = new Date(work.clock() - (orderYears * 366 + 31) * DAY).toISOString().slice(0, 7);
  const old = await db.archive.where('id').below(`${last}:`).primaryKeys();
  await db.transaction('rw', db.shopTables, async () => {
    await db.archive.bulkDelete(old);
    await db.archivedRows.bulkDelete(old);
    await db.archivedBuyers.bulkDelete(old);
  });
}
