import type { SkuCount, SupplierOrder } from '../../connect/supplier';
import {
  isActive,
  isCancelled,
  linesIn,
  orderOf,
  type Parcel,
  type Purchase,
  type Recall,
  withPurchase,
} from '../../core/orders';
import {
  applyChange,
  type MarketConnection,
  type Order,
  ordersById,
  type RowChange,
  type SupplierConnection,
  type UnclaimedRow,
} from '../../store';
import { shopNow } from '../assortment/assortment';
import { nowOf, type Work } from '../context';
import { listingOf, type Shop } from '../shop/quote';
import { postPurchase } from './accounts';
import { costInWords, type Moved, notTakenBack, settle, takeBackRow, takenBack } from './cancel';
import { changed, type Linked, linkedOf, openOf, purchaseIn } from './decide';
import { dispatchRow } from './dispatch';

const counts = (list: readonly SkuCount[], sku: string) =>
  list.reduce((n, l) => (l.sku === sku ? n + l.quantity : n), 0);

/** A purchase that this copy of the shop does not know: made before it was copied. Its lines are told by what they sell. */
function adopt(
  order: Order,
  said: SupplierOrder,
  c: SupplierConnection,
  linked: Linked,
  at: number,
): Purchase | null {
  const covered = new Set(order.purchases.flatMap((p) => linesIn(p).map((l) => l.line)));
  const lines = order.lines.flatMap((line) => {
    const source = linked.get(listingOf(order, line))?.variant.sources.find((s) => s.supplier === c.id);
    if (covered.has(line.id) || !source || !counts(said.lines, source.item)) return [];
    const { personalisation } = line;
    const quantity = line.quantity * source.pack;
    return [{ line: line.id, item: source.item, quantity, personalisation, cancelledAt: null }];
  });
  if (!lines.length) return null;
  return {
    reference: said.reference,
    supplier: c.id,
    lane: c.lanes.purchases,
    state: 'waiting',
    lines,
    at,
    number: null,
    acceptedAt: null,
    currency: c.currency,
    expected: { goods: said.goods, shipping: said.shipping },
    charged: null,
    parcels: [],
    complete: false,
    recall: null,
  };
}

/** Parcels as known, with what the supplier says: each once by its number. */
function parcelsAfter(p: Purchase, said: SupplierOrder, dispatched: readonly string[], at: number): Parcel[] {
  const lineOf = (sku: string) => p.lines.flatMap((l) => (l.item === sku ? [l.line] : []));
  const news = said.parcels.map(({ lines, ...parcel }): Parcel => {
    const known = p.parcels.find((one) => one.tracking === parcel.tracking);
    return {
      ...parcel,
      deliveredAt: known?.deliveredAt ?? parcel.deliveredAt,
      lines: lines ? lines.flatMap((l) => lineOf(l.sku)) : null,
      toldAt: known?.toldAt ?? (dispatched.includes(parcel.tracking) ? at : null),
    };
  });
  const missing = p.parcels.filter((one) => !news.some((n) => n.tracking === one.tracking));
  return [...missing, ...news];
}

/** A purchase after its supplier said where it stands. News may come late, twice, or before the answer to the purchase. */
function after(p: Purchase, said: SupplierOrder, dispatched: readonly string[], at: number): Purchase {
  const over = said.status === 'cancelled';
  const lines = p.lines.map((l) =>
    l.cancelledAt === null && (over || counts(said.cancelled, l.item) >= l.quantity)
      ? { ...l, cancelledAt: at }
      : l,
  );
  return {
    ...p,
    number: said.number,
    acceptedAt: p.acceptedAt ?? said.acceptedAt,
    state: lines.every((l) => l.cancelledAt !== null) ? 'cancelled' : 'accepted',
    lines,
    charged: { goods: said.goods, shipping: said.shipping },
    parcels: parcelsAfter(p, said, dispatched, at),
    complete: p.complete || said.status === 'shipped' || said.status === 'delivered',
  };
}

