import type { MarketOrder } from '../../connect/marketplace';
import type { SupplierOrder } from '../../connect/supplier';
import { carrierFor, trackingProblem } from '../../core/tracking';
import {
  applyChange,
  type MarketConnection,
  type Order,
  type OutboxRow,
  type RowChange,
  type SupplierConnection,
} from '../../store';
import { nowOf, type Work } from '../context';
import { movesFor, queueOffers } from '../listings/reprice';
import { outgoing } from '../outbox/row';
import { readShop } from '../shop/read-shop';
import { afterCancelled, callOff, notTakenBack, takeBackRow } from './cancel';
import { committedTo, decide, linkedOf, openOf } from './decide';

/** What an outbox row of kind `dispatch` carries. */
export interface DispatchBody {
  readonly number: string;
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: string;
}

const idOf = (market: MarketConnection, number: string) => `${market.id}:${number}`;

function newOrder(
  market: MarketConnection,
  read: MarketOrder,
  listings: ReadonlyMap<string, { supplier: string }>,
): Order {
  const lines = read.lines.map((l) => {
    const listing = `${market.id}:${l.sku}`;
    return { ...l, listing: listings.has(listing) ? listing : null };
  });
  return {
    id: idOf(market, read.number),
    marketplace: market.id,
    number: read.number,
    facts: {
      paidAt: read.paidAt,
      checkedAt: null,
      boughtAt: null,
      shippedAt: null,
      toldAt: null,
      deliveredAt: null,
      cancelledAt: null,
    },
    shipBy: read.shipBy,
    buyer: read.buyer,
    address: read.address,
    lines,
    supplier: lines.map((l) => listings.get(l.listing ?? '')?.supplier).find(Boolean) ?? null,
    open: 1,
    checks: [],
    released: [],
    refusal: null,
    forwarding: false,
    ended: [],
    recall: null,
    slip: null,
    supplierNumber: null,
    parcels: [],
    expected: null,
    charged: { goods: null, shipping: null, fee: null, payment: null },
  };
}

/**
 * Takes in a page of the marketplace's orders together with the position read up to, in one transaction:
 * however often a page is read, each order comes in once. New ones are checked and, where the rule says so,
 * forwarded at once; quantities shown follow.
 * @returns how many were new
 */
export async function takeOrders(
  work: Work,
  market: MarketConnection,
  page: { orders: readonly MarketOrder[]; next: string },
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const known = new Map(
      (await db.orders.bulkGet(page.orders.map((o) => idOf(market, o.number)))).flatMap((o) =>
        o ? [[o.id, o] as const] : [],
      ),
    );
    const skus = [...new Set(page.orders.flatMap((o) => o.lines.map((l) => `${market.id}:${l.sku}`)))];
    const listings = new Map(
      (await db.listings.bulkGet(skus)).flatMap((l) => (l ? [[l.id, l] as const] : [])),
    );
    const rows: RowChange[] = [];
    const fresh = new Map<string, Order>();
    for (const read of page.orders) {
      const id = idOf(market, read.number);
      const before = known.get(id);
      if (before) rows.push(...(await updateFrom(work, before, read)));
      else if (!fresh.has(id) && read.status === 'paid') fresh.set(id, newOrder(market, read, listings));
    }
    // What the marketplace shows went down by what it sold.
    for (const order of fresh.values()) {
      for (const line of order.lines) {
        const listing = listings.get(line.listing ?? '');
        if (!listing?.told) continue;
        const told = { ...listing.told, quantity: Math.max(0, listing.told.quantity - line.quantity) };
        listings.set(listing.id, { ...listing, told });
        rows.push({
          table: 'listings',
          id: listing.id,
          set: { told, last: { at, says: `Sold ${line.quantity} in ${order.number}.` } },
          says: `Sold ${line.quantity} in ${order.number}.`,
        });
      }
    }
    await db.orders.bulkAdd([...fresh.values()]);
    const shop = await readShop(db, work.clock());
    const linked = await linkedOf(work, [...fresh.values()]);
    const committed = new Map<string | null, number>();
    const buys: OutboxRow[] = [];
    for (const order of fresh.values()) {
      const before = committed.get(order.supplier) ?? (await committedTo(work, order.supplier));
      const { set, buy, says } = decide(order, linked, shop, before, shop.settings.forward === 'at once', at);
      committed.set(
        order.supplier,
        before + (buy && set.expected ? set.expected.goods + set.expected.shipping : 0),
      );
      rows.push({ table: 'orders', id: order.id, set, says: `Came in from ${market.name}. ${says}` });
      if (buy) buys.push(buy);
    }
    await db.outbox.bulkPut(buys);
    const sold = [...listings.values()].filter((l) =>
      [...fresh.values()].some((o) => o.lines.some((line) => line.listing === l.id)),
    );
    const moves = movesFor(sold, linked.products, await readShop(db, work.clock()), work, () => 'Sold.');
    await queueOffers(work, moves.outbox);
    const name =
      fresh.size === 1
        ? `${[...fresh.values()][0]!.number} came in`
        : fresh.size
          ? `${fresh.size} orders came in`
          : `${market.name} told news of orders`;
    await applyChange(db, { by: 'rule', name }, [...rows, ...moves.rows], nowOf(work));
    await db.connections.update(market.id, { cursor: page.next });
    return fresh.size;
  });
}

