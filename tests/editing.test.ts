import { readTable, readText, tableOfText, writeWorkbook } from '@/connect/files';
import { unwrapWritten, wrapCell, writeDelimited } from '@/core/lists';
import { decimalOf, RATE_ONE } from '@/core/money';
import { addressProblem } from '@/core/orders';
import { itemKey } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import { applyCells, previewEdit } from '@/work/editing/bulk-edit';
import { categoriesOf, saveCategories } from '@/work/editing/categories';
import type { Cell } from '@/work/editing/cells';
import { editRows, readEdits } from '@/work/editing/edits-file';
import { keptSheet, readSheet, takeSheet } from '@/work/editing/keyword-sheet';
import {
  dropTemplate,
  NEW_TEMPLATE,
  saveTemplate,
  TemplateWeighing,
  triedOn,
} from '@/work/editing/templates';
import { approve, leaveOut } from '@/work/listings/approve';
import { setDriftRule, settleDrift } from '@/work/listings/drift';
import { publish, stopPublishing } from '@/work/listings/publish';
import { duplicateProduct, listOn } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { assortmentOf, caughtUp } from '@/work/memory/assortment';
import { editsOf, lastUndoable } from '@/work/memory/history';
import { saveRate } from '@/work/pricing/rates';
import { descriptionOf, tagsOf, titleOf } from '@/work/quoting/copy';
import { cellFieldsOf, fieldOf } from '@/work/quoting/listing-cells';
import { quoteListing } from '@/work/quoting/quote';
import { marketOf } from '@/work/quoting/worth';
import { newJob } from '@/work/schedule/job';
import { runNow } from '@/work/schedule/schedule';
import { setOut, type Voyage } from './voyage';

const ADDRESS = {
  ...{ name: 'A', line1: '1 Lane', line2: '', town: 'York', postcode: 'YO1 7HH', country: 'GB' },
};

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf', 'loomhall'] });
  await v.settle();
});
afterEach(() => v.end());

const take = (query: string) => new SourceSearcher(v.work).take({ query }, 'pennywharf');
const listings = async () => (await v.work.db.listings.toArray()).sort((a, b) => (a.id < b.id ? -1 : 1));
const full = async (id: string) => (await caughtUp(v.work)).get(id)!;
const undoLast = async () => undo(v.work, (await lastUndoable(v.work.db))!.id);

describe('cells', () => {
  test('a field that a product shares changes in all its variants, once, and two rows cannot disagree', async () => {
    await take('lantern is:stocked cost:<30');
    const group = (await listings()).filter((l, _, all) => l.product === all[0]!.product);
    expect(group.length).toBe(3);
    const [a, b, c] = group.map((l) => l.id) as [string, string, string];
    const done = await applyCells(
      v.work,
      [
        { listing: a, field: 'title', text: 'Storm lantern' },
        { listing: b, field: 'title', text: 'Storm lantern' },
        { listing: c, field: 'title', text: 'Another lantern' },
        { listing: b, field: 'price', text: '31,50' },
        { listing: c, field: 'price', text: 'dear' },
      ],
      'Grid',
    );
    expect(done).toMatchObject({ changed: 2, refused: 2 });
    for (const id of [a, b, c]) expect(titleOf(await full(id))).toBe('Storm lantern');
    expect((await listings()).map((l) => l.ownPrice).filter((p) => p !== null)).toEqual([3150]);
    await undoLast();
    for (const id of [a, b, c])
      expect((await full(id)).listing).toMatchObject({ title: null, ownPrice: null });
  });

  test('an empty cell goes back to where the value came from; what cannot be is told and changes nothing', async () => {
    await take('compass is:stocked has:barcode');
    const [one] = await listings();
    const set = (field: Cell['field'], text: string) =>
      applyCells(v.work, [{ listing: one!.id, field, text }], 'x');
    const before = titleOf(await full(one!.id));
    await set('title', '<b>Field</b> compass ');
    expect(titleOf(await full(one!.id))).toBe('Field compass');
    await set('title', '');
    expect(titleOf(await full(one!.id))).toBe(before);
    for (const [field, text] of [
      ['category', 'No such thing'],
      ['barcode', '4.0E+12'],
      ['barcode', '4006381333932'],
      ['weight', 'heavy'],
      ['price', '1.234'],
      ['plan', 'None such'],
      ['tags', 'stars'],
      ['attribute:maker', 'Another company'],
      ['template', 'None such'],
    ] as const) {
      const at = await full(one!.id);
      expect(await set(field, text)).toMatchObject({ changed: 0, refused: 1 });
      expect(await full(one!.id)).toEqual(at);
    }
    expect(await set('weight', '1,2 kg')).toMatchObject({ changed: 1 });
    expect((await full(one!.id)).variant.grams).toBe(1200);
  });

  test('what is read, written back, changes nothing: field by field', async () => {
    await take('torch is:stocked');
    const { shop } = await caughtUp(v.work);
    const cells: Cell[] = [];
    for (const [, f] of assortmentOf(v.work).all())
      for (const field of cellFieldsOf(assortmentOf(v.work).shop))
        cells.push({ listing: f.listing.id, field: field.id, text: field.read(f, shop) });
    expect(cells.length).toBeGreaterThan(50);
    expect(previewEdit(assortmentOf(v.work), [], { is: 'cells', cells, name: 'Same' })).toMatchObject({
      changes: [],
      refused: [],
    });
  });

  test('an approval falls away with what was approved; what is on sale is sent, and again when it is undone', async () => {
    await take('compass is:stocked has:barcode has:picture');
    const ids = (await listings()).map((l) => l.id);
    expect((await approve(v.work, ids)).approved).toBeGreaterThan(1);
    const ready = (await listings()).filter((l) => l.approvedAt !== null);
    const [waits, sold] = [ready[0]!, ready.at(-1)!];
    await publish(v.work, [sold.id]);
    await v.settle();
    expect((await full(sold.id)).listing.state).toBe('live');
    const cells = [waits, sold].map(
      (l) => ({ listing: l.id, field: 'title', text: 'Brass compass' }) as const,
    );
    expect(await applyCells(v.work, cells, 'Title')).toMatchObject({ changed: 2, sent: 1 });
    expect((await full(waits.id)).listing.approvedAt).toBeNull();
    await v.settle();
    const titleThere = () => v.outside.markets.pennywharf!.listings[sold.sku]!.title;
    expect(titleThere()).toBe('Brass compass');
    await undoLast();
    await v.settle();
    expect(titleThere()).toBe(titleOf(await full(sold.id)));
    expect(titleThere()).not.toBe('Brass compass');
  });
});

