import { USUAL_RULES } from '../src/core/forwarding';
import { EVERYTHING, readCondition } from '../src/core/query';
import { type Listing, marketById, SampanDatabase, SCHEMA, stateSite } from '../src/store';
import { connectSupplier, keepListSupplier } from '../src/work/connections/connections';
import { firstOf } from '../src/work/connections/consents';
import { makeOlder, OLDER, OLDER_SEED } from '../stand-ins/marketplace/older';
import { pastDraw } from './draw';
import { returnsOf, returnsToAnswer } from './past-returns';
import { openPrintRoom, sellPersonal } from './print-room';
import 'fake-indexeddb/auto';
import { marketService } from '../src/connect/marketplace';
import type { Reach } from '../src/connect/reach';
import { RATE_ONE } from '../src/core/money';
import { standingOf } from '../src/core/orders';
import { SourceSearcher } from '../src/work/catalogue/source-search';
import { queued, type Work } from '../src/work/context/work';
import { applyCells } from '../src/work/editing/bulk-edit';
import { savePresets, usualPresets } from '../src/work/editing/presets';
import { runRound } from '../src/work/jobs/runner';
import { approve } from '../src/work/listings/approve';
import { setBackup } from '../src/work/listings/link';
import { setOwnPrice } from '../src/work/listings/prices';
import { publish } from '../src/work/listings/publish';
import { listOn } from '../src/work/listings/take';
import { cancelOrder, releaseOrder } from '../src/work/orders/actions';
import { BUYING_FIELDS } from '../src/work/orders/buying';
import { orderFile, takeTrackingFile } from '../src/work/orders/outside-service';
import { setOrderRules } from '../src/work/orders/rules';
import { saveRate } from '../src/work/pricing/rates';
import { learnTransit } from '../src/work/quoting/transit';
import { inspect, startReading } from '../src/work/readings/dropped-lists';
import { withoutHelpers } from '../src/work/readings/items';
import { newJob } from '../src/work/schedule/job';
import { startShop } from '../src/work/schedule/schedule';
import { keepCost } from '../src/work/statements/costs';
import type { Handler } from '../stand-ins/answer';
import { Faults } from '../stand-ins/faults';
import { partsCsv } from '../stand-ins/lists/hollin';
import {
  type Office,
  openOffice,
  partsOf,
  shipTaken,
  takeOrderFile,
  trackingCsv,
} from '../stand-ins/lists/hollin-orders';
import {
  askToCancel,
  cancelLines,
  type Market,
  openMarket,
  sell,
  touch,
} from '../stand-ins/marketplace/market';
import { marketplace } from '../stand-ins/marketplace/service';
import { SITE_IDS, type SiteId } from '../stand-ins/marketplace/sites';
import { closeNow } from '../stand-ins/marketplace/statements';
import { Pace } from '../stand-ins/pace';
import { type Chance, chance } from '../stand-ins/random';
import { supplier } from '../stand-ins/supplier/service';
import {
  advance,
  callOff,
  drift,
  itemsOf,
  leftOf,
  move,
  openWarehouse,
  type Warehouse,
} from '../stand-ins/supplier/warehouse';
import { FEED_MARK, groupsAndFeeds } from './groups';

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

export interface Past {
  readonly warehouse: Warehouse;
  /** Tinloft's. */
  readonly printer: Warehouse;
  /** Quillmere's. */
  readonly second: Warehouse;
  readonly markets: Readonly<Record<SiteId, Market>>;
  readonly office: Office;
  /** What Sampan knows of it: the caller's to write down and to delete. */
  readonly db: SampanDatabase;
}

export interface PastOptions {
  readonly days: number;
  /** Items of Brackwater, and parts of Hollin. */
  readonly items: number;
  readonly parts?: number;
  /** What is done in that world at the end. */
  readonly after?: (world: World) => Promise<void>;
}

/** A file goes as its bytes, all else as JSON. */
const bodyOf = async (body: RequestInit['body']): Promise<unknown> =>
  body instanceof Blob ? Buffer.from(await body.arrayBuffer()) : body ? JSON.parse(String(body)) : null;

