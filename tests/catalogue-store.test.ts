import { Catalogue, NO_PRICE, Reading } from '@/core/catalogue';
import { guessCategory } from '@/core/checks';
import {
  addAll,
  addHistory,
  dropPieces,
  historyOf,
  putPieces,
  readCatalogue,
  readDetails,
  SampanDatabase,
  settingsOf,
  undoChange,
} from '@/store';
import { expectedPrices } from '@/work/catalogue/expected-prices';
import { SourceSearcher } from '@/work/catalogue/source-search';
import type { Work } from '@/work/context/work';
import { tidy } from '@/work/jobs/tasks/tidy';
import { readShop } from '@/work/memory/read-shop';
import { termsFor } from '@/work/quoting/pricing-terms';
import { quoteItem } from '@/work/quoting/solve';
import { openReading } from '@/work/readings/reading';
import { itemsOf, move } from '../stand-ins/supplier/warehouse';
import { setOut } from './voyage';

let n = 0;
const fresh = () => new SampanDatabase(`catalogue-${++n}-${Math.random()}`);
const item = (sku: string, part: object = {}) => ({
  sku,
  group: null,
  title: `Part ${sku}`,
  brand: '',
  category: 'C',
  options: {},
  gtin: null,
  cost: 100,
  map: null,
  msrp: null,
  stock: 1,
  grams: 1,
  shipsFrom: '',
  days: null,
  pictures: 0,
  ...part,
});

test('a catalogue is read back as it was stored, its texts cleaned on the way out; a piece that is missing is said', async () => {
  const db = fresh();
  const made = new Catalogue();
  const reading = new Reading(made, false);
  for (let k = 0; k < 9_000; k++)
    reading.put(item(`H-${k}`, { cost: k + 1 }), {
      sku: `H-${k}`,
      description: `<p onclick="x()">${k}</p><script>y()</script>`,
      pictures: [`https://a.example/${k}.jpg`],
    });
  let seq = 0;
  for (let p = reading.piece(true); p; p = reading.piece(true))
    await putPieces(db, [{ supplier: 's', generation: 1, seq: seq++, piece: p.piece, cold: p.cold }]);
  expect(seq).toBe(3);
  const back = await readCatalogue(db, 's', 1, seq, 9000);
  expect(back.items).toBe(9000);
  for (const k of [0, 3999, 4000, 8999])
    expect(back.itemAt(back.rowOf(`H-${k}`))).toMatchObject({ sku: `H-${k}`, cost: k + 1, pictures: 1 });
  const details = await readDetails(db, 's', 1, back, [0, 8400]);
  expect(details.get('H-8400')).toEqual({
    sku: 'H-8400',
    description: '<p>8400</p>',
    pictures: ['https://a.example/8400.jpg'],
  });
  expect(back.itemAt(0)).toEqual({ ...item('H-0', { cost: 1 }), pictures: 1 });
  await dropPieces(db, 's', 1, 2);
  await expect(readCatalogue(db, 's', 1, 3, 9000)).rejects.toThrow(/not whole/);
  expect((await readCatalogue(db, 's', 1, 2, 8000)).items).toBe(8000);
  await db.delete();
});

test('history is told oldest first, across days, and only of the item that is asked for', async () => {
  const db = fresh();
  const DAY = 86_400_000;
  const move = (sku: string, cost: number, costBefore: number) => ({
    sku,
    cost,
    stock: 5,
    costBefore,
    stockBefore: 4,
  });
  await addHistory(db, 's', [move('A', 110, 100), move('B', 9, 8)], 3 * DAY + 5);
  await addHistory(db, 's', [move('A', 120, 110)], 3 * DAY + 9);
  await addHistory(db, 's', [move('A', 90, 120)], 7 * DAY);
  await addHistory(db, 'other', [move('A', 1, 2)], 7 * DAY);
  await addHistory(db, 's', [], 8 * DAY);
  expect((await historyOf(db, 's', 'A')).map((p) => [p.at, p.cost])).toEqual([
    [3 * DAY, 100],
    [3 * DAY + 5, 110],
    [3 * DAY + 9, 120],
    [7 * DAY, 90],
  ]);
  expect(await historyOf(db, 's', 'NONE')).toEqual([]);
  // Days older than the settings keep go; the first point that stays says what was before it.
  const { keepDays } = await settingsOf(db);
  await tidy({ db, clock: () => (keepDays + 5) * DAY } as Work);
  expect((await historyOf(db, 's', 'A')).map((p) => [p.at, p.cost])).toEqual([
    [7 * DAY, 120],
    [7 * DAY, 90],
  ]);
  await db.delete();
});

