import * as fc from 'fast-check';
import Papa from 'papaparse';
import { SaxesParser } from 'saxes';
import { markedAddress, markProblem } from './address';
import { compareFeeds, rowMark } from './compare';
import {
  type FeedColumn,
  type FeedForm,
  type FeedFormat,
  formProblems,
  placeIn,
  startingForm,
  usualColumns,
} from './form';
import { FeedRows, faultInWords, isOfKind } from './row';
import { together } from './together';
import { type FeedHead, writeFeed } from './write';

const HEAD: FeedHead = {
  name: 'Lamps & more',
  of: 'Pennywharf UK',
  made: '2026-12-02T06:00:00.000Z',
  link: 'https://shop.example/',
  currency: 'GBP',
  rows: 2,
};

const column = (name: string, set: Partial<FeedColumn> = {}): FeedColumn => ({
  ...{ name, from: { field: name }, kind: 'text', required: false },
  ...{ shortest: null, longest: null, allowed: [] },
  ...set,
});

const form = (format: FeedFormat, columns: readonly FeedColumn[]): FeedForm => ({
  ...startingForm(format),
  columns,
});

const written = (of: FeedForm, values: readonly (readonly string[])[], head = HEAD) =>
  [
    ...writeFeed(
      of,
      head,
      values.map((own) => ({
        values: own,
        record: Object.fromEntries(of.columns.map((c, k) => [c.name, own[k]!])),
      })),
    ),
  ].join('');

/** Every element with text, as a reader of XML hears them. */
function heard(xml: string): (readonly [name: string, text: string])[] {
  const found: [string, string][] = [];
  const open: { name: string; text: string }[] = [];
  const parser = new SaxesParser({ xmlns: true });
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name }) => open.push({ name, text: '' }));
  parser.on('text', (text) => {
    const top = open.at(-1);
    if (top) top.text += text;
  });
  parser.on('closetag', ({ name }) => found.push([name, open.pop()!.text]));
  parser.write(xml).close();
  return found;
}

/** What a shop may hold: markup, quotes, breaks, delimiters, other scripts. */
const texts = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 30 }),
  fc.constantFrom(
    'a,b',
    '"',
    'a "b" c',
    '<b>&amp;',
    ']]>',
    'x\ty',
    'line\nline',
    '=1+1',
    '星空ランプ',
    '{{x}}',
    "'",
  ),
);

test('CSV, JSON, JSON Lines and XML are read back by other readers as they were written, whatever is in them', () => {
  const columns = [column('id'), column('title'), column('text')];
  const rows = new FeedRows(columns);
  fc.assert(
    fc.property(fc.array(fc.tuple(texts, texts, texts), { maxLength: 8 }), (records) => {
      const values = records.map(([id, title, text]) => rows.row({ id, title, text }).values);
      const csv = Papa.parse<string[]>(written(form('csv', columns), values), { skipEmptyLines: false }).data;
      expect(csv.slice(1, -1)).toEqual(values);
      const full = values.map((v) =>
        Object.fromEntries(columns.flatMap((c, k) => (v[k] ? [[c.name, v[k]]] : []))),
      );
      expect(JSON.parse(written(form('json', columns), values))).toEqual(full);
      const lines = written(form('jsonl', columns), values).split('\n').slice(0, -1);
      expect(lines.map((line) => JSON.parse(line))).toEqual(full);
      // XML 1.0 reads every end of a line as one sign.
      const sent = values
        .flat()
        .filter(Boolean)
        .map((v) => v.replace(/\r\n?/g, '\n'));
      const got = heard(written(form('xml', columns), values)).filter(
        ([name]) => name !== 'product' && name !== 'products',
      );
      expect(got.map(([, text]) => text)).toEqual(sent);
    }),
    { numRuns: 150 },
  );
});

