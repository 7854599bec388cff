import { numberOf } from '@/core/orders';
import { sizeOf } from '@/store';
import { caughtUp } from '@/work/memory/assortment';
import { archiveOrders, RECENT_DAYS } from '@/work/order-book/archive';
import { BREAKDOWNS, breakdownOf, ordersBehind } from '@/work/order-book/breakdown';
import { OrderBook } from '@/work/order-book/order-book';
import { sumsOf } from '@/work/order-book/sums';
import { actualOf } from '@/work/orders/accounts';
import { cancelOrder } from '@/work/orders/actions';
import { storedKinds } from '@/work/overview/stored';
import { saveRate } from '@/work/pricing/rates';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { setOut, type Voyage } from './voyage';

const DAY = 86_400_000;
let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 120 });
  await v.settle();
  await v.stockUp(6);
  for (let k = 0; k < 8; k++) {
    sell(v.outside.market, chance(40 + k), v.work.clock(), { quantity: 1 });
    await v.settle(61_000);
  }
  const [first] = await v.work.db.orders.toArray();
  await cancelOrder(v.work, first!.id, 'The seller cannot deliver.');
  await v.settle(121_000);
  for (const p of (await v.work.db.orders.toArray()).flatMap((o) => o.purchases))
    if (numberOf(p)) advance(v.outside.warehouse, numberOf(p)!, v.work.clock(), 1000);
  await v.settle(5 * 60_000);
  for (const p of (await v.work.db.orders.toArray()).flatMap((o) => o.purchases))
    if (numberOf(p)) advance(v.outside.warehouse, numberOf(p)!, v.work.clock(), 1000);
  await v.settle(2 * DAY);
});
afterEach(() => v.end());

async function bookNow(): Promise<OrderBook> {
  const book = new OrderBook(v.work);
  await book.catchUp();
  return book;
}

const RANGE = { from: '2026-10-01', to: '2027-03-01' };
const all = { query: '', sort: 'placed', descending: true, offset: 0, limit: 99 } as const;

/** What a seller sees of all orders: the list, two searches, the sums and a day. */
async function seenIn(book: OrderBook) {
  const now = v.work.clock();
  const ids = async (query: string) =>
    (await book.search({ ...all, query }, now)).rows.map((r) => r.order.id);
  const { rows, total } = await book.search(all, now);
  const assortment = await caughtUp(v.work);
  const name = rows[2]!.buyer.name.split(' ')[0]!;
  return {
    total,
    rows,
    named: await ids(name),
    cancelled: await ids('is:cancelled'),
    earning: await ids('profit:>0'),
    sums: sumsOf(book, '2026-10-01', '2027-03-01'),
    month: sumsOf(book, '2026-10-20', '2026-11-20'),
    day: ordersBehind(book, assortment, { by: 'day', ...RANGE }, '2026-11-02', 50),
    broken: BREAKDOWNS.map((by) => breakdownOf(book, assortment, { by, ...RANGE })),
  };
}

test('orders that are over are laid away, and searched, summed and shown as before', async () => {
  const before = await seenIn(await bookNow());
  const kept = await bookNow();
  expect(before.total).toBe(8);
  const over = before.rows.filter((r) => r.order.open === 0).length;
  expect(over).toBeGreaterThan(4);
  v.tick((RECENT_DAYS + 2) * DAY);
  expect(await archiveOrders(v.work)).toMatch(new RegExp(`^${over} orders`));
  expect(await v.work.db.orders.count()).toBe(8 - over);
  expect(await v.work.db.ledger.count()).toBeLessThanOrEqual(8 - over);
  expect(await seenIn(await bookNow())).toEqual(before);
  // One that held the orders while they were laid away says the same as one that is read anew.
  await kept.catchUp();
  expect(await seenIn(kept)).toEqual(before);
  const laid = before.rows.find((r) => r.order.open === 0)!.order;
  const full = await kept.full(laid.id);
  expect(full?.order).toEqual(laid);
  expect(full?.edits?.some((e) => /Came in from/.test(e.says ?? ''))).toBe(true);
  expect(await archiveOrders(v.work)).toBe('');
});