test('many rows added as one change go as one; what has moved on stays', async () => {
  const db = fresh();
  let ids = 0;
  const now = { at: 1, newId: () => `c${++ids}` };
  const rows = Array.from({ length: 25 }, (_, k) => ({ id: `p${k}`, supplier: '' }));
  const told: number[] = [];
  const change = await db.transaction('rw', db.tables, () =>
    addAll(db, { by: 'person', name: 'Take 25' }, [{ table: 'products', rows }], now, (k) => told.push(k)),
  );
  expect([await db.products.count(), await db.edits.count(), told]).toEqual([25, 1, [25]]);
  const undone = await db.transaction('rw', db.tables, () =>
    undoChange(db, change!, now, (_, row) => (row as { id: string }).id !== 'p7'),
  );
  // What went again needs nothing that follows it.
  expect(undone).toEqual({ ok: true, name: 'Take 25', kept: 1, touched: [] });
  expect((await db.products.toArray()).map((p) => p.id)).toEqual(['p7']);
  expect(await db.transaction('rw', db.tables, () => undoChange(db, change!, now))).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/before/),
  });
  expect(
    await db.transaction('rw', db.tables, () => addAll(db, { by: 'person', name: 'None' }, [], now)),
  ).toBeNull();
  await db.delete();
});

test('prices of the quick loop agree with the quote that is shown, item by item', async () => {
  const v = await setOut({ items: 300 });
  await v.settle();
  const { db } = v.work;
  const shop = await readShop(db, v.work.clock());
  const note = (await db.notes.get('catalogue:brackwater'))!.value as {
    generation: number;
    pieces: number;
    items: number;
  };
  const c = await readCatalogue(db, 'brackwater', note.generation, note.pieces, note.items);
  const prices = expectedPrices(c, shop, 'brackwater', 'pennywharf')!;
  const market = shop.connections.get('pennywharf')!;
  const supplier = shop.connections.get('brackwater')!;
  if (market.role !== 'marketplace' || supplier.role !== 'supplier') throw new Error();
  for (let row = 0; row < c.length; row++) {
    const i = c.itemAt(row);
    const quote = quoteItem(
      i,
      guessCategory(i.category, i.title, market.site.categories),
      null,
      0,
      termsFor(shop, supplier.id, market.id, shop.plans[0]!)!,
    );
    expect([i.sku, prices.price[row], prices.profit[row]]).toEqual([
      i.sku,
      quote.price ?? NO_PRICE,
      quote.price === null ? NO_PRICE : quote.sum!.profit,
    ]);
  }
  expect(expectedPrices(c, shop, 'brackwater', null)).toBeNull();
  await v.end();
});

test('a reading of another source drops what an earlier one left behind', async () => {
  const v = await setOut({ items: 40 });
  await v.settle();
  const first = await openReading(v.work, 'brackwater', 'list:1', null);
  await v.work.db.refused.put({
    reading: first.id,
    seq: 1,
    supplier: 'brackwater',
    header: null,
    refused: [],
  });
  const second = await openReading(v.work, 'brackwater', 'list:2', { cursor: '9', done: 9, seen: [] });
  expect(second.id).not.toBe(first.id);
  expect([second.cursor, second.done]).toEqual([null, 0]);
  expect(await v.work.db.refused.count()).toBe(0);
  expect(second.catalogue.items).toBe(40);
  await v.end();
});

test('after a refresh only what came is priced again, and all stands as if priced anew', async () => {
  const v = await setOut({ items: 300 });
  await v.settle();
  const source = new SourceSearcher(v.work);
  const ask = {
    market: 'pennywharf',
    query: '',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 1000,
  } as const;
  const before = await source.search(ask);
  for (const [k, sku] of [...itemsOf(v.outside.warehouse).keys()].entries())
    if (k % 23 === 0)
      move(v.outside.warehouse, sku, { cost: itemsOf(v.outside.warehouse).get(sku)!.cost + 700 });
  await v.settle(16 * 60_000);
  source.stale();
  const after = await source.search(ask);
  expect(after.rows).toEqual((await new SourceSearcher(v.work).search(ask)).rows);
  const moved = after.rows.filter((row, k) => row.price !== before.rows[k]!.price);
  expect(moved.length).toBeGreaterThan(3);
  await v.end();
});
