import { unzipSync } from 'fflate';
import Papa from 'papaparse';
import { columnsOfExample, type ListingFileField } from '@/core/lists';
import { decimalOf } from '@/core/money';
import { parcelsOf, standingOf } from '@/core/orders';
import { applyChange } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { listingFile } from '@/work/connections/listing-file';
import {
  dispatchFile,
  keepFileColumns,
  keepFileMarket,
  takeAnswerFile,
  takeSalesFile,
  waitingCounts,
} from '@/work/connections/market-files';
import { nowOf } from '@/work/context/work';
import { applyCells } from '@/work/editing/bulk-edit';
import { addPictures } from '@/work/editing/pictures';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { cancelOrder } from '@/work/orders/actions';
import { exampleFile, takeListingFile } from '../stand-ins/marketplace/listing-file';
import { advance, move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, type Voyage } from './voyage';

let v: Voyage;
let shop: string;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  const kept = await keepFileMarket(v.work, {
    name: 'Dipper’s stall',
    currency: 'GBP',
    tax: { model: 'inside', rate: 200_000 },
    share: 30_000,
    fixed: 20,
    shipsTo: ['GB'],
  });
  if (!kept.ok) throw new Error(kept.reason);
  shop = kept.id!;
  const source = new SourceSearcher(v.work);
  const { rows } = await source.search({
    market: shop,
    query: 'stock:>10 weight:<2000',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 5,
  });
  await source.take({ keys: rows.filter((r) => !r.item.group).map((r) => r.key) }, shop);
  const ids = (await v.work.db.listings.toCollection().primaryKeys()) as string[];
  await approve(v.work, ids);
  await publish(v.work, ids);
  await v.settle();
});
afterEach(() => v.end());

const rowsOf = (text: string) =>
  Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
const first = async () => (await v.work.db.listings.orderBy('id').first())!;
const HEAD = 'Order;Paid at;SKU;Quantity;Unit price;Name;Address line 1;Town;Postcode;Country;Fees';
const sale = (order: string, sku: string, price = '39.99', rest = 'Leeds;LS8 4QX;GB;1.40') =>
  `${order};2026-11-02T08:00:00Z;${sku};1;${price};Ida Roe ${order};4 Tarn Rise;${rest}`;

test('pictures that have no address elsewhere stand beside the listing file; where that is stopped nothing counts as told', async () => {
  const listing = await first();
  const png = new Blob([new Uint8Array([137, 80, 78, 71])], { type: 'image/png' });
  await addPictures(v.work, listing.id, [{ file: png, name: 'own.png', width: 900, height: 900 }]);
  const { pictures } = (await v.work.db.products.get(listing.product))!;
  const elsewhere = 'https://pictures.example.com/a.jpg';
  await applyChange(
    v.work.db,
    { by: 'person', name: 'Pictures' },
    [{ table: 'products', id: listing.product, set: { pictures: [elsewhere, ...pictures!] }, says: '' }],
    nowOf(v.work),
  );
  const waiting = await waitingCounts(v.work, shop);
  expect(await listingFile(v.work, shop, async () => true)).toBeNull();
  expect(await waitingCounts(v.work, shop)).toEqual(waiting);

  // What is edited while pictures are fetched is in the file.
  let edited = false;
  const file = (await listingFile(v.work, shop, async () => {
    if (!edited) {
      edited = true;
      await applyCells(v.work, [{ listing: listing.id, field: 'title', text: 'Edited meanwhile' }], 'Title');
      await approve(v.work, [listing.id]);
    }
    return false;
  }))!;
  expect(rowsOf(file.text).find((r) => r.sku === listing.sku)!.title).toBe('Edited meanwhile');
  const inside = unzipSync(new Uint8Array(await file.zip!.arrayBuffer()));
  const named = rowsOf(file.text)
    .find((r) => r.sku === listing.sku)!
    .pictures!.split(' ');
  expect(named[0]).toBe(elsewhere);
  expect(named.at(-1)).toMatch(/^pictures\/.+\.png$/);
  expect([...inside[named.at(-1)!]!]).toEqual([137, 80, 78, 71]);
  const beside = new Set(rowsOf(file.text).flatMap((r) => r.pictures!.split(' ')));
  beside.delete(elsewhere);
  expect(Object.keys(inside).sort()).toEqual([...beside, file.name, 'READ ME.txt'].sort());
  expect(new TextDecoder().decode(inside[file.name])).toBe(file.text);
  expect(file.pictures).toMatchObject({ addresses: 1, beside: beside.size, missing: [] });

  await keepFileColumns(v.work, shop, null, 'beside');
  expect((await listingFile(v.work, shop))!.pictures).toMatchObject({
    addresses: 0,
    missing: [`${listing.sku}-1`],
  });
});

