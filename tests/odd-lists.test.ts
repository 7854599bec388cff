import fc from 'fast-check';
import { zipSync } from 'fflate';
import Papa from 'papaparse';
import writeXlsx from 'write-excel-file/node';
import { findRecords, looseCells, openList, sniff } from '@/connect/lists';
import { guessMatch, REASON_COLUMN } from '@/core/lists';
import type { Refused } from '@/store';
import { keepListSupplier } from '@/work/connections/connections';
import { disconnect } from '@/work/connections/disconnect';
import {
  confirmGone,
  inspect,
  keepMissing,
  lastRefused,
  nextToRead,
  startReading,
} from '@/work/readings/dropped-lists';
import { runNow } from '@/work/schedule/schedule';
import { chance } from '../stand-ins/random';
import { itemsIn, setOut, type Voyage } from './voyage';

/**
 * One row of a made-up list; `raw` is how it stands in a text file where that is not what a writer of CSV
 * would make of it.
 */
interface Row {
  sku: string;
  title: string;
  cost: string;
  stock: string;
  note: string;
  raw?: string;
}
const COLUMNS = ['sku', 'title', 'cost', 'stock', 'note'] as const;
const NAMES = ['SKU', 'Title', 'Cost', 'Stock', 'Note'];

const WRITERS = {
  csv: async (rows: readonly Row[]) =>
    new Blob([
      [NAMES.join(), ...rows.map((r) => r.raw ?? Papa.unparse([COLUMNS.map((c) => r[c])]))].join('\n'),
      '\n',
    ]),
  tsv: async (rows: readonly Row[]) =>
    new Blob([
      [
        NAMES.join('\t'),
        ...rows.map((r) => Papa.unparse([COLUMNS.map((c) => r[c])], { delimiter: '\t' })),
      ].join('\r\n'),
      '\r\n',
    ]),
  json: async (rows: readonly Row[]) =>
    new Blob([JSON.stringify(rows.map((r) => Object.fromEntries(COLUMNS.map((c, i) => [NAMES[i], r[c]]))))]),
  xml: async (rows: readonly Row[]) => {
    const text = (t: string) => t.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
    return new Blob([
      `<list>${rows.map((r) => `<item>${COLUMNS.map((c, i) => `<${NAMES[i]}>${text(r[c])}</${NAMES[i]}>`).join('')}</item>`).join('\n')}</list>`,
    ]);
  },
  xlsx: async (rows: readonly Row[]) => {
    const cells = [NAMES, ...rows.map((r) => COLUMNS.map((c) => r[c]))].map((row) =>
      row.map((value) => ({ value, type: String })),
    );
    return new Blob([(await writeXlsx(cells as never).toBuffer()) as BlobPart]);
  },
};
type FormatName = keyof typeof WRITERS;

let v: Voyage;
let n = 0;
beforeAll(async () => {
  v = await setOut();
  for (const id of ['brackwater', 'pennywharf']) await disconnect(v.work, id);
});
afterAll(() => v.end());

const supplier = async () => {
  const made = await keepListSupplier(v.work, {
    name: `Maker ${++n}`,
    currency: 'GBP',
    shipping: [{ upToGrams: 30_000, minor: 300 }],
    shipsTo: ['GB'],
    purchases: 'by hand',
    url: '',
  });
  return made.ok ? made.id! : '';
};
async function read(id: string, list: Blob, name = 'list'): Promise<void> {
  const seen = await inspect(v.work, { id, currency: 'GBP' }, list, name);
  if (!seen.ok) throw new Error(seen.reason);
  const match = seen.value.sample.match;
  const started = await startReading(v.work, id, seen.value.file, { ...match, whole: match.whole });
  if (!started.ok) throw new Error(started.reason);
  await v.settle();
}
const refusedOf = async (id: string): Promise<Refused[]> =>
  (await lastRefused(v.work.db, id)).flatMap((r) => r.refused);

const N = 11;
const item = (i: number, stock: number): Row => ({
  sku: `00${50 + i}`,
  title: `Lens ${i}, red`,
  cost: `${3 + i}.50`,
  stock: String(stock),
  note: '',
});

