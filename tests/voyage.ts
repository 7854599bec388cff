import { marketService } from '@/connect/marketplace';
import { STARTING_PLAN } from '@/core/pricing';
import { catalogueNote, readCatalogue, SampanDatabase, STARTING_SETTINGS } from '@/store';
import { type SourceRow, SourceSearcher } from '@/work/catalogue/source-search';
import { connectSupplier, type Service } from '@/work/connections/connections';
import type { Work } from '@/work/context';
import { newJob } from '@/work/jobs/job';
import { runRound } from '@/work/jobs/runner';
import { approve, publish, takeItems } from '@/work/listings/bench';
import { withoutHelpers } from '@/work/readings/items';
import { chance } from '../stand-ins/random';
import { type StandIns, startStandIns } from '../stand-ins/start';

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
  /** Takes items with stock to the Bench, approves and publishes them. */
  stockUp(n: number): Promise<void>;
  /** Moves the clock alone. */
  tick(ms: number): void;
  /** Moves the clock and runs rounds until nothing is left to do. */
  settle(ms?: number): Promise<void>;
  end(): Promise<void>;
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

export async function setOut(options: { items?: number; seed?: number } = {}): Promise<Voyage> {
  let time = Date.parse('2026-11-02T09:00:00Z');
  let ids = 0;
  const luck = chance(options.seed ?? 1);
  const outside = await startStandIns({
    folder: null,
    pace: 'still',
    items: options.items ?? 120,
    ports: { brackwater: 0, pennywharf: 0 },
    now: () => time,
    luck: luck.next,
  });
  const db = new SampanDatabase(`voyage-${++count}-${Math.random()}`);
  const work: Work = {
    db,
    reach: (service, path, init) => fetch(outside.origins[service as 'brackwater'] + path, init),
    helpers: withoutHelpers,
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
  outside.market.tokens.push('token-of-the-test');
  const site = await marketService(work.reach, 'pennywharf', 'token-of-the-test', null).site();
  if (!site.ok) throw new Error(site.trouble.says);
  await db.settings.put({
    ...STARTING_SETTINGS,
    shop: 'Dusk & Dipper',
    zone: 'Europe/London',
    sku: 'DD-{number}',
  });
  await db.plans.put({ id: 'everything', name: 'Everything', ...STARTING_PLAN });
  await db.connections.put({
    id: 'pennywharf',
    service: 'pennywharf',
    role: 'marketplace',
    name: 'Pennywharf UK',
    credential: { kind: 'consent', token: 'token-of-the-test' },
    paused: false,
    trouble: null,
    failures: 0,
    openUntil: null,
    cursor: null,
    connectedAt: time,
    site: site.value,
    optedIn: [],
  });
  await db.jobs.put(newJob('pennywharf', 'orders', time));
  const connected = await connectSupplier(work, BRACKWATER, 'DD-4471', 'lantern-moss-42');
  if (!connected.ok) throw new Error(connected.reason);
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
    const products = (await db.products.toArray()).map((p) => p.id);
    await approve(work, products);
    await publish(work, products);
    await settle();
  };
  const voyage: Voyage = {
    work,
    outside,
    settle,
    tick: (ms) => {
      time += ms;
    },
    stockUp,
    end: async () => {
      await db.delete();
      await outside.stop();
    },
  };
  return voyage;
}
