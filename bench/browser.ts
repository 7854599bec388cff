import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join, resolve } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { build } from 'esbuild';
import { CHROMIUM } from '../scripts/chromium';
import { measureShop, SHOP_PARTS } from './shop';
import { measureTyping } from './typing';

/**
 * `npm run bench -- [--items 20000,200000] [--large] [--keys]`: what catalogues cost in Chromium, beside the
 * bare tools, in the same run. Medians of three. `--large` goes on to five suppliers (a million items with
 * 200,000 each) and measures the tab's memory; `--keys` measures typing in the built application, alone;
 * `--month [DAYS]` lives through days (45) and tells what is stored; `--faults [ORDERS]` runs orders (10,000) through faults and kills instead; `--shop` opens the shop at full size in the
 * built application, `--shop --editing`, `--shop --pricing` and `--shop --orders` for editing, pricing and orders that
 * come in alone; `--print`: print files and mock-ups beside a bare canvas; `--prices`: the solver beside the same rules over a decimal package.
 */

const args = process.argv.slice(2);
const sizes = (
  args[args.indexOf('--items') + 1] && args.includes('--items')
    ? args[args.indexOf('--items') + 1]!
    : '20000,200000'
)
  .split(',')
  .map(Number);
const large = args.includes('--large');
const OUT = '.sampan/bench';
const TURNS = 3;

const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;
const p95 = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)]!;
const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`;

async function serve(): Promise<string> {
  mkdirSync(OUT, { recursive: true });
  await build({
    entryPoints: [
      'bench/page.ts',
      'bench/page.worker.ts',
      'bench/print-page.ts',
      'bench/print.worker.ts',
      'src/work/browser/heavy.worker.ts',
    ],
    entryNames: '[name]',
    bundle: true,
    format: 'esm',
    outdir: OUT,
    platform: 'browser',
    logLevel: 'warning',
    minify: true,
    tsconfigRaw: { compilerOptions: { experimentalDecorators: true } },
  });
  const wasm = readFileSync('node_modules/@sqlite.org/sqlite-wasm/dist/sqlite3.wasm');
  const types: Record<string, string> = {
    js: 'text/javascript',
    wasm: 'application/wasm',
    html: 'text/html',
  };
  const server = createServer((request, response) => {
    const name = (request.url ?? '/').split('?')[0]!.slice(1) || 'index.html';
    response.setHeader('cross-origin-opener-policy', 'same-origin');
    response.setHeader('cross-origin-embedder-policy', 'require-corp');
    response.setHeader('content-type', types[name.split('.').pop()!] ?? 'application/octet-stream');
    try {
      response.end(
        name === 'print.html'
          ? '<!doctype html><title>Bench</title><script type="module" src="/print-page.js"></script>'
          : name === 'index.html'
            ? '<!doctype html><title>Bench</title><script type="module" src="/page.js"></script>'
            : name === 'sqlite3.wasm'
              ? wasm
              : name.endsWith('index_bg.wasm')
                ? readFileSync('node_modules/@resvg/resvg-wasm/index_bg.wasm')
                : readFileSync(join(OUT, name)),
      );
    } catch {
      response.statusCode = 404;
      response.end();
    }
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  server.unref();
  return `http://127.0.0.1:${(server.address() as { port: number }).port}/`;
}

interface Row {
  readonly what: string;
  readonly n: number;
  readonly value: string;
  readonly ratio?: string;
}

async function measure(page: Page, n: number, rows: Row[]): Promise<void> {
  const tell = (what: string, value: string, ratio?: string) => {
    rows.push({ what, n, value, ratio });
    console.log(`${what.padEnd(62)}${String(n).padStart(9)}  ${value.padEnd(18)}${ratio ?? ''}`);
  };
  const bytes = await page.evaluate((items) => window.bench.prepare(items), n);
  tell('the list', `${(bytes / 1e6).toFixed(0)} MB`);
  const parse: number[] = [];
  const dexie: number[] = [];
  const sqlite: number[] = [];
  const first: number[] = [];
  for (let turn = 0; turn < TURNS; turn++) {
    parse.push(await page.evaluate((items) => window.bench.papaparse(items), n));
    dexie.push(await page.evaluate((items) => window.bench.dexie(items), n));
    first.push(await page.evaluate((items) => window.bench.first(items), n));
    sqlite.push(await page.evaluate((items) => window.sqlite(items), n));
  }
  const bare = median(parse) + median(dexie);
  tell('bare papaparse to arrays', seconds(median(parse)));
  tell('bare Dexie write of the same in blocks of 1,000', seconds(median(dexie)));
  tell('SQLite WASM (OPFS), parsed rows, three indexes', seconds(median(sqlite)));
  tell(
    'file to searchable',
    seconds(median(first)),
    `${(median(first) / bare).toFixed(2)} of papaparse + Dexie (at most 1.5), the very first time ${(first[0]! / (parse[0]! + dexie[0]!)).toFixed(2)}; SQLite takes ${(median(sqlite) / median(first)).toFixed(1)} times as long (at least 2)`,
  );
  const again: number[] = [];
  let says = '';
  for (let turn = 0; turn < TURNS; turn++) {
    const done = await page.evaluate(([items, t]) => window.bench.again(items!, t!), [n, turn]);
    again.push(done.took);
    says = done.says ?? '';
  }
  tell(
    'the same list again, 2 % changed, to searchable',
    seconds(median(again)),
    `${(median(again) / median(first)).toFixed(2)} of the first time (at most 0.4) · ${says}`,
  );
  const restarts = [];
  for (let turn = 0; turn < TURNS; turn++) restarts.push(await page.evaluate(() => window.bench.restart()));
  tell('restart: hot columns from storage', seconds(median(restarts.map((r) => r.hot))));
  tell(
    'restart to the first answer, prices of all rows included',
    seconds(median(restarts.map((r) => r.whole))),
    'at most 1 s for 200,000',
  );
  const typed = await page.evaluate(() => window.bench.searches(40));
  tell(
    'search as typed: text, two ranges, flag, category, by margin',
    `${median(typed).toFixed(1)} ms`,
    `p95 ${p95(typed).toFixed(1)} ms (at most 25)`,
  );
  const all = await page.evaluate(() => window.bench.everything(40));
  tell(
    'search that matches nearly all, by margin',
    `${median(all).toFixed(1)} ms`,
    `p95 ${p95(all).toFixed(1)} ms`,
  );
  const links: number[] = [];
  for (let turn = 0; turn < TURNS; turn++)
    links.push(await page.evaluate((items) => window.bench.link(items), n));
  tell('link 1,200 listings', seconds(median(links)));
}

