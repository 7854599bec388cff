import { guessCategory, missingFor, type Site } from './checks';
import { cleanHtml, plainText, shortenAtWord } from './copy';
import {
  accountOf,
  differences,
  type Entry,
  type EntryKind,
  type ExpectedOrder,
  expectedEntries,
} from './ledger';
import { ratesOn } from './money';
import { deductionsFor, type FeeTable } from './pricing';
import { compile, type Fields, parseRange, readCondition } from './query';
import { carrierFor, isS10, trackingProblem } from './tracking';
import { addDays, dayOf, instantOf, isGtin, spanOf, whenOf } from './units';

test('supplier markup cannot run anything, formatting stays', () => {
  const hostile =
    '<p onclick="x()">Dry <b style="x">tube</b></p><script>steal()</script><img src=x onerror=alert(1)><a href="javascript:x()">go</a><svg><script>y()</script></svg>';
  const clean = cleanHtml(hostile);
  expect(clean).toContain('<p>Dry <b>tube</b></p>');
  expect(clean).not.toMatch(/script|onclick|onerror|img|href|style|steal|alert/);
  expect(plainText('<img src=x onerror=alert(1)>Torch &amp; <b>lamp</b>\u202e\n x')).toBe('Torch & lamp x');
});

test('titles are cut at a word', () => {
  expect(shortenAtWord('Observing chair, folding, 12 heights', 26)).toBe('Observing chair, folding');
  expect(shortenAtWord('short', 26)).toBe('short');
  expect([...shortenAtWord('x'.repeat(90), 75)]).toHaveLength(75);
});

interface Row {
  title: string;
  cost: number;
  brand: string | null;
}
const FIELDS: Fields<Row> = {
  cost: { kind: 'number', scale: 100, get: (r) => r.cost },
  brand: { kind: 'text', get: (r) => r.brand },
  is: { kind: 'flags', flags: ['dear'], get: (r) => r.cost > 1000 },
};
const ROWS: Row[] = [
  { title: 'red café torch', cost: 550, brand: 'Oxbow & Reed' },
  { title: 'star atlas', cost: 1500, brand: null },
  { title: 'torchlight red film', cost: 120, brand: 'Fellmoor' },
];
const search = (text: string) => {
  const { test: fits, problems } = compile(readCondition(text, FIELDS), FIELDS, (r) =>
    r.title.normalize('NFD').replace(/\p{M}/gu, ''),
  );
  return { found: ROWS.flatMap((r, i) => (fits(r) ? [i] : [])), problems: problems.length };
};

test.each([
  ['torch red', [0, 2]],
  ['CAFE', [0]],
  ['orch', []],
  ['cost:1..6', [0, 2]],
  ['cost:>5.5', [1]],
  ['cost:>=5,5', [0, 1]],
  ['-torch', [1]],
  ['brand:"oxbow & reed"', [0]],
  ['-is:dear', [0, 2]],
  ['red -cost:>2', [2]],
  ['', [0, 1, 2]],
])('search %s', (text, found) => {
  expect(search(text)).toEqual({ found, problems: 0 });
});

test('what cannot be understood is said and narrows nothing', () => {
  expect(search('colour:red cost:cheap is:blue constructor:x')).toEqual({ found: [0, 1, 2], problems: 4 });
  expect(parseRange('..')).toBeNull();
});

const RULE = { onShipping: false, onTax: true, optional: false, fixed: 0, least: null, most: null };
const FEES: FeeTable = {
  rules: [
    {
      ...RULE,
      id: 'sale',
      name: 'Sale fee',
      kind: 'sale',
      per: 'item',
      bands: {
        a: [
          { upTo: 5000, rate: 120_000 },
          { upTo: null, rate: 90_000 },
        ],
      },
    },
    { ...RULE, id: 'order', name: 'Order fee', kind: 'sale', per: 'order', bands: {}, fixed: 20 },
    {
      ...RULE,
      id: 'payment',
      name: 'Payment fee',
      kind: 'payment',
      per: 'order',
      bands: { '*': [{ upTo: null, rate: 24_000 }] },
      fixed: 25,
    },
  ],
  tax: { model: 'inside', rate: 200_000 },
};
const LINE = { unitPrice: 2499, quantity: 2, deductions: deductionsFor(FEES, 'a')! };
const RATES = ratesOn(
  [{ currency: 'USD', books: 'GBP', day: '2026-01-01', value: 80_000_000, origin: 'typed' }],
  'GBP',
  '2026-06-30',
);
const expectedFor = (part: Partial<ExpectedOrder> = {}) =>
  expectedEntries(
    {
      marketplace: 'uk',
      currency: 'GBP',
      lines: [LINE],
      shipping: 0,
      costs: [{ reference: 'uk:1', supplier: 's', currency: 'GBP', goods: 2000, shipping: 395 }],
      costTax: 0,
      ...part,
    },
    RATES,
    7,
  );