describe('edits of many', () => {
  test('mending changes what a machine can mend, and mending twice is mending once', async () => {
    await take('is:stocked cost:<25');
    const all = await listings();
    const long = `BEST RECHARGEABLE TORCH ${'FOREVER AND EVER '.repeat(5)}`;
    await applyCells(
      v.work,
      all.slice(0, 6).map((l) => ({ listing: l.id, field: 'title', text: long })),
      'Spoil',
    );
    const assortment = await caughtUp(v.work);
    const ids = all.map((l) => l.id);
    const preview = previewEdit(assortment, ids, { is: 'mend' });
    expect(preview.changes.length).toBeGreaterThan(0);
    for (const { after, field, why } of preview.changes) {
      expect([field, [...after].length <= 75, /best/i.test(after)]).toEqual(['title', true, false]);
      expect(why!.join()).toMatch(/capitals.*“best”.*takes 75/);
    }
    await applyCells(v.work, preview.changes, preview.name);
    expect(previewEdit(await caughtUp(v.work), ids, { is: 'mend' }).changes).toEqual([]);
  });

  test('find and replace takes what is looked for as text, and a preview names only what changes', async () => {
    await take('torch is:stocked');
    const ids = (await listings()).map((l) => l.id);
    const assortment = await caughtUp(v.work);
    const replace = (find: string, put: string, exact = false) =>
      previewEdit(assortment, ids, { is: 'replace', field: 'title', find, put, exact }).changes;
    const found = replace('TORCH', 'lamp $&');
    expect(found.length).toBeGreaterThan(0);
    for (const c of found) expect(c.after).toBe(c.before.replace(/torch/gi, () => 'lamp $&'));
    expect(replace('TORCH', 'lamp', true)).toEqual([]);
    expect(replace('.*', 'x')).toEqual([]);
    expect(replace('', 'x')).toEqual([]);
  });

  test('a proposed title fits its site and can be taken for all', async () => {
    await take('is:stocked cost:<40');
    const ids = (await listings()).map((l) => l.id);
    const preview = previewEdit(await caughtUp(v.work), ids, { is: 'write', field: 'title' });
    await applyCells(v.work, preview.changes, preview.name);
    const again = previewEdit(await caughtUp(v.work), ids, { is: 'write', field: 'title' });
    expect(again.changes).toEqual([]);
    for (const [, f] of assortmentOf(v.work).all()) expect([...titleOf(f)].length).toBeLessThanOrEqual(75);
  });
});