const reachOf =
  (handlers: Record<string, Handler>): Reach =>
  async (service, path, init) => {
    const url = new URL(path, 'http://service');
    const answer = handlers[service]!({
      method: init?.method ?? 'GET',
      path: url.pathname,
      query: url.searchParams,
      headers: Object.fromEntries(new Headers(init?.headers)),
      body: await bodyOf(init?.body),
    })!;
    return new Response(answer.status === 304 ? null : JSON.stringify(answer.body ?? null), {
      status: answer.status,
      headers: answer.headers,
    });
  };

/** What a dollar and a euro were worth in pounds, week by week, in hundredths of a penny. */
const RATES: Readonly<Record<string, readonly number[]>> = {
  USD: [7_844, 7_862, 7_851, 7_899, 7_931, 7_920, 7_952, 7_967, 7_948],
  EUR: [8_512, 8_504, 8_533, 8_547, 8_529, 8_561, 8_570, 8_556, 8_582],
};

/** The shop as it is lived: the application, the world around it, and the time between them. */
export interface World {
  readonly work: Work;
  readonly w: Warehouse;
  readonly printer: Warehouse;
  readonly second: Warehouse;
  readonly markets: Readonly<Record<SiteId, Market>>;
  readonly office: Office;
  readonly hollin: string;
  readonly luck: Chance;
  readonly settle: () => Promise<void>;
  readonly setTime: (at: number) => void;
  readonly take: (query: string, n: number, market?: SiteId) => Promise<void>;
}

/**
 * Lives through the days before `until` with the application itself and the services in one process, from a
 * seed and a clock that is set: what comes out was really read, priced, sold, bought and shipped. Takes some
 * seconds.
 */
export async function livePast(
  until: number,
  { days, items, parts = 600, after }: PastOptions,
): Promise<Past> {
  let time = until - days * DAY;
  let ids = 0;
  const luck = chance(4471);
  const clock = () => time;
  const faults = new Faults(luck.next);
  const pace = new Pace('still');
  const w = openWarehouse(1847, items);
  const printer = openWarehouse(1847, 0, 'tinloft');
  const second = openWarehouse(1847, 0, 'quillmere');
  const office = { ...openOffice(), count: parts };
  const markets = Object.fromEntries(SITE_IDS.map((id) => [id, openMarket(id)])) as Record<SiteId, Market>;
  const db = new SampanDatabase(`past-${until}`);
  const work: Work = {
    db,
    reach: reachOf({
      brackwater: supplier(w, faults, pace, clock),
      tinloft: supplier(printer, faults, pace, clock),
      quillmere: supplier(second, faults, pace, clock),
      ...Object.fromEntries(SITE_IDS.map((id) => [id, marketplace(markets[id], faults, clock)])),
    }),
    clock,
    helpers: withoutHelpers,
    fitPicture: async (file) => file,
    draw: await pastDraw(),
    alone: queued(),
    fetchAddress: async () => new Response(null, { status: 404 }),
    newId: () => `past-${String(++ids).padStart(7, '0')}`,
    chance: luck.next,
  };
  const settle = async () => {
    while (await runRound(work)) time += 20;
  };
  const setTime = (at: number) => {
    time = Math.max(time, at);
  };

  await startShop(work, 'Europe/London');
  await db.settings.update('shop', {
    shop: 'Dusk & Dipper',
    slip: 'Clear skies from Dusk & Dipper',
    sku: 'DD-{number}',
  });
  for (const id of SITE_IDS) await connectMarket(work, markets[id], id);
  const service = { id: 'brackwater', role: 'supplier', name: 'Brackwater Trade', about: '' } as const;
  const connected = await connectSupplier(work, service, 'DD-4471', 'lantern-moss-42');
  if (!connected.ok) throw new Error(connected.reason);
  // Twice a day is enough for a past; every quarter of an hour would read six thousand catalogues.
  await db.jobs.update('brackwater:catalogue', { every: 12 * HOUR });
  const kept = await keepListSupplier(work, {
    name: 'Hollin Optics Wholesale',
    currency: 'USD',
    // As the owner remembers it from last year: parcels cost more by now.
    shipping: [
      { upToGrams: 450, minor: 475 },
      { upToGrams: 2_270, minor: 795 },
      { upToGrams: 27_000, minor: 1_890 },
    ],
    shipsTo: ['US', 'GB'],
    purchases: 'file',
    url: '',
  });
  if (!kept.ok) throw new Error(kept.reason);
  const source = new SourceSearcher(work);
  const world: World = {
    work,
    w,
    printer,
    second,
    markets,
    office,
    hollin: kept.id!,
    luck,
    settle,
    setTime,
    take: async (query, n, market = 'pennywharf') => {
      source.stale();
      const found = await source.search({
        market,
        query,
        sort: 'profit',
        descending: true,
        offset: 5,
        limit: n,
      });
      await source.take({ keys: found.rows.map((r) => r.key) }, market);
    },
  };
  await keepRates(world, 0, until - days * DAY);
  await settle();
  await readHollin(world);
  await openStalls(world);
  await openSecond(world);
  await openShelf(world);
  await openPrintRoom(work, settle, days < 30 ? 8 : 24);

  for (let day = days - 1; day >= 0; day--) {
    const dawn = until - (day + 1) * DAY;
    setTime(dawn + 7 * HOUR);
    const last = day < 2;
    if ((days - 1 - day) % 7 === 6) {
      await keepRates(world, Math.round((days - 1 - day) / 7), dawn);
      await readHollin(world);
    }
    await morning(world);
    for (let k = luck.whole(2, 4 + Math.round((days - day) / 12)); k > 0; k--) {
      setTime(time + luck.whole(20, 110) * 60_000);
      if (time > until - 10 * 60_000) break;
      await buyers(world, k);
    }
    await parcels(world, last);
    await evening(world, last);
    await returnsOf(world, last);
  }
  await lastMorning(world, until);
  // Nobody edited anything on a site in the past: that is looked for from now on.
  await db.jobs.bulkPut(SITE_IDS.map((id) => newJob(id, 'drift', time)));
  // What is on its way moves on once time runs again; in the past it was moved by hand.
  for (const { purchases } of [w, printer, second])
    purchases
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
  await after?.(world);
  return { warehouse: w, printer, second, markets, office, db };
}

