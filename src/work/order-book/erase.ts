import type { Buyer } from '../../core/orders';
import { erased, photosOf } from '../../core/orders';
import { buyersByOrder, eraseArchived, readArchived, unpackRows } from '../../store';
import type { Work } from '../context/work';

/** The result of erasing buyers. */
export interface Erased {
  readonly erased: number;
  /** Ids of orders that are not over: what is sent needs an address still. */
  readonly kept: readonly string[];
}

/**
 * Erases who bought some orders, wherever the orders lie: names, addresses and words of theirs, and what came of them and
 * could not be read. Amounts, goods, dates and countries stay. It cannot be taken back. One transaction.
 */
export async function eraseBuyers(work: Work, ids: readonly string[]): Promise<Erased> {
  const { db } = work;
  const at = work.clock();
  const files = new Set<string>();
  const done = await db.transaction('rw', db.shopTables, async () => {
    const orders = (await db.orders.bulkGet([...ids])).flatMap((o) => o ?? []);
    const waiting = await db.outbox
      .where('order')
      .anyOf([...ids])
      .filter((r) => r.state === 'waiting')
      .toArray();
    const needed = new Set(waiting.map((r) => r.order));
    const over = orders.filter((o) => o.open === 0 && !needed.has(o.id));
    const buyers = await buyersByOrder(db, over);
    for (const b of buyers.values()) for (const { id } of b.files ?? []) files.add(id);
    // Photographs of goods show the buyer's words, or where they live.
    for (const o of over) for (const photo of photosOf(o.cases)) files.add(photo);
    await db.buyers.bulkPut([...buyers.values()].map((b) => erased(b, at)));
    const standing = new Set(orders.map((o) => o.id));
    const archived = await eraseArchived(
      db,
      ids.filter((id) => !standing.has(id)),
      at,
    );
    // By the numbers: `unread` has the connection's id and the order's number there, as an order's id has.
    const gone = new Set(ids.filter((id) => !standing.has(id) || over.some((o) => o.id === id)));
    await db.unread.bulkDelete([...gone]);
    return {
      erased: over.length + archived,
      kept: orders.filter((o) => !over.includes(o)).map((o) => o.id),
    };
  });
  await dropFiles(work, files);
  return done;
}

/** Deletes pictures of buyers and of what was made for them, but for those that another buyer sent, too. */
async function dropFiles({ db }: Work, files: Set<string>): Promise<void> {
  if (!files.size) return;
  await db.buyers.each((b) => {
    for (const { id } of b.files ?? []) files.delete(id);
  });
  await db.assets.bulkDelete([...files]);
  await db.bytesStore.remove([...files]);
}

/**
 * Ids of all orders of the person who bought one, told by the mail address; that one alone where there is none. Cost: what
 * is archived is unpacked, some milliseconds for five hundred orders.
 */
export async function ordersOfBuyer({ db }: Pick<Work, 'db'>, order: string): Promise<string[]> {
  const own = (await db.buyers.get(order)) ?? (await readArchived(db, [order]))[0]?.buyer;
  const wanted = own?.email.trim().toLowerCase();
  if (!wanted) return own ? [order] : [];
  const isMeant = (b: Buyer | null) => b?.email.trim().toLowerCase() === wanted;
  const found = await db.buyers.filter(isMeant).primaryKeys();
  await db.archivedBuyers.each((packed) => {
    for (const buyer of unpackRows<Buyer | null>(packed, [...packed.ends.keys()]))
      if (buyer && isMeant(buyer)) found.push(buyer.id);
  });
  return found;
}
