import { accountOf } from '@/core/ledger';
import { numberOf, placesOf, standingOf, unitsOf } from '@/core/orders';
import { NO_COST_RULES } from '@/core/pricing';
import { marketById, type Order } from '@/store';
import { saveSupplierCosts } from '@/work/connections/connection-terms';
import { cancelOrder, forwardOrder, releaseOrder } from '@/work/orders/actions';
import { saveRate } from '@/work/pricing/rates';
import { saveSettings } from '@/work/pricing/settings';
import { cancelLines, type SaleWish, sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, callOff, leftOf, move } from '../stand-ins/supplier/warehouse';
import { itemOf, setOut, toSee, type Voyage } from './voyage';

let v: Voyage;
let sku = '';
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(12);
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
  sku = listing.sku;
  v.outside.market.listings[sku]!.quantity = 50;
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 60 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await v.settle();
  v.outside.market.listings[sku]!.quantity = 50;
});
afterEach(() => v.end());

let n = 0;
const sold = async (lines: NonNullable<SaleWish['lines']>): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 500), v.work.clock(), { lines })!;
  await v.settle(61_000);
  return (await v.work.db.orders.get(`pennywharf:${made.number}`))!;
};
const now = async (order: Order) => (await v.work.db.orders.get(order.id))!;
const there = () => v.outside.market.orders.at(-1)!;

test('the supplier cancels one unit of three: the marketplace is told of two, the third waits for a person, and what is charged adds up', async () => {
  const order = await sold([{ sku, quantity: 3 }]);
  const [bought] = v.outside.warehouse.purchases;
  callOff(v.outside.warehouse, bought!, [{ ...bought!.lines[0]!, quantity: 1 }]);
  advance(v.outside.warehouse, bought!.number, v.work.clock(), 0);
  await v.settle(300_000);
  const [line] = order.lines;
  expect(there()).toMatchObject({
    status: 'paid',
    dispatches: [{ lines: [{ id: line!.id, quantity: 2 }] }],
  });
  const held = await now(order);
  expect(standingOf(held)).toBe('held');
  expect(placesOf(held, held.lines[0]!)).toMatchObject({ open: 1, shipped: 2 });
  expect(await toSee(v.work, held)).toMatch(/cancelled 1 of 3 × “.*” of BT-88001/);
  // It is bought again, once, and the order is whole.
  await releaseOrder(v.work, order.id, [], true);
  await v.settle();
  expect(v.outside.warehouse.purchases.map((p) => [p.reference, leftOf(p)[0]?.quantity ?? 0])).toEqual([
    [order.id, 0],
    [`${order.id}#2`, 1],
  ]);
  advance(v.outside.warehouse, v.outside.warehouse.purchases[1]!.number, v.work.clock(), 0);
  await v.settle(300_000);
  expect(there().status).toBe('shipped');
  const paid = v.outside.warehouse.purchases.reduce((sum, p) => sum + p.goods + p.shipping, 0);
  const entries = (await v.work.db.ledger.get(order.id))!.entries.filter((e) => e.from === 'brackwater');
  expect(-entries.reduce((sum, e) => sum + e.amount, 0)).toBe(paid);
});

test('of two personalisations of one mug the supplier cancels one: only that one is bought again', async () => {
  const order = await sold([
    { sku, quantity: 1, personalisation: 'For Ida' },
    { sku, quantity: 1, personalisation: 'For Bo' },
  ]);
  await releaseOrder(v.work, order.id, ['personalised'], true);
  await v.settle();
  const [bought] = v.outside.warehouse.purchases;
  const bo = bought!.lines.find((l) => l.line === order.lines[1]!.id)!;
  callOff(v.outside.warehouse, bought!, [bo]);
  await v.settle(300_000);
  expect(await toSee(v.work, await now(order))).toMatch(/for “For Bo” of BT-88001/);
  await releaseOrder(v.work, order.id, ['personalised'], true);
  await v.settle();
  expect(v.outside.warehouse.purchases.map((p) => leftOf(p).map((l) => l.line))).toEqual([
    [order.lines[0]!.id],
    [order.lines[1]!.id],
  ]);
});

test('two lines of one item take of the same stock: four pieces are not six', async () => {
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  const listing = (await v.work.db.listings.get(`pennywharf:${sku}`))!;
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 4 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await v.settle();
  v.outside.market.listings[sku]!.quantity = 50;
  const order = await sold([
    { sku, quantity: 3 },
    { sku, quantity: 3 },
  ]);
  expect(order.checks.find((c) => c.kind === 'stock')).toMatchObject({
    passed: false,
    short: [{ has: 1, sold: 3 }],
  });
});

