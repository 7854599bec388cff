import { accountOf } from '@/core/ledger';
import { chargeOf, numberOf, standingOf } from '@/core/orders';
import { healthOf } from '@/store';
import { saveRules } from '@/work/listings/rules';
import { undo } from '@/work/listings/undo';
import { editsOf, lastUndoable } from '@/work/memory/history';
import { actualOf } from '@/work/orders/accounts';
import { releaseOrder } from '@/work/orders/actions';
import { runNow } from '@/work/schedule/schedule';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, toSee, type Voyage } from './voyage';

let v: Voyage;
afterEach(() => v.end());

test('a product goes the whole way from the catalogue to tracking returned', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(30);
  const live = await db.listings.filter((l) => l.state === 'live').toArray();
  expect(live.length).toBeGreaterThan(20);
  expect(Object.keys(v.outside.market.listings)).toHaveLength(live.length);

  sell(v.outside.market, chance(3), v.work.clock());
  await v.settle(120_000);
  const [order] = await db.orders.toArray();
  expect(standingOf(order!)).toBe('with supplier');
  expect(v.outside.warehouse.purchases).toHaveLength(1);
  const [purchase] = order!.purchases;
  expect(chargeOf(purchase!)!.goods).toBe(v.outside.warehouse.purchases[0]!.goods);

  // Goods of two places go in two parcels.
  for (let k = 0; k < 2 && v.outside.warehouse.purchases[0]!.status !== 'shipped'; k++)
    advance(v.outside.warehouse, numberOf(purchase!)!, v.work.clock(), 1000);
  await v.settle(300_000);
  expect(v.outside.market.orders[0]).toMatchObject({
    status: 'shipped',
    dispatches: [{ carrier: 'rookline' }, { carrier: 'fenpost' }],
  });
  await v.settle(120_000);
  const told = await db.orders.get(order!.id);
  expect(standingOf(told!)).toBe('told');
  const ledger = await db.ledger.get(order!.id);
  // What was expected to the penny is what both sides charged.
  expect(actualOf(told!, ledger, 'GBP')).toEqual(accountOf(told!.expected!, 'GBP'));
});

test('cost and stock moves reach the marketplace, out of stock pauses and back in stock resumes', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(20);
  const before = (await db.listings.filter((l) => l.state === 'live').first())!;
  const item = await itemOf(v.work, before);
  move(v.outside.warehouse, item, { cost: (await factsOf(v.work, before)).cost * 2 });
  await v.settle(16 * 60_000);
  const dearer = (await db.listings.get(before.id))!;
  expect(dearer.published!.price).toBeGreaterThan(before.published!.price);
  expect(v.outside.market.listings[before.sku]!.price).toBe((dearer.published!.price / 100).toFixed(2));

  move(v.outside.warehouse, item, { stock: 0 });
  await v.settle(16 * 60_000);
  expect(v.outside.market.listings[before.sku]).toMatchObject({ state: 'paused', quantity: 0 });
  expect((await db.listings.get(before.id))!.state).toBe('paused');

  move(v.outside.warehouse, item, { stock: 4 });
  await v.settle(16 * 60_000);
  expect(v.outside.market.listings[before.sku]).toMatchObject({ state: 'live', quantity: 2 });
  const says = async (subject: string) => (await editsOf(v.work, [subject])).map((e) => e.says).join('\n');
  expect(await says(`listing:${before.id}`)).toMatch(/Cost .* → .* Price .* → .* by plan “Everything”/);
  expect(await says(`item:brackwater:${item}`)).toMatch(/Cost .* → /);
});

test('an order at a loss is held, says so, and goes only when a person lets it', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(10);
  const listing = (await db.listings.filter((l) => l.state === 'live').first())!;
  sell(v.outside.market, chance(3), v.work.clock(), { sku: listing.sku, quantity: 1 });
  move(v.outside.warehouse, await itemOf(v.work, listing), { cost: listing.published!.price });
  await runNow(v.work, 'brackwater:catalogue');
  await db.jobs.update('pennywharf:orders', { nextAt: v.work.clock() + 60_000 });
  await v.settle();
  await v.settle(61_000);
  const held = (await db.orders.toCollection().first())!;
  expect(held.checks.filter((c) => !c.passed).map((c) => c.kind)).toEqual(['profit']);
  expect(accountOf(held.expected!, 'GBP')!.profit).toBeLessThan(0);
  await v.settle(3_600_000);
  expect(v.outside.warehouse.purchases).toHaveLength(0);
  expect(await releaseOrder(v.work, held.id, ['profit'], true)).toEqual({ ok: true });
  await v.settle();
  expect(v.outside.warehouse.purchases).toHaveLength(1);
});

