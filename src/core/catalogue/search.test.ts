import fc from 'fast-check';
import { fold } from '../copy';
import { fieldsOf } from '../fields';
import { type Condition, compile, EVERYTHING, lineOf, parseRange, readCondition } from '../query';
import {
  Catalogue,
  FACETS,
  type FacetName,
  ITEM_FIELDS,
  type Item,
  MARGIN_BANDS,
  NO_PRICE,
  Reading,
  Searcher,
  type Shelf,
  type SortColumn,
} from '.';

import { wordsOf } from './words';

/** A row as a plain look sees it. */
interface Plain {
  readonly item: Item;
  readonly supplier: string;
  readonly taken: boolean;
  readonly variant: boolean;
  readonly price: number | null;
  readonly profit: number | null;
}
const marginOf = ({ price, profit }: Plain) => (price === null ? null : Math.trunc((profit! * 1e6) / price));

const TITLES = [
  'Red-light torch',
  'Lantern with hook',
  'Dew strap 20 cm',
  'Star atlas',
  'Moon map, large',
  'Café lamp',
];
const BRANDS = ['Fellmoor', 'Tarnlight', 'Oxbow & Reed', ''];
const CATEGORIES = ['Lighting > Torches', 'Lighting > Lanterns', 'Charts', 'Optics > Dew control'];

const row = fc.record({
  title: fc.constantFrom(...TITLES),
  brand: fc.constantFrom(...BRANDS),
  category: fc.constantFrom(...CATEGORIES),
  colour: fc.constantFrom('', 'Slate', 'Rust'),
  cost: fc.integer({ min: 0, max: 30 }).map((n) => n * 50),
  stock: fc.constantFrom(0, 0, 3, 40),
  grams: fc.constantFrom(0, 90, 1500),
  days: fc.constantFrom(null, 1, 4),
  from: fc.constantFrom('Hull', 'Gdynia', ''),
  gtin: fc.boolean(),
  msrp: fc.constantFrom(null, 900),
  pictures: fc.constantFrom(0, 2),
  group: fc.constantFrom(null, 'a', 'b'),
  taken: fc.boolean(),
  gone: fc.integer({ min: 0, max: 5 }).map((n) => n === 0),
  profit: fc.constantFrom(null, -80, 0, 40, 300),
});
type Row = typeof row extends fc.Arbitrary<infer R> ? R : never;

/** A shelf of rows; those that are gone came once and do not come again. */
function shelfOf(
  supplier: string,
  name: string,
  rows: readonly Row[],
): { shelf: Shelf; plain: (Plain | null)[] } {
  const items = rows.map(
    (r, k): Item => ({
      sku: `${supplier}-${k}`,
      group: r.group,
      title: r.title,
      brand: r.brand,
      category: r.category,
      options: r.colour ? { Colour: r.colour } : {},
      gtin: r.gtin ? `40063813${String(k).padStart(5, '0')}` : null,
      cost: r.cost,
      map: null,
      msrp: r.msrp,
      stock: r.stock,
      grams: r.grams,
      shipsFrom: r.from,
      days: r.days,
      pictures: r.pictures,
    }),
  );
  const catalogue = new Catalogue();
  const read = (list: readonly Item[]) => {
    const reading = new Reading(catalogue, false);
    for (const item of list)
      reading.put(item, {
        sku: item.sku,
        description: '',
        pictures: Array.from({ length: item.pictures }, (_, k) => `/${k}.jpg`),
      });
    while (reading.piece(true));
    const gone = reading.endWhole();
    if (gone) catalogue.apply(gone);
  };
  read(items);
  read(items.filter((_, k) => !rows[k]!.gone));
  const price = Int32Array.from(rows, (r) => (r.profit === null ? NO_PRICE : r.cost + 500));
  const profit = Int32Array.from(rows, (r) => r.profit ?? NO_PRICE);
  const margin = Int32Array.from(rows, (r) =>
    r.profit === null ? NO_PRICE : Math.trunc((r.profit * 1e6) / (r.cost + 500)),
  );
  const plain = rows.map((r, k) =>
    r.gone
      ? null
      : {
          item: items[k]!,
          supplier: name,
          taken: r.taken,
          variant: !r.taken && r.group !== null && rows.some((o) => o.taken && o.group === r.group),
          price: r.profit === null ? null : r.cost + 500,
          profit: r.profit,
        },
  );
  return {
    shelf: {
      supplier,
      name,
      scale: 100,
      catalogue,
      prices: { price, profit, margin },
      taken: Uint8Array.from(rows, (r) => (r.taken ? 1 : 0)),
    },
    plain,
  };
}