/** What can be wrong with a row, whatever its format. */
const BAD: Readonly<Record<string, (r: Row) => Row>> = {
  'a cost that is none': (r) => ({ ...r, cost: 'call' }),
  'another currency': (r) => ({ ...r, cost: '10.00 EUR' }),
  'no cost': (r) => ({ ...r, cost: '' }),
  'no title': (r) => ({ ...r, title: '' }),
  'a cost that leaps': (r) => ({ ...r, cost: '1500.00' }),
  'a spreadsheet’s wrapping around the SKU, and a bad cost': (r) => ({ ...r, sku: `="${r.sku}"`, cost: 'x' }),
  'a SKU that a spreadsheet spoiled': (r) => ({ ...r, sku: '4.00638E+12' }),
};
/** What can be wrong in a text alone: how the row stands in it. */
const BAD_TEXT: Readonly<Record<string, (r: Row) => string>> = {
  'a lone quote, and a bad cost': (r) => `${r.sku},"Big lens,x,9,`,
  'quotes that close too early, and a bad cost': (r) => `${r.sku},"Big" lens 5,x,9,`,
  'a delimiter in the title': (r) => `${r.sku},Lens, 1,500.00,9,`,
  'a delimiter in the title, and no last cell': (r) => `${r.sku},Lens 1,500 mm,1.00,9,`,
  'a lone quote, and a delimiter too many': (r) => `${r.sku},"Lens, 5,${r.cost},9,,`,
  'a record of five megabytes': (r) => `${r.sku},"${'x'.repeat(5_000_000)}",${r.cost},9,`,
  'a quote that is closed megabytes later': (r) =>
    `${r.sku},"${`${'x'.repeat(59)}\n`.repeat(20_000)}",${r.cost},9,`,
};
/** Odd, and yet as people mean it: the title that is meant. */
const ODD_TEXT: Readonly<Record<string, readonly [(r: Row) => string, string]>> = {
  'a lone quote': [(r) => `${r.sku},"Big lens,${r.cost},${r.stock},`, '"Big lens'],
  'an inch sign': [(r) => `${r.sku},Lens 5",${r.cost},${r.stock},`, 'Lens 5"'],
  'quotes that close too early': [(r) => `${r.sku},"Big" lens 5,${r.cost},${r.stock},`, '"Big" lens 5'],
  'an inch sign within quotes': [(r) => `${r.sku},"12" lens, blue",${r.cost},${r.stock},`, '12" lens, blue'],
  both: [(r) => `${r.sku},"Big" lens 5",${r.cost},${r.stock},"a, b"`, 'Big" lens 5'],
  'a long closed cell': [(r) => `${r.sku},Lens,${r.cost},${r.stock},"${'y'.repeat(600_000)}"`, 'Lens'],
};

const places = [0, 5, N - 1];
const cases = [
  ...Object.keys(BAD).flatMap((kind) =>
    (Object.keys(WRITERS) as FormatName[]).map((format) => [format, kind] as const),
  ),
  ...Object.keys(BAD_TEXT).map((kind) => ['csv' as FormatName, kind] as const),
];

test.each(cases)(
  '%s with %s: the item stays as it was, all others come in, none goes',
  async (format, kind) => {
    const id = await supplier();
    for (const place of places) {
      await read(id, await WRITERS[format](Array.from({ length: N }, (_, i) => item(i, 4))));
      const before = await itemsIn(v.work.db, id);
      const rows = Array.from({ length: N }, (_, i) => item(i, 7));
      rows[place] = BAD[kind]
        ? BAD[kind](rows[place]!)
        : { ...rows[place]!, raw: BAD_TEXT[kind]!(rows[place]!) };
      await read(id, await WRITERS[format](rows));
      const after = await itemsIn(v.work.db, id);
      expect([...after.keys()].sort()).toEqual([...before.keys()].sort());
      for (const [i, sku] of Array.from({ length: N }, (_, k) => item(k, 0).sku).entries()) {
        if (i === place) expect(after.get(sku)).toEqual(before.get(sku));
        else expect(after.get(sku)).toEqual({ ...before.get(sku), stock: 7 });
      }
      const remarks = await refusedOf(id);
      expect(remarks.length).toBeGreaterThan(0);
      expect(remarks.every((r) => !r.taken)).toBe(true);
    }
    await disconnect(v.work, id);
  },
);

