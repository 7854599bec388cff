import { CENTRED } from '@/core/print';
import { supplierById } from '@/store';
import { ownedAssets } from '@/work/assets/owners';
import type { Work } from '@/work/context/work';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { takeItems } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { releaseOrder } from '@/work/orders/actions';
import { readBlanks, refusedBlanks } from '@/work/print/blanks';
import { addDesigns, removeDesigns } from '@/work/print/designs';
import { printFilesOf } from '@/work/print/print-files';
import type { ProductsWanted } from '@/work/print/product-draft';
import { planProducts } from '@/work/print/product-plan';
import { makeProducts } from '@/work/print/products';
import { makeSheet, placeArea, putOnSheet, wholeSheet } from '@/work/print/sheets';
import { planSwap, swapDesign } from '@/work/print/swap';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { designFile, freeCategory, type paper, png, putOnSale, withPrinter } from './press';
import { itemsIn, type Voyage } from './voyage';

const file = designFile;
const HOUR = 3_600_000;
/** A category of Pennywharf that asks for no barcode. */
let FREE: string;

let v: Voyage;
let draw: ReturnType<typeof paper>;

beforeEach(async () => {
  ({ v, draw } = await withPrinter());
  FREE = await freeCategory(v);
});
afterEach(() => v.end());

/** Two designs on tea towels. */
async function sheetOf(...names: string[]) {
  const { added } = await addDesigns(
    v.work,
    names.map((n) => file(n)),
    '',
  );
  return { sheet: (await makeSheet(v.work, 'tinloft:tea-towel', added))!, designs: added };
}
const wantedOf = (sheet: string): ProductsWanted => ({
  sheet,
  colours: ['Natural', 'White'],
  sizes: [''],
  markets: ['pennywharf'],
  categories: { pennywharf: FREE },
  copy: null,
  scenes: [],
  except: [],
});

/** Puts the products of a sheet on sale, with a picture that the site asks for. */
async function onSale(sheet: string) {
  const { work } = v;
  const made = await makeProducts(work, wantedOf(sheet));
  await putOnSale(v);
  return made;
}

test('blanks come with the catalogue, and the file that the maker wants is what is placed on', async () => {
  const blanks = await v.work.db.blanks.toArray();
  expect(blanks.map((b) => b.blank).sort()).toEqual([
    ...['cushion', 'framed-print', 'mug', 'poster', 'sticker-sheet', 't-shirt', 'tea-towel', 'tote'],
  ]);
  const shirt = blanks.find((b) => b.blank === 't-shirt')!;
  expect([shirt.items.length, shirt.areas.map((a) => a.extra)]).toEqual([48, [0, 320, 150]]);
  expect((await supplierById(v.work.db, 'tinloft'))!.currency).toBe('EUR');
});

test('a bad file keeps no good one out, the same bytes come in once, and what comes in can be taken back', async () => {
  const { work } = v;
  const some = [
    file('moon'),
    file('not', 'garbage'),
    file('again', 'design moon'),
    file('sun-rise_final 02'),
  ];
  const came = await addDesigns(work, some, 'Skies');
  expect(came.added).toHaveLength(2);
  expect([came.refused, came.twins]).toEqual([['not.png: it is no design.'], ['again.png']]);
  const rows = await work.db.designs.toArray();
  expect(rows.map((d) => [d.name, d.keywords, d.set])).toEqual(
    expect.arrayContaining([
      ['Moon', ['moon'], 'Skies'],
      ['Sun rise final 02', ['sun', 'rise'], 'Skies'],
    ]),
  );
  const owned = await ownedAssets(work);
  for (const d of rows) for (const id of [d.id, d.small, d.large]) expect(owned.has(id)).toBe(true);
  const last = (await work.db.changes.orderBy('at').last())!;
  expect(await undo(work, last.id)).toMatchObject({ ok: true });
  expect(await work.db.designs.count()).toBe(0);
});

test('a later rule reaches all that were not mended by hand, and a mended one can follow it again', async () => {
  const { work } = v;
  const { sheet, designs } = await sheetOf('moon', 'sun', 'star');
  const layer = { id: 'design', design: '*', trim: false, placement: CENTRED };
  const by = (scale: number, design = '*') => ({
    background: null,
    layers: [{ ...layer, design, placement: { ...CENTRED, scale } }],
  });
  await placeArea(work, sheet, designs[1]!, 'front', by(0.5, designs[1]!));
  await placeArea(work, sheet, null, 'front', by(0.8));
  const scales = async () => {
    const { lines } = (await wholeSheet(work, sheet))!;
    return designs.map((d) => lines.find((l) => l.design.id === d)!.plan.front!.layers[0]!.placement.scale);
  };
  expect(await scales()).toEqual([0.8, 0.5, 0.8]);
  await placeArea(work, sheet, designs[1]!, 'front', null);
  expect(await scales()).toEqual([0.8, 0.8, 0.8]);
  await undo(work, (await work.db.changes.orderBy('at').last())!.id);
  expect(await scales()).toEqual([0.8, 0.5, 0.8]);
  expect(await removeDesigns(work, [designs[0]!])).toEqual({ gone: 0, kept: 1 });
  expect(await putOnSheet(work, sheet, designs)).toBe(0);
});

