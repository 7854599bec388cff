import sqlite3InitModule from '@sqlite.org/sqlite-wasm';
import { expose } from 'comlink';
import Dexie from 'dexie';
import Papa from 'papaparse';
import { marketService } from '../src/connect/marketplace';
import { linkAll, type Wanted } from '../src/core/linking';
import { STARTING_PLAN } from '../src/core/pricing';
import {
  catalogueNote,
  EVERYWHERE,
  readCatalogue,
  SampanDatabase,
  STARTING_SETTINGS,
  type SupplierConnection,
  stateSite,
} from '../src/store';
import { listHelpers } from '../src/work/browser/list-helpers';
import { WorkerPool } from '../src/work/browser/worker-pool';
import { SourceSearcher } from '../src/work/catalogue/source-search';
import { firstOf } from '../src/work/connections/consents';
import { queued, type Work } from '../src/work/context/work';
import { runRound } from '../src/work/jobs/runner';
import { inspect, startReading } from '../src/work/readings/dropped-lists';
import { listJob } from '../src/work/schedule/job';
import { makeOlder } from '../stand-ins/marketplace/older';
import { UK_SITE } from '../stand-ins/marketplace/sites';
import { itemsOf, openWarehouse } from '../stand-ins/supplier/warehouse';
import { makeList } from './lists';

/**
 * What the benchmark asks of Chromium: each step as the application does it, and the bare tools it is
 * compared with.
 */

const lists = new Map<string, Blob>();
const list = (n: number, prefix = 'BW', moved = 0) => {
  const key = `${n} ${prefix} ${moved}`;
  let made = lists.get(key);
  if (!made) {
    made = makeList(n, prefix, moved);
    lists.set(key, made);
  }
  return made;
};

/** Each step begins after a rest, so that it does not pay for what the one before left behind. */
const REST = 1_000;

const timed = async (doing: () => Promise<unknown>, rest = REST) => {
  await new Promise((done) => setTimeout(done, rest));
  const begun = performance.now();
  await doing();
  return performance.now() - begun;
};

function parse(blob: Blob): Promise<string[][]> {
  return new Promise((resolve, reject) => {
    const rows: string[][] = [];
    Papa.parse<string[]>(blob as File, {
      delimiter: ',',
      chunk: (r) => {
        for (const row of r.data) rows.push(row);
      },
      complete: () => resolve(rows),
      error: reject,
    });
  });
}

let parsed: string[][] = [];
let work: Work;
let source: SourceSearcher;

const helpers = listHelpers(new WorkerPool(() => new Worker('/heavy.worker.js', { type: 'module' })));
const nothing = async () => new Response(null, { status: 404 });

async function openShop(name: string, fresh: boolean): Promise<void> {
  if (fresh) await Dexie.delete(name);
  const db = new SampanDatabase(name);
  let ids = 0;
  work = {
    db,
    reach: nothing,
    fitPicture: async (file) => file,
    alone: queued(),
    fetchAddress: nothing,
    helpers,
    clock: () => Date.now(),
    newId: () => `${Date.now()}-${++ids}`,
    chance: () => 0.5,
  };
  if (await db.connections.count()) return;
  const site = await marketService(async () => new Response(JSON.stringify(UK_SITE)), 'm', 't', null).site();
  if (!site.ok) throw new Error(site.trouble.says);
  await db.connections.put({ ...firstOf('m', site.value, []), paused: false, connectedAt: 0 });
  await db.credentials.put({ id: 'm', credential: { kind: 'consent', token: '' } });
  await db.stated.put(stateSite(undefined, 'm', site.value, 0));
  await db.settings.put(STARTING_SETTINGS);
  await db.plans.put({ id: 'p', name: 'P', ...EVERYWHERE, ...STARTING_PLAN });
}

async function supplier(id: string): Promise<void> {
  const row: SupplierConnection = {
    id,
    service: '',
    role: 'supplier',
    name: `Supplier ${id}`,
    lanes: { catalogue: 'file', purchases: 'by hand', tracking: 'by hand' },
    paused: false,
    connectedAt: 0,
    askFrom: 200_000,
    currency: 'GBP',
    zone: 'UTC',
    shipping: [
      { upToGrams: 2000, minor: 350 },
      { upToGrams: 30_000, minor: 990 },
    ],
    shipsTo: ['GB'],
    list: { kind: 'file' },
  };
  await work.db.connections.put(row);
}

async function read(id: string, blob: Blob): Promise<void> {
  const seen = await inspect(work, { id, currency: 'GBP' }, blob, 'list.csv');
  if (!seen.ok) throw new Error(seen.reason);
  const begun = await startReading(work, id, seen.value.file, seen.value.sample.match);
  if (!begun.ok) throw new Error(begun.reason);
  for (;;) {
    await runRound(work);
    const job = await work.db.jobs.get(listJob(id));
    if (job && !job.running && job.nextAt > Date.now()) {
      if (!job.lastOk) throw new Error(job.lastSays ?? 'failed');
      return;
    }
  }
}

const question = (query: string, sort: 'margin' | 'listed' = 'margin') => ({
  market: 'm',
  query,
  sort,
  descending: true,
  offset: 0,
  limit: 100,
});