const rowsOfShop = fc.tuple(fc.array(row, { maxLength: 70 }), fc.array(row, { maxLength: 40 }));
function shopOf([a, b]: readonly [readonly Row[], readonly Row[]]) {
  const [one, two] = [shelfOf('BW', 'Brackwater', a), shelfOf('HO', 'Hollin Optics', b)];
  return { searcher: new Searcher([one.shelf, two.shelf]), plain: [...one.plain, ...two.plain] };
}

const NUMBERS: Readonly<Record<string, (p: Plain) => number | null>> = {
  cost: (p) => p.item.cost / 100,
  stock: (p) => p.item.stock,
  weight: (p) => p.item.grams,
  days: (p) => p.item.days,
  price: (p) => (p.price === null ? null : p.price / 100),
  profit: (p) => (p.profit === null ? null : p.profit / 100),
  margin: (p) => (marginOf(p) === null ? null : marginOf(p)! / 10_000),
};
const TEXTS: Readonly<Record<string, (p: Plain) => string>> = {
  brand: (p) => p.item.brand,
  category: (p) => p.item.category,
  from: (p) => p.item.shipsFrom,
  supplier: (p) => p.supplier,
};
const FLAGS: Readonly<Record<string, (p: Plain) => boolean>> = {
  'is:new': (p) => !p.taken,
  'is:taken': (p) => p.taken,
  'is:variant': (p) => p.variant,
  'is:stocked': (p) => p.item.stock > 0,
  'has:barcode': (p) => p.item.gtin !== null,
  'has:picture': (p) => p.item.pictures > 0,
  'has:map': (p) => p.item.map !== null,
  'has:msrp': (p) => p.item.msrp !== null,
};

const read = (line: string) => readCondition(line, ITEM_FIELDS);

/** Whether a row is meant, looked at plainly. */
function holds(p: Plain, c: Condition): boolean {
  if ('all' in c) return c.all.every((one) => holds(p, one));
  if ('any' in c) return c.any.some((one) => holds(p, one));
  if ('none' in c) return !c.none.some((one) => holds(p, one));
  if ('word' in c) return hasWord(p, c.word);
  if ('unread' in c) throw new Error(c.why);
  const flag = FLAGS[`${c.field}:${c.is}`];
  if (flag) return flag(p);
  if (c.field === 'sku') return fold(p.item.sku).includes(fold(c.is));
  const text = TEXTS[c.field];
  if (text) return fold(text(p)).includes(fold(c.is));
  const n = NUMBERS[c.field]!(p);
  return n !== null && parseRange(c.is)!(n);
}

const ownWords = (p: Plain) =>
  [p.item.title, p.item.brand, p.item.category, ...Object.entries(p.item.options).flat()].flatMap((text) =>
    wordsOf(text),
  );

const hasWord = (p: Plain, word: string): boolean =>
  wordsOf(word).every((part) => ownWords(p).some((w) => w.startsWith(part))) ||
  fold(p.item.sku) === fold(word);

/** `but` leaves the choices of one field out, where they are made for all that is found. */
function fits(p: Plain, condition: Condition, but?: FacetName): boolean {
  const names = (one: Condition) => 'field' in one && one.field === but;
  const isChoice = (one: Condition) => ('any' in one ? one.any.every(names) : names(one));
  return ('all' in condition ? condition.all : [condition]).every(
    (one) => (but && isChoice(one)) || holds(p, one),
  );
}

/** The same fields as they are read of rows. */
const OVER_ROWS = fieldsOf<'item', Plain>(
  'item',
  {
    is: (p, flag) => FLAGS[`is:${flag}`]!(p),
    has: (p, flag) => FLAGS[`has:${flag}`]!(p),
    cost: (p) => p.item.cost,
    stock: (p) => p.item.stock,
    price: (p) => p.price,
    profit: (p) => p.profit,
    margin: marginOf,
    weight: (p) => p.item.grams,
    days: (p) => p.item.days,
    brand: (p) => p.item.brand,
    category: (p) => p.item.category,
    supplier: (p) => p.supplier,
    from: (p) => p.item.shipsFrom,
    sku: (p) => p.item.sku,
  },
  () => 'GBP',
);

