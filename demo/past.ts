import { makeOlder, OLDER, OLDER_SEED } from '../stand-ins/pennywharf/older';
import 'fake-indexeddb/auto';
import { marketService } from '../src/connect/marketplace';
import type { Reach } from '../src/connect/reach';
import { type Connection, SampanDatabase, SCHEMA } from '../src/store';
import { SourceSearcher } from '../src/work/catalogue/source-search';
import { connectSupplier, startShop } from '../src/work/connections/connections';
import type { Work } from '../src/work/context';
import { newJob } from '../src/work/jobs/job';
import { runRound } from '../src/work/jobs/runner';
import { approve, publish, setOwnPrice } from '../src/work/listings/bench';
import { cancelOrder, releaseOrder, standingFor } from '../src/work/orders/decide';
import { withoutHelpers } from '../src/work/readings/items';
import type { Handler } from '../stand-ins/answer';
import { brackwater } from '../stand-ins/brackwater/service';
import {
  advance,
  drift,
  itemsOf,
  move,
  openWarehouse,
  type Warehouse,
} from '../stand-ins/brackwater/warehouse';
import { Faults } from '../stand-ins/faults';
import { Pace } from '../stand-ins/pace';
import { type Market, openMarket, sell, touch } from '../stand-ins/pennywharf/market';
import { pennywharf } from '../stand-ins/pennywharf/service';
import { chance } from '../stand-ins/random';

// By way of this file, which gives the database its ground first.
export { SCHEMA };

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const TOKEN = 'consent-of-the-demo';
/** What the shop sells, as its owner would have searched for it. */
const RANGE = [
  'torch',
  'planisphere',
  'dew',
  'chair',
  'desiccant',
  '"lens cap"',
  'atlas',
  'flask',
  'blanket',
  'filter',
  'gloves',
  'lantern',
  'compass',
];

/** A database as JSON: rows by table. Typed arrays are written as plain lists. */
export type Recorded = Record<string, unknown[]>;

export interface Past {
  readonly warehouse: Warehouse;
  readonly market: Market;
  readonly recorded: Recorded;
}

const reachOf =
  (handlers: Record<string, Handler>): Reach =>
  async (service, path, init) => {
    const url = new URL(path, 'http://service');
    const answer = handlers[service]!({
      method: init?.method ?? 'GET',
      path: url.pathname,
      query: url.searchParams,
      headers: Object.fromEntries(new Headers(init?.headers)),
      body: init?.body ? JSON.parse(String(init.body)) : null,
    })!;
    return new Response(answer.status === 304 ? null : JSON.stringify(answer.body ?? null), {
      status: answer.status,
      headers: answer.headers,
    });
  };

/** Rows whose files are read, so that JSON can hold them. */
const withFiles = (rows: object[]) =>
  Promise.all(
    rows.map(async (row) => {
      const fields = Object.entries(row).map(async ([name, v]) => [
        name,
        v instanceof Blob ? { file: new Uint8Array(await v.arrayBuffer()) } : v,
      ]);
      return Object.fromEntries(await Promise.all(fields));
    }),
  );

/** Typed arrays as JSON can hold them. */
const typedArray = (v: unknown) => {
  if (v instanceof Int32Array) return { int32: [...v] };
  if (v instanceof Float64Array) return { float64: [...v] };
  return v instanceof Uint8Array ? { base64: Buffer.from(v).toString('base64') } : v;
};

/**
 * Lives through the days before `until` with the application itself and the services in one process, from a
 * seed and a clock that is set: what comes out was really read, priced, sold, bought and shipped. Takes some
 * seconds.
 */
