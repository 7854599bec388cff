import { numberOf, parcelsOf, standingOf } from '@/core/orders';
import { shippingFor } from '@/core/pricing';
import { healthOf, type Job, marketById, supplierById } from '@/store';
import { marketAdapter, supplierAdapter } from '@/work/context/adapters';
import { runRound } from '@/work/jobs/runner';
import { setOwnPrice } from '@/work/listings/prices';
import { saveRules } from '@/work/listings/rules';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { takeOrders } from '@/work/orders/intake';
import { takeSupplierNews } from '@/work/orders/supplier-news';
import { unreadRows } from '@/work/orders/unread';
import { runNow } from '@/work/schedule/schedule';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const live = async () => (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
const shownOf = (sku: string) => v.outside.market.listings[sku]!;
/** Lets the test come between a request and its answer. */
const between = (path: RegExp, then: (answer: Response) => Promise<Response>) => {
  const { reach } = v.work;
  v.work = {
    ...v.work,
    reach: async (service, at, init) => {
      const answer = await reach(service, at, init);
      return path.test(at) ? then(answer) : answer;
    },
  };
};

test('a delivery that is heard while the marketplace is told of the parcel is not lost', async () => {
  const made = sell(v.outside.market, chance(3), v.work.clock(), { quantity: 1 })!;
  await v.settle(61_000);
  const id = `pennywharf:${made.number}`;
  const [p] = (await v.work.db.orders.get(id))!.purchases;
  const brackwater = (await supplierById(v.work.db, 'brackwater'))!;
  advance(v.outside.warehouse, numberOf(p!)!, v.work.clock(), 1000);
  let heard = 0;
  between(/\/dispatch$/, async (answer) => {
    advance(v.outside.warehouse, numberOf(p!)!, v.work.clock(), 1000);
    const found = await (await supplierAdapter(v.work, brackwater)).find(p!.reference);
    heard += await takeSupplierNews(v.work, brackwater, found.ok ? found.value : [], [], null);
    return answer;
  });
  await v.settle(121_000);
  expect(heard).toBe(1);
  const order = (await v.work.db.orders.get(id))!;
  expect(
    parcelsOf(order.purchases[0]!).map((one) => [one.deliveredAt !== null, one.toldAt !== null]),
  ).toEqual([[true, true]]);
  expect(v.outside.market.orders[0]!.dispatches).toHaveLength(1);
});

test('what a reading found is followed even where the work was cut off right after it', async () => {
  const listing = await live();
  const before = listing.published!.price;
  move(v.outside.warehouse, await itemOf(v.work, listing), {
    cost: (await factsOf(v.work, listing)).cost * 2,
  });
  const { items } = v.work.db;
  const cut = jest.spyOn(items, 'bulkGet').mockImplementationOnce(() => {
    throw new Error('cut off');
  });
  await runNow(v.work, 'brackwater:catalogue');
  await expect(v.settle(1_000)).rejects.toThrow('cut off');
  cut.mockRestore();
  expect(shownOf(listing.sku).price).toBe((before / 100).toFixed(2));
  // The catalogue is as the supplier has it now: the next reading finds nothing new.
  await v.settle(11 * 60_000);
  expect(Number(shownOf(listing.sku).price) * 100).toBeGreaterThan(before);
});

test('a job that throws ends no round before the others of it have ended', async () => {
  const bad = { ...(await v.work.db.jobs.get('brackwater:catalogue'))!, id: 'brackwater:odd', task: 'odd' };
  await v.work.db.jobs.put({ ...bad, nextAt: 0, running: null } as unknown as Job);
  let letGo = () => {};
  let asked = false;
  between(/^\/v1\/orders/, (answer) => {
    asked = true;
    return new Promise((resolve) => {
      letGo = () => resolve(answer);
    });
  });
  v.tick(61_000);
  let ended = false;
  const round = runRound(v.work).catch((e: Error) => {
    ended = true;
    return e;
  });
  while (!asked) await new Promise((resolve) => setTimeout(resolve, 5));
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(ended).toBe(false);
  letGo();
  expect(await round).toBeInstanceOf(Error);
  // It comes again after a while, and stands in nobody's way till then.
  expect((await v.work.db.jobs.get('brackwater:odd'))!.nextAt).toBeGreaterThan(v.work.clock());
});

test('an offer that no answer names is given up after some tries and says so; the others go through', async () => {
  const [first, second] = await v.work.db.listings
    .filter((l) => l.state === 'live')
    .limit(2)
    .toArray();
  between(/^\/v1\/offers/, async (answer) => {
    const body = await answer.json();
    for (const [field, list] of Object.entries(body))
      if (Array.isArray(list))
        body[field] = list.filter((one: unknown) => !JSON.stringify(one).includes(first!.sku));
    return new Response(JSON.stringify(body), {
      status: answer.status,
      headers: { 'content-type': 'application/json' },
    });
  });
  for (const l of [first!, second!]) await setOwnPrice(v.work, l.id, l.published!.price + 500);
  await v.settle();
  for (let k = 0; k < 12; k++) await v.settle(20 * 60_000);
  expect(await v.work.db.outbox.filter((l) => l.state === 'waiting').count()).toBe(0);
  expect((await v.work.db.listings.get(first!.id))!.problem).toMatchObject({
    said: expect.stringMatching(/never answered/),
  });
  expect(await v.work.db.listings.get(second!.id)).toMatchObject({
    problem: null,
    published: { price: second!.published!.price + 500 },
  });
});

test('a weight that is not known is not the lightest: no price, no purchase by itself', async () => {
  expect(
    shippingFor(
      [
        { upToGrams: 500, minor: 210 },
        { upToGrams: 2000, minor: 350 },
      ],
      null,
    ),
  ).toBeNull();
  expect(shippingFor([{ upToGrams: 30_000, minor: 420 }], null)).toBe(420);
  const listing = await live();
  await v.work.db.items.update((await factsOf(v.work, listing)).id, { grams: null });
  sell(v.outside.market, chance(4), v.work.clock(), { quantity: 1, sku: listing.sku });
  await v.settle(61_000);
  const [order] = await v.work.db.orders.toArray();
  expect(standingOf(order!)).toBe('held');
  expect(order!.checks.filter((c) => !c.passed).map((c) => c.kind)).toContain('profit');
  expect(v.outside.warehouse.purchases).toHaveLength(0);
});

test.each([
  ['show none', (was: number) => ({ state: 'paused', quantity: 0, price: was })],
  ['stay', (was: number) => ({ state: 'live', price: was })],
  ['floor', () => ({ state: 'live' })],
] as const)('guards that contradict where a sale would lose: %s', async (contradiction, wanted) => {
  const all = await v.work.db.listings.filter((l) => l.state === 'live').toArray();
  const facts = await Promise.all(all.map((l) => factsOf(v.work, l)));
  const k = facts.findIndex((f) => f.msrp !== null);
  const [listing, { msrp }] = [all[k]!, facts[k]!];
  const was = listing.published!.price;
  const patient = { leap: { times: 999, meanwhile: 'keep' } } as object;
  await v.work.db.connections.update('brackwater', patient);
  await saveRules(v.work, [{ table: 'plans', id: 'everything', set: { contradiction } }], 'Contradictions');
  await v.settle();
  // The cost rises over MSRP: no price is both under the one guard and over the other.
  const cost = msrp! + 500;
  move(v.outside.warehouse, await itemOf(v.work, listing), { cost });
  await v.settle(16 * 60_000);
  const shown = shownOf(listing.sku);
  expect({ ...shown, price: Math.round(Number(shown.price) * 100) }).toMatchObject(wanted(was));
  if (contradiction === 'floor') expect(Number(shown.price) * 100).toBeGreaterThan(cost);
});

test('a rule that is taken back brings prices and quantities back', async () => {
  const before = Object.values(v.outside.market.listings).map((l) => [l.sku, l.price, l.quantity]);
  await saveRules(v.work, [{ table: 'plans', id: 'everything', set: { smallestProfit: 900 } }], 'Dearer');
  await v.settle();
  expect(Object.values(v.outside.market.listings).map((l) => [l.sku, l.price, l.quantity])).not.toEqual(
    before,
  );
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  await v.settle();
  expect(Object.values(v.outside.market.listings).map((l) => [l.sku, l.price, l.quantity])).toEqual(before);
});

test('a date that is no time spoils its own order alone, and the feed goes on behind it', async () => {
  const odd = sell(v.outside.market, chance(5), v.work.clock(), { quantity: 1 })!;
  const good = sell(v.outside.market, chance(6), v.work.clock(), { quantity: 1 })!;
  odd.paidAt = '2026-W10-1';
  await v.settle(61_000);
  const ids = async () => (await v.work.db.orders.toCollection().primaryKeys()) as string[];
  expect(await ids()).toEqual([`pennywharf:${good.number}`]);
  expect(await unreadRows(v.work)).toMatchObject([{ reason: expect.stringMatching(/^paidAt/) }]);
  const later = sell(v.outside.market, chance(7), v.work.clock(), { quantity: 1 })!;
  await v.settle(61_000);
  expect(await ids()).toContain(`pennywharf:${later.number}`);
});

test('a sale that comes in while an offer is on its way is not forgotten: no more are shown than are left', async () => {
  const listing = await live();
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 5 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: v.work.clock() });
  await v.settle();
  expect(shownOf(listing.sku).quantity).toBe(3);
  for (const job of await v.work.db.jobs.toArray())
    await v.work.db.jobs.update(job.id, { nextAt: v.work.clock() + 3_600_000 });
  const { reach } = v.work;
  let once = true;
  v.work = {
    ...v.work,
    reach: async (service, path, init) => {
      if (path === '/v1/offers' && once) {
        once = false;
        const c = (await marketById(v.work.db, 'pennywharf'))!;
        sell(v.outside.market, chance(21), v.work.clock(), { sku: listing.sku, quantity: 1 });
        const { cursor } = await healthOf(v.work.db, c.id);
        const page = await (await marketAdapter({ ...v.work, reach }, c)).orders(cursor);
        if (page.ok) await takeOrders(v.work, c, page.value);
      }
      return reach(service, path, init);
    },
  };
  await setOwnPrice(v.work, listing.id, listing.published!.price + 100);
  await v.settle();
  expect(once).toBe(false);
  expect(shownOf(listing.sku).quantity).toBe(2);
});
