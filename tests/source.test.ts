import { readItems } from '@/core/catalogue';
import { guessMatch, type ListingRow } from '@/core/lists';
import { standingOf } from '@/core/orders';
import { connectionById, marketById } from '@/store';
import { keyOf } from '@/work/catalogue/source-rows';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { forgetSearch, MOST_TAKEN, saveSearch } from '@/work/catalogue/watch';
import { applyCells } from '@/work/editing/bulk-edit';
import { leaveOut } from '@/work/listings/approve';
import { addListings, bringInFile, startBringIn } from '@/work/listings/bring-in';
import { findLinks, linkListings, removeListings, setBackup } from '@/work/listings/link';
import { takeItems } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { readCourse } from '@/work/overview/course';
import { titleOf } from '@/work/quoting/copy';
import { inspect } from '@/work/readings/dropped-lists';
import { addOlder, sell } from '../stand-ins/marketplace/market';
import { makeOlder } from '../stand-ins/marketplace/older';
import { chance } from '../stand-ins/random';
import { itemsOf, move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, type Voyage } from './voyage';

/** Listings that no supplier item is linked to. */
const unlinked = async () => {
  const { variants, listings } = v.work.db;
  const open = new Set((await variants.filter((x) => !x.sources.length).toArray()).map((x) => x.id));
  return (await listings.toArray()).filter((l) => open.has(l.variant));
};

let v: Voyage;
let source: SourceSearcher;
beforeEach(async () => {
  v = await setOut({ items: 240 });
  await v.settle();
  source = new SourceSearcher(v.work);
});
afterEach(() => v.end());

const refresh = () => v.settle(16 * 60_000);
const search = (query: string) => {
  source.stale();
  return source.search({
    market: 'pennywharf',
    query,
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 500,
  });
};

