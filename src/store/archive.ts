import Dexie from 'dexie';
import { type Buyer, erased } from '../core/orders';
import type { SampanDatabase } from './database';
import type { ArchiveBlock, ArchivedRows, Order, WholeOrder } from './orders';
import { packRows, unpackOrders, unpackRows } from './packed';

/** Archived orders by id, without bringing them back. Runs inside the caller's transaction, or in its own. */
export async function readArchived(db: SampanDatabase, ids: readonly string[]): Promise<WholeOrder[]> {
  const found: WholeOrder[] = [];
  for (const { rows, buyers, places } of await blocksWith(db, ids))
    found.push(...unpackOrders(rows, buyers, places));
  return found;
}

/** Keys of the blocks that hold some orders. */
const keysWith = (db: SampanDatabase, ids: readonly string[]): PromiseLike<string[]> =>
  db.archive
    .where('ids')
    .anyOf([...ids])
    .distinct()
    .primaryKeys();

const placesIn = (block: ArchiveBlock, wanted: ReadonlySet<string>): number[] =>
  block.ids.flatMap((id, place) => (wanted.has(id) ? [place] : []));

async function blocksWith(db: SampanDatabase, ids: readonly string[]) {
  if (!ids.length) return [];
  const wanted = new Set(ids);
  const keys = await keysWith(db, ids);
  const blocks = await db.archive.bulkGet(keys);
  const rows = await db.archivedRows.bulkGet(keys);
  const buyers = await db.archivedBuyers.bulkGet(keys);
  return blocks.flatMap((block, k) =>
    block && rows[k] && buyers[k]
      ? [{ block, rows: rows[k], buyers: buyers[k], places: placesIn(block, wanted) }]
      : [],
  );
}

/**
 * Orders by id, wherever they are: those that were archived come back as rows, with their ledger and history, since
 * whoever asks for an order by its id is about to change it. Runs inside a transaction over the shop's tables, or in its
 * own.
 */
export async function ordersById(db: SampanDatabase, ids: readonly string[]): Promise<Map<string, Order>> {
  const found = new Map((await db.orders.bulkGet([...ids])).flatMap((o) => (o ? [[o.id, o] as const] : [])));
  const missing = ids.filter((id) => !found.has(id));
  if (!missing.length) return found;
  const bring = () => bringBack(db, missing);
  const back = Dexie.currentTransaction ? await bring() : await db.transaction('rw', db.shopTables, bring);
  for (const order of back) found.set(order.id, order);
  return found;
}

async function bringBack(db: SampanDatabase, missing: readonly string[]): Promise<Order[]> {
  const orders: Order[] = [];
  for (const { block, rows, buyers, places } of await blocksWith(db, missing)) {
    const whole = unpackOrders(rows, buyers, places);
    await db.orders.bulkPut(whole.map((w) => w.order));
    await db.buyers.bulkPut(whole.map((w) => w.buyer));
    await db.ledger.bulkPut(whole.flatMap((w) => w.ledger ?? []));
    await db.edits.bulkPut(whole.flatMap((w) => w.edits));
    const gone = new Set(places);
    // What is left of them in the block names no person.
    await db.archivedBuyers.put(repacked(buyers, places, () => null));
    await db.archive.put({
      ...withoutBuyers(block, places),
      ids: block.ids.map((id, place) => (gone.has(place) ? '' : id)),
    });
    orders.push(...whole.map((w) => w.order));
  }
  return orders;
}

/** {@link ordersById} for one. */
export const orderById = async (db: SampanDatabase, id: string): Promise<Order | undefined> =>
  (await ordersById(db, [id])).get(id);

/** The buyer of an order that stands in rows. Inside the caller's transaction. @throws where there is none */
export async function buyerOf(db: Pick<SampanDatabase, 'buyers'>, order: Pick<Order, 'id'>): Promise<Buyer> {
  const buyer = await db.buyers.get(order.id);
  if (!buyer) throw new Error(`The order ${order.id} has no buyer.`);
  return buyer;
}

/** Buyers of orders that stand in rows, by their orders. */
export async function buyersByOrder(
  db: Pick<SampanDatabase, 'buyers'>,
  orders: readonly Pick<Order, 'id'>[],
): Promise<Map<string, Buyer>> {
  const found = await db.buyers.bulkGet(orders.map((o) => o.id));
  return new Map(found.flatMap((b) => (b ? [[b.id, b] as const] : [])));
}

/**
 * Erases buyers of archived orders where these lie, block by block. Runs inside a transaction over the shop's tables.
 * @returns how many it found
 */
export async function eraseArchived(db: SampanDatabase, ids: readonly string[], at: number): Promise<number> {
  if (!ids.length) return 0;
  const wanted = new Set(ids);
  let found = 0;
  for (const key of await keysWith(db, ids)) {
    const block = await db.archive.get(key);
    const buyers = await db.archivedBuyers.get(key);
    if (!block || !buyers) continue;
    const places = placesIn(block, wanted);
    await db.archivedBuyers.put(repacked(buyers, places, (b) => erased(b, at)));
    await db.archive.put(withoutBuyers(block, places));
    found += places.length;
  }
  return found;
}

/** Buyers of a block with some of them as others. */
function repacked(
  buyers: ArchivedRows,
  places: readonly number[],
  to: (b: Buyer) => Buyer | null,
): ArchivedRows {
  const all = unpackRows<Buyer | null>(buyers, [...buyers.ends.keys()]);
  for (const place of places) all[place] = all[place] && to(all[place]);
  return packRows(buyers.id, all);
}

/** A block in which the buyers at some places are not found any more. */
function withoutBuyers(block: ArchiveBlock, places: readonly number[]): ArchiveBlock {
  const gone = new Set(places);
  const blank = (text: string, place: number) => (gone.has(place) ? '' : text);
  return { ...block, who: block.who.map(blank), towns: block.towns.map(blank) };
}