describe('files that are edited elsewhere', () => {
  let names: string[];
  beforeEach(async () => {
    names = cellFieldsOf((await caughtUp(v.work)).shop).map((f) => f.name);
  });
  const written = async () => {
    const assortment = await caughtUp(v.work);
    return editRows(
      assortment,
      (await listings()).map((l) => l.id),
      v.work.clock(),
    );
  };
  const readBack = async (file: Blob) => {
    const table = await readTable(file, 'listings');
    if (!table.ok) throw new Error(table.reason);
    const read = readEdits(await caughtUp(v.work), table.value);
    if (!read.ok) throw new Error(read.reason);
    return read.file;
  };
  const at = (field: string) => 2 + names.indexOf(field);

  test('CSV and workbook come back as they were written, whatever stands in the cells', async () => {
    await take('torch is:stocked');
    const odd = [
      '=1+1',
      "'quoted",
      '+10 %',
      '@home',
      '-5',
      '"q", “w”',
      'a\nb\n\nc',
      'für 2" ½ €',
      '0012',
      '1-2',
      'x\ty',
      '  blank  ',
    ];
    const ids = (await listings()).map((l) => l.id);
    await applyCells(
      v.work,
      odd.flatMap((text, k) => [
        { listing: ids[k % ids.length]!, field: 'description', text: `<p>${text}</p>` } as const,
        { listing: ids[(k + 3) % ids.length]!, field: 'brand', text } as const,
      ]),
      'Odd',
    );
    const rows = await written();
    // What cannot be edited is told besides, as numbers where it is one.
    const cost = rows[0]!.indexOf('Cost (read-only)');
    const { source } = (await caughtUp(v.work)).get(ids[0]!)!;
    const item = (await v.work.db.items.get(itemKey(source!.supplier, source!.item)))!;
    expect(rows[1]![cost]).toBe(item.cost / 100);
    for (const file of [new Blob([`\uFEFF${writeDelimited(rows)}`]), (await writeWorkbook(rows))!]) {
      expect(await readBack(file)).toMatchObject({
        cells: [],
        refused: [],
        rows: rows.length - 1,
        stamped: true,
      });
    }
  });

  test('only what was edited there is asked for; what changed here as well is refused, what changed here alone stays', async () => {
    await take('torch is:stocked');
    const rows = await written();
    const edited = rows.map((r) => [...r]);
    edited[1]![at('Title')] = 'Edited there';
    edited[2]![at('Title')] = 'Edited in both';
    edited[1]![at('Own price')] = '1.299,50';
    edited[2]![at('Barcode')] = '4.0E+12';
    edited.push(['NO-SUCH', 'Pennywharf UK', ...rows[0]!.slice(3).map(() => 'x'), '']);
    edited.push([...edited[1]!]);
    const id = (row: number) => `pennywharf:${rows[row]![0]}`;
    await applyCells(
      v.work,
      [
        { listing: id(2), field: 'title', text: 'Edited here' },
        { listing: id(3), field: 'title', text: 'Here alone' },
      ],
      'Meanwhile',
    );
    const file = await readBack(new Blob([writeDelimited(edited)]));
    expect(file.cells).toEqual([
      { listing: id(1), field: 'title', text: 'Edited there' },
      { listing: id(1), field: 'price', text: '1.299,50' },
      { listing: id(2), field: 'barcode', text: '4.0E+12' },
    ]);
    const lineOf = (row: number) =>
      writeDelimited(edited.slice(0, row)).replace(/\r\n/g, '\n').split('\n').length;
    expect(file.refused.map((r) => [r.line, r.reason.slice(0, 30)])).toEqual([
      [lineOf(2), 'Title changed here since it wa'],
      [lineOf(edited.length - 2), 'There is no listing NO-SUCH on'],
      [lineOf(edited.length - 1), 'A row before is about the same'],
    ]);
    const preview = previewEdit(await caughtUp(v.work), [], { is: 'cells', cells: file.cells, name: 'File' });
    expect([preview.changes.map((c) => c.after), preview.refused.map((c) => c.field)]).toEqual([
      ['Edited there', '1299.50'],
      ['barcode'],
    ]);
    // A price many times what it costs is asked about, and taken once it is agreed to.
    expect((await applyCells(v.work, preview.changes, 'File')).asked).toBe(1);
    expect((await full(id(1))).listing).toMatchObject({ title: 'Edited there', ownPrice: null });
    await applyCells(
      v.work,
      preview.changes.map((c) => ({ ...c, agreed: true })),
      'File',
    );
    expect((await full(id(1))).listing.ownPrice).toBe(129950);
    expect(titleOf(await full(id(3)))).toBe('Here alone');
  });

  test('a file that is none, or of something else, is told and changes nothing', async () => {
    await take('compass');
    const assortment = await caughtUp(v.work);
    const edits = (rows: readonly string[][]) =>
      readEdits(assortment, { rows: rows.map((cells, k) => ({ line: k + 1, cells })), brokenAt: null });
    expect(
      edits([
        ['SKU', 'Title'],
        ['x', 'y'],
      ]),
    ).toMatchObject({ ok: false, reason: expect.stringMatching(/Marketplace/) });
    expect(
      edits([
        ['SKU', 'Marketplace', 'Shade'],
        ['x', 'y', 'z'],
      ]),
    ).toMatchObject({ ok: false });
    expect(edits([['SKU', 'Marketplace', 'Title']])).toMatchObject({ ok: false });
    expect(await readTable(new Blob([new Uint8Array([137, 80, 78, 71, 0, 1])]), 'x.png')).toMatchObject({
      ok: false,
    });
    expect(await readTable(new Blob([new Uint8Array([80, 75, 3, 4, 0, 0])]), 'x.xlsx')).toMatchObject({
      ok: false,
    });
    const [one] = await listings();
    const bare = edits([
      ['sku', 'MARKETPLACE', 'Title'],
      [one!.sku, 'Pennywharf UK', 'New'],
    ]);
    expect(bare).toMatchObject({ ok: true, file: { stamped: false, cells: [{ text: 'New' }] } });
  });

  test('a file that is cut, lacks cells or has a bare comma empties and shifts nothing; emptying is a choice', async () => {
    await take('torch is:stocked');
    const rows = await written();
    const text = writeDelimited(rows);
    const before = JSON.stringify(await listings());
    // Cut anywhere: whole rows are taken, the one it breaks off in is not.
    for (const share of [0.31, 0.5, 0.62, 0.77, 0.9, 0.99]) {
      const cut = await readBack(new Blob([text.slice(0, Math.floor(text.length * share))]));
      expect([share, cut.cells, cut.emptied]).toEqual([share, [], []]);
      expect(cut.refused.length).toBeLessThanOrEqual(1);
      for (const { reason } of cut.refused) expect(reason).toMatch(/breaks off|cut off|no listing|no SKU/);
    }
    const lines = rows.map((row) => writeDelimited([row]).trimEnd());
    const bare = [...lines];
    bare[1] = bare[1]!.replace(',', ',Deluxe, ');
    const short = [...lines];
    short[2] = writeDelimited([rows[2]!.slice(0, 5)]).trimEnd();
    const second = 2 + lines[1]!.split('\n').length;
    for (const [file, line] of [
      [bare, 2],
      [short, second],
    ] as const) {
      const read = await readBack(new Blob([file.join('\r\n')]));
      expect([read.cells, read.emptied]).toEqual([[], []]);
      expect(read.refused).toEqual([
        expect.objectContaining({ line, reason: expect.stringMatching(/cells/) }),
      ]);
    }
    // A line is told right behind a cell of several lines.
    const tall = rows.map((r) => [...r]);
    tall[1]![at('Description')] = '<p>a</p>\n<p>b</p>\n<p>c</p>';
    tall[2]![0] = 'NO-SUCH';
    const told = await readBack(new Blob([writeDelimited(tall)]));
    const before2 = writeDelimited(tall.slice(0, 2)).replace(/\r\n/g, '\n').split('\n').length;
    expect(told.refused.map((r) => r.line)).toEqual([before2]);
    expect(before2).toBeGreaterThan(4);
    // Emptied there: asked for apart from the others.
    const emptied = rows.map((r) => [...r]);
    emptied[1]![at('Title')] = '';
    const read = await readBack(new Blob([writeDelimited(emptied)]));
    expect([read.cells, read.emptied.map((c) => c.field)]).toEqual([[], ['title']]);
    expect(JSON.stringify(await listings())).toBe(before);
  });

  test('what is written is no formula in any spreadsheet, whatever parts its cells, and comes back as it was', () => {
    const odd = [
      '=1+1',
      '=1\n2',
      '\t=1',
      'a;=HYPERLINK("x")',
      "'=x",
      "a;'=b",
      '-5',
      '-5.00',
      '+4',
      '@x',
      '＝1+1',
      'a; -b',
      '\r\n=2',
    ];
    for (const text of odd) {
      expect([text, unwrapWritten(wrapCell(text))]).toEqual([text, text]);
      const opened = wrapCell(text).split(/[;\t]/);
      for (const part of text.startsWith('\t') ? [] : opened)
        expect([text, /^\s*[=@＝]/.test(part)]).toEqual([text, false]);
    }
    expect(wrapCell('-5.00')).toBe('-5.00');
    const cells = tableOfText(writeDelimited([odd])).rows[0]!.cells.map(unwrapWritten);
    expect(cells).toEqual(odd);
  });

  test('texts of western spreadsheets are read as they are, and said to be a guess', async () => {
    const bytes = Uint8Array.from(
      [...'SKU;Name\nA;M'].map((c) => c.charCodeAt(0)).concat([0xfc], [108, 108, 101, 114]),
    );
    const read = await readText(new Blob([bytes]), 'x.csv');
    expect(read).toMatchObject({ ok: true, value: { encoding: 'windows-1252', sure: false } });
    expect(read.ok && read.value.text).toContain('Müller');
    expect(await readText(new Blob(['ä']), 'x.csv')).toMatchObject({
      ok: true,
      value: { sure: true, text: 'ä' },
    });
    expect(addressProblem({ ...ADDRESS, line1: 'M\uFFFDller St' }, [])).toEqual({
      why: 'garbled',
      part: 'line1',
    });
  });
});

