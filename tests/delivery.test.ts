import { type OrderRules, USUAL_RULES } from '@/core/forwarding';
import { unseenOf } from '@/core/orders';
import { EVERYTHING, readCondition } from '@/core/query';
import type { Order } from '@/store';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { OrderBook } from '@/work/order-book/order-book';
import { caseSeen, chooseService, editOrder, forwardOrder } from '@/work/orders/actions';
import { sourcesAhead } from '@/work/orders/ahead';
import { BUYING_FIELDS } from '@/work/orders/buying';
import { setOrderRules } from '@/work/orders/rules';
import { slipsOf } from '@/work/orders/slips';
import { readCourse } from '@/work/overview/course';
import { learnTransit } from '@/work/quoting/transit';
import type { SaleWish } from '../stand-ins/marketplace/market';
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
const sold = (wish: SaleWish = {}) => sellOne(v, ++n + 500, wish);
const keep = (rules: Partial<OrderRules>) =>
  setOrderRules(v.work, { forward: 'by hand', orders: { ...USUAL_RULES, ...rules } }, 'Rules');
const bought = () => v.outside.warehouse.purchases;
const first = async (order: Order) => (await sourcesAhead(v.work, order.id))[0]!.candidates[0]!;

test('a faster service is taken by rule within what it may cost, or by hand; it is paid for, and sent with the purchase', async () => {
  const gb = readCondition('country:GB', BUYING_FIELDS);
  await keep({ services: [{ id: 'a', on: true, when: gb, within: 1, upTo: 400 }] });
  const order = await sold({ country: 'GB' });
  const usual = await first(order);
  // Next day costs 4.60 more: too much for the rule.
  expect(usual).toMatchObject({ service: null, days: 2, services: [{ id: 'next-day', extra: 460 }] });
  await keep({ services: [{ id: 'a', on: true, when: gb, within: 1, upTo: 460 }] });
  const quick = await first(order);
  expect(quick).toMatchObject({ service: { id: 'next-day' }, days: 1, shipping: usual.shipping! + 460 });
  expect(usual.profit! - quick.profit!).toBe(460);
  await chooseService(v.work, order.id, 'brackwater', '');
  expect(await first(order)).toMatchObject({ service: null, shipping: usual.shipping });
  const { id } = (await lastUndoable(v.work.db))!;
  expect(await undo(v.work, id)).toMatchObject({ ok: true });
  expect(await first(order)).toMatchObject({ service: { id: 'next-day' } });
  await forwardOrder(v.work, order.id);
  await v.settle(61_000);
  expect(bought()).toMatchObject([{ service: 'next-day', shipping: quick.shipping, reference: order.id }]);
  // What was expected and what is charged are the same sum.
  const [purchase] = (await now(order)).purchases;
  expect(purchase).toMatchObject({ service: { name: 'Next day' }, expected: { shipping: quick.shipping } });
  expect(purchase).toMatchObject({ charged: { shipping: quick.shipping } });
});

test('what a supplier says of delays is told and counted; where it sends nothing for now the order is held', async () => {
  await keep({});
  const { warehouse } = v.outside;
  const read = async () => {
    await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
    await v.settle(61_000);
  };
  warehouse.notices = [{ kind: 'delayed', to: ['GB'], days: 4, why: 'Floods' }];
  await read();
  const order = await sold({ country: 'GB' });
  const check = (o: Order) => o.checks.find((c) => c.kind === 'delivery')!;
  expect(check(order)).toMatchObject({
    passed: false,
    weight: 'warn',
    notices: [{ days: 4, why: 'Floods' }],
  });
  expect(order.checkedAt).not.toBeNull();
  expect((await first(order)).days).toBe(6);
  warehouse.notices = [{ kind: 'restricted', to: ['GB'], why: 'The harbour is closed' }];
  await read();
  expect((await now(order)).checkedAt).toBeNull();
  expect((await first(order)).against).toContainEqual({ why: 'destination' });
  warehouse.notices = [];
  await read();
  expect(check(await now(order)).passed).toBe(true);
  expect((await now(order)).checkedAt).not.toBeNull();
});

