import { USUAL_RULES } from '@/core/forwarding';
import { isRequest, standingOf, unseenOf } from '@/core/orders';
import type { Order } from '@/store';
import { eraseBuyers } from '@/work/order-book/erase';
import { answerRequest, releaseOrder } from '@/work/orders/actions';
import { setOrderRules } from '@/work/orders/rules';
import { askToCancel, type SaleWish } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, type Voyage } from './voyage';

const HOUR = 3_600_000;

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(12);
});
afterEach(() => v.end());

const now = async ({ id }: Pick<Order, 'id'>) => (await v.work.db.orders.get(id))!;
const there = (order: Order) => v.outside.market.orders.find((o) => o.number === order.number)!;
const sold = (wish: SaleWish = {}) => sellOne(v, ++n + 300, wish);
const ask = async (order: Order, units?: number): Promise<Order> => {
  askToCancel(v.outside.market, there(order), chance(7), v.work.clock(), units);
  await v.settle(61_000);
  return now(order);
};
const requestOf = (order: Order) => order.cases.findLast(isRequest)!;
const bought = () => v.outside.warehouse.purchases;

test('nothing is bought while a buyer asks to cancel, whatever is released; accepted, it is cancelled and refunded', async () => {
  const held = await sold({ note: 'Is it blue?' });
  const order = await ask(held);
  expect(unseenOf(order).filter(isRequest)).toHaveLength(1);
  const buyer = (await v.work.db.buyers.get(order.id))!;
  expect(buyer.texts[requestOf(order).reason!]).toBe(there(order).cancelRequest!.reason);
  await releaseOrder(v.work, order.id, ['note'], true);
  await v.settle(61_000);
  expect(standingOf(await now(order))).toBe('held');
  expect(bought()).toHaveLength(0);
  expect(await answerRequest(v.work, order.id, requestOf(order).id, true, '')).toEqual({ ok: true });
  // Pressed twice, it is answered once.
  await answerRequest(v.work, order.id, requestOf(order).id, true, '');
  await v.settle(61_000);
  expect(there(order)).toMatchObject({ status: 'cancelled', cancelRequest: { state: 'accepted' } });
  expect(Number(there(order).refunded)).toBeGreaterThan(0);
  expect(requestOf(await now(order)).answered).toBe('granted');
  expect(bought()).toHaveLength(0);
  await eraseBuyers(v.work, [order.id]);
  expect((await v.work.db.buyers.get(order.id))!.texts.join('')).toBe('');
});

test('what is bought is asked back first; where the supplier keeps it, the request waits for an answer again and is declined', async () => {
  const kept = await ask(await sold());
  advance(v.outside.warehouse, bought()[0]!.number, v.work.clock(), 48 * HOUR);
  await answerRequest(v.work, kept.id, requestOf(kept).id, true, '');
  await v.settle(61_000);
  const order = await now(kept);
  expect(requestOf(order)).toMatchObject({ answered: null, kept: true });
  expect(there(order).status).not.toBe('cancelled');
  await answerRequest(v.work, order.id, requestOf(order).id, false, 'It is on its way.');
  await v.settle(61_000);
  expect(['declined', 'over']).toContain(there(order).cancelRequest!.state);
  const again = await ask(await sold());
  await answerRequest(v.work, again.id, requestOf(again).id, true, '');
  await v.settle(61_000);
  expect(there(again).status).toBe('cancelled');
  expect(bought().at(-1)!.status).toBe('cancelled');
});

test('a part is cancelled alone; a decline lets the rest of its way go on, and is told once', async () => {
  const order = await ask(await sold({ quantity: 3, note: 'Thank you' }), 1);
  await answerRequest(v.work, order.id, requestOf(order).id, true, '');
  await v.settle(61_000);
  expect((await now(order)).lines[0]).toMatchObject({ quantity: 3, cancelled: 1 });
  expect(there(order).lines[0]).toMatchObject({ quantity: 3, cancelled: 1 });
  await releaseOrder(v.work, order.id, ['note'], true);
  await v.settle(61_000);
  expect(bought()).toMatchObject([{ reference: order.id, lines: [{ quantity: 2 }] }]);

  const other = await ask(await sold({ note: 'Hello' }));
  await answerRequest(v.work, other.id, requestOf(other).id, false, 'It is made for you already.');
  await v.settle(61_000);
  expect(there(other)).toMatchObject({ status: 'paid', cancelRequest: { state: 'declined' } });
  expect(standingOf(await now(other))).toBe('held');
  expect((await v.work.db.outbox.toArray()).filter((r) => r.kind === 'decline')).toHaveLength(1);
  const past = await v.work.db.edits.where('subject').equals(`order:${other.id}`).toArray();
  const told = past.flatMap((e) => e.facts ?? []).filter((f) => f.kind === 'decline told');
  expect(told).toEqual([{ kind: 'decline told', refused: null }]);
});

test('by rule it is accepted while nothing is bought; unanswered, it ends as the marketplace says', async () => {
  await setOrderRules(v.work, { orders: { ...USUAL_RULES, requests: 'accept unbought' } }, 'Rules');
  const free = await ask(await sold({ note: 'Hello' }));
  await v.settle(61_000);
  expect(there(free).status).toBe('cancelled');
  const paid = await ask(await sold());
  expect(requestOf(paid).answered).toBeNull();
  await v.settle(25 * HOUR);
  await v.settle(61_000);
  // It was not on its way by then.
  expect(there(paid).status).toBe('cancelled');
  expect(requestOf(await now(paid)).answered).toBe('granted');
});