test('a supplier’s category is confirmed or chosen for all, prices follow, an own category stays, undo brings all back', async () => {
  await take('compass is:stocked has:barcode has:picture');
  const ids = (await listings()).map((l) => l.id);
  await approve(v.work, ids);
  const { product } = await full(ids[0]!);
  const lines = categoriesOf(await caughtUp(v.work), 'pennywharf');
  const line = lines.find((l) => l.theirs === product.taken.category)!;
  expect(line).toMatchObject({ confirmed: false, products: expect.any(Number), own: 0 });
  const other = marketOf(assortmentOf(v.work).shop, 'pennywharf')!.site.categories.find(
    (c) => c.id !== line.category,
  )!;
  await applyCells(v.work, [{ listing: ids[1]!, field: 'category', text: line.category! }], 'Own');
  const priceOf = async (id: string) => quoteListing(await full(id), assortmentOf(v.work).shop)!;
  const before = await priceOf(ids[0]!);
  await saveCategories(v.work, 'pennywharf', { [line.theirs]: other.id, 'No such': 'none such' });
  const now = await full(ids[0]!);
  expect(now.listing.approvedAt).toBeNull();
  expect((await priceOf(ids[0]!)).category).toBe(other.id);
  expect((await priceOf(ids[1]!)).category).toBe(line.category);
  expect(fieldOf('category', assortmentOf(v.work).shop).origin(now, assortmentOf(v.work).shop)).toBe('table');
  expect(
    categoriesOf(await caughtUp(v.work), 'pennywharf').find((l) => l.theirs === line.theirs),
  ).toMatchObject({ category: other.id, confirmed: true });
  await undoLast();
  expect(await priceOf(ids[0]!)).toMatchObject({ category: before.category, price: before.price });
});

