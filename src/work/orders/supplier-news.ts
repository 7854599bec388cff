import type { Unreadable } from '../../connect/feed';
import type { SupplierOrder } from '../../connect/supplier';
import {
  boughtFor,
  isFor,
  type OrderEvent,
  type OrderFact,
  orderOf,
  type Purchase,
  type Statement,
} from '../../core/orders';
import {
  applyChange,
  type Order,
  ordersById,
  type RowChange,
  type SupplierConnection,
  supplierById,
  type UnclaimedRow,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import { noteHealth } from '../outbox/circuit';
import { listingOf } from '../quoting/promised';
import type { Shop } from '../quoting/worth';
import { advance, isKnown, type Moved, orderChange } from './advance';
import { linkedOf } from './decide';
import type { Linked } from './sources';
import { keepUnread, nowRead } from './unread-store';

/**
 * Lines of a purchase that this copy of the shop does not know: made before it was copied, or by another. They are told by
 * their ids, or by what they sell. Null where there are none that belong to the order.
 */
function adopt(
  order: Order,
  said: Statement,
  known: Purchase | undefined,
  c: SupplierConnection,
  linked: Linked,
  at: number,
): Purchase | null {
  const left = said.lines.map((one) => one.quantity);
  const lines = order.lines.flatMap((line) => {
    if (known?.lines.some((l) => l.line === line.id)) return [];
    const source = linked.get(listingOf(order, line))?.variant.sources.find((s) => s.supplier === c.id);
    const k = said.lines.findIndex(
      (one, n) => left[n]! > 0 && (one.line === null ? one.sku === source?.item : one.line === line.id),
    );
    const count = said.lines[k];
    if (!count) return [];
    const pack = source?.item === count.sku ? source.pack : 1;
    const stated = Math.floor(left[k]! / pack);
    // Who names no line may mean another of the same SKU.
    const units = count.line === null ? Math.min(line.quantity - boughtFor(order, line.id), stated) : stated;
    left[k]! -= units * pack;
    const { personalisation } = line;
    return units > 0 ? [{ line: line.id, item: count.sku, units, pack, personalisation, calledOff: 0 }] : [];
  });
  if (!lines.length) return null;
  return {
    reference: said.reference,
    supplier: c.id,
    lane: c.lanes.purchases,
    state: 'waiting',
    lines,
    at,
    currency: c.currency,
    expected: said.charge ?? { goods: 0, shipping: 0 },
  };
}

const purchaseOf = (order: Order, said: Statement, c: SupplierConnection): Purchase | undefined =>
  order.purchases.find((p) => isFor(p, c.id, said.reference));

/** Whether a purchase is known with all lines that its supplier states. */
function isWhole(order: Order, said: Statement, c: SupplierConnection): boolean {
  const known = purchaseOf(order, said, c);
  return (
    known !== undefined &&
    said.lines.every((one) => one.line === null || known.lines.some((l) => l.line === one.line))
  );
}

/** A supplier’s statement as an event of the order. */
export async function takeStatement(
  work: Work,
  order: Order,
  said: Statement,
  c: SupplierConnection,
): Promise<OrderEvent> {
  const adopted = isWhole(order, said, c)
    ? null
    : adopt(order, said, purchaseOf(order, said, c), c, await linkedOf(work, [order]), work.clock());
  return { kind: 'supplier said', supplier: c.id, said, adopted };
}

/**
 * Takes in what a supplier says of its orders, with the position read up to: numbers, real charges, parcels.
 * @returns how many orders moved
 */
export async function takeSupplierNews(
  work: Work,
  supplier: SupplierConnection,
  said: readonly SupplierOrder[],
  refused: readonly Unreadable[],
  next: string | null,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const ids = [...new Set(said.flatMap((s) => [s.reference, orderOf(s.reference)]))];
    const orders = await ordersById(db, ids);
    const rows: RowChange[] = [];
    for (const s of said) {
      const order = orders.get(s.reference) ?? orders.get(orderOf(s.reference));
      if (!order) {
        const id = `${supplier.id}:${s.reference}`;
        const row = { id, supplier: supplier.id, order: orderOf(s.reference), said: s, at: work.clock() };
        await db.unclaimed.put(row);
        continue;
      }
      if (isWhole(order, s, supplier)) {
        const event: OrderEvent = { kind: 'supplier said', supplier: supplier.id, said: s, adopted: null };
        if (isKnown(order, event)) continue;
      }
      const moved = await advance(work, shop, order, [await takeStatement(work, order, s, supplier)]);
      if (!moved) continue;
      orders.set(moved.order.id, moved.order);
      rows.push(orderChange(moved));
    }
    const name =
      rows.length === 1
        ? `${supplier.name} moved an order on`
        : `${supplier.name} moved ${rows.length} orders on`;
    await applyChange(db, { by: 'rule', name }, rows, nowOf(work));
    await keepUnread(work, supplier.id, refused);
    await nowRead(
      work,
      supplier.id,
      said.map((s) => s.number),
    );
    if (next !== null) await noteHealth(work, supplier.id, { cursor: next });
    return rows.length;
  });
}

/** Hears what suppliers said of an order before it came in. Runs inside the caller's transaction. */
export async function claim(work: Work, order: Order, shop: Shop): Promise<Moved | null> {
  const { db } = work;
  const rows = await unclaimedOf(work, [order]);
  let next: Moved | null = null;
  const facts: OrderFact[] = [];
  for (const row of rows) {
    const c = await supplierById(db, row.supplier);
    if (!c) continue;
    const now: Order = (next as Moved | null)?.order ?? order;
    const event = await takeStatement(work, now, row.said as SupplierOrder, c);
    const moved = await advance(work, shop, now, [event]);
    if (!moved) continue;
    facts.push(...moved.facts);
    next = { order: moved.order, facts };
  }
  await db.unclaimed.bulkDelete(rows.map((r) => r.id));
  return next;
}

/** Statements about orders that had not come in. */
export const unclaimedOf = ({ db }: Pick<Work, 'db'>, orders: readonly Order[]): Promise<UnclaimedRow[]> =>
  db.unclaimed
    .where('order')
    .anyOf(orders.map((o) => o.id))
    .toArray();
