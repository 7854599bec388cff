import 'fake-indexeddb/auto';
import { writeFileSync } from 'node:fs';
import { marketService } from '../src/connect/marketplace';
import { supplierService } from '../src/connect/supplier';
import { toColumns } from '../src/core/catalogue';
import { STARTING_PLAN, solvePrice } from '../src/core/pricing';
import { type MarketConnection, SampanDatabase, STARTING_SETTINGS, type SupplierConnection } from '../src/store';
import { CatalogueDesk } from '../src/work/catalogue';
import type { Work } from '../src/work/context';
import { itemsOf, onWire, openWarehouse, SHIPPING } from '../stand-ins/brackwater/warehouse';
import { UK_SITE } from '../stand-ins/pennywharf/site';

/** `npm run bench`: what the heart of the work costs, medians of three, as a table and in bench/last.json. In Node with an in-memory IndexedDB: for comparing, not for promising. */

interface Figure {
  readonly what: string;
  readonly n: number;
  readonly ms: number;
}

const figures: Figure[] = [];

async function measure(what: string, n: number, doing: () => unknown): Promise<void> {
  const times: number[] = [];
  for (let k = 0; k < 3; k++) {
    const begun = performance.now();
    await doing();
    times.push(performance.now() - begun);
  }
  figures.push({ what, n, ms: times.sort((a, b) => a - b)[1]! });
}

const answer = (body: unknown) => async () => new Response(JSON.stringify(body));

async function shop(n: number): Promise<{ work: Work; desk: () => CatalogueDesk }> {
  const db = new SampanDatabase(`bench-${n}-${Math.random()}`);
  const work: Work = { db, reach: answer({}), clock: () => 1_000_000, newId: () => String(Math.random()), chance: () => 0.5 };
  const site = await marketService(answer(UK_SITE), 'm', 't', null).site();
  if (!site.ok) throw new Error(site.trouble.says);
  const common = { paused: false, trouble: null, failures: 0, openUntil: null, cursor: null, connectedAt: 0 };
  const market: MarketConnection = {
    ...common,
    id: 'm',
    service: 'm',
    role: 'marketplace',
    name: 'M',
    credential: { kind: 'consent', token: 't' },
    site: site.value,
  };
  const supplier: SupplierConnection = {
    ...common,
    id: 's',
    service: 's',
    role: 'supplier',
    name: 'S',
    credential: { kind: 'account', account: 'a', key: 'k' },
    currency: 'GBP',
    zone: 'UTC',
    balance: null,
    shipping: [...SHIPPING],
    shipsTo: ['GB'],
  };
  await db.connections.bulkPut([market, supplier]);
  await db.settings.put(STARTING_SETTINGS);
  await db.plans.put({ id: 'p', name: 'P', ...STARTING_PLAN });
  const items = [...itemsOf(openWarehouse(1847, n)).values()].map((i) => ({
    sku: i.sku,
    group: i.group ?? null,
    title: i.title,
    brand: i.brand,
    category: i.category,
    options: i.options ?? {},
    gtin: i.gtin ?? null,
    cost: i.cost,
    map: i.map,
    msrp: i.msrp,
    stock: i.stock,
    grams: i.grams,
  }));
  for (let from = 0; from < n; from += 1000) {
    const columns = toColumns(items.slice(from, from + 1000));
    await db.blocks.put({ connection: 's', from: String(from).padStart(9, '0'), etag: null, next: null, total: n, columns, refused: [], at: 1 });
  }
  await db.notes.put({ id: 'catalogue:s', value: { stamp: 1, items: n } });
  return { work, desk: () => new CatalogueDesk(work) };
}

async function main() {
  const fees = {
    bands: [
      { upTo: 5000, rate: 120_000 },
      { upTo: null, rate: 90_000 },
    ],
    fixed: 20,
    paymentRate: 24_000,
    paymentFixed: 25,
    taxInside: 200_000,
  };
  await measure('solve a price under a plan with guards and ending', 200_000, () => {
    for (let i = 0; i < 200_000; i++) solvePrice(STARTING_PLAN, { landed: 200 + (i % 9000), map: null, msrp: null }, fees);
  });
  const wire = [...itemsOf(openWarehouse(1847, 2400)).values()].map(onWire);
  const page = { currency: 'GBP', total: 2400, next: null, items: wire.slice(0, 1000) };
  await measure('check and clean a page of items at the door', 1000, () => supplierService(answer(page), 's', '', 'GBP').page('', null, 1000));
  for (const n of [2_400, 20_000, 200_000]) {
    const { desk } = await shop(n);
    const query = { supplier: 's', market: 'm', query: '', sort: 'margin', descending: true, offset: 0, limit: 100 } as const;
    await measure('open a catalogue: blocks to columns, price all, first window', n, () => desk().search(query));
    const one = desk();
    await one.search(query);
    let turn = 0;
    await measure('search: word, two ranges, a flag, sorted by margin', n, () =>
      one.search({ ...query, query: `torch cost:${3 + (turn++ % 3)}..15 stock:>2 is:new` }),
    );
  }
  console.log(`${'what'.padEnd(64)}${'n'.padStart(9)}${'ms'.padStart(10)}${'µs each'.padStart(10)}`);
  for (const f of figures)
    console.log(`${f.what.padEnd(64)}${String(f.n).padStart(9)}${f.ms.toFixed(1).padStart(10)}${((f.ms * 1000) / f.n).toFixed(2).padStart(10)}`);
  writeFileSync('bench/last.json', `${JSON.stringify({ node: process.version, figures }, null, 2)}\n`);
}

main();
