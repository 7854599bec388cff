import { itemAt } from '@/core/catalogue';
import { db as _unused } from '@/store';
import { approve, publish, takeItems } from '@/work/bench';
import { standingFor } from '@/work/desk';
import { advance, move } from '../stand-ins/brackwater/warehouse';
import { sell } from '../stand-ins/pennywharf/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

void _unused;
let v: Voyage;
afterEach(() => v.end());

async function stockUp(n: number) {
  const { db } = v.work;
  const [block] = await db.blocks.toArray();
  const details = new Map((await db.details.toArray()).flatMap((b) => b.details.map((d) => [d.sku, d])));
  const items = Array.from({ length: block!.columns.length }, (_, i) => itemAt(block!.columns, i))
    .filter((i) => i.stock > 10)
    .slice(0, n);
  await takeItems(
    v.work,
    'brackwater',
    'pennywharf',
    items.map((item) => ({ item, detail: details.get(item.sku)! })),
  );
  const ids = (await db.products.toArray()).map((p) => p.id);
  await approve(v.work, ids);
  await publish(v.work, ids);
  await v.settle();
}

test('a product goes the whole way from the catalogue to tracking returned', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await stockUp(30);
  const live = await db.listings.where('state').equals('live').toArray();
  expect(live.length).toBeGreaterThan(20);
  expect(Object.keys(v.outside.market.listings)).toHaveLength(live.length);

  sell(v.outside.market, chance(3), v.work.clock());
  await v.settle(120_000);
  const [order] = await db.orders.toArray();
  expect(standingFor(order!)).toBe('with supplier');
  expect(v.outside.warehouse.purchases).toHaveLength(1);
  expect(order!.charged.goods).toBe(v.outside.warehouse.purchases[0]!.goods);

  advance(v.outside.warehouse, order!.supplierNumber!, v.work.clock(), 1000);
  await v.settle(300_000);
  expect(v.outside.market.orders[0]).toMatchObject({ status: 'shipped', dispatch: { carrier: 'rookline' } });
  await v.settle(120_000);
  const told = await db.orders.get(order!.id);
  expect(standingFor(told!)).toBe('told');
  expect(told!.charged.fee).not.toBeNull();
  expect(told!.expected!.fee).toBe(told!.charged.fee);
  expect(told!.expected!.payment).toBe(told!.charged.payment);
});

test('cost and stock moves reach the marketplace, out of stock pauses and back in stock resumes', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await stockUp(20);
  const before = (await db.listings.where('state').equals('live').first())!;
  move(v.outside.warehouse, before.item, { cost: before.facts.cost * 2 });
  await v.settle(16 * 60_000);
  const dearer = (await db.listings.get(before.id))!;
  expect(dearer.told!.price).toBeGreaterThan(before.told!.price);
  expect(v.outside.market.listings[before.sku]!.price).toBe((dearer.told!.price / 100).toFixed(2));

  move(v.outside.warehouse, before.item, { stock: 0 });
  await v.settle(16 * 60_000);
  expect(v.outside.market.listings[before.sku]).toMatchObject({ state: 'paused', quantity: 0 });
  expect((await db.listings.get(before.id))!.state).toBe('paused');

  move(v.outside.warehouse, before.item, { stock: 4 });
  await v.settle(16 * 60_000);
  expect(v.outside.market.listings[before.sku]).toMatchObject({ state: 'live', quantity: 2 });
  const history = await db.edits
    .where('[subject+at]')
    .between([`listing:${before.id}`, 0], [`listing:${before.id}`, Infinity])
    .toArray();
  expect(history.map((e) => e.says).join('\n')).toMatch(/Cost .* → .*\n.*Price .* → .* by plan “Everything”/);
});
