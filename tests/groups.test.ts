import type { FeedServer } from '@/connect/feed-server';
import { attributesIn } from '@/core/checks';
import { startingForm } from '@/core/feeds';
import { KINDS } from '@/core/fields';
import { readCondition } from '@/core/query';
import { dayOf } from '@/core/units';
import type { FeedRow, PlanRow } from '@/store';
import { savePresets } from '@/work/editing/presets';
import { lookAtFeed } from '@/work/feeds/list';
import { publishFeed } from '@/work/feeds/publish';
import { dropFeed, type FeedDraft, renewSecret, saveFeed } from '@/work/feeds/save';
import { soldByMark } from '@/work/feeds/sold';
import { lookAtGroup } from '@/work/groups/look';
import { dropGroup, pickListings, saveGroup } from '@/work/groups/save';
import { weighGroup } from '@/work/groups/weigh';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { ListingList } from '@/work/memory/listing-list';
import type { Preset } from '@/work/model';
import { OrderBook } from '@/work/order-book/order-book';
import { savePlans } from '@/work/pricing/plans';
import { attributesOf } from '@/work/quoting/preset-choice';
import { categoryOf } from '@/work/quoting/pricing-terms';
import { jobId } from '@/work/schedule/job';
import { runNow } from '@/work/schedule/schedule';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
/** What is served, by secret, as Sampan's own server would. */
let served: Map<string, { name: string; text: string; made: number }>;
let away: string | null;
beforeEach(async () => {
  v = await setOut();
  served = new Map();
  away = null;
  const feedServer: FeedServer = {
    put: async (secret, name, _type, made, body) => {
      if (!away) served.set(secret, { name, made, text: await body.text() });
      return away;
    },
    remove: async (secret) => {
      if (!away) served.delete(secret);
      return away;
    },
    about: async () => null,
  };
  (v.work as { feedServer?: FeedServer }).feedServer = feedServer;
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const read = (line: string) => readCondition(line, KINDS.listing);
const save = (name: string, line: string, id: string | null = null) =>
  saveGroup(v.work, { id, name, filter: read(line), picked: [], left: [] });
const made = async (name: string, line: string) => {
  const done = await save(name, line);
  if (!done.ok) throw new Error(done.reason);
  return done.id;
};
const found = async (query: string) =>
  new ListingList(await caughtUp(v.work))
    .search({ query, sort: 'sku', descending: false, offset: 0, limit: 500, of: 'all' }, v.work.clock())
    .rows.map((r) => r.id);
const live = async () => (await v.work.db.listings.toArray()).filter((l) => l.state === 'live');
/** Costs of listings as they stand in the rows. */
const costs = async () => {
  const [listings, variants, items] = await Promise.all([
    v.work.db.listings.toArray(),
    v.work.db.variants.toArray(),
    v.work.db.items.toArray(),
  ]);
  return listings.map((l) => {
    const [source] = variants.find((one) => one.id === l.variant)!.sources;
    const item = items.find((i) => i.supplier === source!.supplier && i.id.endsWith(source!.item))!;
    return { id: l.id, cost: item.cost };
  });
};

test('a group holds what a count over the rows finds; it is searched by, asked for by others, renamed with them', async () => {
  const all = await costs();
  const median = all.map((c) => c.cost).sort((a, b) => a - b)[Math.floor(all.length / 2)]!;
  const line = `cost:>=${(median / 100).toFixed(2)}`;
  const id = await made('Dear', line);
  const wanted = all.filter((c) => c.cost >= median).map((c) => c.id);
  expect(wanted.length).toBeGreaterThan(0);
  expect(wanted.length).toBeLessThan(all.length);
  expect((await found('group:dear')).sort()).toEqual(wanted.sort());
  expect((await found('-group:Dear')).length).toBe(all.length - wanted.length);
  await made('Rest', '-group:Dear');
  expect((await save('Costly', line, id)).ok).toBe(true);
  expect((await found('group:Rest')).length).toBe(all.length - wanted.length);
  const groups = await v.work.db.groups.toArray();
  expect(groups.find((g) => g.name === 'Rest')!.filter).toEqual(read('-group:Costly'));

  // One that asks for itself over another is refused with the way; one that is used is not removed.
  const circle = await save('Costly', 'group:Rest', id);
  expect(circle).toEqual({
    ok: false,
    reason: expect.stringContaining('“Costly” asks for “Rest”, “Rest” asks for “Costly”'),
  });
  expect(await dropGroup(v.work, id)).toMatchObject({ ok: false, reason: expect.stringContaining('“Rest”') });
  expect((await save('costly', 'cost:>1')).ok).toBe(false);
  expect((await save('New', 'group:Nobody')).ok).toBe(false);
  expect((await save('New', 'cost:many')).ok).toBe(false);
  expect((await save('A "b"', 'cost:>1')).ok).toBe(false);
});

test('picked by hand and left out: by product, on every marketplace; one undo takes it back', async () => {
  const [first, second] = await live();
  const id = await made('Chosen', `sku:"${second!.sku}"`);
  await pickListings(v.work, id, [first!.id], 'picked');
  expect(await found('group:Chosen')).toEqual(expect.arrayContaining([first!.id, second!.id]));
  await pickListings(v.work, id, [second!.id], 'left');
  expect(await found('group:Chosen')).not.toContain(second!.id);
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(await found('group:Chosen')).toContain(second!.id);
  const held = lookAtGroup(await caughtUp(v.work), (await v.work.db.groups.get(id))!, v.work.clock());
  expect(held.some[0]).toMatchObject({ id: first!.product, byHand: 'picked' });
});

test('units sold within 30 days are those of the orders', async () => {
  const { market } = v.outside;
  const luck = chance(4);
  const skus = (await live()).map((l) => l.sku).slice(0, 3);
  for (const [k, sku] of skus.entries())
    for (let n = 0; n <= k; n++) sell(market, luck, v.work.clock(), { sku, quantity: 1 });
  await v.settle(150_000);
  const orders = await v.work.db.orders.toArray();
  const counted = new Map<string, number>();
  for (const o of orders) for (const l of o.lines) counted.set(l.sku, (counted.get(l.sku) ?? 0) + l.quantity);
  for (const [sku, n] of counted) {
    expect(await found(`sales:${n} sku:"${sku}"`)).toHaveLength(1);
    expect(await found(`sales:>${n} sku:"${sku}"`)).toEqual([]);
  }
  expect(counted.get(skus[2]!)).toBeGreaterThanOrEqual(3);
  v.tick(31 * 86_400_000);
  expect(await found('sales:>0')).toEqual([]);
});

test('a plan that goes by a group: what a change would do is what it does, and one undo takes the prices back', async () => {
  const { db } = v.work;
  const [first, second] = await live();
  const id = await made('Pushed', `sku:"${first!.sku}"`);
  const [everything] = await db.plans.toArray();
  const dearer: PlanRow = {
    ...everything!,
    ...{ id: 'pushed', name: 'Pushed', filter: readCondition('group:Pushed', KINDS.goods) },
    bands: [{ ...everything!.bands[0]!, target: { kind: 'margin', rate: 600_000 } }],
  };
  const { stock } = (await caughtUp(v.work)).shop.settings;
  const saved = await savePlans(v.work, [dearer, everything!], stock);
  expect(saved.ok).toBe(true);
  await v.settle();
  const prices = async () => new Map((await db.listings.toArray()).map((l) => [l.id, l.published?.price]));
  const before = await prices();

  const draft = { ...(await db.groups.get(id))!, filter: read(`sku:"${first!.sku}" sku:"${second!.sku}"`) };
  const weighed = weighGroup(await caughtUp(v.work), [], draft, v.work.clock());
  expect(weighed).toMatchObject({ comes: 1, leaves: 0, unpriced: 0 });
  expect(weighed.uses).toEqual([{ is: 'plan', name: 'Pushed', on: null }]);
  expect(weighed.dearer + weighed.cheaper).toBe(1);
  const done = await saveGroup(v.work, draft);
  expect(done).toMatchObject({ ok: true, repriced: 1 });
  await v.settle();
  const after = await prices();
  expect([...after].filter(([one, price]) => price !== before.get(one)).map(([one]) => one)).toEqual([
    second!.id,
  ]);
  expect(after.get(second!.id)! > before.get(second!.id)!).toBe(weighed.dearer === 1);

  // It cannot go by what depends on the price that it decides.
  expect(await save('Pushed', 'margin:>20', id)).toMatchObject({
    ok: false,
    reason: expect.stringContaining('Price plan “Pushed” goes by it.'),
  });
  const byMargin = await made('By margin', 'margin:>20');
  expect(byMargin).toBeTruthy();
  const wrong = { ...dearer, filter: readCondition('group:"By margin"', KINDS.goods) };
  expect(await savePlans(v.work, [wrong, everything!], stock)).toMatchObject({ ok: false });

  await undo(v.work, (await lastUndoable(db))!.id);
  await undo(v.work, (await lastUndoable(db))!.id);
  await v.settle();
  expect(await prices()).toEqual(before);
});

const draftOf = (set: Partial<FeedDraft> = {}): FeedDraft => ({
  ...{
    name: 'Lamps',
    market: 'pennywharf',
    group: null,
    mark: { parameter: 'via', value: 'lamps' },
    shipping: 295,
  },
  form: { ...startingForm('csv'), picture: 'https://pics.example{{{picture path}}}' },
  ...set,
});
const newFeed = async (set: Partial<FeedDraft> = {}): Promise<FeedRow> => {
  const done = await saveFeed(v.work, null, draftOf(set));
  if (!done.ok) throw new Error(done.reason);
  return (await v.work.db.feeds.get(done.id))!;
};

test('a feed tells what buyers see, by the rows; it is made by itself, and again when something changed', async () => {
  const { db } = v.work;
  const feed = await newFeed();
  await runNow(v.work, jobId(feed.id, 'feed'));
  await v.settle(1_000);
  const { text, name } = served.get(feed.secret)!;
  expect(name).toBe('lamps.csv');
  const rows = text.trimEnd().split('\r\n').slice(1);
  const shown = (await db.listings.toArray()).filter((l) => l.state === 'live' || l.state === 'paused');
  expect(rows.length).toBe(shown.length);
  for (const l of shown) {
    const row = rows.find((one) => one.startsWith(`${l.sku},`))!;
    expect(row).toContain(`,${(l.published!.price / 100).toFixed(2)},GBP,`);
    expect(row).toContain(`${l.page}?via=lamps`);
    expect(row).toContain(',2.95,');
  }
  const first = (await db.madeFeeds.get(feed.id))!;
  expect(first).toMatchObject({ rows: rows.length, leftOut: 0, bytes: new Blob([text]).size });

  const [one] = shown;
  await db.listings.update(one!.id, { title: 'Another name of it' });
  await publishFeed(v.work, feed.id);
  expect(await db.madeFeeds.get(feed.id)).toMatchObject({ changed: 1, fresh: 0, gone: 0 });
  expect(served.get(feed.secret)!.text).toContain('Another name of it');

  // By the clocks of the shop's zone, each morning at six.
  const job = (await db.jobs.get(jobId(feed.id, 'feed')))!;
  expect(new Date(job.nextAt).toISOString()).toMatch(/T06:00:00/);
  expect(dayOf(job.nextAt, 'Europe/London') > dayOf(v.work.clock(), 'Europe/London')).toBe(true);
});

test('what must not go out unseen does not: an empty feed, one that shrank by half, a server that is away, a mark used twice', async () => {
  const { db } = v.work;
  const id = await made('Shown', '');
  const feed = await newFeed({ group: id, form: { ...startingForm('jsonl') } });
  expect((await publishFeed(v.work, feed.id)).ok).toBe(true);
  const before = served.get(feed.secret)!.text;
  away = 'Sampan’s server is not there.';
  expect(await publishFeed(v.work, feed.id)).toMatchObject({
    ok: false,
    says: expect.stringContaining('not there'),
  });
  away = null;
  await save('Shown', 'sku:nothing-of-ours', id);
  expect(await publishFeed(v.work, feed.id, true)).toMatchObject({
    ok: false,
    says: expect.stringContaining('Nothing'),
  });
  expect(served.get(feed.secret)!.text).toBe(before);
  // As if the last one had been large.
  await save('Shown', '', id);
  const { rows } = (await db.madeFeeds.get(feed.id))!;
  await db.madeFeeds.update(feed.id, { rows: rows * 2 + 40 });
  expect(await publishFeed(v.work, feed.id)).toMatchObject({ ok: false, asks: true });
  expect((await publishFeed(v.work, feed.id, true)).ok).toBe(true);

  expect(await saveFeed(v.work, null, draftOf({ name: 'Other' }))).toMatchObject({
    ok: false,
    reason: expect.stringContaining('could not be told apart'),
  });
  expect((await saveFeed(v.work, null, draftOf({ name: 'LAMPS', mark: null }))).ok).toBe(false);
  const wrong = draftOf({ name: 'Wrong', mark: null, form: { ...startingForm('xml'), columns: [] } });
  expect((await saveFeed(v.work, null, wrong)).ok).toBe(false);

  const old = feed.secret;
  await renewSecret(v.work, feed.id);
  expect(served.has(old)).toBe(false);
  const { secret } = (await db.feeds.get(feed.id))!;
  expect(secret).not.toBe(old);
  expect(secret).toMatch(/^[A-Za-z0-9]{32,80}$/);
  await publishFeed(v.work, feed.id);
  expect(served.has(secret)).toBe(true);
  await dropFeed(v.work, feed.id);
  expect(served.size).toBe(0);
});

test('what is left out is told with its step; the group of a feed cannot be removed', async () => {
  const { db } = v.work;
  const [one] = await live();
  await db.listings.update(one!.id, { page: null });
  const id = await made('All', '');
  const feed = await newFeed({ group: id });
  const { secret: _, id: __, at: ___, ...draft } = feed;
  const looked = await lookAtFeed(v.work, await caughtUp(v.work), feed.id, draft, v.work.clock());
  if (!looked.ok) throw new Error(looked.reason);
  expect(looked.look).toMatchObject({ leftOut: 1, compared: false });
  expect(looked.look.faults[0]).toMatchObject({
    listing: one!.id,
    out: true,
    says: 'link has no value.',
    mend: 'Publish it, or give the address of pages as a pattern.',
  });
  expect(looked.look.reasons[0]).toEqual({ says: 'link has no value', out: true, count: 1 });
  expect(await dropGroup(v.work, id)).toMatchObject({
    ok: false,
    reason: expect.stringContaining('feed “Lamps”'),
  });
});

test('orders that carry the mark of a feed are counted for it, to the minor unit of their accounts', async () => {
  const { market } = v.outside;
  const luck = chance(8);
  const skus = (await live()).map((l) => l.sku);
  for (let k = 0; k < 6; k++)
    sell(market, luck, v.work.clock(), {
      sku: skus[k % skus.length]!,
      quantity: 1,
      ...(k % 2 && { via: 'lamps' }),
    });
  await v.settle(150_000);
  const orders = await v.work.db.orders.toArray();
  const own = orders.filter((o) => o.mark === 'lamps');
  expect(own).toHaveLength(3);
  const book = new OrderBook(v.work);
  await book.catchUp();
  const [sum, ...others] = soldByMark(book).sums;
  expect(others).toEqual([]);
  expect(sum).toMatchObject({ id: 'lamps', market: 'pennywharf', orders: 3, returns: 0 });
  // What buyers paid, as the marketplace has it; the shop's currency is the site's.
  const paid = own
    .map((o) => market.orders.find((one) => one.number === o.number)!)
    .reduce(
      (n, o) =>
        n +
        o.lines.reduce((s, l) => s + Math.round(Number(l.unitPrice) * 100) * l.quantity, 0) +
        Math.round(Number(o.shipping ?? 0) * 100),
      0,
    );
  expect(sum!.revenue).toBe(paid);
});

test('presets go by groups: what is on sale is told again when a group changes, approvals on the Bench fall away', async () => {
  const { db } = v.work;
  const [first, second] = await live();
  const id = await made('Marked', `sku:"${first!.sku}"`);
  const market = (await caughtUp(v.work)).shop.connections.get('pennywharf')!;
  if (market.role !== 'marketplace') throw new Error('no marketplace');
  const { shop } = await caughtUp(v.work);
  const full = (await caughtUp(v.work)).get(first!.id)!;
  const category = categoryOf(full, market, shop);
  const attribute = attributesIn(market.site.attributes, category).find(
    (a) => a.choices?.length && !attributesOf(full, market, category, shop)[a.id],
  )!;
  const value = attribute.choices![0]!.id;
  const preset: Preset = {
    ...{ id: 'p', name: 'For marked ones', on: true, category: null },
    filter: readCondition('group:Marked', KINDS.goods),
    fills: { [attribute.id]: { from: 'value', value } },
  };
  const saved = await savePresets(v.work, 'pennywharf', [preset, ...(market.presets ?? [])], 'Preset made');
  expect(saved).toEqual(expect.objectContaining({ ok: true }));
  await v.settle(150_000);
  const there = (sku: string) => v.outside.market.listings[sku]!.attributes?.[attribute.id];
  expect(there(first!.sku)).toBe(value);
  expect(there(second!.sku)).not.toBe(value);

  const draft = { ...(await db.groups.get(id))!, filter: read(`sku:"${second!.sku}"`) };
  const weighed = weighGroup(await caughtUp(v.work), [], draft, v.work.clock());
  expect(weighed).toMatchObject({ comes: 1, leaves: 1, told: 2, dearer: 0, cheaper: 0 });
  expect(await saveGroup(v.work, draft)).toMatchObject({ ok: true, told: 2, repriced: 0 });
  await v.settle(150_000);
  expect(there(second!.sku)).toBe(value);
  expect(there(first!.sku)).not.toBe(value);
  await undo(v.work, (await lastUndoable(db))!.id);
  await v.settle(150_000);
  expect(there(first!.sku)).toBe(value);
});

test('groups in memory, brought up, are those of a memory that begins anew', async () => {
  const id = await made('Moving', 'stock:>5');
  await made('Around it', '-group:Moving price:>3');
  const luck = chance(31);
  const lines = ['stock:>5', 'cost:<10', 'brand:a or stock:<3', '', '-has:map price:>5', 'sales:>0'];
  for (let k = 0; k < 6; k++) {
    await save('Moving', luck.pick(lines), id);
    if (k % 2) await pickListings(v.work, id, [luck.pick(await live()).id], luck.pick(['picked', 'left']));
    const kept = [await found('group:Moving'), await found('group:"Around it"')];
    (await caughtUp(v.work)).forget();
    expect([await found('group:Moving'), await found('group:"Around it"')]).toEqual(kept);
  }
});

test('a sale and the tax inside, in a feed: the price of now, the one without the sale, its instants', async () => {
  const { db } = v.work;
  const [everything] = await db.plans.toArray();
  const { stock } = (await caughtUp(v.work)).shop.settings;
  const sale = { off: 100_000, from: '2026-11-01T00:00', to: '2026-11-30T00:00' };
  expect((await savePlans(v.work, [{ ...everything!, sale }], stock)).ok).toBe(true);
  await v.settle(150_000);
  const columns = [
    'id',
    'price',
    'full price',
    'sale price',
    'sale from',
    'sale until',
    'price without tax',
    'tax rate',
    'price with shipping',
  ];
  const feed = await newFeed({
    form: {
      ...startingForm('jsonl'),
      columns: columns.map((name) => ({
        ...{ name, from: { field: name }, kind: 'text', required: false },
        ...{ shortest: null, longest: null, allowed: [] },
      })),
    },
  });
  await publishFeed(v.work, feed.id);
  const rows = served
    .get(feed.secret)!
    .text.trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  const minor = (text: string) => Math.round(Number(text) * 100);
  const onSale = rows.filter((row) => row['sale price']);
  expect(onSale.length).toBeGreaterThan(0);
  for (const row of rows) {
    const listing = (await db.listings.toArray()).find((l) => l.sku === row.id)!;
    expect(minor(row.price)).toBe(listing.published!.price);
    // 20 % VAT stand inside: a sixth of it is the tax's.
    expect(row['tax rate']).toBe('20');
    expect(minor(row['price without tax'])).toBe(Math.floor((minor(row.price) * 10 + 6) / 12));
    expect(minor(row['price with shipping'])).toBe(minor(row.price) + 295);
  }
  for (const row of onSale) {
    expect(row['sale price']).toBe(row.price);
    expect(minor(row['full price'])).toBeGreaterThan(minor(row.price));
    expect(row['sale from']).toBe('2026-11-01T00:00:00.000Z');
    expect(row['sale until']).toBe('2026-11-30T00:00:00.000Z');
  }
});

test('variants together are one product: as many rows as products, units and prices by the rows', async () => {
  const { db } = v.work;
  const feed = await newFeed({ form: { ...startingForm('jsonl'), variants: 'together' } });
  await publishFeed(v.work, feed.id, true);
  const rows = served
    .get(feed.secret)!
    .text.trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  const shown = (await db.listings.toArray()).filter((l) => l.state === 'live' || l.state === 'paused');
  const products = new Map<string, typeof shown>();
  for (const l of shown) products.set(l.product, [...(products.get(l.product) ?? []), l]);
  expect(rows.length).toBe(products.size);
  const cheapest = [...products.values()].map((own) => {
    const had = own.filter((l) => l.state === 'live' && l.published!.quantity > 0);
    return Math.min(...(had.length ? had : own).map((l) => l.published!.price));
  });
  const minor = (text: string) => Math.round(Number(text) * 100);
  expect(rows.map((row) => minor(row.price)).sort((a, b) => a - b)).toEqual(cheapest.sort((a, b) => a - b));
});