test.each(Object.keys(ODD_TEXT))(
  '%s is read as people mean it, and takes no other row with it',
  async (kind) => {
    const [raw, title] = ODD_TEXT[kind]!;
    for (const place of places) {
      const id = await supplier();
      const rows = Array.from({ length: N }, (_, i) => item(i, 4));
      rows[place] = { ...rows[place]!, raw: raw(rows[place]!) };
      await read(id, await WRITERS.csv(rows));
      const items = await itemsIn(v.work.db, id);
      expect([...items.values()].map((i) => i.title)).toEqual(
        rows.map((r, i) => (i === place ? title : r.title)),
      );
      await disconnect(v.work, id);
    }
  },
);

const cell = fc.string({ maxLength: 12 });
const odd = fc
  .array(fc.constantFrom('"', '""', ',', 'a', ' ', '5', '\n', '\r\n', 'é'), { maxLength: 8 })
  .map((p) => p.join(''));

test('lists written by the standard come back cell by cell, also where one row of them is not by the standard', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.oneof(cell, odd), fc.oneof(cell, odd), fc.oneof(cell, odd)), {
        minLength: 1,
        maxLength: 8,
      }),
      fc.nat(),
      (cells, at) => {
        // A quoted cell of several lines, each whole by itself, cannot be told from a quote that is never
        // closed.
        fc.pre(cells.every((row) => row.every((c) => !/[\r\n]/.test(c) || !/\d"|,/.test(c))));
        const rows = cells.map((row, i) => [`id${i}`, ...row, 'end']);
        const bad = at % (rows.length + 1);
        const lines = rows.map((row) => row.map((c) => `"${c.replaceAll('"', '""')}"`).join());
        lines.splice(bad, 0, 'bad,"Big" lens,x,y,z');
        const bytes = new TextEncoder().encode(`${lines.join('\n')}\n`);
        const found = findRecords(bytes, 44, true, 1, 5);
        const read = found.starts.map((s, k) =>
          looseCells(new TextDecoder().decode(bytes.subarray(s, found.ends[k])), ',', 5),
        );
        expect(read.filter((r) => r[0] !== 'bad')).toEqual(rows);
        expect(read[bad]).toEqual(['bad', '"Big" lens', 'x', 'y', 'z']);
      },
    ),
    { numRuns: 400 },
  );
});

test('bytes of any kind are found as records that lie one behind the other, in pieces as in one', () => {
  const luck = chance(5);
  for (let run = 0; run < 300; run++) {
    const text = Array.from({ length: luck.whole(0, 60) }, () =>
      luck.pick(['"', ',', '\n', '\r\n', 'a', '5', '""']),
    ).join('');
    const bytes = new TextEncoder().encode(text);
    const whole = findRecords(bytes, 44, true, 1, 3);
    let end = 0;
    for (const [k, start] of whole.starts.entries()) {
      expect(start).toBeGreaterThanOrEqual(end);
      expect(text.slice(end, start)).toMatch(/^[\r\n]*$/);
      end = whole.ends[k]!;
    }
    expect(text.slice(end)).toMatch(/^[\r\n]*$/);
    const cut = luck.whole(0, bytes.length);
    const first = findRecords(bytes.slice(0, cut), 44, false, 1, 3);
    expect(first.rest).toBeLessThanOrEqual(cut);
    for (const [k, s] of first.starts.entries())
      expect([s, first.ends[k]]).toEqual([whole.starts[k], whole.ends[k]]);
  }
});

test('wherever a list is cut off, nothing goes without a question, but where it ends with a row', async () => {
  const rows = Array.from({ length: 8 }, (_, i) => ({ ...item(i, 4), note: 'a note, quoted' }));
  const text = await (await WRITERS.csv(rows)).text();
  const id = await supplier();
  await read(id, new Blob([text]));
  for (let at = NAMES.join().length + 30; at < text.length - 1; at += 3) {
    const shorter = text.slice(0, at);
    await read(id, new Blob([shorter]));
    const doubt = await v.work.db.doubts.get(id);
    const left = (await itemsIn(v.work.db, id)).size;
    const last = shorter.slice(shorter.lastIndexOf('\n') + 1);
    const whole = last === '' || looseCells(last, ',', 5).length === 5;
    if (!whole) expect([at, left, doubt?.why === 'cut' || doubt === undefined]).toEqual([at, 8, true]);
    if (left < 8) {
      expect(whole).toBe(true);
      await read(id, new Blob([text]));
    }
    if (doubt) await keepMissing(v.work, id);
  }
});