test('what is to be published at a time waits for it, can be called back, and goes once', async () => {
  await take('compass is:stocked has:barcode has:picture');
  const ids = (await listings()).map((l) => l.id);
  await approve(v.work, ids);
  const ready = (await listings()).filter((l) => l.approvedAt !== null).map((l) => l.id);
  const at = v.work.clock() + 3_600_000;
  expect((await publish(v.work, ready, at)).queued).toBe(ready.length);
  await v.settle(60_000);
  const there = () => Object.keys(v.outside.markets.pennywharf!.listings).length;
  expect(there()).toBe(0);
  expect(await stopPublishing(v.work)).toBe(ready.length);
  await v.settle(3_700_000);
  expect(there()).toBe(0);
  await publish(v.work, ready, v.work.clock() + 600_000);
  await v.settle(700_000);
  expect(there()).toBe(ready.length);
  expect((await full(ready[0]!)).listing.state).toBe('live');
});

test('a listing is left as a draft, costs and shows nothing, keeps up with edits, and is put on sale at the price of then', async () => {
  await take('compass is:stocked has:barcode has:picture');
  await approve(
    v.work,
    (await listings()).map((l) => l.id),
  );
  const { product } = (await listings()).find((l) => l.approvedAt !== null)!;
  await listOn(v.work, [product], 'loomhall');
  await saveRate(v.work, { currency: 'EUR', day: '2026-01-01', value: 0.86 * RATE_ONE, origin: 'typed' });
  const ids = (await listings()).filter((l) => l.product === product).map((l) => l.id);
  const loom = ids.find((id) => id.startsWith('loomhall'))!;
  await applyCells(v.work, [{ listing: loom, field: 'attribute:maker', text: 'another' }], 'Made by');
  await approve(v.work, ids);
  // Where there are no drafts it stays where it is.
  expect(await publish(v.work, ids, null, true)).toEqual({ queued: 1, left: ids.length - 1 });
  await v.settle();
  const { sku } = (await full(loom)).listing;
  const there = () => v.outside.markets.loomhall!.listings[sku]!;
  expect((await full(loom)).listing).toMatchObject({
    state: 'draft',
    page: expect.stringMatching(/^http:.*goods/),
  });
  expect(there().state).toBe('draft');
  const [item] = (await full(loom)).item ? [(await full(loom)).item!] : [];
  await v.work.db.items.update(item!.id, { cost: item!.cost + 100 });
  await applyCells(v.work, [{ listing: loom, field: 'title', text: 'Brass compass' }], 'Title');
  await approve(v.work, [loom]);
  const wanted = quoteListing(await full(loom), assortmentOf(v.work).shop)!.price!;
  await publish(v.work, [loom]);
  await v.settle();
  expect((await full(loom)).listing.state).toBe('live');
  expect(there()).toMatchObject({ state: 'live', title: 'Brass compass', price: decimalOf(wanted, 'EUR') });
});