export async function livePast(until: number, days: number, items: number): Promise<Past> {
  let time = until - days * DAY;
  let ids = 0;
  const luck = chance(4471);
  const clock = () => time;
  const faults = new Faults(luck.next);
  const pace = new Pace('still');
  const w = openWarehouse(1847, items);
  const m = openMarket();
  m.tokens.push(TOKEN);
  const db = new SampanDatabase(`past-${until}`);
  const work: Work = {
    db,
    reach: reachOf({
      brackwater: brackwater(w, faults, pace, clock),
      pennywharf: pennywharf(m, faults, clock),
    }),
    clock,
    helpers: withoutHelpers,
    fetchAddress: async () => new Response(null, { status: 404 }),
    newId: () => `past-${String(++ids).padStart(7, '0')}`,
    chance: luck.next,
  };
  const settle = async () => {
    while (await runRound(work)) time += 20;
  };

  await startShop(work);
  await db.settings.update('shop', { forward: 'at once' });
  const site = await marketService(work.reach, 'pennywharf', TOKEN, null).site();
  if (!site.ok) throw new Error(site.trouble.says);
  const market: Connection = {
    id: 'pennywharf',
    service: 'pennywharf',
    role: 'marketplace',
    name: site.value.name,
    credential: { kind: 'consent', token: TOKEN },
    paused: false,
    trouble: null,
    failures: 0,
    openUntil: null,
    cursor: null,
    connectedAt: time,
    site: site.value,
    optedIn: [],
  };
  await db.connections.put(market);
  await db.jobs.put(newJob('pennywharf', 'orders', time));
  const connected = await connectSupplier(
    work,
    { id: 'brackwater', role: 'supplier', name: 'Brackwater Trade', about: '' },
    'DD-4471',
    'lantern-moss-42',
  );
  if (!connected.ok) throw new Error(connected.reason);
  // Twice a day is enough for a past; every quarter of an hour would read six thousand catalogues.
  await db.jobs.update('brackwater:catalogue', { every: 12 * HOUR });
  await settle();

  const source = new SourceSearcher(work);
  const takeSome = async (query: string, n: number) => {
    source.stale();
    const found = await source.search({
      market: 'pennywharf',
      query,
      sort: 'profit',
      descending: true,
      offset: 5,
      limit: n,
    });
    await source.take({ keys: found.rows.map((r) => r.key) }, 'pennywharf');
  };
  const openAll = async () => {
    const ids = (await db.products.toArray()).filter((p) => p.approvedAt === null).map((p) => p.id);
    await approve(work, ids);
    await publish(work, ids);
    await settle();
  };
  for (const query of RANGE) await takeSome(`${query} is:stocked is:new stock:>6`, 5);
  await openAll();

  for (let day = days - 1; day >= 0; day--) {
    const dawn = until - (day + 1) * DAY;
    time = Math.max(time, dawn + 7 * HOUR);
    // What is listed moves more than the rest, so that a refresh of each day has something to tell.
    drift(w, luck, 0.002);
    const listed = await db.listings.toArray();
    for (let k = 0; k < 6; k++) {
      const sku = luck.pick(listed).item;
      const item = itemsOf(w).get(sku)!;
      const what = luck.next();
      if (what < 0.4) move(w, sku, { cost: Math.round(item.cost * (0.93 + luck.next() * 0.17)) });
      else if (what < 0.46) move(w, sku, { stock: luck.whole(0, 2) });
      else move(w, sku, { stock: item.stock + luck.whole(5, 80) });
    }
    if (w.balance < 60_000) w.balance += 250_000;
    await db.jobs.toCollection().modify({ nextAt: time });
    await settle();
    // Some costs move after the morning's reading: orders of that day are charged otherwise than expected.
    for (let k = 0; k < 3; k++) {
      const { item: sku } = luck.pick(listed);
      move(w, sku, { cost: Math.round(itemsOf(w).get(sku)!.cost * (1 + luck.next() * 0.12)) });
    }
    const last = day < 2;
    for (let k = luck.whole(2, 4 + Math.round((days - day) / 12)); k > 0; k--) {
      time += luck.whole(20, 110) * 60_000;
      if (time > until - 10 * 60_000) break;
      const odd = luck.next();
      sell(m, luck, time, { personalised: odd < 0.02, badAddress: odd > 0.985 });
      // A seller reads orders every few minutes; here at each sale.
      await db.jobs.update('pennywharf:orders', { nextAt: time });
      await settle();
    }
    for (const p of w.purchases) {
      const age = time - p.acceptedAt;
      if (p.status === 'accepted' && age > 6 * HOUR && !(last && luck.next() < 0.3))
        advance(w, p.number, Math.min(time, p.acceptedAt + luck.whole(6, 20) * HOUR), 0);
      else if (p.status === 'shipped' && time - p.parcels[0]!.shippedAt > 20 * HOUR) {
        advance(w, p.number, Math.min(time, p.parcels[0]!.shippedAt + luck.whole(20, 40) * HOUR), 0);
        const order = m.orders.find((o) => o.number === p.reference);
        if (order?.status === 'shipped') touch(m, order, { status: 'delivered' });
      }
    }
    await db.jobs.where('id').notEqual('brackwater:catalogue').modify({ nextAt: time });
    await settle();
    // The owner's evening: held orders are looked at, but for those of the last two days.
    for (const order of await db.orders.where('open').equals(1).toArray()) {
      if (last || standingFor(order) !== 'held') continue;
      const failed = order.checks.filter((c) => !c.passed).map((c) => c.kind);
      if (failed.includes('stock') || failed.includes('address'))
        await cancelOrder(work, order.id, 'The supplier has none left.');
      else await releaseOrder(work, order.id, failed, true);
    }
    await settle();
  }
  await lastMorning(
    work,
    w,
    m,
    until,
    () => settle(),
    (at) => (time = Math.max(time, at)),
    takeSome,
  );
  // What is on its way moves on once time runs again; in the past it was moved by hand.
  w.purchases
    .filter((p) => p.status !== 'delivered')
    .forEach((p, k) => {
      p.dueAt = until + k * 120_000;
    });
  // Some of the listings from before Sampan were brought in once and taken out again.
  const before = makeOlder([...itemsOf(w).values()].slice(0, 2400), OLDER, OLDER_SEED);
  await db.removed.bulkPut(
    before
      .filter((_, k) => k % 30 === 7)
      .map((o) => ({ id: `pennywharf:${o.listing.sku}`, at: until - 20 * DAY })),
  );
  const recorded: Recorded = {};
  for (const table of db.tables)
    recorded[table.name] = JSON.parse(
      JSON.stringify(await withFiles(await table.toArray()), (_, v) => typedArray(v)),
    );
  await db.delete();
  return { warehouse: w, market: m, recorded };
}