async function updateFrom(work: Work, order: Order, read: MarketOrder): Promise<RowChange[]> {
  const rows: RowChange[] = [];
  const charged =
    read.fee === null ? order.charged : { ...order.charged, fee: read.fee, payment: read.payment };
  if (read.fee !== null && order.charged.fee === null)
    rows.push({ table: 'orders', id: order.id, set: { charged }, says: 'The marketplace settled its fees.' });
  if (read.status === 'cancelled' && order.facts.cancelledAt === null) {
    const { set, says } = await callOff(work, order, 'marketplace', 'The buyer cancelled.');
    rows.push({ table: 'orders', id: order.id, set, says });
  }
  return rows;
}

interface Moved {
  readonly set: Partial<Order>;
  readonly says: string;
}

/**
 * Fields of an order after the supplier said where it stands. News may come late, twice, or before the answer
 * to the purchase: each only adds what is not known, and a purchase that was cancelled is not heard again.
 */
function afterSupplier(order: Order, said: SupplierOrder): Moved | null {
  const f = order.facts;
  const parcels = said.parcels.length >= order.parcels.length ? said.parcels : order.parcels;
  const shipped = parcels[0]?.shippedAt ?? null;
  const delivered =
    parcels.length > 0 && parcels.every((p) => p.deliveredAt !== null)
      ? Math.max(...parcels.map((p) => p.deliveredAt!))
      : null;
  const facts = {
    ...f,
    boughtAt: f.boughtAt ?? said.acceptedAt,
    shippedAt: f.shippedAt ?? shipped,
    deliveredAt: f.deliveredAt ?? delivered,
  };
  const charged = { ...order.charged, goods: said.goods, shipping: said.shipping };
  const says = [
    f.boughtAt === null ? `Accepted as ${said.number}.` : '',
    f.shippedAt === null && shipped !== null
      ? `Shipped by ${parcels[0]!.carrier}, ${parcels[0]!.tracking}.`
      : '',
    f.deliveredAt === null && delivered !== null ? 'Delivered.' : '',
  ]
    .filter(Boolean)
    .join(' ');
  if (!says && order.supplierNumber === said.number) return null;
  // How a cancellation ended stays until a person has seen it.
  const refusal = order.recall ? order.refusal : null;
  return {
    set: { facts, charged, parcels, supplierNumber: said.number, forwarding: false, refusal },
    says: says || `Number ${said.number}.`,
  };
}

/** The outbox row that tells the marketplace of the first parcel, or why it cannot be told. */
export function dispatchFor(
  order: Order,
  market: MarketConnection,
  at: number,
  anyway = false,
): OutboxRow | { problem: string } | null {
  const parcel = order.parcels[0];
  if (!parcel || order.facts.toldAt !== null || order.facts.cancelledAt !== null) return null;
  const problem = trackingProblem(parcel.tracking);
  if (problem && !anyway) return { problem: `${problem}; the marketplace was not told.` };
  const carrier =
    carrierFor(parcel.carrier, market.site.carriers)?.code ?? carrierFor('other', market.site.carriers)?.code;
  if (!carrier) return { problem: `${market.name} does not list the carrier ${parcel.carrier}.` };
  const body: DispatchBody = {
    number: order.number,
    carrier,
    tracking: parcel.tracking,
    shippedAt: new Date(parcel.shippedAt).toISOString(),
  };
  return outgoing(`dispatch:${order.id}`, market.id, 'dispatch', `order:${order.id}`, body, at);
}

/**
 * Moves one order on by what its supplier said, wherever that was said (the answer to the purchase may come
 * so late that parcels are in it), and puts what follows into the outbox: its first parcel for the
 * marketplace, or the question to take it back where the sale was cancelled meanwhile. Runs inside the
 * caller's transaction.
 * @returns the row to change, or null where nothing is new
 */
