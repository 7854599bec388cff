import { readItems } from '@/core/catalogue';
import { profitAt } from '@/core/pricing';
import { problemsOf } from '@/core/query';
import { connectionById, marketById } from '@/store';
import { saveSearch } from '@/work/catalogue/watch';
import { saveKeptOff, saveSupplierCosts } from '@/work/connections/connection-terms';
import { savePresets } from '@/work/editing/presets';
import { setOwnPrice, takeLeaps } from '@/work/listings/prices';
import { saveRules } from '@/work/listings/rules';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { FLAG } from '@/work/memory/columns';
import { lastUndoable } from '@/work/memory/history';
import { ListingList } from '@/work/memory/listing-list';
import type { Listing } from '@/work/model';
import { readCourse } from '@/work/overview/course';
import { goodsCaught } from '@/work/pricing/goods-caught';
import { savePlans } from '@/work/pricing/plans';
import { whatIfTerms } from '@/work/pricing/what-if';
import { GOODS, readGoods } from '@/work/quoting/goods';
import { ownPriceAsks } from '@/work/quoting/own-price';
import { quoteListing } from '@/work/quoting/quote';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240 });
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const HOUR = 3_600_000;
const live = async () =>
  (await v.work.db.listings.toArray()).filter((l) => l.state === 'live' || l.state === 'paused');
const again = async (l: Listing) => (await v.work.db.listings.get(l.id))!;
const there = (sku: string) => v.outside.markets.pennywharf.listings[sku]!;
const assortment = () => caughtUp(v.work);

const MISREAD = [
  'brnd:Fellmoor',
  'cost:>abc',
  'cost:20..5',
  'cost>20',
  'brand:"',
  'brand:"Fell',
  'torch &',
  '-cost:',
];

test('a line over goods that is not wholly understood catches nothing, and nothing is saved with it', async () => {
  const plan = (await v.work.db.plans.get('everything'))!;
  const market = (await marketById(v.work.db, 'pennywharf'))!;
  const { stock } = (await assortment()).shop.settings;
  const before = await live();
  for (const line of MISREAD.filter((l) => l !== 'torch &')) {
    const meant = readGoods(line);
    expect([line, problemsOf(meant, GOODS).length]).toEqual([line, 1]);
    expect(goodsCaught(await assortment(), meant, null).listings).toBe(0);
    const dear = { ...plan, id: 'dear', name: 'Dear', filter: meant };
    expect(await savePlans(v.work, [dear, plan], stock)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('is not understood'),
    });
    const preset = { id: 'p', name: 'P', on: true, filter: meant, category: null, fills: {} };
    expect(await savePresets(v.work, market.id, [preset], 'Presets')).toMatchObject({ ok: false });
    await expect(saveKeptOff(v.work, market.id, [meant])).rejects.toThrow(/is not understood/);
    const search = { name: 'S', query: readItems(line), sort: '', market: null, watch: 'take' } as const;
    expect(await saveSearch(v.work, search, new Int32Array())).toMatchObject({ ok: false });
  }
  expect(problemsOf(readGoods('&'), GOODS)).toHaveLength(1);
  expect(problemsOf(readGoods('torch cost:5..20 -brand:"Otter & Co"'), GOODS)).toEqual([]);
  expect(await live()).toEqual(before);
});

test('an act on the matches of a search that is not understood does nothing, and says why', async () => {
  const list = new ListingList(await assortment());
  for (const query of ['brnd:x', 'cost>20 price>3', 'stock:many'])
    if (list.search({ query, sort: 'sku', descending: false, offset: 0, limit: 1 }, 0).problems.length)
      expect(() => list.meant({ query }, 0)).toThrow(/Mend the search first/);
  expect(() => list.meant({ query: 'brnd:x' }, 0)).toThrow();
  expect(list.meant({ query: '' }, 0)).toHaveLength(6);
});

test('a cost that leaps waits with the old price kept, is bought at the true one, and is taken with one step for all', async () => {
  const [one, two, three] = (await live()) as [Listing, Listing, Listing];
  const costs = await Promise.all([one, two, three].map(async (l) => (await factsOf(v.work, l)).cost));
  move(v.outside.warehouse, await itemOf(v.work, one), { cost: costs[0]! * 4 });
  move(v.outside.warehouse, await itemOf(v.work, two), { cost: Math.floor(costs[1]! / 4) });
  move(v.outside.warehouse, await itemOf(v.work, three), { cost: costs[2]! * 2 });
  await v.settle(HOUR);
  expect(await factsOf(v.work, one)).toMatchObject({ cost: costs[0], leap: { cost: costs[0]! * 4 } });
  for (const l of [one, two]) expect((await again(l)).published).toMatchObject({ price: l.published!.price });
  expect((await again(three)).published!.price).toBeGreaterThan(three.published!.price);
  const need = (await readCourse(v.work)).needs.find((n) => n.id === 'leaps');
  expect(need?.what).toBe('2 costs leapt and wait for you');
  // An order meanwhile is held: at the true cost it loses.
  sell(v.outside.market, chance(3), v.work.clock(), { quantity: 1, sku: one.sku });
  await v.settle(5 * 60_000);
  const [order] = await v.work.db.orders.toArray();
  expect(order!.checks.find((c) => c.kind === 'profit')?.passed).toBe(false);
  expect(v.outside.warehouse.purchases).toHaveLength(0);

  expect(await takeLeaps(v.work, [one.id, two.id, three.id])).toBe(2);
  await v.settle(1_000);
  expect(await factsOf(v.work, one)).toMatchObject({ cost: costs[0]! * 4, leap: null });
  expect((await again(two)).published!.price).toBeLessThan(two.published!.price);
  v.tick(1_000);
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(await factsOf(v.work, two)).toMatchObject({
    cost: costs[1],
    leap: { cost: Math.floor(costs[1]! / 4) },
  });
  // Back within reach it is no question any more.
  move(v.outside.warehouse, await itemOf(v.work, one), { cost: costs[0]! + 1 });
  await v.settle(HOUR);
  expect(await factsOf(v.work, one)).toMatchObject({ cost: costs[0]! + 1, leap: null });
});