async function connectMarket(work: Work, m: Market, id: SiteId): Promise<void> {
  m.tokens.push(TOKEN);
  const site = await marketService(work.reach, id, TOKEN, null).site();
  if (!site.ok) throw new Error(site.trouble.says);
  const at = work.clock() + SITE_IDS.indexOf(id);
  await work.db.connections.put({
    ...firstOf(id, site.value, usualPresets(site.value, 'usual')),
    paused: false,
    connectedAt: at,
  });
  await work.db.credentials.put({ id, credential: { kind: 'consent', token: TOKEN } });
  await work.db.stated.put(stateSite(undefined, id, site.value, at));
  for (const task of ['orders', 'site', 'statements'] as const)
    await work.db.jobs.put(newJob(id, task, work.clock()));
}

/** The owner enters the week's exchange rates. */
async function keepRates({ work }: World, week: number, at: number): Promise<void> {
  const day = new Date(at).toISOString().slice(0, 10);
  for (const [currency, values] of Object.entries(RATES))
    await saveRate(work, {
      currency,
      day,
      value: (values[week % values.length]! * RATE_ONE) / 10_000,
      origin: 'typed',
    });
}

/** Hollin's weekly list is read: by its columns the first time, as it is remembered from then on. */
async function readHollin({ work, office, hollin, settle, luck }: World): Promise<void> {
  const parts = partsOf(office);
  for (let k = 0; k < 12; k++) {
    const part = luck.pick(parts);
    const cost = Math.round(part.cost * (0.96 + luck.next() * 0.1));
    office.moved[part.code] = { cost, stock: luck.next() < 0.2 ? 'out of stock' : String(luck.whole(3, 49)) };
  }
  const day = new Date(work.clock()).toISOString().slice(0, 10);
  const list = new Blob([partsCsv(partsOf(office), day)]);
  const seen = await inspect(work, { id: hollin, currency: 'USD' }, list, `hollin-${day}.csv`);
  if (!seen.ok) throw new Error(seen.reason);
  const begun = await startReading(work, hollin, seen.value.file, seen.value.sample.match);
  if (!begun.ok) throw new Error(begun.reason);
  await settle();
}