test('a variant is left out of a product, all but the last; a product is duplicated with SKUs of its own; both are undone', async () => {
  await take('lantern is:stocked cost:<30');
  const group = (await listings()).filter((l, _, all) => l.product === all[0]!.product);
  expect(group.length).toBe(3);
  const ids = group.map((l) => l.id);
  expect(await leaveOut(v.work, ids)).toBe(0);
  expect(await leaveOut(v.work, ids.slice(0, 2))).toBe(2);
  expect(await leaveOut(v.work, ids.slice(2))).toBe(0);
  const has = async (id: string) => (await v.work.db.listings.get(id)) !== undefined;
  expect(await Promise.all(ids.map(has))).toEqual([false, false, true]);
  await undoLast();
  expect(await Promise.all(ids.map(has))).toEqual([true, true, true]);
  await applyCells(v.work, [{ listing: ids[0]!, field: 'title', text: 'Ours' }], 'Title');
  await applyCells(v.work, [{ listing: ids[0]!, field: 'title', text: 'Ours, red' }], 'Title');
  const told = (await editsOf(v.work, [`listing:${ids[0]}`])).flatMap((e) => e.texts ?? []);
  expect(told.slice(0, 2)).toEqual([
    { name: 'Title', from: 'Ours', to: 'Ours, red' },
    { name: 'Title', from: '', to: 'Ours' },
  ]);
  await undoLast();
  expect(titleOf(await full(ids[0]!))).toBe('Ours');
  const before = (await listings()).length;
  const copy = (await duplicateProduct(v.work, group[0]!.product))!;
  const again = (await duplicateProduct(v.work, group[0]!.product))!;
  expect(again).not.toBe(copy);
  const copies = (await listings()).filter((l) => l.product === copy);
  expect(copies).toHaveLength(3);
  expect(copies.every((l) => l.title === 'Ours' && l.state === 'bench' && l.approvedAt === null)).toBe(true);
  const skus = (await listings()).map((l) => l.sku);
  expect(new Set(skus).size).toBe(skus.length);
  // What is bought is the same item: the copy follows its cost and stock.
  expect((await full(copies[0]!.id)).item).toEqual((await full(ids[0]!)).item);
  await approve(
    v.work,
    copies.map((l) => l.id),
  );
  await undoLast();
  await undoLast();
  await undoLast();
  expect((await listings()).length).toBe(before);
  expect(await duplicateProduct(v.work, 'no such')).toBeNull();
});