test('nothing leaves by itself; the listing file holds all that is to be shown, and prices follow in the next', async () => {
  expect(await waitingCounts(v.work, shop)).toMatchObject({ listings: expect.any(Number), orders: 0 });
  const waiting = (await waitingCounts(v.work, shop)).listings;
  expect(waiting).toBeGreaterThan(0);
  expect((await first()).state).toBe('publishing');
  const file = (await listingFile(v.work, shop))!;
  expect(rowsOf(file.text)).toHaveLength(waiting);
  const listing = await first();
  expect(listing.state).toBe('live');
  const row = rowsOf(file.text).find((r) => r.sku === listing.sku)!;
  expect(Number(row.price) * 100).toBeCloseTo(listing.published!.price, 5);
  expect(Number(row.quantity)).toBe(listing.published!.quantity);
  expect(await waitingCounts(v.work, shop)).toEqual({ listings: 0, orders: 0 });
  expect((await listingFile(v.work, shop))!.text).toBe(file.text);

  move(v.outside.warehouse, await itemOf(v.work, listing), {
    cost: (await factsOf(v.work, listing)).cost * 2,
  });
  await v.settle(16 * 60_000);
  expect((await waitingCounts(v.work, shop)).listings).toBe(1);
  const dearer = rowsOf((await listingFile(v.work, shop))!.text).find((r) => r.sku === listing.sku)!;
  expect(Number(dearer.price)).toBeGreaterThan(Number(row.price));
});

test('sales come in once, are bought once, and the shop is told of each parcel once, in a file that can be written again', async () => {
  await listingFile(v.work, shop);
  const { sku } = await first();
  const text = [HEAD, sale('A-1', sku), '', sale('A-2', sku)].join('\r\n');
  expect(await takeSalesFile(v.work, shop, text)).toEqual({ ok: true, fresh: 2, known: 0, refused: [] });
  expect(await takeSalesFile(v.work, shop, text)).toEqual({ ok: true, fresh: 0, known: 2, refused: [] });
  await v.settle();
  const bought = v.outside.warehouse.purchases.map((p) => p.reference).sort();
  expect(bought).toEqual([`${shop}:A-1`, `${shop}:A-2`]);
  for (const p of v.outside.warehouse.purchases) advance(v.outside.warehouse, p.number, v.work.clock(), 1000);
  await v.settle(300_000);
  const file = (await dispatchFile(v.work, shop))!;
  expect(rowsOf(file.text).map((r) => [r.order, r.status])).toEqual([
    ['A-1', 'shipped'],
    ['A-2', 'shipped'],
  ]);
  expect(rowsOf(file.text)[0]!.tracking).toBe(
    parcelsOf((await v.work.db.orders.get(`${shop}:A-1`))!.purchases[0]!)[0]!.tracking,
  );
  expect(await dispatchFile(v.work, shop)).toBeNull();
  expect(await dispatchFile(v.work, shop, true)).toEqual(file);
  await takeSalesFile(v.work, shop, text);
  await v.settle();
  expect(standingOf((await v.work.db.orders.get(`${shop}:A-1`))!)).toBe('told');
  expect(v.outside.warehouse.purchases).toHaveLength(2);
});

test('a bad row is told with its line; its order waits whole, the others come in', async () => {
  await listingFile(v.work, shop);
  const { sku } = await first();
  const text = [
    HEAD,
    sale('B-1', sku),
    sale('B-2', sku),
    sale('B-2', sku, '12,50'),
    sale('B-3', sku, '39.99', 'Leeds;LS8 4QX;Britain;1'),
    sale('B-4', sku).replace('2026-11-02T08:00:00Z', '2/11/2026'),
  ].join('\n');
  const taken = await takeSalesFile(v.work, shop, text);
  expect(taken).toMatchObject({ ok: true, fresh: 1 });
  expect(taken.ok && taken.refused.map((r) => [r.line, r.reason.split(':')[0]])).toEqual([
    [3, 'order B-2'],
    [4, 'unit price'],
    [5, 'country'],
    [6, expect.stringMatching(/2\/11\/2026/)],
  ]);
  expect(await takeSalesFile(v.work, shop, 'Order;SKU\n1;2')).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/lacks paid at/),
  });
});

test('what is cancelled here is told in the file; what the shop cancelled is not bought', async () => {
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  await listingFile(v.work, shop);
  const { sku } = await first();
  await takeSalesFile(v.work, shop, [HEAD, sale('C-1', sku), sale('C-2', sku)].join('\n'));
  await cancelOrder(v.work, `${shop}:C-1`, 'None left');
  expect(rowsOf((await dispatchFile(v.work, shop))!.text)).toMatchObject([
    { order: 'C-1', status: 'cancelled', reason: 'None left' },
  ]);
  const cancelled = [`${HEAD};Status`, `${sale('C-2', sku)};cancelled`].join('\n');
  await takeSalesFile(v.work, shop, cancelled);
  await v.work.db.settings.update('shop', { forward: 'at once' });
  await v.settle();
  expect(standingOf((await v.work.db.orders.get(`${shop}:C-2`))!)).toBe('cancelled');
  expect(v.outside.warehouse.purchases).toHaveLength(0);
});

