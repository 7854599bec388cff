import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { deserialize } from 'node:v8';
import { gunzipSync } from 'node:zlib';
import Dexie from 'dexie';
import { dumpOf, linesOf, loadDump, SampanDatabase, SCHEMA } from '@/store';
import { fromPlain, toPlain } from '@/store/dump/values';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut } from './voyage';

const fresh = () => new SampanDatabase(`dump-${Math.random()}`);

/** A text in pieces that end anywhere. */
async function* inPieces(text: string, size: number, cut = Number.POSITIVE_INFINITY) {
  for (let from = 0; from < text.length; from += size) {
    if (from >= cut) throw new Error('cut off');
    yield text.slice(from, from + size);
  }
}

async function textOf(lines: AsyncIterable<string>): Promise<string> {
  let text = '';
  for await (const line of lines) text += line;
  return text;
}

const dumped = (db: SampanDatabase) => textOf(dumpOf(db, { at: 0 }));

test('what rows hold and JSON does not comes back as it was', () => {
  const blob = new Blob(['seven'], { type: 'text/plain' });
  const files: Blob[] = [];
  const row = {
    bytes: Uint8Array.of(0, 128, 255),
    columns: { ids: Int32Array.of(-1, 7), at: Float64Array.of(1.5, Number.NaN, Number.POSITIVE_INFINITY) },
    list: [{ file: blob }, null, 'text', { deep: [Uint16Array.of(65_535)] }],
    rate: Number.NEGATIVE_INFINITY,
    odd: { $: 'file', v: 3, inner: Int32Array.of(1) },
  };
  const plain = toPlain(row, (file) => files.push(file) - 1);
  expect(fromPlain(JSON.parse(JSON.stringify(plain)), (n) => files[n])).toEqual(row);
  // What needs nothing is not copied.
  expect(toPlain(row.list[2], () => 0)).toBe('text');
  const simple = { a: [1, { b: null }] };
  expect(toPlain(simple, () => 0)).toBe(simple);
  expect(() => toPlain({ at: new Date(0) }, () => 0)).toThrow(/Date/);
  expect(() => fromPlain({ $: 'surprise', v: 1 }, () => null)).toThrow(/surprise/);
});

test('a shop that was lived is the same after it was dumped and loaded', async () => {
  const v = await setOut();
  await v.settle();
  await v.stockUp(20);
  sell(v.outside.market, chance(4), v.work.clock(), { quantity: 2 });
  await v.settle(61_000);
  await v.work.db.files.put({ id: 'f', supplier: 's', name: 'list.csv', size: 5, at: 1, match: null });
  await v.work.db.bytes.put({ id: 'f', file: new Blob(['a,b,c'.repeat(700_000)]) });
  const text = await dumped(v.work.db);
  const copy = fresh();
  expect(await loadDump(copy, linesOf(inPieces(text, 100_003)))).toBe(true);
  expect(await dumped(copy)).toBe(text);
  expect(await copy.orders.count()).toBe(1);
  expect(await copy.listings.count()).toBeGreaterThan(19);
  const { file } = (await copy.bytes.get('f'))!;
  expect((await (file as Blob).text()).length).toBe(3_500_000);
  // Once only: a shop is there now.
  expect(await loadDump(copy, linesOf(inPieces(text, 100_003)))).toBe(false);
  // What is left out is not in it.
  expect(await textOf(dumpOf(copy, { at: 0, without: ['credentials'] }))).not.toContain(
    '"table":"credentials"',
  );
  await v.end();
});

test('a dump that cannot be understood or was cut off is refused, and leaves a database that counts as empty', async () => {
  const source = fresh();
  await source.notes.put({ id: 'old', value: 1 });
  await source.connections.put({ id: 'c' } as never);
  const text = await dumped(source);
  const db = fresh();
  const load = (of: string, cut?: number) => loadDump(db, linesOf(inPieces(of, 7, cut)));
  const [head, ...rest] = text.trimEnd().split('\n') as [string, ...string[]];
  const all = (...lines: string[]) => `${lines.join('\n')}\n`;
  for (const [bad, why] of [
    ['', /empty/],
    ['{"a":1}\n', /not a dump/],
    [all(head.replace(/"schema":\d+/, '"schema":9999'), ...rest), /newer version/],
    [all(head, '{"table":"surprises","rows":[{}]}', ...rest), /surprises/],
    [all(head, 'PK\u0003', ...rest), /Line 2 .* not an object/],
    [all(head, '{"table":"notes","rows":[{"__proto__":{"id":1}}]}', ...rest), /Line 2/],
    [all(head, '{"table":"bytes","rows":[{"id":"x","file":{"$":"file","v":9}}]}', ...rest), /file 9/],
    [all(head, ...rest.slice(0, -1)), /cut off/],
    [all(head, ...rest.slice(1)), /0 rows of/],
    [all(head, ...rest, '{"table":"notes","rows":[]}'), /after the end/],
  ] as const)
    await expect(load(bad)).rejects.toThrow(why);
  await expect(load(text, 100)).rejects.toThrow('cut off');
  await db.notes.put({ id: 'of the part', value: 1 });
  expect(await load(text)).toBe(true);
  expect(await db.notes.get('of the part')).toBeUndefined();
  expect(await db.notes.get('old')).toMatchObject({ value: 1 });
});

test('a dump of an earlier version is carried over as the browser’s own database is', async () => {
  const left = deserialize(gunzipSync(readFileSync(join(__dirname, 'left-by-10.gz'))));
  const asLeft = async () => {
    const name = `left-${Math.random()}`;
    const old = new Dexie(name);
    old.version(left.version).stores(left.stores);
    await old.open();
    for (const [table, rows] of Object.entries(left.rows)) await old.table(table).bulkPut(rows as object[]);
    old.close();
    return name;
  };
  const upgraded = new SampanDatabase(await asLeft());
  const older = new SampanDatabase(await asLeft(), left.version);
  await Promise.all([upgraded.open(), older.open()]);
  expect(older.verno).toBe(left.version);
  const text = await dumped(older);
  const copy = fresh();
  // Cut off in the middle, it leaves a database that counts as empty and takes the whole one.
  const cut = loadDump(copy, linesOf(inPieces(text, 50_000, text.length / 2)));
  await expect(cut).rejects.toThrow('cut off');
  expect([copy.verno, await copy.orders.count(), await copy.connections.count()]).toEqual([SCHEMA, 0, 0]);
  expect(await loadDump(copy, linesOf(inPieces(text, 50_000)))).toBe(true);
  expect(await dumped(copy)).toBe(await dumped(upgraded));
  expect(await copy.orders.count()).toBeGreaterThan(0);
});
