import Dexie from 'dexie';
import { deflateSync, inflateSync, strFromU8, strToU8 } from 'fflate';
import type { SampanDatabase } from './database';
import { withUnits } from './migrations/order-units';
import type { ArchivedRows, Order, WholeOrder } from './orders';

export function packRows(id: string, rows: readonly WholeOrder[]): ArchivedRows {
  const texts = rows.map((row) => strToU8(JSON.stringify(row)));
  const ends = new Int32Array(texts.length);
  const all = new Uint8Array(texts.reduce((n, t) => n + t.length, 0));
  let at = 0;
  for (const [i, text] of texts.entries()) {
    all.set(text, at);
    at += text.length;
    ends[i] = at;
  }
  return { id, packed: deflateSync(all, { level: 4 }), ends };
}

/** Some of the orders of a block, by their places. Cost: the block is unpacked, some milliseconds. */
export function unpackRows({ packed, ends }: ArchivedRows, places: readonly number[]): WholeOrder[] {
  const all = inflateSync(packed);
  return places.map((i) => {
    const whole = JSON.parse(strFromU8(all.subarray(i ? ends[i - 1]! : 0, ends[i]!))) as WholeOrder;
    return { ...whole, order: withUnits(whole.order) };
  });
}

/** Archived orders by id, without bringing them back. Runs inside the caller's transaction, or in its own. */
export async function readArchived(db: SampanDatabase, ids: readonly string[]): Promise<WholeOrder[]> {
  const found: WholeOrder[] = [];
  for (const { rows, places } of await blocksWith(db, ids)) found.push(...unpackRows(rows, places));
  return found;
}

async function blocksWith(db: SampanDatabase, ids: readonly string[]) {
  if (!ids.length) return [];
  const wanted = new Set(ids);
  const keys = await db.archive
    .where('ids')
    .anyOf([...wanted])
    .distinct()
    .primaryKeys();
  const blocks = await db.archive.bulkGet(keys);
  const rows = await db.archivedRows.bulkGet(keys);
  return blocks.flatMap((block, k) => {
    if (!block || !rows[k]) return [];
    const places = block.ids.flatMap((id, place) => (wanted.has(id) ? [place] : []));
    return [{ block, rows: rows[k], places }];
  });
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
  for (const { block, rows, places } of await blocksWith(db, missing)) {
    const whole = unpackRows(rows, places);
    await db.orders.bulkPut(whole.map((w) => w.order));
    await db.ledger.bulkPut(whole.flatMap((w) => w.ledger ?? []));
    await db.edits.bulkPut(whole.flatMap((w) => w.edits));
    const gone = new Set(places);
    await db.archive.put({ ...block, ids: block.ids.map((id, place) => (gone.has(place) ? '' : id)) });
    orders.push(...whole.map((w) => w.order));
  }
  return orders;
}

/** {@link ordersById} for one. */
export const orderById = async (db: SampanDatabase, id: string): Promise<Order | undefined> =>
  (await ordersById(db, [id])).get(id);