test('columns are guessed from an example of the shop’s file, kept, and written; what it refuses goes back to the Bench', async () => {
  const example = [
    ['Artikelnummer', 'Titel', 'Preis', 'Bestand', 'Zustand', 'Frei', 'image_url'],
    ['A-1', 'x', '1', '2', 'neu', '', 'u'],
    ['A-2', 'y', '3', '4', 'neu', '', 'w'],
  ];
  const columns = columnsOfExample(example)!;
  expect(columns.map(({ holds }) => (holds.is === 'field' ? holds.field : `“${holds.text}”`))).toEqual([
    'sku',
    'title',
    'price',
    'quantity',
    '“neu”',
    '“”',
    'first picture',
  ]);
  await keepFileColumns(v.work, shop, columns);
  const file = (await listingFile(v.work, shop))!;
  const rows = rowsOf(file.text);
  expect(Object.keys(rows[0]!)).toEqual(example[0]);
  const [one, two] = rows as [Record<string, string>, Record<string, string>];
  expect(one).toMatchObject({ Zustand: 'neu', Frei: '' });
  expect(one.Preis).toMatch(/^\d+\.\d\d$/);
  const answer = [
    'SKU,Status,Reason',
    `${one.Artikelnummer},OK,`,
    `${two.Artikelnummer},abgelehnt,The picture is too small.`,
    'NO-SUCH,ok,',
    `${one.Artikelnummer},perhaps,`,
  ].join('\n');
  const done = await takeAnswerFile(v.work, shop, answer);
  expect(done).toMatchObject({ ok: true, accepted: 1, refused: 1 });
  expect(done.ok && done.bad.map((b) => b.reason)).toEqual([
    'status: “perhaps” is neither accepted nor refused',
    'There is no listing NO-SUCH here.',
  ]);
  const listing = async (sku: string) => (await v.work.db.listings.get(`${shop}:${sku}`))!;
  expect(await listing(two.Artikelnummer!)).toMatchObject({
    state: 'refused',
    problem: { why: 'refused', said: 'The picture is too small.' },
  });
  expect((await listing(one.Artikelnummer!)).state).toBe('live');
  // The same answer again changes nothing, and the next file leaves out what was refused.
  await takeAnswerFile(v.work, shop, answer);
  const again = rowsOf((await listingFile(v.work, shop))!.text).map((r) => r.Artikelnummer);
  expect(again).toHaveLength(rows.length - 1);
  expect(again).not.toContain(two.Artikelnummer);
  await approve(v.work, [`${shop}:${two.Artikelnummer}`]);
  await publish(v.work, [`${shop}:${two.Artikelnummer}`]);
  expect(rowsOf((await listingFile(v.work, shop))!.text)).toHaveLength(rows.length);
});

test('a marketplace is run by files alone: its example matched, its listings taken, its refusals back on the Bench', async () => {
  const { loomhall } = v.outside.markets;
  const example = Papa.parse<string[]>(exampleFile(loomhall).trim()).data;
  const columns = columnsOfExample(example)!;
  const fields = columns.map((c) => (c.holds.is === 'field' ? c.holds.field : c.holds.text));
  expect(fields).toContain('new');
  for (const field of ['title', 'gtin', 'pictures', 'tags', 'price', 'quantity'])
    expect(fields).toContain(field);
  // What the guess does not know is matched by hand, once.
  const BY_HAND: Readonly<Record<string, ListingFileField>> = {
    Article: 'sku',
    Text: 'description',
    Kind: 'category',
    Maker: 'brand',
  };
  await keepFileColumns(
    v.work,
    shop,
    columns.map((c) => {
      const field = BY_HAND[c.header];
      return field ? { header: c.header, holds: { is: 'field', field } } : c;
    }),
  );
  const one = await first();
  await applyCells(v.work, [{ listing: one.id, field: 'title', text: 'Mass produced lamp' }], 'Title');
  const file = (await listingFile(v.work, shop))!;
  const answer = takeListingFile(loomhall, file.text);
  const there = Object.values(loomhall.listings);
  expect(there).toHaveLength(file.rows - 1);
  for (const l of there) {
    const listing = (await v.work.db.listings.get(`${shop}:${l.sku}`))!;
    expect([l.price, l.quantity]).toEqual([
      decimalOf(listing.published!.price, 'GBP'),
      listing.published!.quantity,
    ]);
  }
  expect(await takeAnswerFile(v.work, shop, answer)).toMatchObject({
    ok: true,
    accepted: file.rows - 1,
    refused: 1,
    bad: [],
  });
  expect(await v.work.db.listings.get(one.id)).toMatchObject({
    state: 'refused',
    problem: { why: 'refused', said: expect.stringMatching(/mass produced/) },
  });
});

test('an example without a header row, or with too many columns, gives none', () => {
  expect(columnsOfExample([])).toBeNull();
  expect(columnsOfExample([['', ' ']])).toBeNull();
  expect(columnsOfExample([Array.from({ length: 201 }, (_, k) => `c${k}`)])).toBeNull();
});
