import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { PACES, type PaceName } from '../stand-ins/pace';
import { OLDER } from '../stand-ins/pennywharf/older';
import { startStandIns } from '../stand-ins/start';

/**
 * Starts Sampan with its stand-ins next to it. `tsx scripts/start.ts [--port N] [--host H] [--pace
 * still|real|fast] [--empty] [--items N] [--data DIR] [--dev]`
 */

const { values } = parseArgs({
  options: {
    port: { type: 'string' },
    host: { type: 'string', default: '127.0.0.1' },
    pace: { type: 'string', default: 'real' },
    empty: { type: 'boolean', default: false },
    items: { type: 'string', default: '2400' },
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
  const port = wholeNumber('port', values.port ?? (values.empty ? '4810' : '4800'), 1, 65_532);
  const items = wholeNumber('items', values.items, 1, 200_000);
  const pace =
    PACES.find((p) => p === values.pace) ?? fail(`--pace takes ${PACES.join(', ')}, not “${values.pace}”.`);
  const folder = resolve(
    values.data ?? join('.sampan', `${values.empty ? 'empty' : 'demo'}${items === 2400 ? '' : `-${items}`}`),
  );
  for (const [p, host] of [
    [port, values.host],
    [port + 1, '127.0.0.1'],
    [port + 2, '127.0.0.1'],
    [port + 3, '127.0.0.1'],
  ] as const) {
    if (!(await isFree(p, host)))
      fail(`Port ${p} is taken. Choose another with --port N (N to N + 3 are used).`);
  }
  mkdirSync(folder, { recursive: true });
  const recorded = join(folder, 'recorded.json');
  if (!values.empty && !existsSync(recorded))
    fail(`The demo's data is missing in ${folder}. Start with npm run demo.`);
  const outside = await startStandIns({
    folder,
    pace: pace as PaceName,
    items,
    older: OLDER,
    ports: { brackwater: port + 1, pennywharf: port + 2, lists: port + 3 },
  });
  const services = [
    {
      id: 'brackwater',
      role: 'supplier',
      name: 'Brackwater Trade',
      about: 'Outdoor and night gear from Hull, GBP, prepaid balance',
      origin: outside.origins.brackwater,
    },
    {
      id: 'pennywharf',
      role: 'marketplace',
      name: 'Pennywharf UK',
      about: 'General marketplace, GBP, VAT inside the price',
      origin: outside.origins.pennywharf,
    },
  ];
  const next = spawn(
    process.execPath,
    [
      join('node_modules', 'tsx', 'dist', 'cli.mjs'),
      join('src', 'server', 'serve.ts'),
      '--port',
      String(port),
      '--host',
      values.host,
      ...(values.dev ? ['--dev'] : []),
    ],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
      env: {
        ...process.env,
        NODE_ENV: values.dev ? 'development' : 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        SAMPAN_SERVICES: JSON.stringify(services),
        SAMPAN_STAND_INS: '1',
        // The stand-ins' file server is on this machine: the one place inside that may be fetched from.
        SAMPAN_LIST_HOSTS: process.env.SAMPAN_LIST_HOSTS ?? '',
        SAMPAN_LIST_INSIDE: new URL(outside.origins.lists).host,
        ...(!values.empty && { SAMPAN_RECORDED: recorded }),
      },
    },
  );
  const address = `http://${values.host === '0.0.0.0' ? '127.0.0.1' : values.host}:${port}`;
  await ready(next, address);
  console.log(
    `\nSampan is at ${address}\n  stand-ins: Brackwater ${outside.origins.brackwater}, Pennywharf ${outside.origins.pennywharf}, pace ${pace}\n  price lists to fetch: ${outside.origins.lists}/hollin/price-list.csv, /hollin/stock.csv, /brackwater/catalogue.csv, /pennywharf/listings.csv\n  data of the stand-ins: ${folder}\n  Ctrl+C ends all of it.`,
  );
  const end = async () => {
    next.kill('SIGTERM');
    await outside.stop();
    process.exit(0);
  };
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  next.once('exit', (code) => process.exit(code ?? 1));
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
