import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { livePast, SCHEMA } from './past';

/**
 * Writes the demo world into a folder, unless it is there as this version has it: the services' state,
 * and what Sampan recorded of sixty days. `tsx demo/make.ts FOLDER ITEMS DAYS`
 */
async function main() {
  const [folder = '.sampan/demo', items = '2400', days = '60'] = process.argv.slice(2);
  const file = join(folder, 'recorded.json');
  const stamp = join(folder, 'schema');
  const lived = existsSync(stamp) ? readFileSync(stamp, 'utf8') : '';
  if (!existsSync(file) || lived !== String(SCHEMA)) {
    mkdirSync(folder, { recursive: true });
    const until = Math.floor(Date.now() / 60_000) * 60_000;
    // The past is lived with the usual catalogue; a larger one has the same first items, and the next reading
    // finds the rest.
    const past = await livePast(until, Number(days), Math.min(Number(items), 2400));
    past.warehouse.count = Number(items);
    writeFileSync(join(folder, 'brackwater.json'), JSON.stringify(past.warehouse));
    for (const m of Object.values(past.markets))
      writeFileSync(join(folder, `${m.site}.json`), JSON.stringify(m));
    writeFileSync(join(folder, 'hollin.json'), JSON.stringify(past.office));
    writeFileSync(file, JSON.stringify({ made: until, tables: past.recorded }));
    writeFileSync(stamp, String(SCHEMA));
  }
}
main();