test('a list that would let a large share go asks first; the answer, and from what share on, are remembered', async () => {
  const id = await supplier();
  const all = Array.from({ length: 20 }, (_, i) => item(i, 4));
  await read(id, await WRITERS.csv(all));
  await read(id, await WRITERS.csv(all.slice(0, 18)));
  expect((await itemsIn(v.work.db, id)).size).toBe(18);
  await read(id, await WRITERS.csv(all.slice(0, 10)));
  expect((await itemsIn(v.work.db, id)).size).toBe(18);
  expect(await v.work.db.doubts.get(id)).toMatchObject({
    why: 'share',
    offered: 18,
    some: expect.arrayContaining(['0060']),
  });
  // The next list answers anew: what came again is not missing any more.
  await read(id, await WRITERS.csv(all.slice(0, 12)));
  expect((await v.work.db.doubts.get(id))!.rows).toHaveLength(6);
  await confirmGone(v.work, id, 900_000);
  await v.settle();
  expect((await itemsIn(v.work.db, id)).size).toBe(12);
  await read(id, await WRITERS.csv(all.slice(0, 3)));
  expect((await itemsIn(v.work.db, id)).size).toBe(3);
});

test('a cost that leaps is asked about, and taken by a person’s word', async () => {
  const id = await supplier();
  const rows = [item(0, 4), item(1, 4), item(2, 4)];
  await read(id, await WRITERS.csv(rows));
  await read(
    id,
    await WRITERS.csv([rows[0]!, { ...rows[1]!, cost: '0.45' }, { ...rows[2]!, cost: '12.00' }]),
  );
  const [asked] = await refusedOf(id);
  expect(asked).toMatchObject({
    sku: '0051',
    column: 'Cost',
    value: '0.45',
    asks: true,
    taken: false,
    cells: ['0051', rows[1]!.title, '0.45', '4', ''],
  });
  expect((await itemsIn(v.work.db, id)).get('0051')!.cost).toBe(450);
  await read(
    id,
    new Blob([
      Papa.unparse({ fields: [...NAMES, REASON_COLUMN], data: [[...asked!.cells!, asked!.reason]] }),
    ]),
  );
  expect((await itemsIn(v.work.db, id)).get('0051')!.cost).toBe(45);
  expect((await itemsIn(v.work.db, id)).size).toBe(3);
});

test('two lists dropped one behind the other are both read, in their order', async () => {
  const id = await supplier();
  const first = await inspect(
    v.work,
    { id, currency: 'GBP' },
    await WRITERS.csv([item(0, 1), item(1, 1)]),
    'a.csv',
  );
  if (!first.ok) throw new Error(first.reason);
  await startReading(v.work, id, first.value.file, first.value.sample.match);
  await v.work.db.jobs.update(`${id}:list`, { running: { startedAt: 1, done: 0, total: 1 } });
  v.tick(1);
  const second = await inspect(v.work, { id, currency: 'GBP' }, new Blob(['SKU,Stock\n0050,33\n']), 'b.csv');
  if (!second.ok) throw new Error(second.reason);
  await startReading(v.work, id, second.value.file, second.value.sample.match);
  await v.settle(10);
  expect([...(await itemsIn(v.work.db, id)).values()].map((i) => i.stock)).toEqual([33, 1]);
  expect(
    (await v.work.db.readings.where('[supplier+at]').between([id, 0], [id, Infinity]).toArray()).map(
      (r) => r.from,
    ),
  ).toEqual(['a.csv', 'b.csv']);
});