/** The first goods: Brackwater's at home and at Loomhall, Hollin's in the United States and a few at home. */
async function openStalls({ work, take, settle, hollin }: World): Promise<void> {
  const { db } = work;
  for (const query of RANGE) await take(`${query} is:stocked is:new stock:>6 supplier:Brackwater`, 5);
  const HOLLIN = 'supplier:Hollin is:stocked is:new stock:>4 weight:<2000';
  await take(`${HOLLIN} has:map`, 12, 'pennywharf-us');
  await take(`${HOLLIN} eyepiece`, 6);
  const listings = (await db.listings.toArray()).filter((l) => l.marketplace === 'pennywharf');
  const bought = new Set(
    (await db.variants.toArray()).flatMap((v) =>
      v.sources[0]?.supplier === 'brackwater' ? [v.product] : [],
    ),
  );
  const crafts = [...new Set(listings.map((l) => l.product))].filter((p) => bought.has(p)).slice(0, 22);
  await listOn(work, crafts, 'loomhall');
  const optics = [
    ...new Set(
      (await db.variants.toArray()).flatMap((v) => (v.sources[0]?.supplier === hollin ? [v.product] : [])),
    ),
  ];
  await listOn(work, optics.slice(-4), 'pennywharf-us');
  const loom = (await db.listings.toArray()).filter((l) => l.marketplace === 'loomhall').map((l) => l.id);
  const crafted = loom.flatMap((listing) => [
    { listing, field: 'attribute:maker', text: 'another' } as const,
    { listing, field: 'tags', text: 'stargazing, night sky, astronomy gift' } as const,
  ]);
  await applyCells(work, crafted, 'Who made them, and tags');
  // Colours and sizes as the supplier writes them, on the home marketplace.
  const { presets = [] } = (await marketById(db, 'pennywharf'))!;
  await savePresets(
    work,
    'pennywharf',
    [
      {
        id: 'variants',
        name: 'Colour and size',
        on: true,
        filter: EVERYTHING,
        category: null,
        fills: {
          colour: { from: 'field', field: 'colour', words: {} },
          size: { from: 'field', field: 'size', words: {} },
        },
      },
      ...presets,
    ],
    'Preset “Colour and size” for Pennywharf UK',
  );
  const ids = (await db.listings.toCollection().primaryKeys()) as string[];
  await approve(work, ids);
  await publish(work, ids);
  await settle();
}

/** What Quillmere has too is bought there where the first supplier has none. */
async function openSecond({ work, settle }: World): Promise<void> {
  const { db } = work;
  const service = { id: 'quillmere', role: 'supplier', name: 'Quillmere Goods', about: '' } as const;
  const connected = await connectSupplier(work, service, 'QG-318', 'reed-harbour-9');
  if (!connected.ok) throw new Error(connected.reason);
  await db.jobs.update('quillmere:catalogue', { every: 12 * HOUR });
  await settle();
  const source = new SourceSearcher(work);
  for (const variant of await db.variants.toArray()) {
    const item = variant.sources[0]?.supplier === 'brackwater' ? variant.sources[0].item : '';
    if (!item) continue;
    const found = await source.search({
      market: 'pennywharf',
      query: `supplier:Quillmere sku:QM-${item.slice(3)}`,
      sort: 'profit',
      descending: true,
      offset: 0,
      limit: 1,
    });
    const same = found.rows[0];
    if (same) await source.setBackup(variant.id, { supplier: 'quillmere', item: same.item.sku });
  }
  await settle();
}

/** Another of its kind may be sent in place of some goods, by a person's word. */
async function offerSubstitute(
  work: Work,
  { variant }: Pick<Listing, 'variant'>,
  title: string,
): Promise<void> {
  const source = new SourceSearcher(work);
  const [kind = ''] = title.split(/[ ,]/);
  const found = await source.search({
    market: 'pennywharf',
    query: `supplier:Quillmere stock:>5 ${kind}`,
    sort: 'profit',
    descending: true,
    offset: 0,
    limit: 1,
  });
  const [other] = found.rows;
  if (other)
    await source.setBackup(variant, { supplier: 'quillmere', item: other.item.sku, role: 'substitute' });
}

