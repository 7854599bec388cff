import { ownPicture, ownPictureName } from '@/core/checks';
import { STARTING_STOCK_RULE } from '@/core/stock';
import { connectionById } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { applyCells, previewEdit } from '@/work/editing/bulk-edit';
import { addPictures } from '@/work/editing/pictures';
import { approve } from '@/work/listings/approve';
import { bringBack, endListings } from '@/work/listings/end';
import { removeListings } from '@/work/listings/link';
import { publish } from '@/work/listings/publish';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { savePlans } from '@/work/pricing/plans';
import { move } from '../stand-ins/supplier/warehouse';
import { itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf'] });
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const there = (sku: string) => v.outside.markets.pennywharf.listings[sku]!;
const here = async (id: string) => (await v.work.db.listings.get(id))!;
const live = async () => (await v.work.db.listings.toArray()).filter((l) => l.state === 'live');
const takeBack = async () => undo(v.work, (await lastUndoable(v.work.db))!.id);

test('a listing is ended on its marketplace, follows nothing, comes back at the price and stock of then', async () => {
  const [one] = await live();
  const sku = await itemOf(v.work, one!);
  expect(await endListings(v.work, [one!.id])).toBe(1);
  await v.settle();
  const ended = { state: 'ended', published: { state: 'ended', quantity: 0, price: one!.published!.price } };
  expect(await here(one!.id)).toMatchObject(ended);
  expect(there(one!.sku)).toMatchObject({ state: 'ended', quantity: 0 });
  const { cost } = (await v.work.db.items.get(`brackwater:${sku}`))!;
  move(v.outside.warehouse, sku, { cost: cost + 900, stock: 40 });
  await v.settle(16 * 60_000);
  expect(await here(one!.id)).toMatchObject(ended);
  expect(await bringBack(v.work, [one!.id])).toBe(1);
  await v.settle();
  const { published } = await here(one!.id);
  expect(published!.price).toBeGreaterThan(one!.published!.price);
  expect(there(one!.sku)).toMatchObject({
    state: 'live',
    quantity: published!.quantity,
    price: (published!.price / 100).toFixed(2),
  });
});

test('ending is taken back, told or not', async () => {
  const [one] = await live();
  const { quantity } = there(one!.sku);
  for (const told of [false, true]) {
    await endListings(v.work, [one!.id]);
    if (told) await v.settle();
    expect(there(one!.sku).state).toBe(told ? 'ended' : 'live');
    expect((await takeBack()).ok).toBe(true);
    await v.settle();
    expect(await here(one!.id)).toMatchObject({ state: 'live' });
    expect(there(one!.sku)).toMatchObject({ state: 'live', quantity });
  }
});

test('a text on its way does not bring an ended listing back', async () => {
  const [one] = await live();
  await applyCells(v.work, [{ listing: one!.id, field: 'title', text: 'Lantern for the hut' }], 'Title');
  await endListings(v.work, [one!.id]);
  await v.settle();
  expect(there(one!.sku)).toMatchObject({ state: 'ended', title: expect.not.stringContaining('hut') });
  expect(await here(one!.id)).toMatchObject({ state: 'ended' });
});

test('without stock it is ended where the rule says so, and comes back by itself', async () => {
  const plans = await v.work.db.plans.toArray();
  await savePlans(v.work, plans, { ...STARTING_STOCK_RULE, whenOut: 'end' });
  const [one] = await live();
  const sku = await itemOf(v.work, one!);
  move(v.outside.warehouse, sku, { stock: 0 });
  await v.settle(16 * 60_000);
  expect(there(one!.sku).state).toBe('ended');
  expect(await here(one!.id)).toMatchObject({
    state: 'paused',
    last: { moves: { state: 'ended' } },
  });
  move(v.outside.warehouse, sku, { stock: 30 });
  await v.settle(16 * 60_000);
  expect(there(one!.sku)).toMatchObject({ state: 'live' });
  expect((await here(one!.id)).state).toBe('live');
});

test('what is taken out of Sampan stays on its marketplace, and comes back with undo', async () => {
  const [one] = await live();
  const before = structuredClone(there(one!.sku));
  expect(await removeListings(v.work, [one!.id])).toBe(1);
  await v.settle();
  expect(await v.work.db.listings.get(one!.id)).toBeUndefined();
  expect(there(one!.sku)).toEqual(before);
  expect((await takeBack()).ok).toBe(true);
  expect(await here(one!.id)).toMatchObject({ state: 'live', published: one!.published });
});

test('variants each as a listing of their own: no group, titles that tell them apart, once', async () => {
  await new SourceSearcher(v.work).take({ query: 'glove is:stocked' }, 'pennywharf');
  const bench = (await v.work.db.listings.toArray()).filter((l) => l.state === 'bench');
  const group = bench.filter((l) => l.product === bench[0]!.product);
  expect(group.length).toBeGreaterThan(1);
  await applyCells(v.work, [{ listing: group[0]!.id, field: 'variants', text: 'one each' }], 'Variants');
  await approve(v.work, [group[0]!.id]);
  await publish(v.work, [group[0]!.id]);
  await v.settle();
  const told = group.map((l) => there(l.sku));
  expect(new Set(told.map((t) => t.title)).size).toBe(group.length);
  for (const t of told) expect(t).not.toHaveProperty('group');
  // Its title typed with the option in it is not told it twice.
  const [, value] = Object.entries((await caughtUp(v.work)).get(group[0]!.id)!.variant.options)[0]!;
  await applyCells(
    v.work,
    [{ listing: group[0]!.id, field: 'title', text: `Warm ${value} gloves` }],
    'Title',
  );
  await v.settle();
  expect(there(group[0]!.sku).title.split(value)).toHaveLength(2);
});

test('weight and size that were typed are told', async () => {
  const [one] = await live();
  const cells = [
    { listing: one!.id, field: 'size', text: '30 x 20,5 x 10 cm' },
    { listing: one!.id, field: 'weight', text: '1.2 kg' },
  ] as const;
  await applyCells(v.work, cells, 'Size');
  await v.settle();
  expect(there(one!.sku)).toMatchObject({ grams: 1200, millimetres: [300, 205, 100] });
});

test('a picture of our own is mended to the shape of the site; one that is gone stops its listing alone', async () => {
  const [one, two] = await live();
  const id = 'pennywharf';
  const market = (await connectionById(v.work.db, id)) as { site: { pictures: object } };
  const site = { ...market.site, pictures: { ...market.site.pictures, square: true, shortest: 900 } };
  await v.work.db.connections.update(id, { site } as never);
  const file = new Blob([new Uint8Array(400)], { type: 'image/jpeg' });
  await addPictures(v.work, one!.id, [{ file, name: 'a.jpg', width: 1000, height: 800 }]);
  const assortment = await caughtUp(v.work);
  const { changes } = previewEdit(assortment, [one!.id], { is: 'mend' });
  const mended = changes.find((c) => c.field === 'pictures')!;
  const own = mended.after.split('\n').map(ownPicture).find(Boolean)!;
  expect(own).toMatchObject({ width: 1000, height: 1000, fitted: true });
  await applyCells(v.work, [{ listing: one!.id, field: 'pictures', text: mended.after }], 'Mended');
  expect(
    previewEdit(await caughtUp(v.work), [one!.id], { is: 'mend' }).changes.filter(
      (c) => c.field === 'pictures',
    ),
  ).toEqual([]);
  await v.settle();
  expect(there(one!.sku).pictures.at(-1)).toMatch(/^\/pictures\//);
  const gone = ownPictureName({ width: 1000, height: 1000, hash: 'a'.repeat(64), fitted: false });
  await applyCells(v.work, [{ listing: two!.id, field: 'pictures', text: gone }], 'Pictures');
  await v.settle();
  expect(await here(two!.id)).toMatchObject({
    state: 'live',
    problem: { why: 'refused', said: expect.stringMatching(/Picture 1 is not in this browser/) },
  });
  expect(there(two!.sku).pictures).not.toContain(gone);
});