test('a reading that is stopped before its first row keeps its list, and goes on when asked', async () => {
  const id = await supplier();
  const seen = await inspect(
    v.work,
    { id, currency: 'GBP' },
    await WRITERS.csv([item(0, 1), item(1, 1)]),
    'a.csv',
  );
  if (!seen.ok) throw new Error(seen.reason);
  await startReading(v.work, id, seen.value.file, seen.value.sample.match);
  await v.work.db.jobs.update(`${id}:list`, { running: { startedAt: 1, done: 0, total: 0 }, stop: true });
  await v.settle();
  expect(await v.work.db.jobs.get(`${id}:list`)).toMatchObject({
    running: null,
    lastSays: 'Stopped before its first row',
  });
  expect(await nextToRead(v.work.db, id)).toMatchObject({ name: 'a.csv' });
  expect((await itemsIn(v.work.db, id)).size).toBe(0);
  await runNow(v.work, `${id}:list`);
  await v.settle();
  expect((await itemsIn(v.work.db, id)).size).toBe(2);
});

/** A blob that counts the bytes that are taken out of it. */
class Counted extends Blob {
  static taken = 0;
  override slice(from = 0, to = this.size): Blob {
    Counted.taken += Math.min(to, this.size) - from;
    return super.slice(from, to);
  }
}
const opened = async (blob: Blob) => {
  const found = await sniff(blob, 'list');
  return found.ok ? openList(found.value.blob, found.value.format, '.') : found;
};
const xlsxWith = (sheet: string) =>
  zipSync({
    'xl/workbook.xml': new TextEncoder().encode(
      '<workbook><sheets><sheet name="A" sheetId="1"/></sheets></workbook>',
    ),
    'xl/worksheets/sheet1.xml': new TextEncoder().encode(
      `<worksheet><sheetData>${sheet}</sheetData></worksheet>`,
    ),
  });

test.each<[string, () => Blob, RegExp, number]>([
  [
    'XML nested 100,000 deep',
    () => new Counted(['<a>'.repeat(100_000), '</a>'.repeat(100_000), ' '.repeat(9_000_000)]),
    /64 levels/,
    2_500_000,
  ],
  ['JSON nested 100,000 deep', () => new Counted(['['.repeat(100_000)]), /64 levels/, 1_000_000],
  [
    'a workbook with a cell in its last column',
    () => new Blob([xlsxWith('<row r="1"><c r="A1"/><c r="XFD1"/></row>')]),
    /column 16,384; up to 500/,
    0,
  ],
  [
    'a workbook with a cell in its last row',
    () => new Blob([xlsxWith('<row r="1"><c r="A1"/></row><row r="1048576"><c r="A1048576"/></row>')]),
    /row 1,048,576; up to/,
    0,
  ],
  [
    'a workbook that reaches far both ways',
    () => new Blob([xlsxWith('<row r="1"><c r="SE1"/></row><row r="90000"><c r="A90000"/></row>')]),
    /cells; up to 30 million/,
    0,
  ],
  ['a workbook nested 1,000 deep', () => new Blob([xlsxWith('<x>'.repeat(1000))]), /64 deep/, 0],
  [
    'CSV of 16,384 columns',
    () =>
      new Counted([
        `${Array.from({ length: 16_384 }, (_, i) => `c${i}`).join()}\n`,
        'x,'.repeat(16_384),
        '\n'.repeat(9_000_000),
      ]),
    /16,384 columns; lists of up to 500/,
    3_000_000,
  ],
  [
    '30 MB of one line',
    () => new Counted(Array.from({ length: 30 }, () => 'x'.repeat(1_000_000))),
    /first line has more than 1 MB/,
    6_000_000,
  ],
  [
    '30 MB of a,',
    () => new Counted(Array.from({ length: 30 }, () => 'a,'.repeat(500_000))),
    /first line has more than 1 MB/,
    6_000_000,
  ],
  [
    'JSON of a million fields',
    () => new Blob([`[{${Array.from({ length: 100_000 }, (_, i) => `"k${i}":1`).join()}}]`]),
    /501 columns/,
    0,
  ],
])('%s is refused at the limit, and no more of it is read', async (_, make, says, most) => {
  Counted.taken = 0;
  expect(await opened(make())).toMatchObject({ ok: false, reason: expect.stringMatching(says) });
  if (most) expect(Counted.taken).toBeLessThan(most);
});