test('what is stored is told by kind, none twice and none left out, and an archived order takes less', async () => {
  const of = async (name: string, most?: number) =>
    (await storedKinds(v.work, most)).find((k) => k.name.startsWith(name));
  const orders = (await of('Orders'))!;
  expect(orders.count).toBe(8);
  expect((await of('Listings'))!.count).toBe(await v.work.db.listings.count());
  let sum = 0;
  for (const table of v.work.db.tables) for (const row of await table.toArray()) sum += sizeOf(row);
  const told = (await storedKinds(v.work)).reduce((all, k) => all + k.bytes, 0);
  expect(Math.abs(told / sum - 1)).toBeLessThan(0.02);
  // Rows that are alike are reckoned from a few of them.
  expect((await of('Orders', 4))!.bytes / orders.bytes).toBeCloseTo(1, 0);
  v.tick((RECENT_DAYS + 2) * DAY);
  await archiveOrders(v.work);
  const [left, laid] = [await of('Orders'), await of('Archived')];
  expect(laid!.count).toBe(1);
  expect((left?.bytes ?? 0) + laid!.bytes).toBeLessThan(orders.bytes);
});

test('an archived order that is told again comes back, and nothing is bought for it again', async () => {
  const bought = v.outside.warehouse.purchases.length;
  v.tick((RECENT_DAYS + 2) * DAY);
  await archiveOrders(v.work);
  await v.work.db.jobs.delete('shop:tidy');
  const archived = (await v.work.db.archive.toArray()).flatMap((b) => b.ids);
  // The marketplace tells all of its orders from the beginning, and of a refund of one.
  const order = v.outside.market.orders.find(
    (o) => archived.includes(`pennywharf:${o.number}`) && o.status !== 'cancelled',
  )!;
  order.refunded = '1.00';
  await v.work.db.health.update('pennywharf', { cursor: null });
  await v.settle(61_000);
  expect(v.outside.warehouse.purchases.length).toBe(bought);
  const back = (await v.work.db.orders.get(`pennywharf:${order.number}`))!;
  expect(back).toMatchObject({ refunded: 100, open: 0 });
  const subject = `order:${back.id}`;
  const told = v.work.db.edits.where('[subject+at]').between([subject, 0], [subject, Number.MAX_VALUE]);
  expect(await told.count()).toBeGreaterThan(1);
  const blocks = async () => (await v.work.db.archive.toArray()).flatMap((b) => b.ids);
  expect(await blocks()).not.toContain(back.id);
  const book = await bookNow();
  expect((await book.search(all, v.work.clock())).total).toBe(8);
  expect((await book.search({ ...all, query: order.number }, v.work.clock())).matches).toBe(1);
  // It is laid away again, once.
  await archiveOrders(v.work);
  expect((await blocks()).filter((id) => id === back.id)).toHaveLength(1);
});

test('archived orders that had no rate get it with the first of their currency; all others stay laid away', async () => {
  const { db } = v.work;
  const done = (await db.orders.toArray()).filter((o) => o.open === 0 && o.settledAt !== null);
  const order = done[0]!;
  const { entries } = (await db.ledger.get(order.id))!;
  await db.ledger.update(order.id, { entries: entries.map((e) => ({ ...e, currency: 'SEK', rate: null })) });
  v.tick((RECENT_DAYS + 2) * DAY);
  await archiveOrders(v.work);
  expect(await db.orders.get(order.id)).toBeUndefined();
  const laid = async () => (await db.archive.toArray()).flatMap((b) => b.ids.filter((id) => id));
  const others = (await laid()).filter((id) => id !== order.id);
  const rate = { currency: 'SEK', day: '2026-10-01', value: 7_500_000, origin: 'typed' } as const;
  await saveRate(v.work, rate);
  const { entries: now } = (await db.ledger.get(order.id))!;
  expect(new Set(now.map((e) => e.rate))).toEqual(new Set([7_500_000]));
  expect(await laid()).toEqual(others);
  // Each amount by itself, half away from zero.
  const inBooks = now.reduce(
    (sum, e) => sum + Math.sign(e.amount) * Math.round((Math.abs(e.amount) * 75) / 1000),
    0,
  );
  const back = (await db.orders.get(order.id))!;
  expect(actualOf(back, await db.ledger.get(order.id), 'GBP')?.profit).toBe(inBooks);
  expect((await (await bookNow()).search(all, v.work.clock())).total).toBe(8);
});

test('what is not over stays where it is, however old', async () => {
  sell(v.outside.market, chance(3), v.work.clock(), { quantity: 1 });
  await v.settle(61_000);
  const open = (await v.work.db.orders.where('open').equals(1).primaryKeys()) as string[];
  expect(open.length).toBeGreaterThan(0);
  v.tick(300 * DAY);
  await archiveOrders(v.work);
  expect((await v.work.db.orders.bulkGet(open)).every(Boolean)).toBe(true);
});
