import { EVERYTHING } from '@/core/query';
import { stateSite } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { acceptSite } from '@/work/connections/connections';
import { applyCells } from '@/work/editing/bulk-edit';
import { addPictures, describePicture, type ReadPicture } from '@/work/editing/pictures';
import { PresetWeighing, savePresets } from '@/work/editing/presets';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import type { Preset } from '@/work/model';
import { readGoods } from '@/work/quoting/goods';
import { attributesOf } from '@/work/quoting/preset-choice';
import { categoryOf } from '@/work/quoting/pricing-terms';
import { marketOf } from '@/work/quoting/worth';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf'] });
  await v.settle();
});
afterEach(() => v.end());

const take = (query: string) => new SourceSearcher(v.work).take({ query }, 'pennywharf');
const listings = async () => (await v.work.db.listings.toArray()).sort((a, b) => (a.id < b.id ? -1 : 1));
const market = async () => marketOf((await caughtUp(v.work)).shop, 'pennywharf')!;
const told = async (id: string) => {
  const full = (await caughtUp(v.work)).get(id)!;
  const at = await market();
  const { shop } = await caughtUp(v.work);
  return attributesOf(full, at, categoryOf(full, at, shop), shop);
};
const save = async (preset: Partial<Preset>) =>
  savePresets(v.work, 'pennywharf', [COLOUR(preset), ...((await market()).presets ?? [])], 'Preset made');
const COLOUR = (set: Partial<Preset>): Preset => ({
  id: 'p1',
  name: 'Colours',
  on: true,
  filter: EVERYTHING,
  category: null,
  fills: { colour: { from: 'field', field: 'colour', words: {} } },
  ...set,
});
const site = () => v.outside.markets.pennywharf.listings;

test('a marketplace is connected with what is usual there; without it goods lack what the site needs', async () => {
  await take('lantern is:stocked');
  const [one] = await listings();
  expect(await told(one!.id)).toMatchObject({ condition: 'new', handling: '2', returns: 'r30' });
  await savePresets(v.work, 'pennywharf', [], 'Presets removed');
  expect(await told(one!.id)).toEqual({});
  expect(await approve(v.work, [one!.id])).toMatchObject({ approved: 0, lacking: 1 });
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(await approve(v.work, [one!.id])).toMatchObject({ approved: 1 });
});

test('a preset fills from the goods’ own words, by its table before what is known, and only what it matches', async () => {
  await take('lantern is:stocked');
  await take('glove is:stocked');
  const group = (await listings()).filter((l) => l.attributes);
  const assortment = await caughtUp(v.work);
  const colourOf = (id: string) => assortment.get(id)!.variant.options.Colour;
  const coloured = group.filter((l) => colourOf(l.id));
  expect(coloured.length).toBeGreaterThan(2);
  await save({ filter: readGoods('lantern') });
  const lanterns = coloured.filter((l) => /lantern/i.test(assortment.get(l.id)!.product.taken.title));
  for (const l of coloured) {
    const { colour } = await told(l.id);
    if (!lanterns.includes(l)) expect(colour).toBeUndefined();
  }
  const known = await Promise.all(
    lanterns.map(async (l) => [colourOf(l.id)!, (await told(l.id)).colour] as const),
  );
  expect(known.some(([, colour]) => colour)).toBe(true);
  const [word] = known[0]!;
  await savePresets(
    v.work,
    'pennywharf',
    [
      COLOUR({
        fills: { colour: { from: 'field', field: 'colour', words: { [word.toLowerCase()]: 'multicolour' } } },
      }),
    ],
    'Words',
  );
  expect((await told(lanterns[0]!.id)).colour).toBe('multicolour');
  // What is typed stays, whatever a preset says.
  await applyCells(v.work, [{ listing: lanterns[0]!.id, field: 'attribute:colour', text: 'Rot' }], 'Typed');
  expect((await told(lanterns[0]!.id)).colour).toBe('red');
});

test('a change of a preset is weighed, sent to what is on sale as one change, and taken back with it', async () => {
  await take('compass is:stocked has:barcode has:picture');
  const ids = (await listings()).map((l) => l.id);
  await approve(v.work, ids);
  await publish(v.work, ids);
  await v.settle();
  const sku = (await listings())[0]!.sku;
  expect(site()[sku]).toMatchObject({ attributes: { handling: '2' } });
  const at = await market();
  const [usual] = at.presets!;
  const slower: Preset = { ...usual!, fills: { ...usual!.fills, handling: { from: 'value', value: '4' } } };
  const weighing = new PresetWeighing(at, slower, (await caughtUp(v.work)).shop);
  for (const [, full] of (await caughtUp(v.work)).all()) weighing.add(full);
  expect(weighing.weighed()).toMatchObject({ matches: ids.length, touched: ids.length, onSale: ids.length });
  const { edits } = v.work.db;
  expect(await savePresets(v.work, 'pennywharf', [slower], 'Slower')).toMatchObject({
    ok: true,
    sent: ids.length,
  });
  await v.settle();
  expect(site()[sku]).toMatchObject({ attributes: { handling: '4' } });
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  await v.settle();
  expect(site()[sku]).toMatchObject({ attributes: { handling: '2' } });
  expect(await edits.count()).toBeGreaterThan(0);
});