/** A few units of eight goods stand on the owner's shelf: a source that is packed by hand. */
async function openShelf({ work, w, settle }: World): Promise<void> {
  const { db } = work;
  const kept = await keepListSupplier(work, {
    name: 'Own shelf, Bristol',
    currency: 'GBP',
    shipping: [
      { upToGrams: 2_000, minor: 345 },
      { upToGrams: 30_000, minor: 790 },
    ],
    shipsTo: ['GB', 'IE'],
    purchases: 'by hand',
    url: '',
  });
  if (!kept.ok) throw new Error(kept.reason);
  const goods = (await db.variants.toArray()).flatMap((v) => {
    const item = v.sources[0]?.supplier === 'brackwater' && itemsOf(w).get(v.sources[0].item);
    return item ? [{ variant: v.id, item }] : [];
  });
  const shelf = goods.filter((_, k) => k % 4 === 1).slice(0, 8);
  const rows = shelf.map(({ item }, k) => {
    const cost = (item.cost / 100).toFixed(2);
    return `SH-${item.sku.slice(3)};"${item.title}";${cost};${4 + ((k * 3) % 9)};${item.grams ?? ''};${item.gtin ?? ''}`;
  });
  const list = new Blob([['SKU;Title;Cost;Stock;Weight g;Barcode', ...rows].join('\n')]);
  const seen = await inspect(work, { id: kept.id!, currency: 'GBP' }, list, 'shelf.csv');
  if (!seen.ok) throw new Error(seen.reason);
  const begun = await startReading(work, kept.id!, seen.value.file, seen.value.sample.match);
  if (!begun.ok) throw new Error(begun.reason);
  await settle();
  const source = new SourceSearcher(work);
  await source.search({
    market: 'pennywharf',
    query: 'SH-',
    sort: 'profit',
    descending: true,
    offset: 0,
    limit: 1,
  });
  for (const { variant, item } of shelf)
    await source.setBackup(variant, { supplier: kept.id!, item: `SH-${item.sku.slice(3)}` });
  await settle();
}

/** What is listed moves more than the rest, so that a refresh of each day has something to tell. */
async function morning({ work, w, printer, second, luck, settle }: World): Promise<void> {
  const { db } = work;
  drift(w, luck, 0.002);
  const sold = (await db.items.toArray()).flatMap((i) => (i.supplier === 'brackwater' ? [i.item] : []));
  for (let k = 0; k < 6; k++) {
    const sku = luck.pick(sold);
    const item = itemsOf(w).get(sku)!;
    const what = luck.next();
    if (what < 0.4) move(w, sku, { cost: Math.round(item.cost * (0.93 + luck.next() * 0.17)) });
    else if (what < 0.46) move(w, sku, { stock: luck.whole(0, 2) });
    else move(w, sku, { stock: item.stock + luck.whole(5, 80) });
  }
  for (const house of [w, printer, second]) if (house.balance < 60_000) house.balance += 250_000;
  await db.jobs.filter((j) => j.task !== 'list').modify({ nextAt: work.clock() });
  await settle();
  // Some costs move after the morning's reading: orders of that day are charged otherwise than expected.
  for (let k = 0; k < 3; k++) {
    const sku = luck.pick(sold);
    move(w, sku, { cost: Math.round(itemsOf(w).get(sku)!.cost * (1 + luck.next() * 0.12)) });
  }
}

/** A sale, most at home. A seller reads orders every few minutes; here at each sale. */
async function buyers({ work, markets, luck, settle }: World, k: number): Promise<void> {
  const where: SiteId = k % 5 === 1 ? 'pennywharf-us' : k % 5 === 3 ? 'loomhall' : 'pennywharf';
  const odd = luck.next();
  const at = work.clock();
  const order = sell(markets[where], luck, at, {
    ...{ personalised: odd < 0.02, badAddress: odd > 0.985 },
    ...(k % 10 === 4 && { via: FEED_MARK }),
  });
  await work.db.jobs.update(`${where}:orders`, { nextAt: at });
  await settle();
  // Now and then a buyer thinks better of it, before or after the supplier has it.
  if (order && odd > 0.5 && odd < 0.52) cancelLines(markets[where], order);
}

