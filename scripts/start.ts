import type { ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { HOLLIN_HOST } from '../stand-ins/lists/hollin';
import { OLDER } from '../stand-ins/marketplace/older';
import { PACES, type PaceName } from '../stand-ins/pace';
import { SERVICE_IDS, type ServiceId, startStandIns } from '../stand-ins/start';
import { spawnScript } from './spawn';

/**
 * Starts Sampan with its stand-ins next to it. `tsx scripts/start.ts [--port N] [--pace still|real|fast] [--empty] [--size demo|full] [--items N] [--data DIR] [--dev]`
 */

const { values } = parseArgs({
  options: {
    port: { type: 'string' },
    pace: { type: 'string', default: 'real' },
    empty: { type: 'boolean', default: false },
    size: { type: 'string', default: 'demo' },
    items: { type: 'string' },
    data: { type: 'string' },
    dev: { type: 'boolean', default: false },
  },
});

const fail = (message: string): never => {
  console.error(message);
  process.exit(1);
};

const wholeNumber = (name: string, text: string, from: number, to: number): number => {
  const n = Number(text);
  return Number.isInteger(n) && n >= from && n <= to
    ? n
    : fail(`--${name} takes a whole number from ${from} to ${to}, not “${text}”.`);
};

function isFree(port: number, host: string): Promise<boolean> {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, host, () => probe.close(() => done(true)));
  });
}

async function main() {
  // An empty shop has an address of its own, so that the browser keeps its data apart from the demo's.
  const port = wholeNumber(
    'port',
    values.port ?? (values.empty ? '4810' : '4800'),
    1,
    65_535 - SERVICE_IDS.length,
  );
  const full = values.size === 'full';
  if (!full && values.size !== 'demo') fail(`--size takes demo or full, not “${values.size}”.`);
  const items = wholeNumber('items', values.items ?? (full ? '200000' : '2400'), 1, 200_000);
  const pace =
    PACES.find((p) => p === values.pace) ?? fail(`--pace takes ${PACES.join(', ')}, not “${values.pace}”.`);
  const usual = full ? 'full' : `${values.empty ? 'empty' : 'demo'}${items === 2400 ? '' : `-${items}`}`;
  const folder = resolve(values.data ?? join('.sampan', usual));
  const others = SERVICE_IDS.map((_, k) => [port + 1 + k, '127.0.0.1'] as const);
  for (const [p, host] of [[port, '127.0.0.1'] as const, ...others]) {
    if (!(await isFree(p, host)))
      fail(`Port ${p} is taken. Choose another with --port N (N to N + ${SERVICE_IDS.length} are used).`);
  }
  mkdirSync(folder, { recursive: true });
  const recorded = join(folder, 'recorded.jsonl');
  if (!values.empty && !existsSync(recorded))
    fail(`The demo's data is missing in ${folder}. Start with npm run demo.`);
  const outside = await startStandIns({
    folder,
    pace: pace as PaceName,
    items,
    older: OLDER,
    port: port + 1,
  });
  const service = (id: ServiceId, role: 'supplier' | 'marketplace', name: string, about: string) => ({
    id,
    role,
    name,
    about,
    origin: outside.origins[id],
  });
  const services = [
    service(
      'brackwater',
      'supplier',
      'Brackwater Trade',
      'Outdoor and night gear from Hull, GBP, prepaid balance',
    ),
    service(
      'tinloft',
      'supplier',
      'Tinloft Print Works',
      'Printed to order in Leeds and Wrocław, EUR, prepaid balance',
    ),
    service('quillmere', 'supplier', 'Quillmere Goods', 'Night gear from Norwich, GBP, credit line'),
    service('pennywharf', 'marketplace', 'Pennywharf UK', 'General marketplace, GBP, VAT inside the price'),
    service(
      'pennywharf-us',
      'marketplace',
      'Pennywharf US',
      'General marketplace, USD, tax added at checkout',
    ),
    service('loomhall', 'marketplace', 'Loomhall', 'Makers’ marketplace, EUR, a fee for each listing sold'),
  ];
  const next = spawnScript(
    join('src', 'server', 'serve.ts'),
    ['--port', String(port), ...(values.dev ? ['--dev'] : [])],
    {
      env: {
        ...process.env,
        NODE_ENV: values.dev ? 'development' : 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        SAMPAN_SERVICES: JSON.stringify(services),
        SAMPAN_STAND_INS: '1',
        SAMPAN_FEEDS: join(folder, 'feeds'),
        // The stand-ins' file server is on this machine: the one place inside that may be fetched from.
        SAMPAN_LIST_HOSTS: process.env.SAMPAN_LIST_HOSTS ?? '',
        SAMPAN_LIST_INSIDE: new URL(outside.origins.lists).host,
        SAMPAN_LIST_STAND_INS: `${HOLLIN_HOST}=${outside.origins.lists}`,
        ...(!values.empty && { SAMPAN_RECORDED: recorded }),
      },
    },
  );
  const address = `http://127.0.0.1:${port}`;
  await ready(next, address);
  console.log(
    `\nSampan is at ${address}\n  stand-ins: ${Object.entries(outside.origins)
      .map(([id, origin]) => `${id} ${origin}`)
      .join(
        ', ',
      )}; pace ${pace}\n  price lists to fetch: ${outside.origins.lists}/hollin/price-list.csv, /hollin/stock.csv, /hollin/tracking.csv, /brackwater/catalogue.csv, /pennywharf/listings.csv\n  order files for Hollin go into ${join(folder, 'hollin', 'orders')}, its tracking file comes back as ${join(folder, 'hollin', 'tracking.csv')}\n  data of the stand-ins: ${folder}\n  Ctrl+C ends all of it.`,
  );
  // The stand-ins write what they know before all of it ends.
  let ending = false;
  const end = async (code: number) => {
    if (ending) return;
    ending = true;
    next.kill('SIGTERM');
    await outside.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) process.on(signal, () => end(0));
  next.once('exit', (code) => end(code ?? 1));
}

async function ready(next: ChildProcess, address: string): Promise<void> {
  for (let i = 0; i < 240; i++) {
    if (next.exitCode !== null) fail('The server ended before it was ready.');
    try {
      if ((await fetch(`${address}/api/health`)).ok) return;
    } catch {
      // Not listening yet.
    }
    await new Promise((done) => setTimeout(done, 250));
  }
  fail('The server was not ready within a minute.');
}

main();