describe('drift', () => {
  const SIX_HOURS = 6 * 3_600_000;
  const sold = async () => {
    await take('compass is:stocked has:barcode has:picture');
    const ids = (await listings()).map((l) => l.id);
    await approve(v.work, ids);
    await publish(v.work, ids);
    await v.settle();
    await v.work.db.jobs.add(newJob('pennywharf', 'drift', v.work.clock()));
    const [one, two] = (await listings()).filter((l) => l.state === 'live');
    return [one!, two!] as const;
  };
  const there = () => v.outside.markets.pennywharf!.listings;

  test('what was edited on the site is seen field by field; ours is put back, theirs is kept, and nothing is told for nothing', async () => {
    const [one, two] = await sold();
    await v.settle(SIX_HOURS);
    expect((await full(one.id)).listing.drift ?? null).toBeNull();
    const before = there()[one.sku]!.title;
    Object.assign(there()[one.sku]!, { title: 'Cheaper there', price: '99.00' });
    Object.assign(there()[two.sku]!, { title: 'Better there', price: '88.00' });
    await v.settle(SIX_HOURS);
    expect((await full(one.id)).listing.drift!.theirs).toEqual({ title: 'Cheaper there', price: '9900' });
    const price = (await full(one.id)).listing.published!.price;
    expect(await settleDrift(v.work, [one.id], 'ours')).toBe(1);
    const revision = there()[two.sku]!.revision;
    expect(await settleDrift(v.work, [two.id], 'theirs')).toBe(1);
    await v.settle();
    expect(there()[one.sku]).toMatchObject({ title: before, price: decimalOf(price, 'GBP') });
    expect((await full(two.id)).listing).toMatchObject({
      title: 'Better there',
      ownPrice: 8800,
      drift: null,
    });
    await v.settle(SIX_HOURS);
    expect(there()[two.sku]).toMatchObject({ title: 'Better there', price: '88.00', revision });
    for (const { id } of [one, two]) expect((await full(id)).listing.drift ?? null).toBeNull();
  });

  test('by rule it is put back by itself; what is on its way to the site is no drift', async () => {
    const [one, two] = await sold();
    await setDriftRule(v.work, 'pennywharf', 'ours');
    Object.assign(there()[one.sku]!, { title: 'Edited there' });
    await v.settle(SIX_HOURS);
    await v.settle();
    expect(there()[one.sku]!.title).toBe(titleOf(await full(one.id)));
    await applyCells(v.work, [{ listing: two.id, field: 'title', text: 'Edited here' }], 'x');
    await runNow(v.work, 'pennywharf:drift');
    await v.settle();
    expect((await full(two.id)).listing.drift ?? null).toBeNull();
    expect(there()[two.sku]!.title).toBe('Edited here');
    // A price that is told ends what was edited of it there; the title is still theirs.
    await setDriftRule(v.work, 'pennywharf', 'ask');
    Object.assign(there()[one.sku]!, { title: 'Edited again', price: '99.00' });
    await v.settle(SIX_HOURS);
    const cell = { listing: one.id, field: 'price' as const, text: '50.00', agreed: true };
    await applyCells(v.work, [cell], 'Own price');
    await v.settle();
    expect(there()[one.sku]).toMatchObject({ title: 'Edited again', price: '50.00' });
    expect((await full(one.id)).listing.drift!.theirs).toEqual({ title: 'Edited again' });
  });
});