test('RSS 2.0: a channel with its words, items with those of RSS and of schema.org', () => {
  const columns = usualColumns('rss');
  const record = {
    ...{ id: 'DD-1', sku: 'DD-1', title: 'Torch <red> & dim', description: 'For "stars"', brand: 'Fellmoor' },
    ...{ barcode: '5012345678900', category: 'Lamps', price: '24.99', currency: 'GBP' },
    ...{ page: 'https://shop.example/DD-1?via=x&y=1', picture: 'https://pics.example/a.png' },
    'availability address': 'https://schema.org/InStock',
    'condition address': 'https://schema.org/NewCondition',
  };
  const row = new FeedRows(columns).row(record);
  expect([row.out, row.faults]).toEqual([false, []]);
  const xml = written(form('rss', columns), [row.values]);
  expect(xml).toContain('<enclosure url="https://pics.example/a.png" length="0" type="image/png"/>');
  expect(xml).toContain('<guid isPermaLink="false">DD-1</guid>');
  const by = new Map(heard(xml));
  const links = heard(xml).filter(([name]) => name === 'link');
  expect(links.map(([, text]) => text)).toEqual(['https://shop.example/', record.page]);
  expect(by.get('s:price')).toBe('24.99');
  expect(heard(xml).find(([name, text]) => name === 'title' && text.startsWith('Torch'))![1]).toBe(
    record.title,
  );
  expect(by.get('lastBuildDate')).toBe('Wed, 02 Dec 2026 06:00:00 GMT');
});

test('JSON-LD: products of schema.org with what stands in them', () => {
  const columns = usualColumns('json-ld');
  const values = columns.map((c) =>
    c.name === 'brand.name' ? 'Fellmoor' : c.name === 'offers.price' ? '9.50' : c.name,
  );
  const read = JSON.parse(written(form('json-ld', columns), [values, values]));
  expect([read['@type'], read.numberOfItems, read.itemListElement.length]).toEqual(['ItemList', 2, 2]);
  const [product] = read.itemListElement;
  expect(product['@type']).toBe('Product');
  expect(product.brand).toEqual({ '@type': 'Brand', name: 'Fellmoor' });
  expect(product.offers).toMatchObject({ '@type': 'Offer', price: '9.50' });
});

test('TSV: no cell breaks a row or a column', () => {
  const columns = [column('a'), column('b')];
  expect(written(form('tsv', columns), [['x\ty', 'one\r\ntwo']])).toBe('a\tb\r\nx y\tone two\r\n');
});

test('a template of one’s own: header, rows, footer; values escaped as it says', () => {
  const own: FeedForm = {
    ...startingForm('template'),
    escape: 'xml',
    template: {
      header: '<list of="{{feed}}" n="{{rows}}">\n',
      row: '<p>{{title}}{{#brand}} by {{brand}}{{/brand}}{{^brand}} (no brand){{/brand}}</p>\n',
      footer: '</list>',
    },
  };
  const records = [
    { title: 'A & B', brand: '' },
    { title: 'C', brand: '<D>' },
  ];
  const text = [
    ...writeFeed(
      own,
      HEAD,
      records.map((record) => ({ values: [], record })),
    ),
  ].join('');
  expect(text).toBe(
    '<list of="Lamps &amp; more" n="2">\n<p>A &amp; B (no brand)</p>\n<p>C by &lt;D&gt;</p>\n</list>',
  );
});

test('what is required and cannot go leaves a product out; what is not is left empty; a long text is cut at a word', () => {
  const columns = [
    column('title', { required: true, longest: 12 }),
    column('price', { kind: 'price', required: true }),
    column('gtin', { kind: 'barcode' }),
    column('state', { allowed: ['new', 'used'] }),
    column('link', { kind: 'address', longest: 20 }),
  ];
  const rows = new FeedRows(columns);
  const good = {
    id: '1',
    title: 'Red torch',
    price: '9.99',
    gtin: '5012345678900',
    state: 'new',
    link: 'https://a.example/1',
  };
  expect(rows.row(good)).toMatchObject({ out: false, faults: [] });
  const long = rows.row({ ...good, title: 'Red head torch, dim' });
  expect([long.out, long.values[0]]).toEqual([false, 'Red head']);
  const odd = rows.row({ ...good, gtin: '5012345678901', state: 'old', link: 'https://a.example/123456789' });
  expect(odd.out).toBe(false);
  expect(odd.values.slice(2)).toEqual(['', '', '']);
  expect(odd.faults.map((f) => faultInWords(f, false))).toEqual([
    'gtin: “5012345678901” is not a GTIN with the right check digit and is left empty.',
    'state: “old” is not one of the values that are taken and is left empty.',
    'link has 27 of at most 20 characters and is left empty.',
  ]);
  for (const wrong of [{ title: '  ' }, { price: '0.00' }, { price: 'free' }, { price: '' }])
    expect(rows.row({ ...good, ...wrong }).out).toBe(true);
});

