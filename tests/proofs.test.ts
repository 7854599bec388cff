import { isApproved, standingOf } from '@/core/orders';
import { type DateField, newField, type PictureField, type TextField } from '@/core/personal';
import { CENTRED } from '@/core/print';
import type { Order } from '@/store';
import { undo } from '@/work/listings/undo';
import { eraseBuyers } from '@/work/order-book/erase';
import { releaseOrder } from '@/work/orders/actions';
import {
  approveProof,
  askBuyer,
  correctProof,
  proofAsNow,
  proofSheet,
  setPersonal,
  waitingProofs,
} from '@/work/orders/proofs';
import { addDesigns } from '@/work/print/designs';
import { swapDesign } from '@/work/print/swap';
import { sell, touch } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { designFile, type paper, sellPrinted, withPrinter } from './press';
import type { Voyage } from './voyage';

const NAME: TextField = { ...(newField('text', 'name', 'Name') as TextField), most: 14 };
const DATE: DateField = { ...(newField('date', 'date', 'Date') as DateField), required: false };
const PICTURE: PictureField = { ...(newField('picture', 'pic', 'Picture') as PictureField), required: false };

let v: Voyage;
let draw: ReturnType<typeof paper>;
let sku: string;
let seed = 7;
let moon: string;
beforeEach(async () => {
  ({ v, draw } = await withPrinter());
  const made = await sellPrinted(v, 'tea-towel', ['moon'], {
    front: {
      background: null,
      layers: [{ id: 'design', design: '*', trim: false, placement: CENTRED }],
      fields: [NAME, DATE, PICTURE],
    },
  });
  sku = made.skus[0]!;
  moon = made.designs[0]!;
});
afterEach(() => v.end());

/** An order of the goods with a buyer's words. */
async function sold(words: object, quantity = 1, more: object = {}): Promise<Order> {
  const made = sell(v.outside.market, chance(seed++), v.work.clock(), {
    ...more,
    lines: [{ sku, quantity, ...words }],
  })!;
  await v.settle(61_000);
  return (await v.work.db.orders.get(`pennywharf:${made.number}`))!;
}
const fields = (values: Record<string, string>) => ({
  fields: Object.entries(values).map(([name, value]) => ({ name, value })),
});
const nowOf = async ({ id }: Order) => (await v.work.db.orders.get(id))!;
const sheetOf = async (order: Order) => (await proofSheet(v.work, order.id, order.lines[0]!.id))!;
const approve = async (order: Order) =>
  approveProof(v.work, order.id, order.lines[0]!.id, (await sheetOf(order)).values);

test('what the listing asks for is told to the marketplace, and what buyers answer is read into the fields', async () => {
  expect(v.outside.market.listings[sku]!.asks).toEqual([
    { name: 'Name', kind: 'text', required: true, longest: 14 },
    { name: 'Date', kind: 'date', required: false },
    { name: 'Picture', kind: 'picture', required: false },
  ]);
  const order = await sold(fields({ Name: 'Ida & Bo', Date: '21 June 2026' }));
  expect(await sheetOf(order)).toMatchObject({
    values: { name: 'Ida & Bo', date: '21 June 2026' },
    problems: [],
  });
});