describe('taking goods', () => {
  test('what taking would bring is told before, and is what comes', async () => {
    const told = await source.weigh({ query: 'lantern cost:<20' }, 'pennywharf');
    const found = (await search('lantern cost:<20')).rows;
    expect(told.items).toBe(found.length);
    const { products, listings } = await source.take({ query: 'lantern cost:<20' }, 'pennywharf');
    expect([listings, products]).toEqual([told.items + told.along - told.taken, told.products]);
    expect(told.noPicture).toBe(found.filter((r) => r.item.pictures === 0).length);
    expect(await source.weigh({ query: 'lantern cost:<20' }, 'pennywharf')).toMatchObject({
      taken: told.items,
      products: 0,
    });
  });

  test('a range of a sorted search is marked by keys, seen or not', async () => {
    const whole = (await search('')).rows.map((r) => r.key);
    expect(
      await source.range({
        market: null,
        query: '',
        sort: 'listed',
        descending: false,
        offset: 60,
        limit: 100,
      }),
    ).toEqual(whole.slice(60, 160));
  });

  test('a word that may become a field does not empty the table while it is typed, and no action takes it for more than it is', async () => {
    const before = await search('lantern');
    for (const typed of ['lantern cos', 'lantern cost:', 'lantern cost:>', 'lantern -stoc']) {
      const found = await search(typed);
      expect([typed, found.matches]).toEqual([typed, before.matches]);
    }
    const found = await search('lantern cos');
    expect([found.begun, found.used]).toEqual(['cos', 'lantern']);
    expect((await source.weigh({ query: found.used }, 'pennywharf')).items).toBe(before.matches);
    // Where nobody types, as in a watched search, the word means what it says.
    expect((await source.matchesOf(readItems('lantern cos'), 'pennywharf')).keys).toEqual([]);
    expect(await search('lantern zzz')).toMatchObject({ matches: 0, begun: null, used: 'lantern zzz' });
    // Made ready between questions, the answers stay the same.
    const sorted = {
      market: 'pennywharf',
      query: 'la',
      sort: 'margin',
      descending: true,
      offset: 0,
      limit: 40,
    } as const;
    const cold = (await source.search(sorted)).rows;
    while (source.prepare());
    await source.search({ ...sorted, query: '' });
    expect((await source.search(sorted)).rows).toEqual(cold);
  });

  test('two suppliers whose numbers are the same get SKUs of their own', async () => {
    const c = (await connectionById(v.work.db, 'brackwater'))!;
    await v.work.db.connections.put({ ...c, id: 'other', name: 'Other' } as typeof c);
    const [row] = (await search('stock:>5')).rows;
    const one = { item: row!.item, detail: null };
    await takeItems(v.work, 'pennywharf', [
      { ...one, supplier: 'brackwater' },
      { ...one, supplier: 'other', item: { ...row!.item, sku: row!.item.sku.replace('BW', 'XX') } },
    ]);
    const skus = (await v.work.db.listings.toArray()).map((l) => l.sku);
    expect(new Set(skus).size).toBe(2);
    expect(await v.work.db.listings.count()).toBe(2);
  });

  test('pasted lines are answered one by one', async () => {
    const items = [...itemsOf(v.outside.warehouse).values()].filter((i) => i.gtin && !i.group);
    const [a, b, c, d] = items;
    await source.take({ keys: [keyOf('brackwater', d!.sku)] }, 'pennywharf');
    const text = [
      a!.sku,
      '',
      b!.gtin,
      `https://brackwater.example/items/${c!.sku}?x=1`,
      d!.sku.toLowerCase(),
      'NONE-1',
      '4006381333932',
      a!.sku,
      `"${b!.sku}"`,
    ].join('\r\n');
    const { lines, left } = await source.findLines(text);
    expect(left).toBe(0);
    expect(lines.map((l) => [l.line, l.state, l.by])).toEqual([
      [1, 'found', 'SKU'],
      [3, 'found', 'barcode'],
      [4, 'found', 'link'],
      [5, 'taken', 'SKU'],
      [6, 'unknown', null],
      [7, 'unknown', null],
      [8, 'found', 'SKU'],
      [9, 'found', 'SKU'],
    ]);
    expect(lines[5]!.says).toMatch(/check digit/);
    expect(lines[6]!.says).toMatch(/line 1/);
  });

  test('the supplier’s changed text stands beside ours, and goes when it is changed back', async () => {
    await source.take({ query: 'compass' }, 'pennywharf');
    const product = (await v.work.db.products.toArray())[0]!;
    const listing = (await v.work.db.listings.filter((l) => l.product === product.id).first())!;
    const item = itemsOf(v.outside.warehouse).get(await itemOf(v.work, listing))!;
    const [title, description] = [item.title, item.description];
    item.title = 'Compass, new edition';
    item.description = '<p>New text</p><script>x()</script>';
    v.outside.warehouse.version++;
    await refresh();
    const after = (await v.work.db.products.get(product.id))!;
    expect(after.taken.title).toBe(title);
    expect(after.theirs).toMatchObject({ title: 'Compass, new edition', description: '<p>New text</p>' });
    expect(after.title).toBeNull();
    // Where nothing was typed it flows; what was typed stays.
    const shown = async () => titleOf((await caughtUp(v.work)).get(listing.id)!);
    expect(await shown()).toBe('Compass, new edition');
    await applyCells(v.work, [{ listing: listing.id, field: 'title', text: 'Ours' }], 'Title');
    expect(await shown()).toBe('Ours');
    Object.assign(item, { title, description });
    await refresh();
    expect((await v.work.db.products.get(product.id))!.theirs).toBeNull();
  });
});