async function keys(n: number): Promise<void> {
  const { painted, tasks } = await measureTyping(n);
  const value = `median ${median(painted).toFixed(0)} ms, p95 ${p95(painted).toFixed(0)} ms`;
  const ratio = `at most 60; ${painted.length} keys; ${tasks.length} tasks over 50 ms on the page`;
  console.log(
    `${'from a key to rows painted, in the application'.padEnd(62)}${String(n).padStart(9)}  ${value}  ${ratio}`,
  );
}

async function main() {
  if (args.includes('--month')) {
    const { month } = await import('./month');
    return month(Number(args[args.indexOf('--month') + 1]) || 45);
  }
  if (args.includes('--faults')) {
    const { faults } = await import('./faults');
    const well = await faults(Number(args[args.indexOf('--faults') + 1]) || 10_000);
    process.exit(well ? 0 : 1);
  }
  if (args.includes('--shop')) {
    await measureShop(
      ({ what, says, ms, tasks, longest }) =>
        console.log(
          what.padEnd(40),
          says ?? `${seconds(ms).padStart(10)}  ${tasks} tasks over 50 ms, longest ${longest} ms`,
        ),
      SHOP_PARTS.find((part) => args.includes(`--${part}`)) ?? 'all',
    );
    return;
  }
  if (args.includes('--prices')) {
    // As it is shipped: what runs here by itself names every function, which costs more than a price.
    await build({
      entryPoints: ['bench/prices.ts'],
      bundle: true,
      platform: 'node',
      outfile: `${OUT}/prices.cjs`,
    });
    const { measurePrices } = (await import(resolve(OUT, 'prices.cjs'))) as typeof import('./prices');
    measurePrices((what, says) => console.log(what.padEnd(62), says));
    return;
  }
  if (args.includes('--keys')) {
    await keys(sizes.at(-1)!);
    return;
  }
  const address = await serve();
  const profile = `${OUT}/profile`;
  rmSync(profile, { recursive: true, force: true });
  const context = await chromium.launchPersistentContext(profile, { ...CHROMIUM, headless: true });
  if (args.includes('--print')) {
    const { measurePrint } = await import('./print');
    await measurePrint(await context.newPage(), address);
    await context.close();
    return;
  }
  const page = context.pages()[0]!;
  page.on('pageerror', (e) => console.error(e));
  page.on('console', (m) => m.type() === 'error' && console.error(m.text()));
  const rows: Row[] = [];
  page.setDefaultTimeout(0);
  await page.goto(address);
  await page.waitForFunction(() => window.bench);
  for (const n of sizes) await measure(page, n, rows);
  if (large) {
    const n = sizes.at(-1)!;
    const { open, total } = await page.evaluate((items) => window.bench.more(items, 5), n);
    await page.evaluate(() => window.bench.clear());
    const typed = await page.evaluate(() => window.bench.searches(20));
    const all = await page.evaluate(() => window.bench.everything(20));
    const bytes = await page.evaluate(() => window.memory());
    const say = (what: string, value: string) => {
      rows.push({ what, n: total, value });
      console.log(`${what.padEnd(62)}${String(total).padStart(9)}  ${value}`);
    };
    say('five suppliers: restart to the first answer', seconds(open));
    say('five suppliers: search as typed', `${median(typed).toFixed(1)} ms, p95 ${p95(typed).toFixed(1)} ms`);
    say(
      'five suppliers: search that matches nearly all',
      `${median(all).toFixed(1)} ms, p95 ${p95(all).toFixed(1)} ms`,
    );
    say('five suppliers: memory of the tab', `${(bytes / 1e6).toFixed(0)} MB (under 700)`);
  }
  await context.close();
  rmSync(profile, { recursive: true, force: true });
  writeFileSync('bench/last.json', `${JSON.stringify(rows, null, 2)}\n`);
}

main().catch((error) => {
  console.error(error);
  process.exit(1);
});
