// The database takes the IndexedDB that it finds when it is first imported.
import 'fake-indexeddb/auto';

import { createWriteStream, existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { dumpOf } from '../src/store';
import { liveFull, pastOrders } from './full';
import { livePast, type Past, SCHEMA } from './past';

/** Changes when a past is made or written in another way. */
const MAKE = 14;

/**
 * Writes the demo world into a folder, unless it is there as this version has it: the services' state,
 * and what Sampan recorded of its past. `tsx demo/make.ts FOLDER [--items N] [--days N] [--size demo|full]`
 */
async function main() {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      items: { type: 'string', default: '2400' },
      days: { type: 'string', default: '60' },
      size: { type: 'string', default: 'demo' },
    },
  });
  const folder = positionals[0] ?? '.sampan/demo';
  const stamp = join(folder, 'made');
  const made = `${SCHEMA}.${MAKE}`;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === made) return;
  mkdirSync(folder, { recursive: true });
  const until = Math.floor(Date.now() / 60_000) * 60_000;
  const file = join(folder, 'recorded.jsonl');
  const full = values.size === 'full';
  const items = Number(values.items);
  // The past is lived with the usual catalogue; a larger one has the same first items, and the next reading
  // finds the rest.
  const past = full
    ? await liveFull(until)
    : await livePast(until, { days: Number(values.days), items: Math.min(items, 2400) });
  if (!full) past.warehouse.count = items;
  const dump = dumpOf(past.db, { at: until, ...(full && { further: pastOrders(past, until) }) });
  await pipeline(Readable.from(dump), createWriteStream(`${file}.new`));
  writeStandIns(folder, past);
  renameSync(`${file}.new`, file);
  writeFileSync(stamp, made);
}

function writeStandIns(folder: string, { warehouse, printer, second, markets, office }: Past): void {
  const write = (name: string, state: unknown) =>
    writeFileSync(join(folder, `${name}.json`), JSON.stringify(state));
  write('brackwater', warehouse);
  write('tinloft', printer);
  write('quillmere', second);
  write('hollin', office);
  for (const m of Object.values(markets)) write(m.site, m);
}
main();