test('nothing goes before its proof is approved, whatever is released; then it goes as it was approved, once', async () => {
  const order = await sold(fields({ Name: 'Ida' }), 2);
  expect(standingOf(order)).toBe('held');
  await releaseOrder(v.work, order.id, ['personalised', 'proof', 'profit'], true);
  await v.work.db.settings.update('shop', { forward: 'at once' });
  await v.settle();
  expect(v.outside.printer.purchases).toEqual([]);
  expect(await waitingProofs(v.work)).toMatchObject([{ order: order.id, units: 2 }]);

  expect(await approve(order)).toEqual({ ok: true });
  await v.settle();
  expect(await waitingProofs(v.work)).toEqual([]);
  const [bought] = v.outside.printer.purchases;
  const line = (await nowOf(order)).lines[0]!;
  expect(bought!.lines).toMatchObject([{ quantity: 2 }]);
  expect(Object.keys(v.outside.printer.files!)).toEqual([line.proof!.approved!.files.front]);
  // The charge for one piece of its own, counted by hand: (blank 5.40 + 0.60) × 2.
  const charged = (await nowOf(order)).purchases[0]!;
  expect(charged.expected.goods).toBe(2 * (540 + 60));
  expect(charged).toMatchObject({ charged: { goods: 1200 } });
  const keys = draw.drawn.at(-1)!.layers.map((l) => l.key);
  expect(keys).toHaveLength(2);
  expect(keys[1]).toMatch(/^<svg.*<path d="M/);
});

test('a corrected word is a new proof, what came stays on record, and an approval can be taken back', async () => {
  const order = await sold(fields({ Name: 'Ida 🚀' }));
  expect((await sheetOf(order)).problems).toMatchObject([{ kind: 'lacking', letters: ['🚀'] }]);
  expect(await approve(order)).toMatchObject({ ok: false, reason: expect.stringContaining('has no “🚀”') });
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  const line = order.lines[0]!.id;
  await correctProof(v.work, order.id, line, { name: 'Ida' });
  expect(await sheetOf(order)).toMatchObject({
    came: 'Name: Ida 🚀',
    values: { name: 'Ida' },
    corrected: true,
  });
  await approve(order);
  expect(isApproved((await nowOf(order)).lines[0]!)).toBe(true);
  expect(standingOf(await nowOf(order))).toBe('ready');

  await correctProof(v.work, order.id, line, { name: 'Idah' });
  expect(standingOf(await nowOf(order))).toBe('held');
  await approve(order);
  const change = (await v.work.db.changes.toArray()).at(-1)!;
  expect(change.name).toContain('Approve the proof');
  await undo(v.work, change.id);
  expect(isApproved((await nowOf(order)).lines[0]!)).toBe(false);
  expect((await nowOf(order)).checks.find((c) => c.kind === 'proof')?.passed).not.toBe(true);
});

test('an order of any age is made as it was shown; a swapped design reaches it by a word alone', async () => {
  const order = await sold(fields({ Name: 'Ida' }));
  const [from, to] = [moon, (await addDesigns(v.work, [designFile('comet')], '')).added[0]!];
  await swapDesign(v.work, from, to);
  await v.settle();
  const sheet = await sheetOf(order);
  expect(sheet.print).toBe(order.lines[0]!.print);
  expect(sheet.now).not.toBeNull();
  await approve(order);
  await v.settle();
  expect(draw.drawn.at(-1)!.layers[0]!.key).toBe(from);

  const next = await sold(fields({ Name: 'Bo' }));
  await swapDesign(v.work, to, from);
  await v.settle();
  await proofAsNow(v.work, next.id, next.lines[0]!.id, (await sheetOf(next)).now!);
  await approve(next);
  await v.settle();
  expect(draw.drawn.at(-1)!.layers[0]!.key).toBe(from);
  expect(v.outside.printer.purchases).toHaveLength(2);
});

test('the buyer is asked by the marketplace, once; the answer is a new proof; after it is bought it is said', async () => {
  const order = await sold({ fields: [], personalisation: 'could it say Grandpa Joe, please?' });
  expect((await sheetOf(order)).problems).toMatchObject([{ kind: 'long' }]);
  const line = order.lines[0]!.id;
  expect(await askBuyer(v.work, order.id, line, 'How should it read?')).toEqual({ ok: true });
  expect(await askBuyer(v.work, order.id, line, 'How should it read?')).toMatchObject({ ok: false });
  await v.settle();
  expect(v.outside.market.messages).toEqual([{ number: order.number, text: 'How should it read?' }]);
  expect((await waitingProofs(v.work))[0]!.askedAt).not.toBeNull();

  const answer = async (text: string) => {
    const of = v.outside.market.orders.find((o) => o.number === order.number)!;
    touch(v.outside.market, of, {
      lines: of.lines.map((l) => ({ ...l, fields: undefined, personalisation: text })),
    });
    await v.settle(61_000);
  };
  await answer('Grandpa Joe');
  expect(await sheetOf(order)).toMatchObject({
    values: { name: 'Grandpa Joe' },
    problems: [],
    askedAt: null,
  });
  await approve(order);
  await v.settle();
  expect(v.outside.printer.purchases).toHaveLength(1);
  await answer('Grandma Flo');
  expect((await nowOf(order)).cases).toMatchObject([
    { kind: 'note', says: expect.stringContaining('other words') },
  ]);
  expect(v.outside.printer.purchases).toHaveLength(1);
});

test('one free text is read by the site’s pattern; what could not be read is marked; the note is read where nothing else is', async () => {
  const order = await sold({ fields: [], personalisation: 'Hello, for Ida, on 3/4/2026. Thanks' });
  await setPersonal(v.work, { patterns: { pennywharf: 'for {Name}, on {Date}.' }, forbidden: ['Ida'] });
  expect(await sheetOf(order)).toMatchObject({
    values: { name: 'Ida', date: '3/4/2026' },
    problems: [{ kind: 'forbidden' }, { kind: 'which day' }, { kind: 'left', text: 'Hello,\nThanks' }],
  });
  const noted = await sold({ fields: [] }, 1, { note: 'for Bo, on 2 May 2026.' });
  expect(await sheetOf(noted)).toMatchObject({ values: { name: 'Bo', date: '2 May 2026' }, came: '' });
});

test('a buyer’s picture is fetched once, drawn, and goes with the buyer; hash and placement stay', async () => {
  const order = await sold({
    ...fields({ Name: 'Ida' }),
    files: [{ name: 'Picture', file: '/v1/files/sea.png' }],
  });
  const sheet = await sheetOf(order);
  expect(sheet.values.pic).toMatch(/^[0-9a-f]{64}@\d+x\d+$/);
  const id = sheet.values.pic!.slice(0, 64);
  expect((await v.work.db.assets.get(id))?.kind).toBe('buyer');
  await approve(order);
  await v.settle();
  expect(draw.drawn.at(-1)!.layers.map((l) => l.key)).toContain(id);
  await v.work.db.orders.update(order.id, { open: 0 });
  expect(await eraseBuyers(v.work, [order.id])).toMatchObject({ erased: 1 });
  expect(await v.work.db.assets.get(id)).toBeUndefined();
  const buyer = (await v.work.db.buyers.get(order.id))!;
  expect(JSON.stringify(buyer)).not.toContain('Ida');
  expect((await nowOf(order)).lines[0]!.proof!.approved!.files.front).toMatch(/^[0-9a-f]{64}$/);
});