/**
 * The last hours: what makes the first minute worth looking at. Costs rise on goods sold this morning, some
 * goods run out, odd orders come in, the Bench fills.
 */
async function lastMorning(
  work: Work,
  w: Warehouse,
  m: Market,
  until: number,
  settle: () => Promise<void>,
  setTime: (at: number) => void,
  takeSome: (query: string, n: number) => Promise<void>,
): Promise<void> {
  const { db } = work;
  const luck = chance(9);
  setTime(until - 3 * HOUR);
  await takeSome('tripod is:new is:stocked', 4);
  await takeSome('beanie is:new is:stocked', 3);
  await takeSome('has:map is:new is:stocked', 5);
  await takeSome('mug is:new', 3);
  const live = (await db.listings.where('state').equals('live').toArray()).filter(
    (l) => (l.told?.quantity ?? 0) > 1,
  );
  // In a small catalogue fewer are live: the count goes round.
  const nth = (k: number) => live[k % live.length]!;
  const own = nth(3);
  await setOwnPrice(work, own, own.told!.price - 100);
  // Sold, and the cost rises before the order is read: the check at the moment of buying finds it.
  const dear = nth(11);
  sell(m, luck, until - 150 * 60_000, { sku: dear.sku });
  move(w, dear.item, { cost: Math.round(itemsOf(w).get(dear.item)!.cost * 1.9) });
  await db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await db.jobs.update('pennywharf:orders', { nextAt: until });
  await settle();
  await db.jobs.update('pennywharf:orders', { nextAt: 0 });
  await settle();
  setTime(until - 2 * HOUR);
  sell(m, luck, until - 125 * 60_000, { sku: nth(20).sku, personalised: true });
  sell(m, luck, until - 122 * 60_000, { sku: nth(27).sku, badAddress: true });
  const gone = nth(33);
  sell(m, luck, until - 121 * 60_000, { sku: gone.sku, quantity: 2 });
  move(w, gone.item, { stock: 1 });
  for (const l of [nth(40), nth(41), nth(42)]) move(w, l.item, { stock: 0 });
  await db.jobs.toCollection().modify({ nextAt: 0 });
  await settle();
  setTime(until - 40 * 60_000);
  sell(m, luck, until - 55 * 60_000, { sku: nth(50).sku });
  sell(m, luck, until - 52 * 60_000, { sku: nth(55).sku });
  await db.jobs.toCollection().modify({ nextAt: 0 });
  await settle();
  await db.jobs
    .where('id')
    .equals('brackwater:catalogue')
    .modify({ nextAt: until + 5 * 60_000, every: 15 * 60_000 });
}