test('what is planned is what is made: counts, cost and price of each, and nothing twice', async () => {
  const { work } = v;
  const { sheet } = await sheetOf('moon', 'sun');
  const planned = (await planProducts(work, wantedOf(sheet)))!;
  expect(planned).toMatchObject({ products: 2, variants: 4, listings: 4, missing: [], currency: 'EUR' });
  const made = await makeProducts(work, wantedOf(sheet));
  expect(made).toMatchObject({ products: 2, listings: 4, failed: [] });
  const assortment = await caughtUp(work);
  for (const [, full] of assortment.all()) {
    const row = planned.prices.find((p) => p.sku === full.source!.item)!;
    expect(full.item!.cost).toBe(row.cost);
    const place = assortment.placeOf(full.listing.id);
    expect(assortment.columns.numbers.price[place]).toBe(row.prices[0]!.price);
  }
  // A blank's stock is promised once for all designs that are printed on it.
  expect(new Set([...assortment.all()].map(([, f]) => f.item!.id)).size).toBe(2);
  expect(await planProducts(work, wantedOf(sheet))).toMatchObject({ products: 0 });
  expect(await makeProducts(work, wantedOf(sheet))).toMatchObject({ products: 0, listings: 0 });
});

test('a second area costs what the maker asks for it, in the price and in the purchase', async () => {
  const { work } = v;
  const { added } = await addDesigns(work, [file('moon')], '');
  const sheet = (await makeSheet(work, 'tinloft:cushion', added))!;
  const wanted = { ...wantedOf(sheet), colours: ['White'] };
  const once = (await planProducts(work, wanted))!.prices[0]!.cost!;
  const { plan } = (await wholeSheet(work, sheet))!.sheet;
  await placeArea(work, sheet, null, 'back', plan.front!);
  expect((await planProducts(work, wanted))!.prices[0]!.cost).toBe(once + 210);
});

test('an order is bought with its print files, made once, and as it was shown when it was sold', async () => {
  const { work } = v;
  const { sheet, designs } = await sheetOf('moon');
  await onSale(sheet);
  const listing = (await work.db.listings.toArray()).find((l) => l.state === 'live')!;
  expect(listing).toBeDefined();
  const market = v.outside.market;
  let buyers = 7;
  const buy = async () => {
    const order = sell(market, chance(buyers++), work.clock(), { sku: listing.sku, quantity: 1 })!;
    await v.settle(HOUR);
    return (await work.db.orders.get(`pennywharf:${order.number}`))!;
  };
  const first = await buy();
  expect(first.purchases[0]).toMatchObject({ supplier: 'tinloft', state: 'accepted' });
  const { printer } = v.outside;
  expect(draw.drawn).toHaveLength(1);
  expect(Object.values(printer.files!)).toEqual([{ width: 2_953, height: 4_134 }]);
  // The maker has the file: it is neither drawn nor sent again.
  await buy();
  expect(draw.drawn).toHaveLength(1);
  // Sold, and then another design is put in its place before it is bought.
  await work.db.settings.update('shop', { forward: 'by hand' });
  const third = await buy();
  const sold = third.lines[0]!.print;
  expect(sold).toBe(first.lines[0]!.print);
  await work.db.variants.update(listing.variant, {
    sources: [
      {
        ...(await work.db.variants.get(listing.variant))!.sources[0]!,
        made: { print: 'another', extra: 0 },
      },
    ],
  });
  await work.db.settings.update('shop', { forward: 'at once' });
  await v.settle(HOUR);
  await releaseOrder(work, third.id, [], true);
  await v.settle(HOUR);
  const bought = (await work.db.orders.get(third.id))!;
  expect(bought.purchases[0]!.lines[0]).toMatchObject({ print: sold });
  expect(bought.purchases[0]).toMatchObject({ state: 'accepted' });
  expect(designs).toHaveLength(1);
});

test('words for goods that have no room for them are no charge of the maker’s: nothing is made for that order alone', async () => {
  const { work } = v;
  const { sheet } = await sheetOf('moon');
  await onSale(sheet);
  const { sku } = (await work.db.listings.toArray()).find((l) => l.state === 'live')!;
  const lines = [{ sku, quantity: 2, personalisation: 'For Ida' }];
  const { number } = sell(v.outside.market, chance(31), work.clock(), { lines })!;
  await v.settle(HOUR);
  const id = `pennywharf:${number}`;
  await releaseOrder(work, id, ['personalised'], true);
  await v.settle();
  const [bought] = (await work.db.orders.get(id))!.purchases;
  expect(bought).toMatchObject({ state: 'accepted', expected: { goods: 1080 }, charged: { goods: 1080 } });
});

