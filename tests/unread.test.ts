import { standingOf } from '@/core/orders';
import { readAgain, readAllAgain, setAside, unreadRows } from '@/work/orders/unread';
import { readCourse } from '@/work/overview/course';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(10);
});
afterEach(() => v.end());

const spoilt = async (seed = 3) => {
  const made = sell(v.outside.market, chance(seed), v.work.clock(), { quantity: 1, spoiled: true })!;
  await v.settle(61_000);
  return { made, id: `pennywharf:${made.number}` };
};

test('an order that cannot be read is kept as it came, told on Today, and comes in once it is put right', async () => {
  const { made, id } = await spoilt();
  const good = sell(v.outside.market, chance(9), v.work.clock(), { quantity: 1 })!;
  await v.settle(61_000);
  expect(await v.work.db.orders.get(id)).toBeUndefined();
  expect(await v.work.db.orders.get(`pennywharf:${good.number}`)).toBeDefined();
  expect(await unreadRows(v.work)).toMatchObject([
    { id, plain: made, reason: expect.stringMatching(/country/) },
  ]);
  const need = (await readCourse(v.work)).needs.find((one) => one.id === `unread:${id}`);
  expect(need).toMatchObject({
    what: expect.stringContaining(made.number),
    href: expect.stringContaining('unread'),
  });
  // Read again as it came it says the same; half put right it says what is wrong; and nothing is lost by either.
  expect(await readAgain(v.work, id)).toMatchObject({ ok: false, reason: expect.stringMatching(/country/) });
  expect(await readAgain(v.work, id, '{"number":')).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/JSON/),
  });
  const mended = { ...made, shipTo: { ...made.shipTo, country: 'GB' } };
  expect(await readAgain(v.work, id, JSON.stringify({ ...mended, number: 'PW-9' }))).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/number must stay/),
  });
  expect(await readAgain(v.work, id, JSON.stringify(mended))).toEqual({ ok: true });
  await v.settle();
  expect(standingOf((await v.work.db.orders.get(id))!)).toBe('with supplier');
  expect(v.outside.warehouse.purchases.filter((p) => p.reference === id)).toHaveLength(1);
  expect(await unreadRows(v.work)).toEqual([]);
});

test('what the marketplace mends itself is let go; what is set aside is asked about no more until it says something else', async () => {
  const first = await spoilt();
  const second = await spoilt(5);
  await setAside(v.work, second.id);
  expect((await unreadRows(v.work)).map((row) => row.id)).toEqual([first.id]);
  first.made.shipTo.country = 'GB';
  v.outside.market.feed.push(first.made.number, second.made.number);
  await v.settle(61_000);
  expect(await v.work.db.orders.get(first.id)).toBeDefined();
  expect(await unreadRows(v.work)).toEqual([]);
  expect(await readAllAgain(v.work)).toBe(0);
  second.made.shipTo.name = 'Somebody else';
  v.outside.market.feed.push(second.made.number);
  await v.settle(61_000);
  expect((await unreadRows(v.work)).map((row) => row.id)).toEqual([second.id]);
});