test('kinds: addresses, dates, numbers', () => {
  const is = (kind: FeedColumn['kind'], some: readonly string[]) => some.map((one) => isOfKind(kind, one));
  expect(
    is('address', [
      'https://a.example/x?y=1',
      'http://a.example',
      'ftp://a.example',
      '/pictures/1.png',
      'https://a b',
      'javascript:alert(1)',
      'https://ä.example',
    ]),
  ).toEqual([true, true, false, false, false, false, false]);
  expect(
    is('date', ['2026-12-02', '2026-12-02T06:00:00Z', '2026-12-02T06:00+01:00', '2.12.2026', '2026-13-40']),
  ).toEqual([true, true, true, false, false]);
  expect(is('price', ['24.99', '24.99 GBP', '1', '24,99', '-1', '£3'])).toEqual([
    true,
    true,
    true,
    false,
    false,
    false,
  ]);
});

test('characters that no format takes are left out', () => {
  const rows = new FeedRows([column('title')]);
  expect(rows.row({ id: '1', title: 'a\u0000b\u0007c\ud800d\uffff \u{1f52d}' }).values).toEqual(['abcd 🔭']);
});

test('what cannot be made as it is set is said: names, elements, templates with line and column', () => {
  const wrong = (of: FeedForm) => formProblems(of)[0];
  for (const format of ['csv', 'rss', 'json-ld', 'xml'] as const)
    expect(wrong(startingForm(format))).toBeUndefined();
  expect(wrong(form('csv', []))).toMatch(/at least one column/);
  expect(wrong(form('csv', [column('a'), column('a')]))).toBe('There are two columns “a”.');
  expect(wrong(form('xml', [column('a b')]))).toBe('“a b” is no name of an XML element.');
  expect(wrong(form('rss', [column('title'), column('price')]))).toMatch(/write s:price/);
  expect(wrong(form('rss', [column('link')]))).toMatch(/a title or a description/);
  const own = {
    ...startingForm('template'),
    template: { header: '', row: 'one\n  {{#brand}} two', footer: '' },
  };
  expect(wrong(own)).toBe('The row, line 2, column 17: “{{#brand}}” has no “{{/brand}}” behind it.');
  expect(wrong({ ...own, template: { ...own.template, row: '{{>other}}' } })).toMatch(
    /cannot contain another/,
  );
  expect(placeIn('ab\ncd', 4)).toEqual({ line: 2, column: 2 });
});

test('variants as one: the cheapest that is to be had, all options, all units', () => {
  const variant = (sku: string, price: string, colour: string, more: Record<string, string> = {}) => ({
    ...{ id: sku, sku, product: 'P1', price, colour, options: `Colour ${colour}`, quantity: '2' },
    ...{ availability: 'in stock', barcode: sku, brand: 'Fellmoor' },
    ...more,
  });
  const one = together(
    [
      variant('a', '9.00', 'red', { availability: 'out of stock', quantity: '0' }),
      variant('b', '10.00', 'green'),
      variant('c', '12.50', 'blue'),
    ],
    ['colour'],
  );
  expect(one).toMatchObject({
    id: 'P1',
    price: '10.00',
    colour: 'red, green, blue',
    quantity: '4',
    brand: 'Fellmoor',
  });
  expect([one.barcode, one.availability]).toEqual(['', 'in stock']);
});

test('compared with the one before it: new, changed, gone, by id', () => {
  const marks = (rows: Record<string, string>) => ({
    ids: Object.keys(rows),
    marks: Int32Array.from(Object.values(rows).map((v) => rowMark([v]))),
  });
  const before = marks({ a: '1', b: '2', c: '3' });
  expect(compareFeeds(before, marks({ d: '9', a: '1', c: '4' }))).toEqual({
    fresh: ['d'],
    changed: ['c'],
    gone: ['b'],
  });
  expect(compareFeeds(null, before).fresh).toEqual(['a', 'b', 'c']);
  // What moves from one column to the next is another row.
  expect(rowMark(['a', 'b'])).not.toBe(rowMark(['ab', '']));
});

test('a mark stands in the address once, beside what was there', () => {
  const mark = { parameter: 'via', value: 'lamps-1' };
  expect(markedAddress('https://a.example/x?via=old&y=2#top', mark)).toBe(
    'https://a.example/x?via=lamps-1&y=2#top',
  );
  expect(markedAddress('not an address', mark)).toBe('not an address');
  expect(markProblem({ parameter: 'via', value: 'a b' })).toMatch(/letters/);
  expect(markProblem(mark)).toBeNull();
});
