import { marketService } from '@/connect/marketplace';
import { caseInWords, unseenOf } from '@/core/orders';
import { STARTING_PLAN } from '@/core/pricing';
import {
  allConnections,
  catalogueNote,
  EVERYWHERE,
  type ItemRow,
  itemKey,
  type Listing,
  type Order,
  readCatalogue,
  SampanDatabase,
  STARTING_SETTINGS,
  stateSite,
} from '@/store';
import type { SourceRow } from '@/work/catalogue/source-rows';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { connectSupplier, type Service } from '@/work/connections/connections';
import { firstOf } from '@/work/connections/consents';
import { queued, type Work } from '@/work/context/work';
import { usualPresets } from '@/work/editing/presets';
import { runRound } from '@/work/jobs/runner';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { takeItems } from '@/work/listings/take';
import { withoutHelpers } from '@/work/readings/items';
import { newJob } from '@/work/schedule/job';
import { Faults } from '../stand-ins/faults';
import { listen, serve } from '../stand-ins/http';
import { type SaleWish, sell } from '../stand-ins/marketplace/market';
import type { SiteId } from '../stand-ins/marketplace/sites';
import { Pace } from '../stand-ins/pace';
import { chance } from '../stand-ins/random';
import { type StandIns, startStandIns } from '../stand-ins/start';
import { supplier } from '../stand-ins/supplier/service';
import { openWarehouse } from '../stand-ins/supplier/warehouse';

export const BRACKWATER: Service = {
  id: 'brackwater',
  role: 'supplier',
  name: 'Brackwater Trade',
  about: '',
};

/** A shop in a database of its own against stand-ins of its own, with a clock that the test moves. */
export interface Voyage {
  work: Work;
  outside: StandIns;
  /** A second supplier with a service, where one was asked for. */
  quillmere: Awaited<ReturnType<typeof openQuillmere>> | null;
  /** Takes items with stock to the Bench, approves and publishes them. */
  stockUp(n: number): Promise<void>;
  /** Moves the clock alone. */
  tick(ms: number): void;
  /** Moves the clock and runs rounds until nothing is left to do. */
  settle(ms?: number): Promise<void>;
  end(): Promise<void>;
}

/** Another warehouse behind a service of its own, with other goods. */
async function openQuillmere(now: () => number, luck: () => number) {
  const warehouse = openWarehouse(2024, 60);
  warehouse.issued = 44_000;
  const faults = new Faults(luck);
  const pace = new Pace('still');
  const server = serve(
    supplier(warehouse, faults, pace, now),
    () => null,
    faults,
    () => {},
  );
  return { warehouse, faults, server, origin: await listen(server, 0) };
}

/** What a person has to see of an order, in words; '' for nothing. */
export async function toSee({ db }: Work, order: Order): Promise<string> {
  const names = new Map((await allConnections(db)).map((c) => [c.id, c.name]));
  const nameOf = (id: string) => names.get(id) ?? id;
  const told = { ...order, texts: (await db.buyers.get(order.id))?.texts };
  return unseenOf(order)
    .map((c) => caseInWords(c, told, { nameOf }, nameOf(order.marketplace)))
    .join(' ');
}

/** Sells one unit at Pennywharf, unless wished otherwise. @returns the order once it came in */
export async function sellOne(
  { work, outside, settle }: Voyage,
  seed: number,
  wish: SaleWish = {},
): Promise<Order> {
  const made = sell(outside.market, chance(seed), work.clock(), { quantity: 1, ...wish })!;
  await settle(61_000);
  return (await work.db.orders.get(`pennywharf:${made.number}`))!;
}

/** The supplier's SKU that a listing is bought as. */
export async function itemOf(work: Work, listing: Pick<Listing, 'variant'>): Promise<string> {
  return (await work.db.variants.get(listing.variant))!.sources[0]!.item;
}

/** What is known of the item that a listing is bought as. */
export async function factsOf(work: Work, listing: Pick<Listing, 'variant'>): Promise<ItemRow> {
  const [source] = (await work.db.variants.get(listing.variant))!.sources;
  return (await work.db.items.get(itemKey(source!.supplier, source!.item)))!;
}

/** The items of a supplier as stored, by SKU. */
export async function itemsIn(db: SampanDatabase, supplier = 'brackwater') {
  const note = await catalogueNote(db, supplier);
  const catalogue = note && (await readCatalogue(db, supplier, note.generation, note.pieces, note.items));
  const rows = catalogue
    ? Array.from({ length: catalogue.length }, (_, row) => row).filter((row) => !catalogue.gone[row])
    : [];
  return new Map(rows.map((row) => [catalogue!.skuAt(row), catalogue!.itemAt(row)]));
}