test('two orders for the last piece that is known too late: the second is refused by the supplier, held, and goes when there is stock again', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(10);
  const listing = (await db.listings.filter((l) => l.state === 'live').first())!;
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 1 });
  sell(v.outside.market, chance(3), v.work.clock(), { sku: listing.sku, quantity: 1 });
  sell(v.outside.market, chance(4), v.work.clock(), { sku: listing.sku, quantity: 1 });
  await v.settle(61_000);
  const refused = (await db.orders.toArray()).find((o) => o.cases.length > 0)!;
  expect(await toSee(v.work, refused)).toMatch(/We have 0/);
  expect(v.outside.warehouse.purchases).toHaveLength(1);
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 30 });
  await v.settle(16 * 60_000);
  expect(await releaseOrder(v.work, refused.id, [], true)).toEqual({ ok: true });
  await v.settle();
  expect(v.outside.warehouse.purchases).toHaveLength(2);
});

test('undo brings a plan and the prices it moved back, and a taken item leaves the Bench', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(12);
  const before = new Map((await db.listings.toArray()).map((l) => [l.id, l.published?.price]));
  const told = await saveRules(
    v.work,
    [
      {
        table: 'plans',
        id: 'everything',
        set: { bands: [{ upTo: null, target: { kind: 'margin', rate: 320_000 }, flat: 0 }] },
      },
    ],
    'Dearer',
  );
  expect(told).toBeGreaterThan(5);
  await v.settle();
  expect(
    (await db.listings.toArray()).filter((l) => (l.published?.price ?? 0) > (before.get(l.id) ?? 0)).length,
  ).toBe(told);
  const undone = await undo(v.work, (await lastUndoable(db))!.id);
  expect(undone).toMatchObject({ ok: true, kept: 0 });
  await v.settle();
  expect(new Map((await db.listings.toArray()).map((l) => [l.id, l.published?.price]))).toEqual(before);
  expect((await db.plans.get('everything'))!.bands[0]!.target).toEqual({ kind: 'margin', rate: 200_000 });
});

test('an outage opens the circuit, says so, loses nothing and heals; wrong credentials wait for a person', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(10);
  v.outside.faults.brackwater.set({ outage: true });
  sell(v.outside.market, chance(3), v.work.clock());
  for (let i = 0; i < 8; i++) await v.settle(20_000);
  const ill = await healthOf(db, 'brackwater');
  expect(ill.trouble).toMatchObject({ kind: 'outage' });
  expect(ill.openUntil).not.toBeNull();
  expect((await healthOf(db, 'pennywharf')).trouble).toBeNull();
  v.outside.faults.brackwater.set({ outage: false });
  await v.settle(600_000);
  expect((await healthOf(db, 'brackwater')).trouble).toBeNull();
  expect(v.outside.warehouse.purchases).toHaveLength(1);

  v.outside.market.tokens = [];
  await v.settle(120_000);
  expect((await healthOf(db, 'pennywharf')).trouble).toMatchObject({ kind: 'credentials' });
  const failures = (await healthOf(db, 'pennywharf')).failures;
  await v.settle(600_000);
  expect((await healthOf(db, 'pennywharf')).failures).toBe(failures);
});

test('orders come in once although pages repeat and come late', async () => {
  v = await setOut();
  const { db } = v.work;
  await v.settle();
  await v.stockUp(20);
  v.outside.faults.pennywharf.set({ duplicate: true, late: 2 });
  for (let i = 0; i < 12; i++) sell(v.outside.market, chance(i + 10), v.work.clock());
  for (let i = 0; i < 6; i++) await v.settle(61_000);
  const made = v.outside.market.orders.length;
  expect(await db.orders.count()).toBe(made);
  expect(v.outside.warehouse.purchases.map((p) => p.reference).sort()).toEqual(
    [...new Set(v.outside.warehouse.purchases.map((p) => p.reference))].sort(),
  );
});