const api = {
  prepare: (n: number) => {
    list(n, 'BW', 50);
    return list(n).size;
  },

  /** Bytes alone, papaparse to arrays alone. */
  papaparse: (n: number) =>
    timed(async () => {
      parsed = await parse(list(n));
    }),

  /** The parsed rows as columns in blocks of 1,000, by Dexie alone. */
  async dexie(n: number) {
    await Dexie.delete('bare');
    const db = new Dexie('bare');
    db.version(1).stores({ blocks: 'id' });
    await db.open();
    const took = await timed(async () => {
      const width = parsed[0]!.length;
      for (let from = 1; from < n + 1; from += 20_000) {
        const blocks = [];
        for (let at = from; at < Math.min(from + 20_000, n + 1); at += 1000) {
          const rows = parsed.slice(at, Math.min(at + 1000, n + 1));
          blocks.push({
            id: at,
            columns: Array.from({ length: width }, (_, c) => rows.map((r) => r[c] ?? '')),
          });
        }
        await db.table('blocks').bulkPut(blocks);
      }
    });
    db.close();
    await Dexie.delete('bare');
    return took;
  },

  /**
   * SQLite in the browser's private file system: the parsed rows into one table with three indexes, in one
   * transaction.
   */
  async sqlite(n: number) {
    const sqlite3 = await sqlite3InitModule();
    const pool = await sqlite3.installOpfsSAHPoolVfs({ name: `pool-${Date.now()}`, clearOnInit: true });
    const db = new pool.OpfsSAHPoolDb('/bench.db');
    const took = await timed(async () => {
      db.exec(
        'pragma journal_mode=off; pragma synchronous=off; create table items (sku text, grp text, gtin text, title text, brand text, category text, colour text, size text, cost integer, map integer, msrp integer, stock integer, grams integer, origin text, picture text, description text); create index a on items (sku); create index b on items (gtin); create index c on items (category, cost); begin',
      );
      const insert = db.prepare('insert into items values (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)');
      for (let i = 1; i <= n; i++) {
        insert.bind(parsed[i] as string[]).stepReset();
      }
      insert.finalize();
      db.exec('commit');
    });
    db.close();
    await pool.removeVfs();
    parsed = [];
    return took;
  },

  /** From the file to the first answer of a search, in a new shop. */
  async first(n: number) {
    await openShop('bench', true);
    await supplier('s1');
    const blob = list(n);
    return timed(async () => {
      await read('s1', blob);
      source = new SourceSearcher(work);
      await source.search(question(''));
    });
  },

  /** The same list again with 2 % of its rows changed. */
  async again(n: number, turn: number) {
    const blob = turn % 2 ? list(n) : list(n, 'BW', 50);
    const took = await timed(async () => {
      await read('s1', blob);
      source.stale();
      await source.search(question(''));
    });
    return { took, says: (await work.db.jobs.get(listJob('s1')))!.lastSays };
  },

  /**
   * A new source from storage: until the first search is answered, and the part of it that reads hot columns.
   */
  async restart() {
    const db = new SampanDatabase('bench');
    let items = 0;
    const hot = await timed(async () => {
      const note = (await catalogueNote(db, 's1'))!;
      items = (await readCatalogue(db, 's1', note.generation, note.pieces, note.items)).items;
    });
    db.close();
    const one = new SourceSearcher(work);
    const whole = await timed(() => one.search(question('', 'listed')));
    return { hot, whole, items };
  },

  /**
   * Searches as they are typed: word by word, two ranges, a flag, a category, sorted by margin. Milliseconds
   * of each.
   */
  async searches(rounds: number) {
    // As the application does between questions.
    while (source.prepare());
    const times: number[] = [];
    const texts = ['torch', 'lantern', 'strap', 'atlas', 'mug', 'chair', 'flask', 'glove'];
    const categories = ['Lighting', 'Optics', 'Charts', 'Kitchen', 'Clothing'];
    for (let k = 0; k < rounds; k++) {
      const text = texts[k % texts.length]!;
      for (let typed = 1; typed <= text.length; typed++) {
        const query = `${text.slice(0, typed)} cost:${2 + (k % 5)}..40 margin:>${10 + (k % 9)} is:stocked category:${categories[k % categories.length]}`;
        times.push(await timed(() => source.search(question(query)), 0));
      }
    }
    return times;
  },

  async everything(rounds: number) {
    const times: number[] = [];
    for (let k = 0; k < rounds; k++)
      times.push(await timed(() => source.search(question(`is:new cost:>${(k % 7) / 100}`)), 0));
    return times;
  },

  /** Links 1,200 listings of a shop that trades to the items read. */
  async link(n: number) {
    const items = [...itemsOf(openWarehouse(1847, n)).values()];
    const older = makeOlder(items, 1200, 12);
    const note = (await catalogueNote(work.db, 's1'))!;
    const catalogue = await readCatalogue(work.db, 's1', note.generation, note.pieces, note.items);
    const wanted = older.map(
      ({ listing: l }): Wanted => ({
        id: l.sku,
        sku: l.sku,
        group: l.group ?? null,
        gtin: l.gtin ?? null,
        title: l.title,
        brand: l.brand,
        options: l.options ?? {},
        price: Math.round(Number(l.price) * 100),
        currency: 'GBP',
      }),
    );
    return timed(async () => linkAll(wanted, [{ supplier: 's1', currency: 'GBP', catalogue }]));
  },

  /** Reads further suppliers' lists of the same size beside the first, and searches all of them. */
  async more(n: number, suppliers: number) {
    lists.clear();
    for (let k = 2; k <= suppliers; k++) {
      await supplier(`s${k}`);
      await read(`s${k}`, makeList(n, `S${k}`));
    }
    source = new SourceSearcher(work);
    const open = await timed(() => source.search(question('')));
    return { open, total: (await source.search(question(''))).total };
  },

  clear: async () => {
    lists.clear();
    parsed = [];
  },
};

export type BenchApi = typeof api;
expose(api);