/** Takes rows without the other variants of their products. */
async function takeSingly(work: Work, rows: readonly SourceRow[]) {
  const source = new SourceSearcher(work);
  const items = await Promise.all(
    rows.map(async (r) => ({
      supplier: r.supplier,
      item: r.item,
      detail: (await source.look(r.key, null))!.detail,
    })),
  );
  await takeItems(work, 'pennywharf', items);
}

let count = 0;

export async function setOut(
  options: { items?: number; seed?: number; markets?: readonly SiteId[]; second?: boolean } = {},
): Promise<Voyage> {
  let time = Date.parse('2026-11-02T09:00:00Z');
  let ids = 0;
  const luck = chance(options.seed ?? 1);
  const outside = await startStandIns({
    folder: null,
    pace: 'still',
    items: options.items ?? 120,
    port: 0,
    now: () => time,
    luck: luck.next,
  });
  const quillmere = options.second ? await openQuillmere(() => time, luck.next) : null;
  const db = new SampanDatabase(`voyage-${++count}-${Math.random()}`);
  const work: Work = {
    db,
    reach: (service, path, init) => {
      const origin = service === 'quillmere' ? quillmere!.origin : outside.origins[service as 'brackwater'];
      return fetch(origin + path, init);
    },
    helpers: withoutHelpers,
    fitPicture: async (file) => file,
    alone: queued(),
    fetchAddress: (url, headers) =>
      fetch(url, {
        headers: {
          ...(headers.etag && { 'if-none-match': headers.etag }),
          ...(headers.modified && { 'if-modified-since': headers.modified }),
        },
      }),
    clock: () => time,
    newId: () => `id-${String(++ids).padStart(8, '0')}`,
    chance: luck.next,
  };
  await db.settings.put({
    ...STARTING_SETTINGS,
    shop: 'Dusk & Dipper',
    zone: 'Europe/London',
    sku: 'DD-{number}',
  });
  await db.plans.put({ id: 'everything', name: 'Everything', ...EVERYWHERE, ...STARTING_PLAN });
  for (const id of options.markets ?? (['pennywharf'] as const)) {
    outside.markets[id].tokens.push('token-of-the-test');
    const site = await marketService(work.reach, id, 'token-of-the-test', null).site();
    if (!site.ok) throw new Error(site.trouble.says);
    await db.connections.put({
      ...firstOf(id, site.value, usualPresets(site.value, 'usual')),
      paused: false,
      connectedAt: time,
    });
    await db.credentials.put({ id, credential: { kind: 'consent', token: 'token-of-the-test' } });
    await db.stated.put(stateSite(undefined, id, site.value, time));
    await db.jobs.put(newJob(id, 'orders', time));
  }
  const connected = await connectSupplier(work, BRACKWATER, 'DD-4471', 'lantern-moss-42');
  if (!connected.ok) throw new Error(connected.reason);
  if (quillmere) {
    const second = { ...BRACKWATER, id: 'quillmere', name: 'Quillmere Goods' };
    const done = await connectSupplier(work, second, 'DD-4471', 'lantern-moss-42');
    if (!done.ok) throw new Error(done.reason);
  }
  const settle = async (ms = 0) => {
    time += ms;
    for (let i = 0; i < 400; i++) {
      // Its work as it stands now: a test may have put another in its place.
      if (!(await runRound(voyage.work))) return;
      time += 5;
    }
    throw new Error('never came to rest');
  };
  const stockUp = async (n: number) => {
    const source = new SourceSearcher(work);
    const { rows } = await source.search({
      market: 'pennywharf',
      query: 'stock:>10 has:picture has:barcode',
      sort: 'listed',
      descending: false,
      offset: 0,
      limit: n,
    });
    await takeSingly(work, rows);
    const listings = await db.listings.toCollection().primaryKeys();
    await approve(work, listings);
    await publish(work, listings);
    await settle();
  };
  const voyage: Voyage = {
    work,
    outside,
    quillmere,
    settle,
    tick: (ms) => {
      time += ms;
    },
    stockUp,
    end: async () => {
      await db.delete();
      await outside.stop();
      quillmere?.server.close();
      quillmere?.server.closeAllConnections();
    },
  };
  return voyage;
}
