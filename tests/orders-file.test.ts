import { standingOf } from '@/core/orders';
import { forwardOrder } from '@/work/orders/actions';
import { enterOrdersFile } from '@/work/orders/own-orders';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const HEAD =
  'order;paid at;sku;quantity;unit price;name;address line 1;town;postcode;country;personalisation;shipping;status\n';

test('orders of a file are entered once, good ones beside bad ones, and bought by a person’s word alone', async () => {
  const [one, two] = await v.work.db.listings.toArray();
  const at = new Date(v.work.clock() - 3_600_000).toISOString();
  const to = 'Ida Roe;4 Tarn Rise;Leeds;LS8 4QX;GB';
  const text = `${HEAD}T-1;${at};${one!.sku};2;19.99;${to};;2.50;
T-1;${at};${two!.sku};1;5.00;${to};For Bo;;
T-2;${at};NONE-1;1;9.99;${to};;;
T-3;${at};${one!.sku};x;9.99;${to};;;
T-4;${at};${one!.sku};1;9.99;${to};;;shipped
T-5;${at};${one!.sku};1;9.99;${to};;;`;
  const enter = () => enterOrdersFile(v.work, { kind: 'till', marketplace: 'pennywharf', text });
  const first = await enter();
  expect(first).toMatchObject({ ok: true, entered: 2, known: 0 });
  expect(first.ok && first.refused.map((r) => r.where)).toEqual(['line 5', 'order T-2', 'order T-4']);
  expect(await enter()).toMatchObject({ ok: true, entered: 0, known: 2 });
  await v.settle(61_000);
  const [order, other] = (await v.work.db.orders.toArray()).sort((a, b) => (a.number < b.number ? -1 : 1));
  expect([order!.number, other!.number]).toEqual(['OWN-T-1', 'OWN-T-5']);
  expect(order).toMatchObject({ own: 'till', shipping: 250, paidAt: Date.parse(at) });
  expect(order!.lines.map((l) => [l.sku, l.quantity, l.unitPrice])).toEqual([
    [one!.sku, 2, 1999],
    [two!.sku, 1, 500],
  ]);
  expect((await v.work.db.buyers.get(order!.id))!.texts).toEqual(['For Bo']);
  // Revenue on record is what the rows add up to.
  const ledger = (await v.work.db.ledger.get(order!.id))!.entries;
  const paid = ledger.filter((e) => e.kind === 'sale' || e.kind === 'buyer shipping').map((e) => e.amount);
  expect(paid.reduce((a, b) => a + b, 0)).toBe(2 * 1999 + 500 + 250);
  expect(v.outside.warehouse.purchases).toHaveLength(0);
  expect(standingOf(other!)).toBe('ready');
  await forwardOrder(v.work, other!.id);
  await v.settle(61_000);
  expect(v.outside.warehouse.purchases.map((p) => p.reference)).toEqual([other!.id]);
});

test('a file without the columns, or of a shop that is not there, says so and enters nothing', async () => {
  const of = (text: string, marketplace = 'pennywharf') =>
    enterOrdersFile(v.work, { kind: 'sample', marketplace, text });
  expect(await of('sku,units\nA,1')).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/lacks order/),
  });
  expect(await of(HEAD, 'nowhere')).toMatchObject({ ok: false });
  expect(await v.work.db.orders.count()).toBe(0);
});
