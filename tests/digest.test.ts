import { dayOf } from '@/core/units';
import { applyCells } from '@/work/editing/bulk-edit';
import { setOwnPrice } from '@/work/listings/prices';
import { alertNow, isQuiet, takeAlert } from '@/work/overview/alerts';
import { digestOf } from '@/work/overview/digest';
import { digestHtml } from '@/work/overview/digest-html';
import { saveSettings } from '@/work/pricing/settings';
import { readDays } from '@/work/readings/list-standing';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { move } from '../stand-ins/supplier/warehouse';
import { itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf'] });
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const live = async () => (await v.work.db.listings.toArray()).filter((l) => l.state === 'live');
const DAY = 86_400_000;

test('a day on one page: orders, prices as at its beginning and its end, stock, readings, what a person did', async () => {
  const before = dayOf(v.work.clock(), 'Europe/London');
  await saveSettings(v.work, { zone: 'Europe/London', shop: 'Dusk & <Dipper>' }, 'Shop');
  await v.settle(DAY);
  const day = dayOf(v.work.clock(), 'Europe/London');
  const [one, two, three] = await live();
  const first = one!.published!.price;
  await setOwnPrice(v.work, one!.id, first + 500);
  await v.settle();
  await setOwnPrice(v.work, one!.id, first + 300);
  move(v.outside.warehouse, await itemOf(v.work, two!), { stock: 0 });
  const sku = await itemOf(v.work, three!);
  move(v.outside.warehouse, sku, { cost: (await v.work.db.items.get(`brackwater:${sku}`))!.cost * 2 });
  await v.settle(16 * 60_000);
  const [four] = (await live()).filter((l) => ![one, two, three].some((o) => o!.id === l.id));
  const sale = sell(v.outside.markets.pennywharf, chance(1), v.work.clock(), {
    sku: four!.sku,
    quantity: 1,
  })!;
  await v.settle(60_000);
  const digest = await digestOf(v.work, day);
  const order = (await v.work.db.orders.get(`pennywharf:${sale.number}`))!;
  expect(digest.orders).toMatchObject({ count: 1, cancelled: 0, revenue: order.lines[0]!.unitPrice });
  // What was bought, summed from what the supplier charged.
  const [p] = v.outside.warehouse.purchases;
  expect(digest.orders).toMatchObject({
    bought: 1,
    spent: p!.goods + p!.shipping,
    shipped: 0,
    held: 0,
    late: 0,
  });
  const [market] = digest.markets;
  const moved = market!.moves.find((m) => m.listing === one!.id)!;
  expect([moved.from.price, moved.to.price]).toEqual([first, first + 300]);
  expect(market!.moves.map((m) => m.listing).sort()).toEqual([one!.id, three!.id].sort());
  expect(market!.moves.find((m) => m.listing === three!.id)!.because).toMatch(/Cost/);
  expect(market).toMatchObject({ up: 2, down: 0, out: 1, published: 0 });
  expect(digest.suppliers[0]).toMatchObject({ tally: { costUp: 1, stock: 1 } });
  expect(digest.changes.map((c) => c.name)).toEqual([
    `Own price for ${one!.sku}`,
    `Own price for ${one!.sku}`,
  ]);
  // The day before has what was published, and nothing of this one.
  const earlier = await digestOf(v.work, before);
  expect(earlier.markets[0]).toMatchObject({ published: 8, up: 0 });
  expect(earlier.orders.count).toBe(0);
});

test('as a file it fetches and runs nothing, whatever names are in it', async () => {
  const [one] = await live();
  await applyCells(v.work, [{ listing: one!.id, field: 'title', text: 'A “torch” & 3 > 2' }], 'Title');
  await saveSettings(v.work, { shop: '<script>alert(1)</script>' }, 'Shop');
  await setOwnPrice(v.work, one!.id, one!.published!.price + 100);
  await v.settle();
  const html = digestHtml(await digestOf(v.work, dayOf(v.work.clock(), 'UTC')));
  expect(html).toContain('&lt;script&gt;');
  expect(html).toContain('A “torch” &amp; 3 &gt; 2');
  expect(html).not.toMatch(/<script|<img|src=|href=|@import|url\(/i);
});

const need = (id: string) => ({ id, what: `${id} happened`, href: `/${id}` });
const RULE = { notify: 'needs', quietFrom: '20:00', quietTo: '08:00', digestAt: '18:00' } as const;
const at = (time: string) => Date.parse(`2026-11-26T${time}:00Z`);

test('what newly needs a person is told once and together, after quiet hours what came in them', () => {
  let state = alertNow(RULE, null, [need('a')], at('10:00'), 'UTC').state;
  const tell = (needs: string[], time: string) => {
    const { alert, state: next } = alertNow(RULE, state, needs.map(need), at(time), 'UTC');
    state = next;
    return alert && [alert.title, alert.href];
  };
  expect(tell(['a'], '10:01')).toBeNull();
  expect(tell(['a', 'b'], '10:02')).toEqual(['b happened', '/b']);
  expect(tell(['a', 'b'], '10:03')).toBeNull();
  expect(tell(['a', 'b', 'c'], '20:00')).toBeNull();
  expect(tell(['a', 'c', 'd'], '23:59')).toBeNull();
  expect(tell(['a', 'c', 'd'], '07:59')).toBeNull();
  expect(tell(['a', 'c', 'd'], '08:00')).toEqual(['2 things need you', '/today']);
  // b was over and is there again.
  expect(tell(['a', 'b', 'c', 'd'], '09:00')).toEqual(['b happened', '/b']);
});

test('with a digest alone it is told once a day; quiet hours may go over midnight or not', () => {
  const rule = { ...RULE, notify: 'digest' } as const;
  let state = alertNow(rule, null, [], at('10:00'), 'UTC').state;
  const tell = (time: number) => {
    const { alert, state: next } = alertNow(rule, state, [need('a')], time, 'UTC');
    state = next;
    return alert?.href ?? null;
  };
  expect([tell(at('17:59')), tell(at('18:00')), tell(at('18:01'))]).toEqual([null, '/today/digest', null]);
  expect(tell(at('18:00') + DAY)).toBe('/today/digest');
  expect(isQuiet('12:00', { quietFrom: '12:00', quietTo: '13:00' })).toBe(true);
  expect(isQuiet('13:00', { quietFrom: '12:00', quietTo: '13:00' })).toBe(false);
  expect(isQuiet('13:00', { quietFrom: '08:00', quietTo: '08:00' })).toBe(false);
});

test('of two tabs one is told', async () => {
  await saveSettings(v.work, { alerts: { ...RULE, quietFrom: '00:00', quietTo: '00:00' } }, 'Alerts');
  expect(await takeAlert(v.work, [])).toBeNull();
  const told = await Promise.all([takeAlert(v.work, [need('a')]), takeAlert(v.work, [need('a')])]);
  expect(told.filter(Boolean)).toHaveLength(1);
});

test('readings that brought something stay for the drawing of a supplier, those that brought nothing do not', async () => {
  const [one] = await live();
  const sku = await itemOf(v.work, one!);
  const cost = (await v.work.db.items.get(`brackwater:${sku}`))!.cost;
  move(v.outside.warehouse, sku, { cost: cost + 50 });
  await v.settle(16 * 60_000);
  const day = dayOf(v.work.clock(), 'UTC');
  for (let n = 0; n < 60; n++) await v.settle(16 * 60_000);
  const days = await readDays(v.work, 'brackwater', 'UTC');
  expect(days.find((d) => d.day === day)).toMatchObject({ costUp: 1, costDown: 0 });
  expect((await v.work.db.readings.toArray()).length).toBeLessThanOrEqual(54);
});