test('days are learned of parcels that came, and sources go by them', async () => {
  await setOrderRules(v.work, { forward: 'at once', orders: USUAL_RULES }, 'Rules');
  const orders: Order[] = [];
  for (let k = 0; k < 5; k++) orders.push(await sold({ country: 'GB' }));
  for (const p of bought()) advance(v.outside.warehouse, p.number, v.work.clock(), 70 * HOUR);
  await v.settle(70 * HOUR);
  for (const p of bought()) advance(v.outside.warehouse, p.number, v.work.clock(), 0);
  await v.settle(HOUR);
  await learnTransit(v.work);
  const transit = (await v.work.db.health.get('brackwater'))!.transit!.GB!;
  // The same sum from the rows as they are stored.
  const days: number[] = [];
  for (const { id } of orders)
    for (const p of (await now({ id })).purchases)
      if (p.state === 'accepted')
        for (const one of p.parcels)
          if (one.deliveredAt) days.push(Math.ceil((one.deliveredAt - p.acceptedAt) / (24 * HOUR)));
  days.sort((a, b) => a - b);
  expect(transit).toEqual({ parcels: 5, median: days[2], most: days[4] });
  expect(transit.median).toBeGreaterThan(2);
  await keep({});
  const next = await sold({ country: 'GB' });
  expect(await first(next)).toMatchObject({ days: transit.median, promised: 2, real: transit });
});

test('a present keeps its message to the supplier and on the slip, and it can be changed until it is bought', async () => {
  await keep({
    forwarding: [{ id: 'h', name: 'By hand', on: true, when: EVERYTHING, going: { kind: 'by hand' } }],
  });
  const order = await sold({ gift: 'Clear nights, Dad!' });
  expect((await slipsOf(v.work, [order.id]))[0]!.gift).toBe('Clear nights, Dad!');
  expect(await editOrder(v.work, order.id, { gift: 'Clear nights, Papa!' })).toEqual({ ok: true });
  await forwardOrder(v.work, order.id);
  await v.settle(61_000);
  expect(bought()).toMatchObject([{ gift: 'Clear nights, Papa!' }]);
  const plain = await sold({ gift: 'No' });
  await editOrder(v.work, plain.id, { gift: '' });
  await forwardOrder(v.work, plain.id);
  await v.settle(61_000);
  expect(bought()).toHaveLength(2);
  expect(bought()[1]!.gift).toBeUndefined();
});

test('a parcel that is on its way longer than usual stands out until it arrives', async () => {
  await setOrderRules(v.work, { forward: 'at once', orders: USUAL_RULES }, 'Rules');
  const order = await sold({ country: 'GB' });
  advance(v.outside.warehouse, bought()[0]!.number, v.work.clock(), 999 * HOUR);
  await v.settle(20 * 60_000);
  const overdue = async () => {
    const book = new OrderBook(v.work);
    await book.catchUp();
    const { needs } = await readCourse(v.work);
    const [found] = book.counts(['is:overdue'], v.work.clock());
    expect(needs.some((need) => need.id === 'overdue')).toBe(found! > 0);
    return found;
  };
  // Two days are promised: it is overdue after twice that and two days of grace.
  expect(await overdue()).toBe(0);
  v.tick(5 * 24 * HOUR);
  expect(await overdue()).toBe(0);
  v.tick(2 * 24 * HOUR);
  expect(await overdue()).toBe(1);
  advance(v.outside.warehouse, bought()[0]!.number, v.work.clock(), 0);
  await v.settle(HOUR);
  expect((await now(order)).purchases[0]).toMatchObject({ state: 'accepted' });
  expect(await overdue()).toBe(0);
});

test('a charge that is clearly more than was expected is told once, and the books have what was charged', async () => {
  await setOrderRules(v.work, { forward: 'at once', orders: USUAL_RULES }, 'Rules');
  v.outside.warehouse.surcharge = 20;
  const order = await sold({ country: 'GB' });
  await v.settle(HOUR);
  const [purchase] = (await now(order)).purchases;
  if (purchase?.state !== 'accepted') throw new Error('It was not bought.');
  const { expected, charged } = purchase;
  expect(charged!.goods).toBe(Math.round((expected.goods * 120) / 100));
  const told = (await now(order)).cases.filter((c) => c.kind === 'dearer');
  expect(told).toMatchObject([
    { expected: expected.goods + expected.shipping, charged: charged!.goods + charged!.shipping },
  ]);
  const ledger = (await v.work.db.ledger.get(order.id))!.entries;
  const entered = -ledger.filter((e) => e.from === 'brackwater').reduce((sum, e) => sum + e.amount, 0);
  expect(entered).toBe(charged!.goods + charged!.shipping);
  await caseSeen(v.work, order.id, told[0]!.id);
  await v.settle(HOUR);
  expect(unseenOf(await now(order))).toEqual([]);
  // A few pence more are nobody's concern.
  v.outside.warehouse.surcharge = 1;
  const other = await sold({ country: 'GB' });
  await v.settle(HOUR);
  expect((await now(other)).cases).toEqual([]);
});
