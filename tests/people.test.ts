import { type Order, orderById } from '@/store';
import { archiveOrders } from '@/work/order-book/archive';
import { eraseBuyers, ordersOfBuyer } from '@/work/order-book/erase';
import { OrderBook } from '@/work/order-book/order-book';
import { editOrder, releaseOrder } from '@/work/orders/actions';
import { keepUnread } from '@/work/orders/unread-store';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { tablesWith } from './people';
import { setOut, type Voyage } from './voyage';

const DAY = 86_400_000;

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(20);
});
afterEach(() => v.end());

const now = async (id: string): Promise<Order> => (await orderById(v.work.db, id))!;

/** An order with an address of two floors, words on the goods and words on the slip. */
async function sold(seed: number) {
  const made = sell(v.outside.market, chance(seed), v.work.clock(), { quantity: 1, personalised: true })!;
  await v.settle(61_000);
  const id = `pennywharf:${made.number}`;
  const order = await now(id);
  const buyer = (await v.work.db.buyers.get(id))!;
  const address = { ...buyer.addresses[0]!, line2: `Floor of ${seed}` };
  await editOrder(v.work, id, { address, slip: `Slip of ${seed}` });
  const texts = [buyer.name, buyer.email, address.line1, address.line2, `Slip of ${seed}`, ...buyer.texts];
  return { id, order, made, email: buyer.email, texts };
}

/** Lets everything that is bought arrive, and the marketplace settle. */
async function overAndDone(ids: readonly string[]) {
  for (const id of ids) await releaseOrder(v.work, id, ['personalised', 'profit'], true);
  await v.settle();
  for (let k = 0; k < 8; k++) {
    for (const p of v.outside.warehouse.purchases)
      advance(v.outside.warehouse, p.number, v.work.clock(), 3_600_000);
    await v.settle(DAY);
  }
}

test('what is a buyer’s stands in one row, and erasing it reaches orders in rows and in the archive, their history and what was told', async () => {
  const [laidAway, recent] = [await sold(7), await sold(8)];
  expect(laidAway.texts.length).toBe(6);
  await overAndDone([laidAway.id, recent.id]);
  const { db } = v.work;
  expect([await now(laidAway.id), await now(recent.id)]).toMatchObject([{ open: 0 }, { open: 0 }]);
  for (const { made } of [laidAway, recent])
    await keepUnread(v.work, 'pennywharf', [{ plain: made, reason: 'odd' }]);
  // Only what came in and could not be read repeats it, as it came.
  expect(await tablesWith(db, recent.texts)).toEqual(['buyers', 'unread']);
  await db.orders.update(laidAway.id, { paidAt: v.work.clock() - 100 * DAY });
  expect(await archiveOrders(v.work)).toMatch(/1 order/);
  expect(await tablesWith(db, laidAway.texts)).toEqual(['archive', 'archivedBuyers', 'unread']);
  const sums = (await db.ledger.get(recent.id))!.entries;
  const book = new OrderBook(v.work);
  await book.catchUp();
  const matches = async (query: string) =>
    (await book.search({ query, sort: 'placed', descending: true, offset: 0, limit: 9 }, v.work.clock()))
      .matches;
  expect(await matches(`"${laidAway.texts[0]}"`)).toBe(1);

  expect(await ordersOfBuyer(v.work, laidAway.id)).toEqual([laidAway.id]);
  expect((await book.full(laidAway.id))!.buyer.email).toBe(laidAway.email);
  expect(await eraseBuyers(v.work, [laidAway.id, recent.id])).toEqual({ erased: 2, kept: [] });
  await book.catchUp();
  expect(await tablesWith(db, [...laidAway.texts, ...recent.texts])).toEqual([]);
  expect(await matches(`"${laidAway.texts[0]}"`)).toBe(0);
  expect((await book.full(laidAway.id))!.buyer).toMatchObject({ name: '', erasedAt: v.work.clock() });
  expect(await matches(laidAway.order.number)).toBe(1);
  // What the books need stays.
  expect((await db.ledger.get(recent.id))!.entries).toEqual(sums);
  expect(await now(laidAway.id)).toMatchObject({
    country: laidAway.order.country,
    number: laidAway.order.number,
  });
  // It came back as a row just now; nothing of the person was left behind or came with it.
  expect(await tablesWith(db, laidAway.texts)).toEqual([]);
});

test('an order that comes back from the archive leaves nothing of its buyer there; one that is open keeps its buyer', async () => {
  const [a, b] = [await sold(7), await sold(8)];
  const { db } = v.work;
  expect(await eraseBuyers(v.work, [a.id])).toEqual({ erased: 0, kept: [a.id] });
  expect((await db.buyers.get(a.id))!.email).toBe(a.email);
  await overAndDone([a.id, b.id]);
  await db.orders
    .where('id')
    .anyOf([a.id, b.id])
    .modify({ paidAt: v.work.clock() - 100 * DAY });
  await archiveOrders(v.work);
  expect(await now(a.id)).toMatchObject({ open: 0 });
  expect(await tablesWith(db, a.texts)).toEqual(['buyers']);
  expect(await tablesWith(db, b.texts)).toEqual(['archive', 'archivedBuyers']);
  expect((await db.buyers.get(a.id))!.texts).toHaveLength(2);
});
