import fc from 'fast-check';
import { itemKey } from '@/store';
import { applyCells, shareText } from '@/work/editing/bulk-edit';
import { savePresets } from '@/work/editing/presets';
import { linkListings } from '@/work/listings/link';
import { setOwnPrice } from '@/work/listings/prices';
import { saveRules } from '@/work/listings/rules';
import { listOn } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { Assortment, assortmentOf } from '@/work/memory/assortment';
import { BenchList } from '@/work/memory/bench-list';
import { FLAG, STATES } from '@/work/memory/columns';
import { lastUndoable } from '@/work/memory/history';
import { LISTING_SORTS, ListingList } from '@/work/memory/listing-list';
import { OrderBook } from '@/work/order-book/order-book';
import { readCourse } from '@/work/overview/course';
import { readGoods } from '@/work/quoting/goods';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 120, markets: ['pennywharf', 'loomhall'] });
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

/** Everything that is derived of each listing, by its id. */
function pictureOf(a: Assortment) {
  const { columns } = a;
  const rows = [...a.all()].map(([place, full]) => [
    full.listing.id,
    {
      ...Object.fromEntries(Object.entries(columns.numbers).map(([name, column]) => [name, column[place]])),
      state: STATES[columns.state[place]!],
      flags: columns.flags[place],
      last: columns.last[place],
      missing: columns.missing[place],
      words: columns.wordsOf(place, full),
      item: full.item,
      title: full.product.title,
      own: full.listing.ownPrice,
    },
  ]);
  const found = new ListingList(a).search(
    { query: '', sort: 'last', descending: true, offset: 0, limit: 99 },
    0,
  );
  return {
    rows: Object.fromEntries(rows),
    counts: { ...found, rows: found.rows.map((r) => r.id).sort() },
    bench: new BenchList(a).search({
      query: '',
      sort: 'taken',
      descending: true,
      market: null,
      offset: 0,
      limit: 99,
    }),
    promised: [...a.shop.promised].sort(),
  };
}

const FILTERS = [
  '',
  'torch or lantern',
  '-(is:live stock:>3) or profit:<2',
  'cost:>5 supplier:brack',
  'sold:>=0',
];

/** By sort and filter: what the list is sorted by, row by row, and which rows there are. */
function listsOf(list: ListingList, at: number) {
  return LISTING_SORTS.flatMap((sort, k) =>
    FILTERS.map((query, j) => {
      const descending = (k + j) % 2 === 1;
      const q = { query, sort, descending, offset: 0, limit: 999, of: 'all' } as const;
      const { rows } = list.search(q, at);
      const by = rows.map((r) =>
        sort === 'landed'
          ? r.strip?.sum.landed
          : sort === 'last'
            ? r.last?.at
            : sort === 'title'
              ? r.title.split(',')[0]
              : r.values[sort],
      );
      return [sort, query, by, rows.map((r) => r.id).sort()];
    }),
  );
}

async function rebuilt(): Promise<Assortment> {
  const fresh = new Assortment(v.work);
  await fresh.catchUp();
  return fresh;
}

const STEPS = [
  'own',
  'edit',
  'title',
  'plan',
  'cost',
  'gone',
  'sell',
  'list',
  'unlink',
  'barcode',
  'preset',
  'undo',
  'read',
  'abort',
] as const;

/** Any row of a table, by chance. */
const any = <T>(rows: readonly T[], k: number): T => rows[k % rows.length]!;

async function step(what: (typeof STEPS)[number], k: number): Promise<void> {
  const { work } = v;
  const { db } = work;
  const listing = any(await db.listings.toArray(), k);
  if (!listing) return;
  const item = any(await db.items.toArray(), k);
  switch (what) {
    case 'own':
      return setOwnPrice(work, listing.id, k % 3 ? 2_000 + k : null);
    case 'edit':
      await applyCells(
        work,
        [{ listing: listing.id, field: 'title', text: k % 2 ? `Title ${k}` : '' }],
        'Title',
      );
      return;
    case 'title':
      await shareText(work, listing.id, 'title');
      return;
    case 'plan':
      await saveRules(
        work,
        [{ table: 'plans', id: 'everything', set: { smallestProfit: k % 500 } }],
        'Plan changed',
      );
      return;
    case 'cost':
      await db.items.update(item.id, { cost: 300 + k, stock: k % 9 });
      return;
    case 'gone':
      await db.listings.where('id').equals(listing.id).delete();
      return;
    case 'sell':
      sell(v.outside.market, chance(k), work.clock());
      return v.settle(61_000);
    case 'list':
      await listOn(work, [listing.product], 'loomhall');
      return;
    case 'unlink':
      await linkListings(work, [{ listing: listing.id, supplier: '', item: '' }], () => null);
      return;
    case 'barcode': {
      const variants = await db.variants.toArray();
      await db.variants.update(any(variants, k).id, { gtin: any(variants, k * 7 + 1).gtin });
      return;
    }
    case 'preset': {
      const fills = { handling: { from: 'value', value: String(k % 9) } } as const;
      const preset = {
        id: 'p',
        name: 'P',
        on: true,
        filter: readGoods(k % 2 ? 'torch' : ''),
        category: null,
        fills,
      };
      await savePresets(work, 'pennywharf', k % 3 ? [preset] : [], 'Preset');
      return;
    }
    case 'undo': {
      const last = await lastUndoable(db);
      if (last) await undo(work, last.id);
      return;
    }
    case 'read':
      return v.settle(16 * 60_000);
    case 'abort':
      // What was written is read within the transaction, and then comes to nothing.
      await db
        .transaction('rw', db.shopTables, async () => {
          await db.items.update(item.id, { cost: 1 });
          await assortmentOf(work).catchUp();
          throw new Error('cut off');
        })
        .catch(() => {});
  }
}

