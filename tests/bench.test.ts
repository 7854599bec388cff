import { STARTING_STOCK_RULE } from '@/core/stock';
import type { Listing } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { applyCells } from '@/work/editing/bulk-edit';
import { approve, putBack } from '@/work/listings/approve';
import { setOwnPrice } from '@/work/listings/prices';
import { publish, stopPublishing } from '@/work/listings/publish';
import { takeItems } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { readShop } from '@/work/memory/read-shop';
import { savePlans } from '@/work/pricing/plans';
import { whatIf } from '@/work/pricing/what-if';
import { fullListings } from '@/work/quoting/full-listing';
import { quoteListing } from '@/work/quoting/quote';
import { factsOf, setOut, type Voyage } from './voyage';

let v: Voyage;
let source: SourceSearcher;
beforeEach(async () => {
  v = await setOut({ items: 240 });
  await v.settle();
  source = new SourceSearcher(v.work);
});
afterEach(() => v.end());

const search = (query: string, sort: 'title' | 'cost' | 'margin' = 'title', descending = false) => {
  source.stale();
  return source.search({ market: 'pennywharf', query, sort, descending, offset: 0, limit: 500 });
};
const take = (query: string) => {
  source.stale();
  return source.take({ query }, 'pennywharf');
};

describe('Source', () => {
  test('search narrows by text, range, flag and category, sorts, and counts by category', async () => {
    const all = await search('');
    expect([all.total, all.matches]).toEqual([240, 240]);
    expect(all.facets.category.reduce((n, c) => n + c.count, 0)).toBe(240);
    const found = await search('torch cost:5..15 is:stocked category:Torches', 'cost');
    expect(found.matches).toBeGreaterThan(2);
    expect(
      found.rows.every(
        (r) => /torch/i.test(r.item.title) && r.item.cost >= 500 && r.item.cost <= 1500 && r.item.stock > 0,
      ),
    ).toBe(true);
    const costs = found.rows.map((r) => r.item.cost);
    expect(costs).toEqual([...costs].sort((a, b) => a - b));
    const sku = all.rows[7]!.item.sku;
    expect((await search(sku)).rows.map((r) => r.item.sku)).toEqual([sku]);
  });

  test('the quick price of the scan agrees with the price shown, item by item', async () => {
    const found = await search('', 'margin', true);
    let last = Number.POSITIVE_INFINITY;
    for (const row of found.rows) {
      if (row.price === null) continue;
      const margin = row.profit! / row.price;
      expect(margin).toBeLessThanOrEqual(last + 1e-12);
      last = margin;
    }
    const one = found.rows.find((r) => r.price !== null)!;
    const same = await search(`sku:${one.item.sku} price:${one.price! / 100}`);
    expect(same.matches).toBe(1);
  });

  test('a window is only a window', async () => {
    const page = await source.search({
      market: null,
      query: '',
      sort: 'title',
      descending: false,
      offset: 100,
      limit: 30,
    });
    const whole = await search('');
    expect(page.rows.map((r) => r.item.sku)).toEqual(whole.rows.slice(100, 130).map((r) => r.item.sku));
    expect(page.rows[0]!.price).toBeNull();
  });

  test('taking all matches brings whole groups, once, and undo takes them off again', async () => {
    const lantern = await take('lantern cost:<30');
    const taken = await v.work.db.listings.toArray();
    const groups = new Set(taken.map((l) => l.product));
    expect(groups.size).toBe(lantern.products);
    expect(taken.length).toBe(lantern.listings);
    for (const group of groups) expect(taken.filter((l) => l.product === group).length).toBe(3);
    expect(await take('lantern cost:<30')).toMatchObject({ listings: 0 });
    expect((await search('is:taken')).matches).toBe(taken.length);
    expect(await undo(v.work, (await lastUndoable(v.work.db))!.id)).toMatchObject({ ok: true, kept: 0 });
    expect(await v.work.db.listings.count()).toBe(0);
    expect(await v.work.db.products.count()).toBe(0);
    expect((await search('is:taken')).matches).toBe(0);
  });

  test('one item is shown with its cleaned description; an unknown SKU is nothing', async () => {
    const { rows } = await search('');
    const seen = await source.look(rows[0]!.key, 'pennywharf');
    expect(seen!.detail!.description).toMatch(/^<p>/);
    expect(seen!.detail!.description).not.toMatch(/script|href/);
    expect(await source.look("brackwater:'; drop", 'pennywharf')).toBeNull();
  });
});

