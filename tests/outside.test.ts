import { standingOf } from '@/core/orders';
import type { Order, SupplierLanes } from '@/store';
import { orderFile, parcelOutside, placedOutside, takeTrackingFile } from '@/work/orders/outside-service';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const by = (purchases: SupplierLanes['purchases']) =>
  v.work.db.connections.update('brackwater', {
    lanes: { catalogue: 'service', purchases, tracking: purchases },
  });
const sold = async (quantity = 1): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 50), v.work.clock(), { quantity })!;
  await v.settle(61_000);
  return now(`pennywharf:${made.number}`);
};
const now = async (id: string) => (await v.work.db.orders.get(id))!;
const dispatches = () => v.outside.market.orders.flatMap((o) => o.dispatches ?? []);
const HEAD = 'reference,number,status,carrier,tracking,shipped at,goods,shipping';

async function orderFileOf(again = false) {
  const file = await orderFile(v.work, 'brackwater', again);
  if (!file.ok) throw new Error(file.reason);
  return file;
}

test('an order file holds each waiting purchase once; written again on demand, its references are the same', async () => {
  await by('file');
  const [first, second] = [await sold(), await sold(2)];
  const file = await orderFileOf();
  const rows = file.text.trim().split('\r\n');
  expect(rows).toHaveLength(1 + first.lines.length + second.lines.length);
  const listing = (await v.work.db.listings.get(`pennywharf:${first.lines[0]!.sku}`))!;
  expect(rows[1]).toContain(
    `${first.id},${first.lines[0]!.id},${await itemOf(v.work, listing)},${first.lines[0]!.quantity},`,
  );
  expect(await orderFile(v.work, 'brackwater')).toMatchObject({ ok: false });
  expect((await orderFileOf(true)).text).toBe(file.text);
  expect(v.outside.warehouse.purchases).toHaveLength(0);
});

test('a cell of a buyer that a spreadsheet would take for a formula leaves as text', async () => {
  await by('file');
  const order = await sold();
  const buyer = (await v.work.db.buyers.get(order.id))!;
  const [to] = buyer.addresses;
  await v.work.db.buyers.put({ ...buyer, addresses: [{ ...to!, name: '=HYPERLINK("x")' }] });
  expect((await orderFileOf()).text).toContain(`"'=HYPERLINK(""x"")"`);
});

test('a tracking file moves orders on, tells the marketplace once however often it comes, and bad rows stop no good one', async () => {
  await by('file');
  const [first, second] = [await sold(), await sold()];
  await orderFile(v.work, 'brackwater');
  const text = [
    HEAD,
    `${first.id},HX-1,shipped,Northpost,NP1234567890,2026-11-02T10:00:00Z,12.34,2.00`,
    `${second.id},HX-2,shipped,Northpost,NP1234567891,yesterday,12.34,2.00`,
    `${second.id},HX-2,shipped,Northpost,NP1234567891,2027-11-02T10:00:00Z,12.34,2.00`,
    `${second.id},HX-2,sent,,,,,`,
    'pennywharf:NONE,HX-3,accepted,,,,,',
    `${second.id},HX-2,accepted,,,,1.999999,2.00`,
  ].join('\n');
  const taken = await takeTrackingFile(v.work, 'brackwater', text);
  expect(taken).toMatchObject({ ok: true, moved: 1 });
  expect(taken.ok && taken.refused.map((r) => r.line)).toEqual([3, 4, 5, 6, 7]);
  await v.settle();
  expect(dispatches()).toHaveLength(1);
  expect((await now(first.id)).purchases[0]).toMatchObject({
    number: 'HX-1',
    charged: { goods: 1234, shipping: 200 },
  });
  expect(await takeTrackingFile(v.work, 'brackwater', text)).toMatchObject({ ok: true, moved: 0 });
  await v.settle();
  expect(dispatches()).toHaveLength(1);
  const entries = (await v.work.db.ledger.get(first.id))!.entries.filter((e) => e.kind === 'goods');
  expect(entries.reduce((sum, e) => sum + e.amount, 0)).toBe(-1234);
  expect(await takeTrackingFile(v.work, 'brackwater', 'a;b\n1;2')).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/reference, number, status/),
  });
});

test('by hand: the number and the charge are typed, a parcel is told, and nothing leaves by the service', async () => {
  await by('by hand');
  const order = await sold();
  const [p] = order.purchases;
  expect(p).toMatchObject({ lane: 'by hand', state: 'waiting' });
  const typed = { number: 'T-7', goods: 900, shipping: 150 };
  expect(await placedOutside(v.work, order.id, p!.reference, 'brackwater', typed)).toEqual({ ok: true });
  const parcel = { carrier: 'Northpost', tracking: 'NP1234567892' };
  expect(await parcelOutside(v.work, order.id, p!.reference, 'brackwater', parcel, null)).toEqual({
    ok: true,
  });
  await v.settle();
  expect(dispatches()).toMatchObject([{ tracking: 'NP1234567892' }]);
  expect(standingOf(await now(order.id))).toBe('told');
  expect(v.outside.warehouse.purchases).toHaveLength(0);
});