test('what is held in memory is what a rebuild would hold, whatever changed', async () => {
  let [needed, neededOfOrders] = [0, 0];
  const steps = fc.array(fc.tuple(fc.constantFrom(...STEPS), fc.integer({ min: 0, max: 5_000 })), {
    minLength: 25,
    maxLength: 40,
  });
  await fc.assert(
    fc.asyncProperty(steps, async (all) => {
      const held = assortmentOf(v.work);
      const list = new ListingList(held);
      for (const [what, k] of all) {
        await step(what, k);
        await held.catchUp();
        const anew = await rebuilt();
        expect([what, pictureOf(held)]).toEqual([what, pictureOf(anew)]);
        const at = v.work.clock();
        expect([what, listsOf(list, at)]).toEqual([what, listsOf(new ListingList(anew), at)]);
        // What needs a person is the same wherever it is counted.
        const needing = { query: 'is:needing', sort: 'sku', descending: false, offset: 0, limit: 1 } as const;
        const { matches, needYou } = list.search(needing, at);
        const { listings, orders } = await readCourse(v.work);
        expect([what, matches, needYou]).toEqual([what, listings.need, listings.need]);
        const book = new OrderBook(v.work);
        await book.catchUp();
        const waiting = await book.search({ ...needing, sort: 'urgent' }, at);
        expect([what, waiting.matches, waiting.need]).toEqual([what, orders.need, orders.need]);
        needed += matches;
        neededOfOrders += orders.need;
      }
    }),
    { numRuns: 3, seed: 11 },
  );
  expect(Math.min(needed, neededOfOrders)).toBeGreaterThan(0);
}, 120_000);

test('only listings with a changed input are derived again', async () => {
  const held = assortmentOf(v.work);
  await held.catchUp();
  const derived: string[] = [];
  const { derive } = held.columns;
  held.columns.derive = function (place, full, shop, twin) {
    derived.push(full.listing.id);
    derive.call(this, place, full, shop, twin);
  };
  const item = (await v.work.db.items.toArray())[2]!;
  await v.work.db.items.update(item.id, { cost: item.cost + 100 });
  await held.catchUp();
  const sold = held.ofItems([itemKey(item.supplier, item.item)]).map((f) => f.listing.id);
  expect(sold.length).toBeGreaterThan(0);
  expect(derived.sort()).toEqual(sold.sort());
  // A poll of a service changes nothing that a price depends on.
  derived.length = 0;
  await v.work.db.health.update('pennywharf', { cursor: 'moved' });
  expect(await held.catchUp()).toBe(false);
  expect(derived).toEqual([]);
});

test('windows of every sort join to the whole list, each listing once', async () => {
  await listOn(v.work, (await v.work.db.products.toCollection().primaryKeys()).slice(0, 3), 'loomhall');
  const a = await rebuilt();
  const list = new ListingList(a);
  const whole = [...a.all()].filter(([place]) => a.columns.state[place]! >= STATES.indexOf('live'));
  for (const sort of LISTING_SORTS)
    for (const descending of [true, false]) {
      const ids: string[] = [];
      for (let offset = 0; offset < whole.length; offset += 2)
        ids.push(...list.search({ query: '', sort, descending, offset, limit: 2 }, 0).rows.map((r) => r.id));
      expect([...ids].sort()).toEqual(whole.map(([, f]) => f.listing.id).sort());
    }
  const late = list.search(
    { query: '', sort: 'sold', descending: true, offset: 0, limit: 99 },
    v.work.clock(),
  );
  expect(late.rows.length).toBeGreaterThan(5);
  const dear = list.search(
    { query: 'margin:>0 is:live', sort: 'profit', descending: true, offset: 0, limit: 99 },
    0,
  );
  const profits = dear.rows.map((r) => r.strip!.sum.profit);
  expect(profits).toEqual([...profits].sort((x, y) => y - x));
  for (const row of dear.rows) expect(a.columns.flags[a.placeOf(row.id)]! & FLAG.loss).toBe(0);
  expect(new BenchList(a).meant({ query: '', except: [] })).toHaveLength(3);
});

test('a sale sets the days since the last one back; what was never sold counts from when it was let on sale', async () => {
  const days = async (query: string) => {
    const list = new ListingList(await rebuilt());
    const q = { query, sort: 'sold', descending: true, offset: 0, limit: 99 } as const;
    return list.search(q, v.work.clock()).rows.map((r) => [r.sku, r.values.sold]);
  };
  await v.settle(3 * 86_400_000);
  const before = await days('on:pennywharf');
  expect(before.every(([, n]) => n === '3')).toBe(true);
  const [sku] = before[0]!;
  sell(v.outside.markets.pennywharf, chance(1), v.work.clock(), { sku: sku!, quantity: 1 });
  await v.settle(60_000);
  expect(await days('on:pennywharf sold:<1')).toEqual([[sku, '0']]);
  expect((await days('on:pennywharf')).at(-1)).toEqual([sku, '0']);
  await v.settle(2 * 86_400_000);
  expect(await days('on:pennywharf sold:<3')).toEqual([[sku, '2']]);
});
