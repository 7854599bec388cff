import type { DemandRule } from '@/core/pricing';
import { STARTING_STOCK_RULE } from '@/core/stock';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { editsOf, lastUndoable } from '@/work/memory/history';
import { savePlans } from '@/work/pricing/plans';
import { Rehearsal } from '@/work/pricing/rehearsal';
import { historyOf } from '@/work/quoting/full-listing';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

const DAY = 86_400_000;
let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf'] });
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const here = async (id: string) => (await v.work.db.listings.get(id))!;
const live = async () => (await v.work.db.listings.toArray()).filter((l) => l.state === 'live');
const there = (sku: string) => v.outside.markets.pennywharf.listings[sku]!;
const follow = async (demand: DemandRule | null) => {
  const plan = (await v.work.db.plans.get('everything'))!;
  const exact = {
    ...plan,
    demand,
    endings: [{ upTo: null, ending: null }],
    mostOfMsrp: null,
    neverUnderMap: false,
  };
  const done = await savePlans(v.work, [exact], STARTING_STOCK_RULE);
  if (!done.ok) throw new Error(done.reason);
  await v.settle();
};
const buy = async (sku: string, n: number) => {
  for (let k = 0; k < n; k++)
    sell(v.outside.markets.pennywharf, chance(k), v.work.clock(), { sku, quantity: 1 });
  await v.settle(60_000);
};
const RAISE: DemandRule = { raise: { sales: 2, rate: 50_000, minor: 10, most: 80_000 }, lower: null };
const LOWER: DemandRule = { raise: null, lower: { days: 3, rate: 30_000, minor: 0, most: 50_000 } };

test('what sells rises step by step up to its cap, told to the marketplace, and the history says what each step earned', async () => {
  await follow(RAISE);
  const [one, other] = await live();
  const { price } = (await here(one!.id)).published!;
  const each = Math.floor(price * 0.05 + 0.5) + 10;
  await buy(one!.sku, 1);
  expect((await here(one!.id)).published!.price).toBe(price);
  await buy(one!.sku, 1);
  await v.settle();
  expect(there(one!.sku).price).toBe(((price + each) / 100).toFixed(2));
  await buy(one!.sku, 2);
  await v.settle();
  expect((await here(one!.id)).published!.price).toBe(price + Math.floor(price * 0.08 + 0.5));
  expect((await here(other!.id)).demand ?? null).toBeNull();
  const full = (await caughtUp(v.work)).get(one!.id)!;
  const told = (await editsOf(v.work, historyOf(full))).map((e) => e.says).join(' ');
  expect(told).toMatch(/1 step up: 2 units sold since .* earned \+\d+\.\d\d/);
  expect(told).toMatch(/step up, as it sells/);
  // Without the rule the price is the plan's again, and undo brings the steps back.
  await follow(null);
  expect((await here(one!.id)).published!.price).toBe(price);
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  await v.settle();
  expect((await here(one!.id)).published!.price).toBe(price + Math.floor(price * 0.08 + 0.5));
});

test('what does not sell falls after so many days each, to the floor; a sale begins the days anew', async () => {
  await follow(LOWER);
  const [one, other] = await live();
  const { price } = (await here(one!.id)).published!;
  await v.settle(3_600_001);
  const pass = async (days: number) => {
    for (let k = 0; k < days * 4; k++) await v.settle(DAY / 4);
  };
  await pass(2);
  await buy(other!.sku, 1);
  await pass(2);
  expect((await here(one!.id)).published!.price).toBe(price - Math.floor(price * 0.03 + 0.5));
  expect((await here(other!.id)).demand).toMatchObject({ steps: 0 });
  await pass(8);
  expect((await here(one!.id)).published!.price).toBe(price - Math.floor(price * 0.05 + 0.5));
  expect(await here(one!.id)).toMatchObject({ demand: { steps: -2 } });
});

test('a rehearsal makes the same steps on what was sold', async () => {
  await follow({ raise: { sales: 1, rate: 100_000, minor: 0, most: 1_000_000 }, lower: null });
  const plans = await v.work.db.plans.toArray();
  await follow(null);
  const [one] = await live();
  const { price } = (await here(one!.id)).published!;
  for (let day = 0; day < 3; day++) {
    await buy(one!.sku, 1);
    await v.settle(DAY);
  }
  const made = await Rehearsal.run(
    v.work,
    { draft: { plans, stock: STARTING_STOCK_RULE }, days: 5, fewer: 0 },
    async () => false,
  );
  const sold = made!.answer.days.flatMap((d) => made!.day(d.day));
  expect(sold.map((s) => s.prices.happened)).toEqual([price, price, price]);
  expect(sold.map((s) => s.prices.draft)).toEqual(
    [0, 1, 2].map((steps) => price + steps * Math.floor(price * 0.1 + 0.5)),
  );
});