describe('saved searches that watch', () => {
  const keep = async (query: string, watch: 'report' | 'take' | 'approve') => {
    source.stale();
    const saved = await saveSearch(
      v.work,
      { name: 'Watched', query: readItems(query), sort: '', market: 'pennywharf', watch },
      (await source.matchesOf(readItems(query), 'pennywharf')).hashes,
    );
    if (!saved.ok) throw new Error(saved.reason);
    return saved.id;
  };
  const item = () =>
    [...itemsOf(v.outside.warehouse).values()].find((i) => i.stock > 0 && i.stock < 9000 && !i.group)!;

  test('tell what is new once, on Today', async () => {
    const id = await keep('stock:>9000', 'report');
    await refresh();
    expect((await v.work.db.searches.get(id))!.fresh).toBe(0);
    const one = item();
    move(v.outside.warehouse, one.sku, { stock: 9500 });
    await refresh();
    expect((await v.work.db.searches.get(id))!.fresh).toBe(1);
    expect((await readCourse(v.work)).fresh).toEqual([{ id, name: 'Watched', count: 1, taken: false }]);
    move(v.outside.warehouse, one.sku, { stock: 5 });
    await refresh();
    move(v.outside.warehouse, one.sku, { stock: 9600 });
    await refresh();
    expect((await v.work.db.searches.get(id))!.fresh).toBe(1);
    expect(await v.work.db.listings.count()).toBe(0);
  });

  test('a forgotten one comes back with what it knew, so that nothing is told twice', async () => {
    const id = await keep('stock:>2', 'report');
    const before = (await v.work.db.searches.get(id))!;
    await forgetSearch(v.work, before);
    expect(await v.work.db.searches.get(id)).toBeUndefined();
    expect(await undo(v.work, (await lastUndoable(v.work.db))!.id)).toMatchObject({ ok: true });
    expect(await v.work.db.searches.get(id)).toEqual(before);
    await refresh();
    expect((await v.work.db.searches.get(id))!.fresh).toBe(0);
  });

  test('put new matches on the Bench where the seller said so, as a change that names the search and can be taken back', async () => {
    const id = await keep('stock:>9000', 'take');
    const one = item();
    move(v.outside.warehouse, one.sku, { stock: 9500 });
    await refresh();
    const [taken, ...more] = await v.work.db.listings.toArray();
    expect([await itemOf(v.work, taken!), taken!.state, more.length]).toEqual([one.sku, 'bench', 0]);
    const change = (await v.work.db.changes.orderBy('at').reverse().toArray()).find((c) =>
      c.name.includes('Watched'),
    )!;
    expect(change).toMatchObject({ by: 'rule', undoable: true });
    expect((await undo(v.work, change.id)).ok).toBe(true);
    expect(await v.work.db.listings.count()).toBe(0);
    expect((await v.work.db.searches.get(id))!.fresh).toBe(1);
    expect(MOST_TAKEN).toBeLessThan(1000);
  });
});

test('a variant that the supplier adds to what is sold is reported once; one that was left out is not', async () => {
  await source.take({ query: 'lantern is:stocked' }, 'pennywharf');
  const all = await v.work.db.listings.toArray();
  const { product } = all.find((l, _, every) => every.filter((o) => o.product === l.product).length > 2)!;
  const [left] = all.filter((l) => l.product === product);
  await leaveOut(v.work, [left!.id]);
  await refresh();
  const told = async () => (await readCourse(v.work)).fresh.filter((f) => f.id === 'variants');
  expect(await told()).toEqual([]);
  const added = [...itemsOf(v.outside.warehouse).values()].find((i) => i.stock > 0 && !i.group)!;
  Object.assign(added, { group: (await v.work.db.products.get(product))!.group });
  v.outside.warehouse.version++;
  await refresh();
  expect(await told()).toMatchObject([{ count: 1, taken: false }]);
  source.stale();
  const found = await source.search({
    query: 'is:variant',
    sort: 'title',
    descending: false,
    market: 'pennywharf',
    offset: 0,
    limit: 9,
  });
  expect(found.rows.map((r) => r.item.sku)).toContain(added.sku);
});

test('a watched search approves by itself only where the seller said so, and only what lacks nothing', async () => {
  source.stale();
  const before = (await source.matchesOf(readItems('stock:>9000'), 'pennywharf')).hashes;
  const search = { name: 'Sells', query: readItems('stock:>9000'), sort: '', market: 'pennywharf' } as const;
  await saveSearch(v.work, { ...search, watch: 'approve' }, before);
  const singles = [...itemsOf(v.outside.warehouse).values()].filter(
    (i) => i.stock > 0 && i.stock < 9000 && !i.group,
  );
  const whole = singles.find((i) => i.gtin && i.pictures.length && i.brand && i.grams)!;
  const bare = singles.find((i) => i !== whole)!;
  bare.pictures = [];
  for (const one of [whole, bare]) move(v.outside.warehouse, one.sku, { stock: 9500 });
  await refresh();
  const approved = new Map(
    await Promise.all(
      (await v.work.db.listings.toArray()).map(
        async (l) => [await itemOf(v.work, l), l.approvedAt !== null] as const,
      ),
    ),
  );
  expect(approved).toEqual(
    new Map([
      [whole.sku, true],
      [bare.sku, false],
    ]),
  );
  expect((await v.work.db.listings.toArray()).every((l) => l.state === 'bench')).toBe(true);
});