export async function moveOn(
  work: Work,
  order: Order,
  said: SupplierOrder,
  supplier: string,
): Promise<Moved | null> {
  const { db } = work;
  if (order.ended.includes(said.number)) return null;
  if (order.supplierNumber !== null && order.supplierNumber !== said.number) {
    if (said.status === 'cancelled') return null;
    const refusal = `${supplier} has a second order for it: ${said.number} besides ${order.supplierNumber}. Cancel one of them there.`;
    return order.refusal === refusal ? null : { set: { refusal, open: 1 }, says: refusal };
  }
  if (said.status === 'cancelled')
    return order.recall?.state === 'agreed' ? null : afterCancelled(work, order, said, supplier);
  const moved = afterSupplier(order, said);
  if (!moved) return null;
  const after: Order = { ...order, ...moved.set };
  const finish = (more: Partial<Order>, says = ''): Moved => ({
    set: { ...moved.set, ...more, open: openOf({ ...after, ...more }) },
    says: says ? `${moved.says} ${says}` : moved.says,
  });
  // A sale that was over before it was known to be bought is asked back, too.
  const recall =
    order.recall ?? (order.facts.cancelledAt === null ? null : cancelledBefore(order.facts.cancelledAt));
  if (after.parcels.length === 0) {
    if (recall?.state !== 'asked' || order.supplierNumber !== null) return finish({});
    await db.outbox.put(takeBackRow(after, said.number, recall.reason, work.clock()));
    return finish({ recall }, `The sale was cancelled meanwhile: ${said.number} is asked back.`);
  }
  let more: Partial<Order> = {};
  let says = '';
  if (recall?.state === 'asked') {
    const ended = await notTakenBack(
      work,
      { ...after, recall },
      `${supplier} had shipped ${said.number} by then.`,
    );
    more = ended.set;
    says = ended.says;
  }
  const market = (await db.connections.get(order.marketplace)) as MarketConnection | undefined;
  const dispatch =
    market && order.parcels.length === 0 ? dispatchFor({ ...after, ...more }, market, work.clock()) : null;
  if (dispatch && 'problem' in dispatch) return finish({ ...more, refusal: dispatch.problem }, says);
  if (dispatch && !(await db.outbox.get(dispatch.id))) await db.outbox.put(dispatch);
  return finish(more, says);
}

const cancelledBefore = (at: number) =>
  ({ by: 'marketplace', reason: 'The order was cancelled.', at, state: 'asked' }) as const;

/**
 * Takes in what a supplier says of its orders, with the position read up to: numbers, real charges, parcels.
 * Parcels go into the outbox for the marketplace.
 * @returns how many orders moved
 */
export async function takeShipments(
  work: Work,
  supplier: SupplierConnection,
  said: readonly SupplierOrder[],
  next: string | null,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const markets = (await db.connections.toArray()).filter(
      (c): c is MarketConnection => c.role === 'marketplace',
    );
    const ids = said.flatMap((s) => markets.map((m) => idOf(m, s.reference)));
    const orders = new Map(
      (await db.orders.bulkGet(ids)).flatMap((o) =>
        o && o.supplier === supplier.id ? [[o.number, o] as const] : [],
      ),
    );
    const rows: RowChange[] = [];
    for (const s of said) {
      const order = orders.get(s.reference);
      const moved = order && (await moveOn(work, order, s, supplier.name));
      if (!order || !moved) continue;
      orders.set(s.reference, { ...order, ...moved.set });
      rows.push({ table: 'orders', id: order.id, set: moved.set, says: moved.says });
    }
    await applyChange(
      db,
      {
        by: 'rule',
        name:
          rows.length === 1
            ? `${supplier.name} moved an order on`
            : `${supplier.name} moved ${rows.length} orders on`,
      },
      rows,
      nowOf(work),
    );
    if (next !== null) await db.connections.update(supplier.id, { cursor: next });
    return rows.length;
  });
}

/** Sends a tracking number that looks wrong after all, by a person's word. */
export async function tellAnyway(work: Work, id: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await db.orders.get(id);
    const market = order && ((await db.connections.get(order.marketplace)) as MarketConnection | undefined);
    const row = order && market && dispatchFor(order, market, work.clock(), true);
    if (!row || 'problem' in row) return;
    await db.outbox.put(row);
    await applyChange(
      db,
      { by: 'person', name: `Tell ${market.name} of ${order.number}`, undoable: false },
      [{ table: 'orders', id, set: { refusal: null } }],
      nowOf(work),
    );
  });
}