test('a supplier of which none is to be shown while a cost waits shows none', async () => {
  const [one] = (await live()) as [Listing];
  const { costs } = (await connectionById(v.work.db, 'brackwater')) as { costs?: never };
  await saveSupplierCosts(v.work, 'brackwater', costs ?? (NO_COSTS as never), {
    times: 2,
    meanwhile: 'show none',
  });
  move(v.outside.warehouse, await itemOf(v.work, one), { cost: (await factsOf(v.work, one)).cost * 2 + 1 });
  await v.settle(HOUR);
  expect(there(one.sku)).toMatchObject({ quantity: 0 });
  // What is derived follows the rule, and is not what it was before the rule was another.
  const moves = async () => {
    const all = await assortment();
    return (all.columns.flags[all.placeOf(one.id)]! & FLAG.moves) !== 0;
  };
  expect(await moves()).toBe(false);
  await saveSupplierCosts(v.work, 'brackwater', costs ?? (NO_COSTS as never), {
    times: 2,
    meanwhile: 'keep',
  });
  expect(await moves()).toBe(true);
  await takeLeaps(v.work, [one.id]);
  await v.settle(1_000);
  expect(there(one.sku).quantity).toBeGreaterThan(0);
});

const NO_COSTS = {
  ...{ zones: [], imports: [], discounts: [], itemPrices: {}, extraItem: null, volumetric: null },
  handling: { order: 0, item: 0 },
  paying: { rate: 0, fixed: 0 },
  cashback: { rate: 0, counted: false },
};

test('an own price that loses is asked about; agreed to it stays until costs get worse, then none are shown', async () => {
  const [one] = (await live()) as [Listing];
  const full = async () => (await assortment()).get(one.id)!;
  const quote = quoteListing(await full(), (await assortment()).shop)!;
  const low = quote.breakEven! - 100;
  const { shop } = await assortment();
  expect(ownPriceAsks(await full(), shop, low)).toMatch(/each sale loses/);
  expect(ownPriceAsks(await full(), shop, quote.breakEven! + 1)).toMatch(/under the smallest profit/);
  expect(ownPriceAsks(await full(), shop, quote.price! + 100)).toBeNull();
  expect(ownPriceAsks(await full(), shop, quote.price! * 10)).toMatch(/MSRP|far from/);
  // Not agreed to: what is on sale stays as it was, and says so.
  await setOwnPrice(v.work, one.id, low);
  await v.settle(1_000);
  expect([(await again(one)).problem, there(one.sku).price]).toEqual([
    expect.objectContaining({ why: 'own price', breaks: expect.objectContaining({ guard: 'cost' }) }),
    (one.published!.price / 100).toFixed(2),
  ]);
  await setOwnPrice(v.work, one.id, low, true);
  await v.settle(1_000);
  expect([(await again(one)).problem, there(one.sku).price]).toEqual([null, (low / 100).toFixed(2)]);
  const cost = (await factsOf(v.work, one)).cost;
  move(v.outside.warehouse, await itemOf(v.work, one), { cost: cost + 50 });
  await v.settle(HOUR);
  expect((await again(one)).problem).toMatchObject({ why: 'own price', breaks: { guard: 'cost' } });
  expect(there(one.sku)).toMatchObject({ quantity: 0 });
  move(v.outside.warehouse, await itemOf(v.work, one), { cost });
  await v.settle(HOUR);
  expect((await again(one)).problem).toBeNull();
  expect(there(one.sku).quantity).toBeGreaterThan(0);
});

test('a price that breaks MSRP by now is not shown on, although a sale would earn', async () => {
  const all = await live();
  const facts = await Promise.all(all.map((l) => factsOf(v.work, l)));
  const k = facts.findIndex((f) => f.msrp !== null);
  const [one, { id }] = [all[k]!, facts[k]!];
  const q = quoteListing((await assortment()).get(one.id)!, (await assortment()).shop)!;
  expect(profitAt(one.published!.price, q.sum!.landed, q.deductions!)).toBeGreaterThan(0);
  // The supplier's MSRP falls under what the plan's smallest profit allows.
  const item = v.outside.warehouse;
  await saveRules(v.work, [{ table: 'items', id, set: { msrp: facts[k]!.cost } }], 'MSRP falls');
  await v.settle(1_000);
  expect((await again(one)).problem).toMatchObject({ why: 'guards', ceilingBy: 'msrp' });
  expect(there(one.sku).quantity).toBe(0);
  expect(item.purchases).toHaveLength(0);
});

test('a rate and a cushion are looked ahead at as they would be: the prices said before are those after', async () => {
  const ahead = await whatIfTerms(v.work, { settings: { costTax: 200_000 } });
  expect(ahead.rise).toBeGreaterThan(0);
  const told = new Map(ahead.prospects.map((p) => [p.id, p.to]));
  await saveRules(v.work, [{ table: 'settings', id: 'shop', set: { costTax: 200_000 } }], 'Tax');
  await v.settle(1_000);
  for (const l of await live()) expect(l.published!.price).toBe(told.get(l.id) ?? l.published!.price);
});