describe('a shop that already trades', () => {
  const market = async () => (await marketById(v.work.db, 'pennywharf'))!;
  const older = () => makeOlder([...itemsOf(v.outside.warehouse).values()], 60, 3);
  const bring = async (wish = { state: 'all' as const, category: '', removed: false }) => {
    await startBringIn(v.work, 'pennywharf', wish);
    await v.settle();
  };
  const linkSure = async () => {
    source.stale();
    await source.findLinks();
    const sure = (await v.work.db.proposals.toArray()).filter((p) => p.sure);
    return source.link(
      sure.map((p) => ({ listing: p.id, supplier: p.candidates[0]!.supplier, item: p.candidates[0]!.sku })),
    );
  };

  test('comes in as it is, in pages, tells the marketplace nothing, and comes in once', async () => {
    addOlder(
      v.outside.market,
      older().map((o) => o.listing),
    );
    const before = JSON.stringify(v.outside.market.listings);
    await bring();
    const listings = await v.work.db.listings.toArray();
    expect(listings.length).toBe(Object.keys(v.outside.market.listings).length);
    for (const l of listings)
      expect([l.ownPrice, (l.published!.price / 100).toFixed(2)]).toEqual([
        l.published!.price,
        v.outside.market.listings[l.sku]!.price,
      ]);
    expect(await unlinked()).toHaveLength(listings.length);
    expect(new Set(listings.map((l) => l.state))).toEqual(new Set(['live', 'paused', 'ended']));
    await refresh();
    expect(JSON.stringify(v.outside.market.listings)).toBe(before);
    await bring();
    expect(await v.work.db.listings.count()).toBe(listings.length);
    expect(await v.work.db.jobs.get('pennywharf:listings')).toMatchObject({
      lastSays: expect.stringMatching(/^0 listings brought in, \d+ known already/),
    });
  });

  test('by state and category; what was taken out stays out unless it is asked for; undo brings it back', async () => {
    addOlder(
      v.outside.market,
      older().map((o) => o.listing),
    );
    await bring({ state: 'ended' as never, category: 'kitchen', removed: false });
    const own = await v.work.db.listings.toArray();
    expect(own.length).toBeGreaterThan(0);
    for (const l of own)
      expect([l.state, v.outside.market.listings[l.sku]!.category]).toEqual(['ended', 'kitchen']);
    await removeListings(v.work, [own[0]!.id]);
    await bring({ state: 'ended' as never, category: 'kitchen', removed: false });
    expect(await v.work.db.listings.get(own[0]!.id)).toBeUndefined();
    await bring({ state: 'ended' as never, category: 'kitchen', removed: true });
    expect(await v.work.db.listings.get(own[0]!.id)).toBeDefined();
    await removeListings(v.work, [own[0]!.id]);
    expect((await undo(v.work, (await lastUndoable(v.work.db))!.id)).ok).toBe(true);
    expect(await v.work.db.listings.get(own[0]!.id)).toBeDefined();
    expect(await v.work.db.removed.count()).toBe(0);
  });

  test('sure ones are linked together; the price stays, the quantity follows stock; undo unlinks them all', async () => {
    const set = older();
    addOlder(
      v.outside.market,
      set.map((o) => o.listing),
    );
    await bring();
    const prices = new Map((await v.work.db.listings.toArray()).map((l) => [l.id, l.published!.price]));
    const n = await linkSure();
    expect(n).toBeGreaterThan(20);
    const truth = new Map(set.map((o) => [o.listing.sku, o.sells]));
    const open = new Set((await unlinked()).map((l) => l.id));
    const linked = (await v.work.db.listings.toArray()).filter((l) => !open.has(l.id));
    for (const l of linked) expect(await itemOf(v.work, l)).toBe(truth.get(l.sku));
    // One link more is taken back: nothing is told of the others by it.
    await v.settle();
    const lone = (await unlinked())[0]!;
    const facts = { ...(await factsOf(v.work, linked[0]!)), stock: 3 };
    await linkListings(v.work, [{ listing: lone.id, supplier: 'brackwater', item: facts.item }], () => facts);
    expect(await undo(v.work, (await lastUndoable(v.work.db))!.id)).toMatchObject({ ok: true });
    const waiting = await v.work.db.outbox
      .filter((o) => o.kind === 'offer' && o.body.listing !== lone.id)
      .count();
    expect(waiting).toBe(0);
    await refresh();
    for (const one of linked) {
      const l = (await v.work.db.listings.get(one.id))!;
      if (l.state === 'ended') continue;
      expect(l.published!.price).toBe(prices.get(l.id));
      expect(v.outside.market.listings[l.sku]!.quantity).toBe(l.published!.quantity);
      expect(l.published!.quantity).toBeLessThanOrEqual(
        Math.max(0, itemsOf(v.outside.warehouse).get(await itemOf(v.work, l))!.stock),
      );
    }
    const change = (await v.work.db.changes.toArray()).find((c) => c.name.startsWith('Link '))!;
    await undo(v.work, change.id);
    expect((await unlinked()).length).toBeGreaterThanOrEqual(n - 5);
  });

  test('an order for a listing without a link is held and spends nothing', async () => {
    addOlder(
      v.outside.market,
      older().map((o) => o.listing),
    );
    await bring();
    const live = Object.values(v.outside.market.listings).find((l) => l.state === 'live' && l.quantity > 0)!;
    sell(v.outside.market, chance(1), v.work.clock(), { sku: live.sku });
    await v.settle(2 * 60_000);
    const [order] = await v.work.db.orders.toArray();
    expect(standingOf(order!)).toBe('held');
    expect(order!.checks.filter((c) => !c.passed).map((c) => c.kind)).toContain('linked');
    expect(v.outside.warehouse.purchases).toEqual([]);
  });

  test('out of a file, with rows that cannot be read named', async () => {
    const text =
      'SKU;Status;Title;Price;Quantity;EAN\nA-1;live;Lamp;12,50;3;4006381333931\nA-2;ended;Old lamp;9,00;0;\nA-3;live;Bad;call;1;\nA-1;live;Twice;1,00;1;\n';
    const seen = await inspect(
      v.work,
      { id: 'pennywharf', currency: 'GBP' },
      new Blob([text]),
      'shop.csv',
      'listings',
    );
    if (!seen.ok) throw new Error(seen.reason);
    const done = await bringInFile(v.work, await market(), seen.value.file, seen.value.sample.match, false);
    expect(done).toMatchObject({
      ok: true,
      value: { added: 2, refused: [{ line: 4, problem: { column: 'Price', value: 'call' } }] },
    });
    expect((await v.work.db.listings.toArray()).map((l) => [l.sku, l.published!.price, l.state])).toEqual([
      ['A-1', 1250, 'live'],
      ['A-2', 900, 'ended'],
    ]);
  });

  test('a link can be changed, taken away and given a backup; an unknown item is not linked', async () => {
    const row = (sku: string): ListingRow => ({
      sku,
      group: null,
      title: 'Lamp',
      category: 'lighting',
      brand: '',
      gtin: null,
      options: {},
      price: 1999,
      quantity: 2,
      state: 'live',
      description: '',
      pictures: [],
    });
    await addListings(v.work, await market(), [row('A-1')], false);
    const [first, second] = (await search('stock:>5')).rows.map((r) => r.item.sku);
    const link = (item: string) =>
      source.link([{ listing: 'pennywharf:A-1', supplier: item ? 'brackwater' : '', item }]);
    expect(await link('NONE')).toBe(0);
    await link(first!);
    const variant = () => v.work.db.variants.get('shop:pennywharf:A-1');
    await setBackup(v.work, 'shop:pennywharf:A-1', { supplier: 'brackwater', item: second! });
    expect((await variant())!.sources.map((one) => [one.item, one.role])).toEqual([
      [first, 'preferred'],
      [second, 'backup'],
    ]);
    expect(await v.work.db.items.get(`brackwater:${first}`)).toMatchObject({ stock: expect.any(Number) });
    await link(second!);
    expect((await variant())!.sources.map((one) => [one.item, one.role])).toEqual([[second, 'preferred']]);
    await link('');
    expect(await variant()).toMatchObject({ sources: [] });
    expect(
      await linkListings(v.work, [{ listing: 'gone', supplier: 'brackwater', item: first! }], () => null),
    ).toBe(0);
    expect((await findLinks(v.work, [])).looked).toBe(1);
  });
});

test('a guess for listings takes the price for the price', () => {
  const match = guessMatch(
    { kind: 'csv', delimiter: ',', encoding: 'utf-8', headerRow: 0 },
    ['SKU', 'Title', 'Price', 'Qty', 'Status'],
    [['A', 'Lamp with hook', '12.50', '3', 'live']],
    'GBP',
    'listings',
  );
  expect(match.fields).toEqual(['sku', 'title', 'price', 'stock', 'state']);
});