test('an order’s account adds up: fees by unit, one fixed fee, one parcel, tax once for the order', () => {
  expect(accountOf(expectedFor(), 'GBP')).toEqual({
    revenue: 4998,
    goods: 2000,
    shipping: 395,
    fee: 620,
    payment: 145,
    tax: 833,
    profit: 1005,
  });
});

test('entries keep their currency and the rate they were made with; without a rate there is no account', () => {
  // 20.00 and 3.95 dollars at 0.80 are 16.00 and 3.16; a tenth of 23.95 is tax that is not reclaimed, 1.92.
  const costs = [{ reference: 'uk:1', supplier: 'h', currency: 'USD', goods: 2000, shipping: 395 }];
  const entries = expectedFor({ costs, costTax: 100_000 });
  expect(entries.filter((e) => e.from === 'h').map((e) => [e.kind, e.amount, e.currency, e.rate])).toEqual([
    ['goods', -2000, 'USD', 80_000_000],
    ['shipping', -395, 'USD', 80_000_000],
    ['tax on cost', -240, 'USD', 80_000_000],
  ]);
  expect(accountOf(entries, 'GBP')).toMatchObject({ goods: 1600 + 192, shipping: 316 });
  expect(accountOf(expectedFor({ costs: [{ ...costs[0]!, currency: 'CHF' }] }), 'GBP')).toBeNull();
});

test('what is charged anew comes in as the difference, what is no longer charged goes back, the same twice is nothing', () => {
  const entry = (kind: EntryKind, amount: number): Entry => ({
    kind,
    name: '',
    amount,
    currency: 'GBP',
    rate: null,
    at: 1,
    from: 's',
    purchase: 'uk:1',
  });
  const first = differences([], [entry('goods', -1000), entry('shipping', -295)], 5);
  expect(first.map((e) => e.amount)).toEqual([-1000, -295]);
  expect(differences(first, [entry('goods', -1000), entry('shipping', -295)], 6)).toEqual([]);
  const back = differences(first, [entry('goods', -150)], 7);
  expect(back.map((e) => [e.kind, e.amount])).toEqual([
    ['goods', 850],
    ['shipping', 295],
  ]);
  expect(accountOf([...first, ...back], 'GBP')).toMatchObject({ goods: 150, shipping: 0, profit: -150 });
});

test('days are cut in the shop’s zone, summer time included', () => {
  expect(dayOf(Date.parse('2026-06-30T23:30:00Z'), 'Europe/London')).toBe('2026-07-01');
  expect(dayOf(Date.parse('2026-12-01T23:30:00Z'), 'Europe/London')).toBe('2026-12-01');
  expect(addDays('2026-03-28', 2)).toBe('2026-03-30');
});

test('times and spans in words', () => {
  const now = Date.parse('2026-11-23T15:00:00Z');
  expect(whenOf(now - 24 * 3_600_000, now, 'UTC')).toBe('yesterday 15:00');
  expect([9_000, 720_000, 5 * 3_600_000, 28 * 3_600_000].map(spanOf)).toEqual([
    '9 s',
    '12 min',
    '5 h',
    '1 d 4 h',
  ]);
});

test('barcodes and tracking numbers are checked by their digits', () => {
  expect([isGtin('4006381333931'), isGtin('4006381333932'), isGtin('96385074'), isGtin('12345')]).toEqual([
    true,
    false,
    true,
    false,
  ]);
  expect([isS10('RB123456785GB'), isS10('RB123456786GB')]).toEqual([true, false]);
  expect(trackingProblem('RB123456786GB')).toBe('check digit');
  expect(trackingProblem('<b>')).toBe('shape');
  expect(carrierFor('ROOKLINE parcels', [{ code: 'rookline', name: 'Rookline Parcels' }])?.code).toBe(
    'rookline',
  );
});