/** Suppliers send what they have: Brackwater by its service, Hollin by a file. */
async function parcels(
  { work, w, printer, second, markets, office, hollin, luck, settle }: World,
  last: boolean,
): Promise<void> {
  const time = work.clock();
  for (const house of [w, printer, second])
    for (const p of house.purchases) {
      const age = time - p.acceptedAt;
      const late = last && luck.next() < 0.3;
      if ((p.status === 'accepted' || p.status === 'part shipped') && age > 6 * HOUR && !late)
        advance(house, p.number, Math.min(time, p.acceptedAt + luck.whole(6, 20) * HOUR), 0);
      else if (p.status === 'shipped' && time - p.parcels.at(-1)!.shippedAt > 20 * HOUR)
        advance(house, p.number, Math.min(time, p.parcels.at(-1)!.shippedAt + luck.whole(20, 40) * HOUR), 0);
    }
  const arrived = new Set(
    [w, printer]
      .flatMap((house) => house.purchases)
      .flatMap((p) => p.parcels.flatMap((one) => (one.deliveredAt === undefined ? [] : [one.tracking]))),
  );
  for (const m of Object.values(markets))
    for (const o of m.orders)
      if (o.status === 'shipped' && o.dispatches?.every((d) => arrived.has(d.tracking)))
        touch(m, o, { status: 'delivered' });
  shipTaken(office, time, 30 * HOUR);
  const file = await orderFile(work, hollin);
  if (file.ok && !last) takeOrderFile(office, file.text, time);
  if (office.orders.length) await takeTrackingFile(work, hollin, trackingCsv(office));
  await work.db.jobs.filter((j) => j.task === 'orders' || j.task === 'shipments').modify({ nextAt: time });
  await settle();
}

/** The owner's evening: held orders are looked at, but for those of the last two days. */
async function evening({ work, settle }: World, last: boolean): Promise<void> {
  for (const order of await work.db.orders.where('open').equals(1).toArray()) {
    if (last || standingOf(order) !== 'held') continue;
    const failed = order.checks.filter((c) => !c.passed).map((c) => c.kind);
    if (failed.includes('stock') || failed.includes('address'))
      await cancelOrder(work, order.id, 'The supplier has none left.');
    else await releaseOrder(work, order.id, failed, true);
  }
  await settle();
}

/** From today on buyers at Loomhall have two hours to think better of it; optics are bought at set hours. */
const keepOrderRules = (work: Work) =>
  setOrderRules(
    work,
    {
      orders: {
        ...USUAL_RULES,
        services: [
          { id: 'dear', on: true, when: readCondition('paid:>120', BUYING_FIELDS), within: 1, upTo: 500 },
        ],
        forwarding: [
          {
            id: 'second-thoughts',
            name: 'Second thoughts',
            on: true,
            when: readCondition('on:Loomhall', BUYING_FIELDS),
            going: { kind: 'wait', minutes: 120 },
          },
          {
            id: 'american-afternoon',
            name: 'American afternoon',
            on: true,
            when: readCondition('on:"Pennywharf US"', BUYING_FIELDS),
            going: { kind: 'hours', zone: 'America/New_York', days: [1, 2, 3, 4, 5], times: ['14:00'] },
          },
        ],
      },
    },
    'Order rules',
  );

/**
 * The last hours: what makes the first minute worth looking at. Costs rise on goods sold this morning, some
 * goods run out, odd orders come in, the Bench fills.
 */