const term = fc.oneof(
  fc.constantFrom(
    'torch',
    'la',
    'red-light',
    'cafe',
    'rust',
    'fellm',
    'c',
    '20',
    'hook',
    'bw-3',
    'ho-1',
    'nothing',
  ),
  fc.constantFrom(
    'cost:2..8',
    'cost:>5',
    'cost:<0',
    'stock:0',
    'stock:>=3',
    'weight:<500',
    'days:<=2',
    'price:7..',
    'profit:<0',
    'profit:>0.3',
    'margin:>5',
    'margin:<0',
  ),
  fc.constantFrom(...Object.keys(FLAGS)),
  fc.constantFrom(
    'brand:fellmoor',
    'brand:tarn',
    'brand:"Oxbow & Reed"',
    'category:lighting',
    'category:Charts',
    'from:hull',
    'from:gdy',
    'supplier:holl',
    'supplier:brack',
    'supplier:none',
  ),
  fc.constantFrom('margin:0..10', 'margin:20..30', 'sku:-1', 'sku:bw'),
);
const query = fc
  .array(fc.tuple(term, fc.integer({ min: 0, max: 4 })), { maxLength: 5 })
  .map((terms) => terms.map(([t, n]) => (n === 0 ? `-${t}` : t)).join(' '));

const { tree } = fc.letrec<{ tree: Condition; leaf: Condition }>((tie) => ({
  leaf: term.map((line) => {
    const one = read(line);
    return 'all' in one ? one.all[0]! : one;
  }),
  tree: fc.oneof(
    { maxDepth: 3, depthSize: 'medium' },
    tie('leaf'),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((all) => ({ all })),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((any) => ({ any })),
    fc.array(tie('tree'), { minLength: 1, maxLength: 2 }).map((none) => ({ none })),
  ),
}));
const condition = fc.oneof(
  query.map(read),
  tree,
  fc.array(tree, { maxLength: 4 }).map((all) => ({ all })),
);