const SITE: Site = {
  name: 'Pennywharf UK',
  currency: 'GBP',
  zone: 'Europe/London',
  titleLimit: 20,
  descriptionLimit: 200,
  needsDescription: true,
  pictures: { least: 1, most: 3, shortest: 500, square: false },
  bannedWords: ['best'],
  shipsTo: ['GB'],
  fees: FEES,
  tags: null,
  drafts: false,
  attributes: [],
  limits: { inFlight: 2, listingsAtOnce: 1 },
  carriers: [],
  categories: [
    { id: 'optics', name: 'Optics', words: ['filter'], needsBrand: true, needsGtin: true },
    { id: 'lighting', name: 'Lighting', words: ['torch'], needsBrand: false, needsGtin: false },
  ],
};

test('the Bench says everything a marketplace would refuse', () => {
  const draft = {
    title: 'The best moon filter of them all',
    description: '<p>x</p><a href="//y">z</a>',
    brand: '',
    gtin: '4006381333932',
    category: 'optics',
    pictures: [],
    tags: [],
    attributes: {},
    copy: null,
    priceProblem: 'No price.',
  };
  expect(missingFor(draft, SITE).map((m) => m.field)).toEqual([
    'title',
    'title',
    'description',
    'brand',
    'gtin',
    'pictures',
    'price',
  ]);
  expect(missingFor(draft, SITE)[0]!.fix).toBe('The best moon filter');
  expect(
    missingFor(
      {
        ...draft,
        title: 'Moon filter',
        description: '<p>x</p>',
        brand: 'B',
        gtin: '4006381333931',
        pictures: ['/p'],
        copy: null,
        priceProblem: null,
      },
      SITE,
    ),
  ).toEqual([]);
});

const MAKER = {
  id: 'maker',
  name: 'Made by',
  kind: 'choice',
  choices: [{ id: 'us', name: 'We did' }],
  unit: '',
  categories: null,
  needed: true,
  usual: '',
} as const;

test('a site with tags and makers asks for both, within its limits', () => {
  const site = { ...SITE, tags: { most: 2, longest: 8 }, attributes: [MAKER] };
  const draft = {
    title: 'Tea towel',
    description: '<p>x</p>',
    brand: '',
    gtin: null,
    category: 'lighting',
    pictures: ['/p'],
    tags: ['stars', 'constellation', 'linen'],
    attributes: {},
    copy: null,
    priceProblem: null,
  };
  expect(missingFor(draft, site).map((m) => m.field)).toEqual(['tags', 'tags', 'attributes']);
  expect(missingFor({ ...draft, tags: ['stars'], attributes: { maker: 'us' } }, site)).toEqual([]);
});

test('categories are guessed from the supplier’s words first', () => {
  expect(guessCategory('Optics > Filters', 'Torch', SITE.categories)).toBe('optics');
  expect(guessCategory('Misc', 'Red torches', SITE.categories)).toBe('lighting');
  expect(guessCategory('Misc', 'Thing', SITE.categories)).toBeNull();
});

test.each([
  ['2026-11-26T14:05', 'Europe/London', '2026-11-26T14:05:00Z'],
  ['2026-07-01T09:00', 'Europe/Berlin', '2026-07-01T07:00:00Z'],
  ['2026-03-29T01:30', 'Europe/London', '2026-03-29T01:30:00Z'],
  ['2026-10-25T01:30', 'Europe/London', '2026-10-25T00:30:00Z'],
  ['2026-12-31T23:59', 'America/New_York', '2027-01-01T04:59:00Z'],
])('%s in %s is %s', (local, zone, instant) => {
  expect(instantOf(local, zone)).toBe(Date.parse(instant));
});

test('what is no time is none', () => {
  for (const local of ['', '2026-02-30T10:00', '2026-11-26', '2026-11-26T25:00', 'x'])
    expect(instantOf(local, 'Europe/London')).toBeNull();
});