describe('copy templates', () => {
  const EVERYDAY = {
    ...NEW_TEMPLATE,
    name: 'Everyday',
    title: '{{keyword}}, {{brand}}',
    description: '<p>{{title}} <script>x</script></p>',
    tags: '{{keyword}}, night, Night',
  };

  test('texts are made of fields; an empty one is flagged and cannot be approved; typed texts go before', async () => {
    await take('compass is:stocked has:barcode has:picture');
    const [one, two] = await listings();
    const saved = await saveTemplate(v.work, null, EVERYDAY);
    if (!saved.ok) throw new Error(saved.reason);
    await applyCells(
      v.work,
      [one!, two!].map((l) => ({ listing: l.id, field: 'template', text: 'everyday' })),
      'x',
    );
    await takeSheet(v.work, `SKU\tKeyword\n${one!.sku}\t<b>brass</b> compass & case\n`);
    const made = await full(one!.id);
    expect(titleOf(made)).toBe(`brass compass & case, ${made.product.taken.brand}`);
    expect(descriptionOf(made)).toBe(`<p>${made.product.taken.title.replace('&', '&amp;')} </p>`);
    expect(tagsOf(made, { tags: { most: 9, longest: 30 } })).toEqual(['brass compass & case', 'Night']);
    expect(tagsOf(made, { tags: null })).toEqual([]);
    const place = assortmentOf(v.work).placeOf(two!.id);
    expect(assortmentOf(v.work).columns.missing[place]!.map((m) => m.reason)).toContain(
      '“Everyday” has nothing for {{keyword}}.',
    );
    expect(await approve(v.work, [two!.id])).toMatchObject({ approved: 0, lacking: 1 });
    await saveTemplate(v.work, saved.id, { ...EVERYDAY, fallbacks: { keyword: 'title' } });
    const { taken } = (await full(two!.id)).product;
    expect(titleOf(await full(two!.id))).toBe(`${taken.title}, ${taken.brand}`);
    await applyCells(v.work, [{ listing: two!.id, field: 'title', text: 'Typed' }], 'x');
    expect(titleOf(await full(two!.id))).toBe('Typed');
    expect(
      fieldOf('title', assortmentOf(v.work).shop).origin(await full(two!.id), assortmentOf(v.work).shop),
    ).toBe('typed for this marketplace');
    expect(await dropTemplate(v.work, saved.id)).toBe(2);
    expect(titleOf(await full(one!.id))).toBe(made.product.taken.title);
    await undoLast();
    expect(titleOf(await full(one!.id))).toBe(titleOf(made));
  });

  test('a template that cannot be read, has no name or the name of another is not kept', async () => {
    const save = (some: Partial<typeof EVERYDAY>) => saveTemplate(v.work, null, { ...EVERYDAY, ...some });
    expect(await save({})).toMatchObject({ ok: true });
    expect(await save({ name: 'EVERYDAY ' })).toEqual({
      ok: false,
      reason: 'There is a template “EVERYDAY” already.',
    });
    expect(await save({ name: ' ' })).toMatchObject({ ok: false });
    expect(await save({ name: 'b', title: '{{#a}}' })).toMatchObject({ ok: false });
    expect(await save({ name: 'b', title: '', description: ' ', tags: '' })).toMatchObject({ ok: false });
    expect(await v.work.db.templates.count()).toBe(1);
  });

  test('one site has its own template; what is on sale there is told when it changes', async () => {
    await take('compass is:stocked has:barcode has:picture');
    const [one] = await listings();
    await approve(v.work, [one!.id]);
    await publish(v.work, [one!.id]);
    await v.settle();
    await listOn(v.work, [one!.product], 'loomhall');
    const saved = await saveTemplate(v.work, null, { ...EVERYDAY, fallbacks: { keyword: 'title' } });
    if (!saved.ok) throw new Error(saved.reason);
    const done = await applyCells(v.work, [{ listing: one!.id, field: 'template', text: 'Everyday' }], 'x');
    expect(done.sent).toBe(1);
    const there = (await listings()).find((l) => l.marketplace === 'loomhall')!;
    expect(there.copy ?? null).toBeNull();
    await v.settle();
    await saveTemplate(v.work, saved.id, { ...EVERYDAY, title: 'Now: {{title}}' });
    await v.settle();
    expect(v.outside.markets.pennywharf!.listings[one!.sku]!.title).toMatch(/^Now: /);
    const weighing = new TemplateWeighing(await caughtUp(v.work), {
      ...EVERYDAY,
      title: '{{title}}'.repeat(9),
    });
    for (const f of triedOn(assortmentOf(v.work), saved.id, new Set())) weighing.add(f);
    const weighed = weighing.weighed();
    expect(weighed).toMatchObject({ listings: 1, tooLong: 1, empty: [['keyword', 1]] });
  });

  test('a keyword sheet finds products by any of their numbers, and says of each other row why not', async () => {
    await take('tripod has:barcode');
    const [one, two, three] = await listings();
    const assortment = await caughtUp(v.work);
    const [a, b, c] = [one!, two!, three!].map((l) => assortment.get(l.id)!) as [
      never,
      never,
      never,
    ] as unknown as ReturnType<typeof assortment.get>[];
    const sheet = [
      'Note;EAN;Keyword;Season',
      `x;="${a!.variant.gtin}";=1+1;`,
      `y;${b!.listing.sku.toLowerCase()};torch;winter`,
      `y;${b!.listing.sku};lamp;winter`,
      `z;${c!.source!.item};;`,
      'q;4.0E+12;torch;',
      'q;;torch;',
      'q;nothing;torch;',
    ].join('\r\n');
    const read = readSheet(assortment, sheet);
    if (!read.ok) throw new Error(read.reason);
    expect(read.sheet.columns).toEqual(['note', 'keyword', 'season']);
    expect(read.sheet.refused.map((r) => [r.line, r.reason])).toEqual([
      [4, '“keyword”: a row before says “torch” of the same product.'],
      [6, 'A spreadsheet shortened the barcode. Format the column as text.'],
      [7, 'It has no SKU.'],
      [8, 'No product has this SKU or barcode.'],
    ]);
    expect(await takeSheet(v.work, sheet)).toMatchObject({ changed: 3 });
    expect((await full(one!.id)).product.keywords).toEqual({ note: 'x', keyword: '=1+1' });
    // Taken up again it says what is kept; there an emptied cell empties, and elsewhere it does not.
    const kept = keptSheet(await caughtUp(v.work), 2);
    expect(kept).toMatchObject({ header: ['SKU', 'keyword', 'note', 'season'], left: 1 });
    expect(kept.rows).toHaveLength(2);
    const { variant } = await full(one!.id);
    expect(keptSheet(await caughtUp(v.work), 9).rows).toContainEqual([variant.sku, '=1+1', 'x', '']);
    const emptied = `SKU\tkeyword\tnote\n${variant.sku}\t=1+1\t`;
    expect(await takeSheet(v.work, emptied)).toMatchObject({ changed: 0 });
    expect(await takeSheet(v.work, emptied, true)).toMatchObject({ changed: 1 });
    expect((await full(one!.id)).product.keywords).toEqual({ keyword: '=1+1' });
    await undoLast();
    expect(readSheet(await caughtUp(v.work), sheet)).toMatchObject({ sheet: { changes: [] } });
    await undoLast();
    expect((await full(one!.id)).product.keywords).toEqual({});
    for (const bad of ['', 'SKU', 'SKU\nx', 'SKU\tA\tA\nx\t1\t2', `SKU\t${'c\t'.repeat(50)}\nx`])
      expect(readSheet(assortment, bad).ok).toBe(false);
  });
});