async function lastMorning(world: World, until: number): Promise<void> {
  const { work, w, markets, settle, setTime, take, hollin } = world;
  const { db } = work;
  const m = markets.pennywharf;
  const luck = chance(9);
  setTime(until - 3 * HOUR);
  // A statement of this morning: one order twice, a fee too high, an order left out.
  closeNow(m, work.clock(), 3);
  await db.jobs.update('pennywharf:statements', { nextAt: 0 });
  await settle();
  const day = (ago: number) => new Date(until - ago * DAY).toISOString().slice(0, 10);
  const monthly = { currency: 'GBP', monthly: true, until: null };
  await keepCost(work, null, { name: 'Storage unit, Bristol', day: day(55), minor: 6_200, ...monthly });
  await keepCost(work, null, { name: 'Bookkeeping software', day: day(48), minor: 1_800, ...monthly });
  await groupsAndFeeds(work);
  await take('tripod is:new is:stocked supplier:Brackwater', 4);
  await take('beanie is:new is:stocked', 3);
  await take('has:map is:new is:stocked supplier:Brackwater', 5);
  await take('mug is:new', 3);
  await take('filter is:new supplier:Hollin', 3, 'pennywharf-us');
  await sellPersonal(work, settle);
  const variants = new Map((await db.variants.toArray()).map((v) => [v.id, v]));
  const itemOf = (l: Listing) => variants.get(l.variant)!.sources[0]!.item;
  const from = (l: Listing) => variants.get(l.variant)!.sources[0]!.supplier;
  const shown = (await db.listings.filter((l) => l.state === 'live').toArray()).filter(
    (l) => l.marketplace === 'pennywharf' && (l.published?.quantity ?? 0) > 1,
  );
  const live = shown.filter((l) => from(l) === 'brackwater');
  const optics = shown.filter((l) => from(l) === hollin);
  // In a small catalogue fewer are live: the count goes round.
  const nth = (k: number) => live[k % live.length]!;
  const own = nth(3);
  await setOwnPrice(work, own.id, own.published!.price - 100);
  // Sold, and the cost rises before the order is read: the check at the moment of buying finds it.
  const dear = nth(11);
  sell(m, luck, until - 150 * 60_000, { sku: dear.sku });
  move(w, itemOf(dear), { cost: Math.round(itemsOf(w).get(itemOf(dear))!.cost * 1.9) });
  await db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await db.jobs.update('pennywharf:orders', { nextAt: until });
  await settle();
  await db.jobs.update('pennywharf:orders', { nextAt: 0 });
  await settle();
  setTime(until - 2 * HOUR);
  sell(m, luck, until - 125 * 60_000, { sku: nth(20).sku, personalised: true });
  sell(m, luck, until - 122 * 60_000, { sku: nth(27).sku, badAddress: true });
  // One order, two suppliers: one part is bought at once, the other waits for Hollin's next order file.
  if (optics[0]) sell(m, luck, until - 121 * 60_000, { skus: [nth(16).sku, optics[0].sku], quantity: 1 });
  sell(markets['pennywharf-us'], luck, until - 118 * 60_000);
  const gone = nth(33);
  await offerSubstitute(work, gone, itemsOf(w).get(itemOf(gone))?.title ?? '');
  sell(m, luck, until - 121 * 60_000, { sku: gone.sku, quantity: 2 });
  move(w, itemOf(gone), { stock: 1 });
  for (const l of [nth(40), nth(41), nth(42)]) move(w, itemOf(l), { stock: 0 });
  // A filter that is out at its supplier and has a backup at the other: its order goes there.
  const filter = live.find((l) => /filter/i.test(itemsOf(w).get(itemOf(l))?.title ?? '') && l.id !== own.id);
  const spare = optics[1] ?? optics[0];
  if (filter && spare) {
    await setBackup(work, filter.variant, { supplier: hollin, item: itemOf(spare) });
    move(w, itemOf(filter), { stock: 0 });
    await db.jobs.update('brackwater:catalogue', { nextAt: 0 });
    await settle();
    m.listings[filter.sku]!.state = 'live';
    sell(m, luck, until - 120 * 60_000, { lines: [{ sku: filter.sku, quantity: 1 }] });
  }
  // A note, a post-office box where Brackwater's carrier takes none, a postcode in the wrong place, the same again.
  sell(m, luck, until - 119 * 60_000, { sku: nth(7).sku, note: 'Please leave it with the neighbour at 12.' });
  sell(m, luck, until - 118 * 60_000, { sku: nth(9).sku, box: true });
  sell(m, luck, until - 112 * 60_000, { sku: nth(17).sku, gift: 'Clear nights, Dad! From all of us.' });
  sell(m, luck, until - 117 * 60_000, { sku: nth(13).sku, untidy: true });
  const once = sell(m, luck, until - 116 * 60_000, { lines: [{ sku: nth(15).sku, quantity: 1 }] });
  if (once) sell(m, luck, until - 110 * 60_000, { lines: [{ sku: nth(15).sku, quantity: 1 }], as: once });
  await personalOrders(world, until);
  // Two mugs of one kind, each with words of its own; an order that the marketplace writes as no contract knows.
  const twin = nth(22).sku;
  const lines = ['Ida', 'Bo'].map((who) => ({ sku: twin, quantity: 1, personalisation: `For ${who}` }));
  sell(m, luck, until - 120 * 60_000, { lines });
  sell(m, luck, until - 119 * 60_000, { sku: nth(24).sku, spoiled: true });
  await dueNow(work);
  await settle();
  // Of three that were bought the supplier cancels one.
  const several = nth(29);
  m.listings[several.sku]!.quantity = Math.max(3, m.listings[several.sku]!.quantity);
  const three = sell(m, luck, until - 100 * 60_000, { lines: [{ sku: several.sku, quantity: 3 }] });
  setTime(until - 95 * 60_000);
  move(w, itemOf(several), { stock: 40 });
  await dueNow(work);
  await settle();
  await keepOrderRules(work);
  for (const minutes of [58, 41, 20]) sell(markets.loomhall, luck, until - minutes * 60_000);
  sell(markets['pennywharf-us'], luck, until - 55 * 60_000);
  const bought = w.purchases.find((p) => p.reference === `pennywharf:${three?.number}`);
  if (bought) callOff(w, bought, [{ ...leftOf(bought)[0]!, quantity: 1 }]);
  await dueNow(work);
  await settle();
  setTime(until - 40 * 60_000);
  sell(m, luck, until - 55 * 60_000, { sku: nth(50).sku });
  sell(markets.loomhall, luck, until - 52 * 60_000);
  // One buyer wants out of what is held, and one of what is bought.
  const regrets = m.orders.filter(
    (o) => o.status === 'paid' && !o.cancelRequest && !o.lines.some((l) => l.fields),
  );
  for (const order of [regrets.at(-1), regrets.at(-9)])
    if (order) askToCancel(m, order, luck, until - 30 * 60_000);
  returnsToAnswer(world, until - 25 * 60_000);
  await dueNow(work);
  await settle();
  await learnTransit(work);
  await db.jobs
    .where('id')
    .equals('brackwater:catalogue')
    .modify({ nextAt: until + 5 * 60_000, every: 15 * 60_000 });
}

