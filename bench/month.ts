import 'fake-indexeddb/auto';
import { type StoredKind, storedKinds } from '../src/work/overview/stored';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, drift } from '../stand-ins/supplier/warehouse';
import { setOut } from '../tests/voyage';

const HOUR = 3_600_000;
/** The shop is a fiftieth of the full one: 203,000 items, 20,000 listings, 500 orders a day. */
const PART = 50;
const ITEMS = 203_000 / PART;
const LISTINGS = 20_000 / PART;
const ORDERS = 500 / PART;
/** Share of the items that moves each hour. */
const MOVES = 0.02;

/**
 * Lives through days of trade, an hour at a time, and prints what is stored of each kind, in megabytes of the full shop.
 * Changes, messages and history are kept for as long as the settings say, thirty days here.
 */
export async function month(days: number): Promise<void> {
  const v = await setOut({ items: ITEMS });
  const { work, outside } = v;
  const luck = chance(7);
  await v.settle();
  await v.stockUp(LISTINGS);
  await work.db.settings.update('shop', { keepDays: 30 });
  const names: string[] = [];
  const table: Record<string, Record<string, string>> = {};
  const note = (day: number, kinds: readonly StoredKind[]) => {
    for (const { name } of kinds) if (!names.includes(name)) names.push(name);
    const mega = (bytes: number) => ((bytes * PART) / 1e6).toFixed(1);
    table[`day ${day}`] = {
      ...Object.fromEntries(
        names.map((name) => [name, mega(kinds.find((k) => k.name === name)?.bytes ?? 0)]),
      ),
      all: mega(kinds.reduce((sum, k) => sum + k.bytes, 0)),
    };
  };
  note(0, await storedKinds(work, Number.POSITIVE_INFINITY));
  for (let day = 1; day <= days; day++) {
    const begun = Date.now();
    for (let hour = 0; hour < 24; hour++) {
      drift(outside.warehouse, luck, MOVES);
      if (hour % 2 === 0 && hour / 2 < ORDERS) sell(outside.market, luck, work.clock(), { quantity: 1 });
      for (const p of outside.warehouse.purchases)
        advance(outside.warehouse, p.number, work.clock(), 24 * HOUR);
      await v.settle(HOUR);
    }
    if (day % 5 === 0 || day === 1) note(day, await storedKinds(work, Number.POSITIVE_INFINITY));
    console.log(`day ${day}: ${((Date.now() - begun) / 1000).toFixed(1)} s`);
  }
  console.table(table);
  await v.end();
}