/** What is new of a purchase, in words; '' where nothing is. */
function newsInWords(before: Purchase, now: Purchase, supplier: string): string {
  const fresh = now.parcels.filter((n) => !before.parcels.some((b) => b.tracking === n.tracking));
  const arrived = now.parcels.filter(
    (n) =>
      n.deliveredAt !== null && before.parcels.find((b) => b.tracking === n.tracking)?.deliveredAt == null,
  );
  return [
    before.state !== 'accepted' && now.state === 'accepted'
      ? `${supplier} accepted it as ${now.number}.`
      : '',
    ...fresh.map(
      (n) => `${supplier} shipped ${now.complete ? '' : 'a part '}by ${n.carrier}, ${n.tracking}.`,
    ),
    arrived.length ? `Delivered: ${arrived.map((n) => n.tracking).join(', ')}.` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** Whether a supplier says of a purchase only what is known of it. */
function isKnown(order: Order, said: SupplierOrder, c: SupplierConnection, at: number): boolean {
  const before = purchaseIn(order, said.reference, c.id);
  if (!before || (before.number !== null && before.number !== said.number)) return false;
  return same(withPurchase(order.purchases, after(before, said, order.dispatched, at)), order.purchases);
}

/**
 * Moves an order on by what a supplier said of a purchase, wherever that was said (the answer to the purchase may come so
 * late that parcels are in it), and puts what follows into the outbox: parcels for the marketplace, or the question to
 * take it back where the sale was cancelled meanwhile. Runs inside the caller's transaction.
 * @returns null where nothing is new
 */
export async function moveOn(
  work: Work,
  order: Order,
  said: SupplierOrder,
  c: SupplierConnection,
  shop: Shop,
): Promise<Moved | null> {
  const at = work.clock();
  const before =
    purchaseIn(order, said.reference, c.id) ?? adopt(order, said, c, await linkedOf(work, [order]), at);
  if (!before) {
    if (said.status === 'cancelled') return null;
    return noticed(order, `${c.name} has an order ${said.number} for it that is not known here.`);
  }
  if (before.number !== null && before.number !== said.number) {
    if (said.status === 'cancelled') return null;
    return noticed(
      order,
      `${c.name} has a second order for it: ${said.number} besides ${before.number}. Cancel one of them there.`,
    );
  }
  const now = after(before, said, order.dispatched, at);
  let next: Order = { ...order, purchases: withPurchase(order.purchases, now) };
  if (same(next.purchases, order.purchases)) return null;
  await postPurchase(work, order, now, shop);
  const words = newsInWords(before, now, c.name);
  const gone = now.lines.filter(
    (l) => l.cancelledAt !== null && before.lines.find((b) => b.line === l.line)?.cancelledAt === null,
  );
  if (gone.length) {
    const lines = gone.map((l) => l.line);
    const moved = await afterGone(work, next, now, lines, c, words);
    // What is left of it may be on its way in the same breath, or be over too.
    const rest = purchaseIn(moved.order, now.reference, now.supplier)!;
    const asked = await askBackIfOver(work, moved.order, rest, c.name);
    const left = purchaseIn(asked, now.reference, now.supplier)!;
    const problem = await tellOfParcels(work, asked, left, before);
    const told = problem ? { ...asked, notice: problem } : asked;
    return { order: { ...told, open: openOf(told) }, says: [moved.says, problem].filter(Boolean).join(' ') };
  }
  // What a supplier refused or could not be reached for is past, now that it has it; how a cancellation ended stays.
  if (before.state !== 'accepted' && !now.recall) next = { ...next, notice: null };
  next = await askBackIfOver(work, next, now, c.name);
  const current = purchaseIn(next, now.reference, now.supplier)!;
  if (current.recall?.state === 'asked' && now.complete) {
    const moved = await notTakenBack(work, next, current, `${c.name} had shipped ${now.number} by then.`);
    next = moved.order;
  }
  const problem = await tellOfParcels(work, next, purchaseIn(next, now.reference, now.supplier)!, before);
  if (problem) next = { ...next, notice: problem };
  next = { ...next, open: openOf(next) };
  const asked =
    current.recall?.state === 'asked' && before.recall === null
      ? `The sale was cancelled meanwhile: ${now.number} is being cancelled.`
      : '';
  return {
    order: next,
    says: [words || `${c.name} told news of ${now.number}.`, asked, problem ?? ''].filter(Boolean).join(' '),
  };
}

/** Lines that a supplier will not send: because they were asked back, or by itself. */
async function afterGone(
  work: Work,
  order: Order,
  p: Purchase,
  gone: readonly string[],
  c: SupplierConnection,
  words: string,
): Promise<Moved> {
  const { recall } = p;
  if (recall && gone.some((l) => recall.lines.includes(l))) {
    // The supplier may take out a part by itself: only what is gone is gone, the rest of it is on its way or still asked
    // back.
    const isGone = (line: string) => p.lines.find((l) => l.line === line)?.cancelledAt !== null;
    if (recall.lines.every(isGone)) {
      const moved = await takenBack(work, order, p, c.name);
      return { ...moved, says: [words, moved.says].filter(Boolean).join(' ') };
    }
    if (recall.state === 'asked')
      return settle(work, order, [words, `${c.name} took a part of ${p.number} out.`]);
  }
  // A sale that was cancelled before has nothing more to wait for.
  if (isCancelled(order))
    return settle(work, order, [words, `${c.name} cancelled ${p.number}.${costInWords(p)}`]);
  const notice =
    p.state === 'cancelled'
      ? `${c.name} cancelled ${p.number}.${costInWords(p)}`
      : `${c.name} cancelled part of ${p.number}.`;
  return settle(work, { ...order, notice, checkedAt: null }, [words, notice]);
}

/**
 * Asks a purchase back whose lines were cancelled before it was known to be bought, or whose number was not known when it
 * was asked. One that is on its way already is told to a person.
 */
async function askBackIfOver(work: Work, order: Order, p: Purchase, supplier: string): Promise<Order> {
  if (!isActive(p) || p.number === null) return order;
  const over = linesIn(p).flatMap((l) => {
    const sold = order.lines.find((s) => s.id === l.line);
    return sold && sold.cancelledAt !== null ? [l.line] : [];
  });
  const at = work.clock();
  const reason = 'The order was cancelled.';
  const state = p.complete ? 'refused' : 'asked';
  const recall: Recall | null =
    p.recall ?? (over.length ? { by: 'marketplace', reason, at, lines: over, state } : null);
  if (!recall) return order;
  const purchases = changed(order, p.reference, p.supplier, { recall });
  if (p.recall === null && p.complete)
    return {
      ...order,
      purchases,
      notice: `Cancelled after ${p.number} of ${supplier} was shipped.${costInWords(p)}`,
    };
  if (recall.state !== 'asked' || p.complete) return { ...order, purchases };
  const row = takeBackRow(order, p, recall, at);
  if (p.lane === 'service' && !(await work.db.outbox.get(row.id))) await work.db.outbox.put(row);
  return { ...order, purchases };
}

/** Puts parcels that are new into the outbox. @returns why one cannot be told */
async function tellOfParcels(
  work: Work,
  order: Order,
  p: Purchase,
  before: Purchase,
): Promise<string | null> {
  const { db } = work;
  const market = (await db.connections.get(order.marketplace)) as MarketConnection | undefined;
  let problem: string | null = null;
  for (const parcel of p.parcels) {
    const known = before.parcels.some((b) => b.tracking === parcel.tracking);
    if (!market || known || parcel.toldAt !== null) continue;
    const row = dispatchRow(order, p, parcel, market, work.clock());
    if (!row) continue;
    if ('problem' in row) problem = row.problem;
    else if (!(await db.outbox.get(row.id))) await db.outbox.put(row);
  }
  return problem;
}

const noticed = (order: Order, notice: string): Moved | null =>
  order.notice === notice ? null : { order: { ...order, notice, open: 1 }, says: notice };

/** Writes orders after a step as row changes. */
export const orderChange = ({ order, says }: Moved): RowChange => ({
  table: 'orders',
  id: order.id,
  set: { ...order },
  says,
});

/**
 * Takes in what a supplier says of its orders, with the position read up to: numbers, real charges, parcels.
 * @returns how many orders moved
 */
export async function takeSupplierNews(
  work: Work,
  supplier: SupplierConnection,
  said: readonly SupplierOrder[],
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
      // What is known is passed by without `await`: a long row of them that ask nothing of storage ends the transaction.
      if (isKnown(order, s, supplier, work.clock())) continue;
      const moved = await moveOn(work, order, s, supplier, shop);
      if (!moved) continue;
      orders.set(moved.order.id, moved.order);
      rows.push(orderChange(moved));
    }
    const name =
      rows.length === 1
        ? `${supplier.name} moved an order on`
        : `${supplier.name} moved ${rows.length} orders on`;
    await applyChange(db, { by: 'rule', name }, rows, nowOf(work));
    if (next !== null) await db.connections.update(supplier.id, { cursor: next });
    return rows.length;
  });
}

/** Hears what suppliers said of an order before it came in. Runs inside the caller's transaction. */
export async function claim(work: Work, order: Order, shop: Shop): Promise<Moved | null> {
  const { db } = work;
  const rows = await unclaimedOf(work, [order]);
  const says: string[] = [];
  let next = order;
  for (const row of rows) {
    const c = (await db.connections.get(row.supplier)) as SupplierConnection | undefined;
    const moved = c && (await moveOn(work, next, row.said as SupplierOrder, c, shop));
    if (!moved) continue;
    next = moved.order;
    says.push(moved.says);
  }
  await db.unclaimed.bulkDelete(rows.map((r) => r.id));
  return says.length ? { order: next, says: says.join(' ') } : null;
}

/** What waits for orders that were not there yet. */
export const unclaimedOf = ({ db }: Pick<Work, 'db'>, orders: readonly Order[]): Promise<UnclaimedRow[]> =>
  db.unclaimed
    .where('order')
    .anyOf(orders.map((o) => o.id))
    .toArray();
