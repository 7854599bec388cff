import { type Misprint, standingOf } from '@/core/orders';
import { newField, type TextField } from '@/core/personal';
import { CENTRED } from '@/core/print';
import { sitesFor } from '@/core/sourcing';
import { hashOfFile, orderRules, settingsOf } from '@/store';
import { eraseBuyers } from '@/work/order-book/erase';
import { cancelOrder, caseSeen, reportMisprint } from '@/work/orders/actions';
import { orderFile } from '@/work/orders/outside-service';
import { approveProof, proofSheet } from '@/work/orders/proofs';
import { filesOfPurchases } from '@/work/orders/purchase-prints';
import { setOrderRules } from '@/work/orders/rules';
import { advance, sendReprints, setStage } from '../stand-ins/supplier/warehouse';
import { sellPrinted, withPrinter } from './press';
import { sellOne, toSee, type Voyage } from './voyage';

const MINUTE = 60_000;
let v: Voyage;
let sku: string;
let seed = 40;
beforeEach(async () => {
  ({ v } = await withPrinter());
  const layers = [{ id: 'design', design: '*', trim: false, placement: CENTRED }];
  const fields = [newField('text', 'name', 'Name') as TextField];
  ({
    skus: [sku = ''],
  } = await sellPrinted(v, 'tea-towel', ['moon'], { front: { background: null, layers, fields } }));
});
afterEach(() => v.end());

/** An order that is approved and bought. */
async function bought(quantity = 1) {
  const order = await sellOne(v, seed++, { lines: [{ sku, quantity }], country: 'GB' });
  const line = order.lines[0]!.id;
  const { values } = (await proofSheet(v.work, order.id, line))!;
  expect(await approveProof(v.work, order.id, line, values)).toEqual({ ok: true });
  await v.settle();
  return nowOf(order.id);
}
const nowOf = async (id: string) => (await v.work.db.orders.get(id))!;
const printNear = async (minor: number) => {
  const settings = await settingsOf(v.work.db);
  await setOrderRules(v.work, { orders: { ...orderRules(settings), printNear: minor } }, 'Print near');
};
const photo = new Blob([new Uint8Array(64).fill(7)], { type: 'image/jpeg' });

test('the nearest site prints for up to so much more, else the cheapest, and the other is its backup', () => {
  const site = (id: string, country: string, extra: number, days: number) => ({
    ...{ id, name: id, country },
    reaches: [{ to: ['GB'], extra, days }],
  });
  const sites = [site('far', 'PL', 0, 9), site('near', 'GB', 120, 4), site('dear', 'GB', 700, 2)];
  const order = (upTo: number) => sitesFor(sites, 'GB', upTo, (minor) => minor).map((c) => c.site.id);
  // At home the fastest is nearest; it is passed over where it costs more than the seller allows.
  expect(order(700)).toEqual(['dear', 'far', 'near']);
  expect(order(699)).toEqual(['far', 'near', 'dear']);
  expect(sitesFor(sites, 'US', 700, (minor) => minor)).toEqual([]);
  expect(sitesFor(sites, 'GB', 700, () => null).map((c) => c.site.id)).toEqual(['far', 'near', 'dear']);
});

test('what is expected of a site is what it charges; without the blank its backup prints, and nobody has to look', async () => {
  // Counted by hand: 135 g go for 2.40, Leeds asks 1.20 more, Wrocław nothing.
  const near = await bought();
  expect(near.purchases[0]).toMatchObject({
    ...{ state: 'accepted', site: 'Leeds', stage: 'received', sites: ['leeds', 'wroclaw'] },
    expected: { goods: 600, shipping: 360 },
    charged: { goods: 600, shipping: 360 },
  });
  v.outside.printer.siteOut = { leeds: ['TL-TETO-NA', 'TL-TETO-WH'] };
  const backup = await bought();
  expect(backup.purchases[0]).toMatchObject({ site: 'Wrocław', charged: { goods: 600, shipping: 240 } });
  expect(await toSee(v.work, backup)).toBe('');
  v.outside.printer.siteOut = {};
  await printNear(50);
  const cheap = await bought();
  expect(cheap.purchases[0]).toMatchObject({
    site: 'Wrocław',
    expected: { shipping: 240 },
    charged: { shipping: 240 },
  });
});

test('until printing begins it is cancelled at no cost; then it is too late', async () => {
  const early = await bought();
  await v.settle(2 * 3_600_000);
  await cancelOrder(v.work, early.id, 'The buyer thought better of it.');
  await v.settle();
  expect((await nowOf(early.id)).purchases[0]).toMatchObject({ charged: { goods: 0, shipping: 0 } });

  const late = await bought();
  const p = v.outside.printer.purchases.at(-1)!;
  setStage(v.outside.printer, p, 'printing');
  await v.settle(20 * MINUTE);
  expect((await nowOf(late.id)).purchases[0]).toMatchObject({ stage: 'printing' });
  await cancelOrder(v.work, late.id, 'The buyer thought better of it.');
  await v.settle();
  expect(await toSee(v.work, await nowOf(late.id))).toContain('Printing of');
  expect((await nowOf(late.id)).purchases[0]).toMatchObject({ charged: { goods: 600 } });
});