test('a file that the maker refuses holds the order with the reason, and nothing is bought', async () => {
  const { work } = v;
  const { sheet } = await sheetOf('moon');
  await onSale(sheet);
  draw.wrong = true;
  const listing = (await work.db.listings.toArray()).find((l) => l.state === 'live')!;
  const order = sell(v.outside.market, chance(7), work.clock(), { sku: listing.sku, quantity: 1 })!;
  await v.settle(HOUR);
  const row = (await work.db.orders.get(`pennywharf:${order.number}`))!;
  expect(row.purchases[0]!.state).not.toBe('accepted');
  expect(JSON.stringify(row)).toContain('takes 2953 × 4134 pixels, the file has 2952 × 4134');
  expect(v.outside.printer.purchases).toHaveLength(0);
});

test('files of a sheet come as a zip, without those that the maker would refuse', async () => {
  const { work } = v;
  const { sheet, designs } = await sheetOf('moon', 'sun');
  await placeArea(work, sheet, designs[0]!, 'front', { background: null, layers: [] });
  const told: number[] = [];
  const made = await printFilesOf(work, sheet, [''], '{design}', (done) => {
    told.push(done);
    return false;
  });
  expect([made.made, told]).toEqual([1, [1, 2]]);
  expect(made.failed).toEqual([expect.stringContaining('Moon.png: the maker would refuse it')]);
  const bytes = Buffer.from(await made.file!.arrayBuffer());
  expect(bytes.includes('Sun.png')).toBe(true);
  expect(bytes.includes(png(2_953, 4_134, 150))).toBe(true);
});

test('a design swapped in its products: pictures anew, sites told, orders of before as they were shown, all of it undone at once', async () => {
  const { work } = v;
  const { sheet, designs } = await sheetOf('moon', 'sun');
  const [moon] = designs as [string];
  const [star] = (await addDesigns(work, [file('star')], '')).added as [string];
  const made = await makeProducts(work, { ...wantedOf(sheet), scenes: ['flat'] });
  expect(made).toMatchObject({ products: 2, failed: [] });
  const ids = (await work.db.listings.toArray()).map((l) => l.id);
  await approve(work, ids);
  await publish(work, ids);
  await v.settle();
  const product = (await work.db.products.toArray()).find((p) => p.keywords.design === 'Moon')!;
  const listing = (await work.db.listings.toArray()).find((l) => l.product === product.id)!;
  expect(listing.state).toBe('live');
  const told = () => v.outside.market.listings[listing.sku]!;
  const [pictureBefore, titleBefore] = [told().pictures[0], told().title];
  await work.db.settings.update('shop', { forward: 'by hand' });
  const order = sell(v.outside.market, chance(7), work.clock(), { sku: listing.sku, quantity: 1 })!;
  await v.settle(HOUR);

  expect(await planSwap(work, moon, star)).toMatchObject({ products: 1, sheets: 1, pictures: 2, live: 2 });
  expect(await swapDesign(work, moon, star)).toEqual({ products: 1, told: 2 });
  await v.settle(HOUR);
  expect(told().title).toBe(titleBefore.replace('Moon', 'Star'));
  expect(told().pictures[0]).not.toBe(pictureBefore);
  expect((await wholeSheet(work, sheet))!.lines.map((l) => l.design.id).sort()).toEqual(
    [star, designs[1]!].sort(),
  );
  await work.db.settings.update('shop', { forward: 'at once' });
  await releaseOrder(work, `pennywharf:${order.number}`, [], true);
  await v.settle(HOUR);
  expect((await work.db.orders.get(`pennywharf:${order.number}`))!.purchases[0]).toMatchObject({
    state: 'accepted',
  });
  // What was drawn for it is the moon that the buyer saw.
  expect(draw.drawn.map((job) => job.layers[0]!.key)).toEqual([moon]);

  const swap = (await work.db.changes.toArray()).find((c) => c.name.startsWith('Star instead of Moon'))!;
  expect(await undo(work, swap.id)).toMatchObject({ ok: true });
  await v.settle(HOUR);
  expect([told().pictures[0], told().title]).toEqual([pictureBefore, titleBefore]);
});

test('a blank is not taken as goods, and one that cannot be read keeps no other out', async () => {
  const { work } = v;
  const item = [...(await itemsIn(work.db, 'tinloft')).values()][0]!;
  expect(await takeItems(work, 'pennywharf', [{ supplier: 'tinloft', item, detail: null }])).toMatchObject({
    listings: 0,
  });
  const { reach } = work;
  const spoiled: Work['reach'] = async (service, path, init) => {
    const answer = await reach(service, path, init);
    if (path !== '/v1/blanks') return answer;
    const body = (await answer.json()) as { blanks: { id: string; areas: { files: object }[] }[] };
    body.blanks.find((b) => b.id === 'mug')!.areas[0]!.files = { '*': { width: 1, height: 9e9, dpi: 300 } };
    body.blanks = body.blanks.filter((b) => b.id !== 'tote');
    return Response.json(body);
  };
  const c = (await supplierById(work.db, 'tinloft'))!;
  expect(await readBlanks({ ...work, reach: spoiled }, c)).toMatchObject({ ok: true, value: { blanks: 6 } });
  expect(await refusedBlanks(work)).toEqual([
    expect.stringMatching(/^mug: wrap: the file of \*: (width|height)/),
  ]);
  const gone = (await work.db.blanks.toArray()).filter((b) => b.gone).map((b) => b.blank);
  expect(gone).toEqual(['tote']);
});