describe('the Bench', () => {
  const ready = async () => {
    await take('compass is:stocked has:barcode');
    return (await v.work.db.products.toArray()).filter((p) => p.taken.pictures.length > 0).map((p) => p.id);
  };
  /** Listings of products. */
  const of = async (...products: string[]) => {
    const all = await v.work.db.listings.filter((l) => products.includes(l.product)).toArray();
    return all.map((l) => l.id);
  };

  const first = async (product: string) =>
    (await v.work.db.listings.filter((l) => l.product === product).first())!;
  const retitle = async (product: string, text: string) =>
    applyCells(v.work, [{ listing: (await first(product)).id, field: 'title', text }], 'Title');

  test('only what lacks nothing is approved, and only what is approved is published', async () => {
    await take('compass');
    const products = await v.work.db.products.toArray();
    const bare = products.filter((p) => !p.taken.pictures.length);
    expect(await publish(v.work, await of(...products.map((p) => p.id)))).toMatchObject({ queued: 0 });
    const done = await approve(v.work, await of(...products.map((p) => p.id)));
    expect(done.lacking).toBeGreaterThanOrEqual(bare.length);
    expect((await publish(v.work, await of(...products.map((p) => p.id)))).queued).toBe(done.approved);
  });

  test('an edit takes the approval away; cleaning is done to our own text too; null goes back to theirs', async () => {
    const [id] = await ready();
    await approve(v.work, await of(id!));
    const approvedAt = async () =>
      (await v.work.db.listings.filter((l) => l.product === id!).first())!.approvedAt;
    expect(await approvedAt()).not.toBeNull();
    await retitle(id!, '<i>Compass</i> for the field');
    expect((await first(id!)).title).toBe('Compass for the field');
    expect(await approvedAt()).toBeNull();
    await retitle(id!, '');
    expect((await first(id!)).title).toBeNull();
  });

  test('an own price beats the plan, is refused outside MAP and MSRP, and leaves by undo', async () => {
    const [id] = await ready();
    const listing = (await v.work.db.listings.filter((l) => l.product === id!).first())!;
    const quote = async () =>
      quoteListing(
        (await fullListings(v.work.db, [(await v.work.db.listings.get(listing.id))!]))[0]!,
        await readShop(v.work.db, v.work.clock()),
      )!;
    const planned = (await quote()).price;
    await setOwnPrice(v.work, listing.id, planned! + 123);
    expect(await quote()).toMatchObject({ price: planned! + 123, by: 'own', problem: null });
    await setOwnPrice(v.work, listing.id, (await factsOf(v.work, listing)).msrp! + 1);
    expect((await quote()).problem).toMatchObject({ breaks: { guard: 'msrp' } });
    await undo(v.work, (await lastUndoable(v.work.db))!.id);
    expect((await quote()).price).toBe(planned! + 123);
  });

  test('what was not sent yet can be called back; what is live stays when its taking is undone', async () => {
    const ids = await ready();
    const taking = (await lastUndoable(v.work.db))!.id;
    await approve(v.work, await of(...ids));
    await publish(v.work, await of(...ids));
    v.outside.faults.pennywharf.set({ outage: true });
    expect(await stopPublishing(v.work)).toBeGreaterThan(0);
    expect(await v.work.db.listings.filter((l) => l.state === 'publishing').count()).toBe(0);
    v.outside.faults.pennywharf.set({ outage: false });
    await publish(v.work, await of(ids[0]!));
    await v.settle();
    const undone = await undo(v.work, taking);
    expect(undone).toMatchObject({ ok: true });
    const left = await v.work.db.listings.toArray();
    expect(left.length).toBeGreaterThan(0);
    expect(left.every((l) => l.state === 'live')).toBe(true);
    expect(await v.work.db.products.get(left[0]!.product)).toBeDefined();
  });

  test('putting back removes what is on the Bench and can be undone', async () => {
    const ids = await ready();
    expect(await putBack(v.work, await of(...ids))).toBe(ids.length);
    expect(await v.work.db.products.bulkGet(ids)).toEqual(ids.map(() => undefined));
    await undo(v.work, (await lastUndoable(v.work.db))!.id);
    expect((await v.work.db.products.bulkGet(ids)).every((p) => p !== undefined)).toBe(true);
  });

  test('a refused listing says why, is mended and published', async () => {
    const [id] = await ready();
    await retitle(id!, 'A replica compass');
    await approve(v.work, await of(id!));
    await publish(v.work, await of(id!));
    await v.settle();
    const listing = async () =>
      (await v.work.db.listings.filter((l) => l.product === id!).first())! as Listing;
    expect(await listing()).toMatchObject({
      state: 'refused',
      problem: { why: 'refused', said: expect.stringMatching(/Copies of branded goods/) },
    });
    await retitle(id!, 'A field compass');
    await approve(v.work, await of(id!));
    await publish(v.work, await of(id!));
    await v.settle();
    expect(await listing()).toMatchObject({ state: 'live', problem: null });
    expect(v.outside.market.listings[(await listing()).sku]!.title).toBe('A field compass');
  });

  test('the same items handed in twice make one listing each', async () => {
    const { rows } = await search('compass');
    const items = rows.map((r) => ({ supplier: r.supplier, item: r.item, detail: null }));
    await takeItems(v.work, 'pennywharf', items);
    await takeItems(v.work, 'pennywharf', items);
    expect(await v.work.db.listings.count()).toBe(items.length);
  });
});

test('the look ahead says exactly what saving would tell the marketplace', async () => {
  await v.stockUp(40);
  const [everything] = await v.work.db.plans.toArray();
  const plan = {
    ...everything!,
    bands: [{ upTo: null, target: { kind: 'markup' as const, rate: 900_000 }, flat: 0 }],
    endings: [{ upTo: null, ending: null }],
  };
  const stock = { ...STARTING_STOCK_RULE, atMost: 3, safety: 1 };
  const ahead = await whatIf(v.work, { plans: [plan], stock });
  expect(ahead.rise + ahead.fall + ahead.stay + ahead.held).toBe(ahead.listings);
  expect(await savePlans(v.work, [plan], stock)).toMatchObject({ ok: true });
  await v.settle();
  for (const p of ahead.prospects) {
    const listing = (await v.work.db.listings.get(p.id))!;
    expect([listing.published!.price, listing.published!.quantity]).toEqual([p.to ?? p.from, p.shownTo]);
    const shown = v.outside.market.listings[listing.sku]!;
    expect([shown.price, shown.quantity]).toEqual([((p.to ?? p.from) / 100).toFixed(2), p.shownTo]);
  }
});