test('a misprint is printed again at the maker’s cost: asked once, followed to its parcel, on record as a case', async () => {
  const order = await bought(2);
  const [p] = order.purchases;
  const line = order.lines[0]!.id;
  const report = (units: number, reason = 'The blue is green.') =>
    reportMisprint(
      v.work,
      order.id,
      { supplier: 'tinloft', reference: p!.reference, units: [{ line, units }] },
      reason,
      photo,
    );
  expect(await report(1, ' ')).toMatchObject({ ok: false });
  // What was not sent cannot have come out wrong.
  await report(1);
  expect((await nowOf(order.id)).cases).toEqual([]);

  const { printer } = v.outside;
  advance(printer, printer.purchases.at(-1)!.number, v.work.clock(), 3_600_000);
  await v.settle(20 * MINUTE);
  const spent = printer.balance;
  await report(1);
  await v.settle();
  const caseOf = async () => (await nowOf(order.id)).cases.find((c): c is Misprint => c.kind === 'misprint')!;
  expect(await caseOf()).toMatchObject({ state: 'granted', units: [{ line, units: 1 }] });
  expect(printer.purchases.at(-1)!.reprints).toHaveLength(1);
  expect((await nowOf(order.id)).open).toBe(1);
  sendReprints(printer);
  await v.settle(20 * MINUTE);
  const sent = await caseOf();
  expect(sent).toMatchObject({ state: 'sent', tracking: expect.stringMatching(/^LX\d{9}GB$/) });
  expect(await toSee(v.work, await nowOf(order.id))).toContain('sent it again');
  expect(printer.balance).toBe(spent);
  // Heard again, nothing changes; once seen it is over.
  printer.feed.push(printer.purchases.at(-1)!.number);
  await caseSeen(v.work, order.id, sent.id);
  await v.settle(20 * MINUTE);
  expect(await toSee(v.work, await nowOf(order.id))).toBe('');
  expect(standingOf(await nowOf(order.id))).toBe('told');
  // The photograph shows the buyer's words: it goes with the buyer.
  expect(await v.work.db.assets.get(sent.photo)).toBeDefined();
  await v.work.db.orders.update(order.id, { open: 0 });
  await eraseBuyers(v.work, [order.id]);
  expect(await v.work.db.assets.get(sent.photo)).toBeUndefined();
});

test('a misprint that its maker does not accept is told with its words', async () => {
  const order = await bought();
  const { printer } = v.outside;
  advance(printer, printer.purchases.at(-1)!.number, v.work.clock(), 3_600_000);
  await v.settle(20 * MINUTE);
  // The maker lost the photograph's order: it says no.
  const p = printer.purchases.at(-1)!;
  p.status = 'accepted';
  await reportMisprint(
    v.work,
    order.id,
    { supplier: 'tinloft', reference: p.reference, units: [{ line: order.lines[0]!.id, units: 1 }] },
    'Torn.',
    photo,
  );
  await v.settle();
  expect(await toSee(v.work, await nowOf(order.id))).toContain('does not print it again');
});

test('a maker by mail gets an order file with its print files beside it, as they were approved; what is not, keeps all back', async () => {
  await v.work.db.connections.update('tinloft', {
    lanes: { catalogue: 'service', purchases: 'file', tracking: 'file' },
  });
  const order = await bought(2);
  expect(order.purchases[0]).toMatchObject({ lane: 'file', state: 'waiting' });
  const written = await orderFile(v.work, 'tinloft');
  if (!written.ok) throw new Error(written.reason);
  expect(written).toMatchObject({ name: expect.stringMatching(/\.zip$/), purchases: 1 });
  const [head, row] = written.text.split('\r\n').map((r) => r.split(','));
  const file = `${order.number}-1-front.png`;
  expect([row![head!.indexOf('quantity')], row![head!.indexOf('print files')]]).toEqual(['2', file]);
  const zip = Buffer.from(await written.zip!.arrayBuffer());
  expect(zip.includes(`print-files/${file}`)).toBe(true);
  const made = (await filesOfPurchases(v.work, [{ order, purchase: order.purchases[0]! }])).values().next()
    .value!;
  expect(await hashOfFile(made[0]!.file)).toBe(order.lines[0]!.proof!.approved!.files.front);
  expect(zip.includes(Buffer.from(await made[0]!.file.arrayBuffer()))).toBe(true);
  expect((await nowOf(order.id)).purchases[0]).toMatchObject({ state: 'sent' });
  expect(await orderFile(v.work, 'tinloft')).toMatchObject({ ok: false });

  const other = await bought();
  await v.work.db.prints.clear();
  expect(await orderFile(v.work, 'tinloft')).toMatchObject({
    ok: false,
    reason: expect.stringContaining(other.number),
  });
  expect((await nowOf(other.id)).purchases[0]).toMatchObject({ state: 'waiting' });
});