test('the buyer cancels units before and after they left, the seller some more: each supplier is asked for that many', async () => {
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  const order = await sold([{ sku, quantity: 5 }]);
  const [line] = order.lines;
  cancelLines(v.outside.market, there(), [{ id: line!.id, quantity: 1 }]);
  await v.settle(61_000);
  expect(await forwardOrder(v.work, order.id)).toEqual({ ok: true });
  await v.settle();
  const [bought] = v.outside.warehouse.purchases;
  expect(bought!.lines).toMatchObject([{ line: line!.id, quantity: 4 }]);
  cancelLines(v.outside.market, there(), [{ id: line!.id, quantity: 2 }]);
  await v.settle(61_000);
  expect(bought!.cancelled).toMatchObject([{ line: line!.id, quantity: 1 }]);
  expect(await cancelOrder(v.work, order.id, 'Two are scratched', [{ line: line!.id, units: 2 }])).toEqual({
    ok: true,
  });
  await v.settle(61_000);
  expect(bought!.cancelled).toMatchObject([{ line: line!.id, quantity: 3 }]);
  expect(there().lines[0]!.cancelled).toBe(4);
  advance(v.outside.warehouse, bought!.number, v.work.clock(), 0);
  await v.settle(300_000);
  expect(there()).toMatchObject({ status: 'shipped', dispatches: [{ lines: [{ quantity: 1 }] }] });
  const price = Math.round(Number(there().lines[0]!.unitPrice) * 100);
  const refunds = (await v.work.db.ledger.get(order.id))!.entries.filter((e) => e.kind === 'refund');
  expect(-refunds.reduce((sum, e) => sum + e.amount, 0)).toBe(4 * price);
  const end = await now(order);
  expect(placesOf(end, end.lines[0]!)).toMatchObject({ shipped: 1, cancelled: 4, open: 0, stays: 0 });
  expect(
    unitsOf(
      end.cases.flatMap((c) => (c.kind === 'asked back' ? c.back : [])),
      line!.id,
    ),
  ).toBe(3);
  expect(numberOf(end.purchases[0]!)).toBe('BT-88001');
});

test('what is heard late is entered with the rules, tax and rate of the first entry, so that the past does not move', async () => {
  const costs = { ...NO_COST_RULES, paying: { rate: 20_000, fixed: 0 } };
  await saveSupplierCosts(v.work, 'brackwater', costs);
  const order = await sold([{ sku, quantity: 2 }]);
  const entries = async () => (await v.work.db.ledger.get(order.id))!.entries;
  const sum = async (kind: string) =>
    (await entries()).reduce((n, e) => (e.kind === kind ? n + e.amount : n), 0);
  const [bought] = v.outside.warehouse.purchases;
  const paying = () => -Math.round((bought!.goods + bought!.shipping) * 0.02);
  expect(await sum('paying')).toBe(paying());
  const before = { tax: await sum('tax'), paying: await sum('paying') };
  // All of it changes; nothing of what is on record does.
  await saveSupplierCosts(v.work, 'brackwater', { ...costs, paying: { rate: 90_000, fixed: 50 } });
  await saveSettings(v.work, { costTax: 200_000 }, 'Tax on cost');
  const market = (await marketById(v.work.db, 'pennywharf'))!;
  const fees = { ...market.site.fees, tax: { model: 'inside', rate: 50_000 } as const };
  await v.work.db.connections.update('pennywharf', { site: { ...market.site, fees } } as never);
  await v.settle(61_000);
  expect({ tax: await sum('tax'), paying: await sum('paying') }).toEqual(before);
  cancelLines(v.outside.market, there(), [{ id: order.lines[0]!.id, quantity: 1 }]);
  await v.settle(61_000);
  const price = Math.round(Number(there().lines[0]!.unitPrice) * 100);
  expect(bought!.cancelled).toHaveLength(1);
  expect(await sum('paying')).toBe(paying());
  expect(await sum('tax on cost')).toBe(0);
  expect(await sum('tax')).toBe(-Math.round(price - price / 1.2));
});

test('an order that was over before a rate was on record gets its account once there is one', async () => {
  const order = await sold([{ sku, quantity: 1 }]);
  const row = (await v.work.db.ledger.get(order.id))!;
  const foreign = row.entries.map((e) => ({ ...e, currency: 'SEK', rate: null }));
  await v.work.db.ledger.put({ ...row, entries: foreign });
  await v.work.db.orders.update(order.id, { open: 0 });
  await saveRate(v.work, { currency: 'SEK', day: '2026-11-01', value: 7_500_000, origin: 'typed' });
  const { entries } = (await v.work.db.ledger.get(order.id))!;
  expect(entries.map((e) => e.rate)).toEqual(foreign.map(() => 7_500_000));
  expect(accountOf(entries, 'GBP')).not.toBeNull();
});