// Each of these took minutes where a step of it was quadratic; then the test would run out of its time.
test.each<[string, string]>([
  ['a title of 200,000 letters', `SKU,Title,Cost\nA-1,${'x'.repeat(200_000)},1.00\n`],
  ['a title of 200,000 ampersands', `SKU,Title,Cost\nA-1,${'&a'.repeat(200_000)},1.00\n`],
  ['a SKU of 200,000 marks', `SKU,Title,Cost\n${'a-'.repeat(200_000)},Torch,1.00\n`],
  ['an amount of 200,000 commas', `SKU,Title,Cost\nA-1,Torch,"${',1'.repeat(200_000)}"\n`],
  ['a quote opened on each of 200,000 lines', `SKU,Title,Cost\n${'A,"x""\n'.repeat(200_000)}`],
  ['one open quote and 300,000 lines', `SKU,Title,Cost\nA,"x,1.00\n${'B,y,2.00\n'.repeat(300_000)}`],
  ['doubled names of 500 columns', `SKU,Title,Cost${',x'.repeat(490)}\nA,b,1.00\n`],
])('%s is looked at in a time that grows with its length', async (_, text) => {
  const found = await opened(new Blob([text]));
  if (!found.ok) throw new Error(found.reason);
  let records = 0;
  for (let place: string | null = null; ; ) {
    const batch = await found.value.next(place);
    records += batch.lines.length + batch.broken.length;
    place = batch.next;
    if (place === null) break;
  }
  expect(records).toBe(text.trimEnd().split('\n').length - 1);
  const rows = text
    .split('\n')
    .slice(1, 50)
    .map((l) => l.split(','));
  expect(
    guessMatch(
      { kind: 'csv', delimiter: ',', encoding: 'utf-8', headerRow: 0 },
      found.value.header,
      rows,
      'GBP',
    ).fields,
  ).toContain('sku');
});

test('a record longer than all that is read at once ends nothing: what stands behind it comes in', async () => {
  const id = await supplier();
  await read(
    id,
    new Blob([
      `SKU,Title,Cost,Stock,Note\n0050,Lens,1.00,1,\n0051,${'x'.repeat(9_000_000)}\n0052,Lens,2.00,2,\n`,
    ]),
  );
  expect([...(await itemsIn(v.work.db, id)).keys()]).toEqual(['0050', '0052']);
  expect(await refusedOf(id)).toMatchObject([
    { line: 3, reason: expect.stringMatching(/more than 1 MB/), taken: false },
  ]);
});

test('archives whose files are not of their checksum or size are damaged; long figures of JSON keep all their digits', async () => {
  const packed = zipSync(
    { 'list.csv': new TextEncoder().encode('SKU,Title,Cost\nA-1,Torch,1.00\n') },
    { level: 0 },
  );
  const at = new TextDecoder('latin1').decode(packed).indexOf('Torch');
  const touched = packed.slice();
  touched[at] = 66;
  expect(await opened(new Blob([touched as BlobPart]))).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/damaged/),
  });
  expect(await opened(new Blob([packed as BlobPart]))).toMatchObject({ ok: true });
  const id = await supplier();
  const json =
    '[{"sku":12345678901234567890,"title":"A \\"12345678901234567890\\" lens","cost":1.5,"stock":3},{"sku":7,"title":"B","cost":2,"stock":1}]';
  await read(id, new Blob([json]));
  expect([...(await itemsIn(v.work.db, id)).values()].map((i) => [i.sku, i.title, i.cost])).toEqual([
    ['12345678901234567890', 'A "12345678901234567890" lens', 150],
    ['7', 'B', 200],
  ]);
});

test('a delimiter at the end of every row is no shift; “no rows” is said only where there are none', async () => {
  const id = await supplier();
  await read(id, new Blob(['SKU,Title,Cost,Stock\nA-1,Torch,1.00,3,\nA-2,Lamp,2.00,4,\n']));
  expect([...(await itemsIn(v.work.db, id)).keys()]).toEqual(['A-1', 'A-2']);
  const said = async (text: string) => {
    const seen = await inspect(v.work, { id, currency: 'GBP' }, new Blob([text]), 'x');
    return seen.ok ? seen.value.sample.rows.length : seen.reason;
  };
  expect(await said('SKU,Title,Cost\n')).toMatch(/no data rows/);
  expect(await said(`SKU,Title,Cost\nA-1,${'x'.repeat(300_000)},1.00\n`)).toBe(1);
  expect(await said(`SKU,Title,Cost\nA-1,${'x'.repeat(3_000_000)},1.00\n`)).toMatch(
    /No row of it can be read: line 2/,
  );
});