/** Buyers put their own words on things: as they are asked, in one text, in the note, and with what cannot be made. */
async function personalOrders({ work, markets, luck }: World, until: number): Promise<void> {
  const personal = new Set(
    (await work.db.variants.toArray()).flatMap((v) =>
      v.sources.some((s) => s.made?.personal) ? [v.id] : [],
    ),
  );
  const made = await work.db.listings.filter((l) => personal.has(l.variant) && l.state === 'live').toArray();
  const skuOf = (market: SiteId, blank: string) =>
    made.find((l) => l.marketplace === market && l.product.includes(`:${blank}:`))?.sku;
  const sky = skuOf('loomhall', 'poster');
  const mug = skuOf('pennywharf', 'mug');
  const ask = (market: SiteId, sku: string | undefined, minutes: number, words: object, quantity = 1) => {
    if (sku) sell(markets[market], luck, until - minutes * 60_000, { lines: [{ sku, quantity, ...words }] });
  };
  const fields = (values: Record<string, string>) => ({
    fields: Object.entries(values).map(([name, value]) => ({ name, value })),
  });
  ask('loomhall', sky, 118, fields({ Place: 'Leeds', Names: 'Ida & Bo', Night: '21 June 2019' }));
  ask('loomhall', sky, 117, fields({ Place: 'Newcastle', Names: 'Agnes and Clement', Night: '3 May 2024' }));
  ask('loomhall', sky, 116, fields({ Place: 'Oslo', Names: 'Our first night', Night: '31 February 2020' }));
  ask('pennywharf', mug, 115, fields({ Name: 'Matilda' }), 2);
  ask('pennywharf', mug, 114, fields({ Name: 'Bo 🚀' }));
  ask('pennywharf', mug, 113, { fields: [], personalisation: 'Hi, could it say Grandpa Joe? Many thanks' });
  ask('pennywharf', mug, 111, fields({ Name: 'Bartholomew the Third of Whitby' }));
}

const dueNow = (work: Work) => work.db.jobs.filter((j) => j.task !== 'list').modify({ nextAt: 0 });