test('a condition means the same over a catalogue, over rows, and when it is written as a line and read again', () => {
  let deep = 0;
  fc.assert(
    fc.property(rowsOfShop, fc.array(tree, { minLength: 1, maxLength: 4 }), (rows, trees) => {
      const { searcher, plain } = shopOf(rows);
      for (const one of trees) {
        if (/or .*\(|-\(/.test(lineOf(one, ITEM_FIELDS))) deep++;
        const expected = plain.flatMap((p, id) => (p && holds(p, one) ? [id] : []));
        const line = lineOf(one, ITEM_FIELDS);
        expect([line, ...searcher.ids(searcher.find(one))]).toEqual([line, ...expected]);
        const again = searcher.find(read(line));
        expect([line, again.problems, ...searcher.ids(again)]).toEqual([line, [], ...expected]);
        // Words of rows and of catalogues are found alike but where one is a whole SKU.
        const { test: meant } = compile(one, OVER_ROWS, (p) =>
          fold(`${ownWords(p).join(' ')} ${p.item.sku}`),
        );
        if (!/word|red-light|\d/.test(line))
          expect([line, ...plain.flatMap((p, id) => (p && meant(p) ? [id] : []))]).toEqual([
            line,
            ...expected,
          ]);
      }
    }),
    { numRuns: 400 },
  );
  expect(deep).toBeGreaterThan(100);
});

test('any search finds what a plain look at each row finds, and counts each choice as if it were made alone', () => {
  fc.assert(
    fc.property(rowsOfShop, fc.array(condition, { minLength: 1, maxLength: 4 }), (rows, conditions) => {
      const { searcher, plain } = shopOf(rows);
      // One after the other on the same shelves: what is kept of one search must not spoil the next.
      for (const one of conditions) {
        const text = lineOf(one, ITEM_FIELDS);
        const found = searcher.find(one);
        const expected = plain.flatMap((p, id) => (p && fits(p, one) ? [id] : []));
        expect([text, ...searcher.ids(found)]).toEqual([text, ...expected]);
        expect(found.count).toBe(expected.length);
        expect([...searcher.ids(found, 3)]).toEqual(expected.slice(0, 3));
        for (const facet of FACETS) {
          const counted = new Map<string, number>();
          for (const p of plain) {
            if (!p || !fits(p, one, facet)) continue;
            const m = marginOf(p);
            const values =
              facet !== 'margin'
                ? [TEXTS[facet]!(p)]
                : m === null
                  ? []
                  : MARGIN_BANDS.filter((band) => parseRange(band)!(m / 10_000));
            for (const value of values) counted.set(value, (counted.get(value) ?? 0) + 1);
          }
          const told = found.facets[facet].filter((v) => v.count).map((v) => [v.value, v.count] as const);
          expect([text, facet, new Map(told)]).toEqual([text, facet, counted]);
        }
      }
    }),
    { numRuns: 300 },
  );
});

test('any order, prepared or not, first rows or all, is that of the values; rows without one come last', () => {
  const by = fc.constantFrom<SortColumn>(
    'cost',
    'stock',
    'margin',
    'profit',
    'price',
    'title',
    'sku',
    'brand',
    'supplier',
    'listed',
  );
  fc.assert(
    fc.property(
      rowsOfShop,
      query,
      by,
      fc.boolean(),
      fc.boolean(),
      fc.integer({ min: 1, max: 30 }),
      (rows, text, column, descending, prepared, limit) => {
        const { searcher, plain } = shopOf(rows);
        if (prepared) {
          searcher.order(searcher.find(EVERYTHING), column, descending, 5);
          while (searcher.prepare());
        }
        const found = searcher.find(read(text));
        const whole = [...searcher.order(found, column, descending)];
        expect([...searcher.order(found, column, descending, limit)]).toEqual(whole.slice(0, limit));
        expect([...whole].sort((a, b) => a - b)).toEqual([...searcher.ids(found)]);
        const orderedBy = (id: number): number | string | null => {
          const p = plain[id]!;
          if (column === 'listed') return id;
          if (column === 'title' || column === 'sku' || column === 'brand') return p.item[column];
          return column === 'supplier'
            ? p.supplier
            : column === 'margin'
              ? marginOf(p)
              : column === 'price' || column === 'profit'
                ? p[column]
                : p.item[column as 'cost'];
        };
        for (let k = 1; k < whole.length; k++) {
          const [a, b] = [orderedBy(whole[k - 1]!), orderedBy(whole[k]!)];
          if (b === null) continue;
          expect(a).not.toBeNull();
          if (a !== b) expect(a! < b).toBe(!descending);
        }
      },
    ),
    { numRuns: 300 },
  );
});

describe('conditions', () => {
  test('values of one field side by side are alternatives, denied ones and other ranges each hold', () => {
    expect(read('brand:a brand:b -brand:c margin:0..10 margin:20..30 -margin:<0 cost:>1 cost:<9')).toEqual({
      all: [
        {
          any: [
            { field: 'brand', is: 'a' },
            { field: 'brand', is: 'b' },
          ],
        },
        { none: [{ field: 'brand', is: 'c' }] },
        {
          any: [
            { field: 'margin', is: '0..10' },
            { field: 'margin', is: '20..30' },
          ],
        },
        { none: [{ field: 'margin', is: '<0' }] },
        { field: 'cost', is: '>1' },
        { field: 'cost', is: '<9' },
      ],
    });
  });

  test.each([
    ['cost:', /no value yet/],
    ['cost:dear', /not a number or a range/],
    ['margin:x', /not a number or a range/],
    ['is:blue', /is takes stocked, new, taken, variant/],
    ['has:wings', /has takes barcode/],
    ['colour:red', /There are: is, has, cost/],
    ['constructor:1', /There is no field/],
    ['is:constructor', /is takes/],
  ])('%s is told and narrows nothing', (text, reason) => {
    const { searcher } = shopOf(fc.sample(rowsOfShop, { numRuns: 1, seed: 7 })[0]!);
    const { problems, count } = searcher.find(readCondition(`torch ${text}`, ITEM_FIELDS, true));
    expect(problems.map((p) => p.reason).join()).toMatch(reason);
    expect(count).toBe(searcher.find(read('torch')).count);
  });
});