test('a category by preset goes before the guess and after the product’s own; prices follow', async () => {
  await take('compass is:stocked');
  const [one, two] = await listings();
  await applyCells(v.work, [{ listing: two!.id, field: 'category', text: 'Kitchen and flasks' }], 'Own');
  await save({ category: 'power', fills: {} });
  const assortment = await caughtUp(v.work);
  const at = await market();
  expect(categoryOf(assortment.get(one!.id)!, at, assortment.shop)).toBe('power');
  expect(categoryOf(assortment.get(two!.id)!, at, assortment.shop)).toBe('kitchen');
});

test('a preset that a site would refuse, without a name or with a name of another is not kept', async () => {
  for (const [preset, reason] of [
    [COLOUR({ name: ' ' }), /name/],
    [COLOUR({ name: 'Usual' }), /already/],
    [COLOUR({ fills: { handling: { from: 'value', value: 'soon' } } }), /whole number/],
    [COLOUR({ fills: { video: { from: 'value', value: 'javascript:alert(1)' } } }), /address/],
    [COLOUR({ fills: { condition: { from: 'value', value: 'mint' } } }), /none of/],
  ] as const) {
    const before = (await market()).presets;
    const saved = await savePresets(v.work, 'pennywharf', [preset, ...before!], 'x');
    expect(saved).toMatchObject({ ok: false, reason: expect.stringMatching(reason) });
    expect((await market()).presets).toEqual(before);
  }
});

test('a newly needed attribute stops approvals until it is filled; what is on sale goes on', async () => {
  await take('glove is:stocked has:picture');
  const ids = (await listings()).map((l) => l.id);
  const fit = (await approve(v.work, ids)).approved;
  expect(fit).toBeGreaterThan(0);
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  const at = await market();
  const siteNow = {
    ...at.site,
    attributes: at.site.attributes.map((a) => (a.id === 'material' ? { ...a, needed: true } : a)),
  };
  const { stated } = v.work.db;
  await stated.put(stateSite(await stated.get('pennywharf'), 'pennywharf', siteNow, v.work.clock()));
  await acceptSite(v.work, 'pennywharf', (await market()).newest);
  expect(await approve(v.work, ids)).toMatchObject({ approved: 0 });
  await save({ filter: readGoods('glove'), fills: { material: { from: 'value', value: 'Merino wool' } } });
  expect((await told(ids[0]!)).material).toBe('Merino wool');
  expect((await approve(v.work, ids)).approved).toBe(fit);
});

test('a picture of one’s own is given to the marketplace once, described, and its size is looked at before', async () => {
  await take('compass is:stocked has:barcode has:picture');
  const [one, two] = await listings();
  const picture = (width: number, height: number, seed: number): ReadPicture => ({
    file: new Blob([new Uint8Array(200).fill(seed)], { type: 'image/jpeg' }),
    name: 'compass.jpg',
    width,
    height,
  });
  expect(await addPictures(v.work, one!.id, [picture(300, 800, 1)])).toBeNull();
  expect(await approve(v.work, [one!.id])).toMatchObject({ approved: 0, lacking: 1 });
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(await addPictures(v.work, one!.id, [picture(900, 900, 2), picture(900, 900, 2)])).toBeNull();
  const { product } = (await caughtUp(v.work)).get(one!.id)!;
  const own = product.pictures!.filter((p) => p.startsWith('own:'));
  expect(own).toHaveLength(1);
  await describePicture(v.work, product.id, own[0]!, 'A compass on a map');
  await addPictures(v.work, two!.id, [picture(900, 900, 2)]);
  for (const l of [one!, two!]) await approve(v.work, [l.id]);
  await publish(v.work, [one!.id, two!.id]);
  await v.settle();
  const market = v.outside.markets.pennywharf;
  expect(Object.keys(market.pictures)).toHaveLength(1);
  const there = market.listings[one!.sku]!;
  const at = there.pictures.indexOf(Object.keys(market.pictures)[0]!);
  expect(there.alts?.[at]).toBe('A compass on a map');
  expect(Buffer.from(Object.values(market.pictures)[0]!.data, 'base64')).toHaveLength(200);
});
