import type { Going } from '@/core/forwarding';
import { parcelsOf, standingOf } from '@/core/orders';
import { type Order, settingsOf } from '@/store';
import { tellParcelsNow } from '@/work/orders/actions';
import { readMails } from '@/work/orders/mails';
import { setOrderRules } from '@/work/orders/rules';
import { readCourse } from '@/work/overview/course';
import { saveSettings } from '@/work/pricing/settings';
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
const told = (order: Order) =>
  v.outside.market.orders.find((o) => o.number === order.number)!.dispatches?.length ?? 0;
/** An order whose parcel has left. */
async function shipped(): Promise<Order> {
  const order = await sellOne(v, ++n + 700);
  advance(v.outside.warehouse, v.outside.warehouse.purchases.at(-1)!.number, v.work.clock(), 48 * HOUR);
  await v.settle(20 * 60_000);
  return now(order);
}
const tell = (telling: Going) => setOrderRules(v.work, { telling }, 'Telling');

test('marketplaces are told of parcels at set hours, once each, or sooner by a person’s word', async () => {
  // It is Monday, nine o'clock in London.
  await tell({ kind: 'hours', zone: 'Europe/London', days: [1, 2, 3, 4, 5], times: ['16:00'] });
  const [first, second] = [await shipped(), await shipped()];
  expect([standingOf(first), told(first), told(second)]).toEqual(['shipped', 0, 0]);
  expect(await tellParcelsNow(v.work, [first.id])).toBe(1);
  await v.settle(61_000);
  expect([told(first), told(second)]).toEqual([1, 0]);
  expect(await tellParcelsNow(v.work, [first.id])).toBe(0);
  await v.settle(8 * HOUR);
  await v.settle(61_000);
  expect([told(first), told(second)]).toEqual([1, 1]);
  expect(parcelsOf((await now(second)).purchases[0]!)[0]!.toldAt).not.toBeNull();
});

test('told by a person’s word alone, parcels wait as long as it takes, and Today says how many', async () => {
  await tell({ kind: 'by hand' });
  const order = await shipped();
  await v.settle(30 * HOUR);
  expect(told(order)).toBe(0);
  const { needs } = await readCourse(v.work);
  expect(needs.find((need) => need.id === 'parcels')?.what).toBe('1 parcel waits for your word');
  await tellParcelsNow(v.work, [order.id]);
  await v.settle(61_000);
  expect(told(order)).toBe(1);
  expect((await readCourse(v.work)).needs.some((need) => need.id === 'parcels')).toBe(false);
});

test('shapes of numbers are looked at before they are kept; one that fits anything is not', async () => {
  const save = (shape: string) =>
    saveSettings(v.work, { shapes: [{ carrier: 'Moor Riders', shape }] }, 'Shapes');
  expect(await save('(.*)+')).toMatchObject({ ok: false });
  expect((await settingsOf(v.work.db)).shapes).toBeUndefined();
  expect(await save('MR-####-@@')).toEqual({ ok: true });
  expect((await settingsOf(v.work.db)).shapes).toHaveLength(1);
  expect(await readMails(v.work, ['Nothing of ours: MR-1234-AB'], [''])).toHaveLength(1);
});
