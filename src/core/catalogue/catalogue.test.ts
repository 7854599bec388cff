import fc from 'fast-check';
import { EVERYTHING, readCondition } from '../query';
import {
  BytesRoom,
  Catalogue,
  type ColdPiece,
  detailAt,
  ITEM_FIELDS,
  type Item,
  type ItemDetail,
  itemsOnSheet,
  markOf,
  marksOfBytes,
  type Piece,
  packGtin,
  Reading,
  RowTable,
  Searcher,
  SheetLayout,
  type Shelf,
  SORTS,
  tallyInWords,
  unpackGtin,
  wordsOf,
} from '.';

const item = (sku: string, part: Partial<Item> = {}): Item => ({
  sku,
  group: null,
  title: `Torch ${sku}`,
  brand: 'Fellmoor',
  category: 'Lighting > Torches',
  options: {},
  gtin: null,
  cost: 500,
  map: null,
  msrp: null,
  stock: 4,
  grams: 90,
  shipsFrom: 'Hull',
  days: 1,
  pictures: 0,
  ...part,
});
const detail = (sku: string, text = 'About it'): ItemDetail => ({ sku, description: text, pictures: [] });

/** A store that keeps pieces, as the database does. */
class Store {
  pieces: { piece: Piece; cold: ColdPiece | null }[] = [];
  open(): Catalogue {
    const c = new Catalogue();
    for (const { piece } of this.pieces) c.apply(piece);
    return c;
  }
  /** Reads a list over what is stored; `cut` ends it before its end, with what it had written dropped. */
  read(
    list: readonly (readonly [Item, ItemDetail])[],
    options: { marks?: boolean; pieces?: number } = {},
  ): Reading {
    const c = this.open();
    const reading = new Reading(c, options.marks ?? true);
    const made: typeof this.pieces = [];
    list.forEach(([i, d], k) => {
      const mark = markOf(JSON.stringify([i, d]));
      const known = reading.rowOfMark(mark.a, mark.b);
      if (known < 0 || !reading.seeRow(known)) reading.put(i, d, mark.a, mark.b);
      if (k % (options.pieces ?? 7) === 0)
        for (let p = reading.piece(true); p; p = reading.piece(true)) made.push(p);
    });
    for (let p = reading.piece(true); p; p = reading.piece(true)) made.push(p);
    const gone = reading.endWhole();
    this.pieces.push(...made, ...(gone ? [{ piece: gone, cold: null }] : []));
    return reading;
  }
  /**
   * Reads a list as helpers do: part by part, each laid out apart from what is not known by its mark, and
   * taken whole where that can be.
   */
  readInParts(
    list: readonly (readonly [Item, ItemDetail])[],
    size: number,
  ): { reading: Reading; whole: number } {
    const reading = new Reading(this.open(), true);
    let whole = 0;
    for (let from = 0; from < list.length; from += size) {
      const part = list
        .slice(from, from + size)
        .map(([i, d]) => ({ item: i, detail: d, mark: markOf(JSON.stringify([i, d])) }));
      const unknown = part.filter(({ mark }) => {
        const row = reading.rowOfMark(mark.a, mark.b);
        return row < 0 || !reading.seeRow(row);
      });
      if (!unknown.length) continue;
      const layout = new SheetLayout(unknown.length + 3);
      for (const u of unknown) layout.add(u.item, u.detail, u.mark.a, u.mark.b);
      const sheet = layout.close();
      if (reading.putSheet(sheet)) whole++;
      else for (const i of itemsOnSheet(sheet)) reading.put(i.item, i.detail, i.markA, i.markB);
      for (let p = reading.piece(); p; p = reading.piece()) this.pieces.push(p);
    }
    for (let p = reading.piece(true); p; p = reading.piece(true)) this.pieces.push(p);
    const gone = reading.endWhole();
    if (gone) this.pieces.push({ piece: gone, cold: null });
    return { reading, whole };
  }
  contents(): Map<string, [Item, ItemDetail]> {
    const c = this.open();
    const all = new Map<string, [Item, ItemDetail]>();
    for (let row = 0; row < c.length; row++) {
      if (c.gone[row]) continue;
      const { piece, place } = c.coldPlace(row);
      all.set(c.skuAt(row), [c.itemAt(row), detailAt(c.skuAt(row), this.pieces[piece]!.cold!, place)]);
    }
    return all;
  }
}

const anItem = fc
  .record({
    sku: fc.integer({ min: 1, max: 25 }),
    cost: fc.integer({ min: 1, max: 4 }),
    stock: fc.integer({ min: 0, max: 2 }),
    title: fc.constantFrom('Red torch', 'Café lamp', 'Łódź lantern', ''),
    brand: fc.constantFrom('Fellmoor', 'Tarnlight'),
    text: fc.constantFrom('One', 'Two'),
    group: fc.constantFrom(null, 'G1'),
    gtin: fc.constantFrom(null, '00123456'),
    map: fc.constantFrom(null, 900),
    size: fc.constantFrom('S', 'L'),
  })
  .map(({ sku, text, size, ...rest }): [Item, ItemDetail] => [
    item(`BW-${sku}`, { ...rest, options: rest.group ? { Size: size } : {} }),
    detail(`BW-${sku}`, text),
  ]);
const aList = fc.uniqueArray(anItem, { selector: ([i]) => i.sku, maxLength: 25 });

test('reading a list again from any state equals reading it for the first time', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ list: aList, marks: fc.boolean(), pieces: fc.integer({ min: 1, max: 9 }) }), {
        minLength: 1,
        maxLength: 6,
      }),
      (readings) => {
        const store = new Store();
        for (const { list, ...how } of readings) store.read(list, how);
        const last = readings.at(-1)!;
        const scratch = new Store();
        scratch.read(last.list, { marks: false });
        expect(store.contents()).toEqual(scratch.contents());
        expect(store.open().items).toBe(last.list.length);
      },
    ),
    { numRuns: 400 },
  );
});

test('lists read in parts laid out apart come to the same as item by item, whatever was known before', () => {
  const listOf = ({ from, to, step, title }: { from: number; to: number; step: number; title: string }) =>
    Array.from({ length: to - from }, (_, k) => from + k).map((k): [Item, ItemDetail] => {
      const sku = `BW-${k}`;
      const options: Record<string, string> = k % 3 ? { Size: k % 2 ? 'S' : 'Ł' } : {};
      const item_ = item(sku, {
        cost: 100 + (k % step === 0 ? step : 0),
        title: `${title} ${k % 11}`,
        brand: `Brand ${k % 7}`,
        options,
      });
      return [
        item_,
        { sku, description: `${title} – ${k % step}`, pictures: k % 5 ? [`https://a.example/${k}.jpg`] : [] },
      ];
    });
  const aReading = fc.record({
    from: fc.integer({ min: 0, max: 400 }),
    to: fc.integer({ min: 500, max: 1100 }),
    step: fc.integer({ min: 2, max: 60 }),
    title: fc.constantFrom('Torch', 'Café lamp'),
    size: fc.integer({ min: 200, max: 700 }),
  });
  let whole = 0;
  fc.assert(
    fc.property(fc.array(aReading, { minLength: 1, maxLength: 4 }), (readings) => {
      const inParts = new Store();
      const oneByOne = new Store();
      for (const r of readings) {
        const done = inParts.readInParts(listOf(r), r.size);
        const plain = oneByOne.read(listOf(r), { pieces: 1000 });
        expect(done.reading.tally).toEqual(plain.tally);
        whole += done.whole;
      }
      expect(inParts.contents()).toEqual(
        new Map(
          [...oneByOne.contents()].map(([sku, [i, d]]) => [sku, [{ ...i, pictures: d.pictures.length }, d]]),
        ),
      );
    }),
    { numRuns: 25 },
  );
  // Some were taken whole, so that this test is about them.
  expect(whole).toBeGreaterThan(10);
});

test('the same list again writes nothing; what changed is counted and written alone', () => {
  const store = new Store();
  const list = Array.from({ length: 40 }, (_, k) => [item(`BW-${k}`), detail(`BW-${k}`)] as const);
  expect(store.read(list).tally).toMatchObject({ read: 40, fresh: 40 });
  const before = store.pieces.length;
  expect(tallyInWords(store.read(list).tally)).toBe('nothing changed');
  expect(store.pieces.length).toBe(before);
  const next = list
    .slice(1)
    .map(([i, d]) =>
      i.sku === 'BW-5'
        ? ([{ ...i, cost: 600 }, d] as const)
        : i.sku === 'BW-6'
          ? ([{ ...i, cost: 400, stock: 0 }, d] as const)
          : i.sku === 'BW-7'
            ? ([i, detail(i.sku, 'New')] as const)
            : ([i, d] as const),
    );
  const reading = store.read([...next, [item('BW-90'), detail('BW-90')]]);
  expect(tallyInWords(reading.tally)).toBe('1 new, 1 gone, cost up 1, cost down 1, stock of 1, content of 1');
  expect(reading.takeMoves()).toEqual([
    { sku: 'BW-5', cost: 600, stock: 4, costBefore: 500, stockBefore: 4 },
    { sku: 'BW-6', cost: 400, stock: 0, costBefore: 500, stockBefore: 4 },
    { sku: 'BW-0', cost: 500, stock: 0, costBefore: 500, stockBefore: 4 },
  ]);
  const written = store.pieces.slice(before).reduce((n, p) => n + p.piece.n, 0);
  expect(written).toBe(4);
});

test('a SKU that comes twice stays as it came first, also across pieces', () => {
  const c = new Catalogue();
  const reading = new Reading(c, false);
  expect(reading.put(item('A'), detail('A'))).toBe('fresh');
  expect(reading.put(item('A', { cost: 1 }), detail('A'))).toBe('twice');
  reading.piece(true);
  expect(reading.put(item('A', { cost: 1 }), detail('A'))).toBe('twice');
  expect(c.itemAt(c.rowOf('A')).cost).toBe(500);
});

test('barcodes keep their leading zeros, and marks tell records apart', () => {
  for (const gtin of ['00123456', '4006381333931', '00000000000000', null])
    expect(unpackGtin(packGtin(gtin))).toBe(gtin);
  expect(packGtin('12AB')).toBe(0);
  fc.assert(
    fc.property(fc.string(), fc.string(), (x, y) => {
      fc.pre(x !== y);
      const bytes = (t: string) => {
        const b = new TextEncoder().encode(`..${t}`);
        return [...marksOfBytes(b, [2], [b.length])];
      };
      expect(markOf(x)).not.toEqual(markOf(y));
      expect(bytes(x)).not.toEqual(bytes(y));
    }),
  );
});

test('a table of rows finds each by its hash, grown or not', () => {
  const hashes = Int32Array.from({ length: 5000 }, (_, i) => (i % 7 === 0 ? 7 : Math.imul(i, 2654435761)));
  const table = new RowTable(10, (row) => hashes[row]!);
  for (let row = 0; row < hashes.length; row++) table.add(row);
  for (let row = 0; row < hashes.length; row += 13)
    expect(table.find(hashes[row]!, (r) => r === row)).toBe(row);
  expect(table.find(12345, () => true)).toBe(-1);
});

test('words are the same whether a text has accents or not', () => {
  expect(wordsOf('Café-Lampe, 1.25" ÉCLAIR')).toEqual(['cafe', 'lampe', '1', '25', 'eclair']);
  expect(wordsOf('cafe lampe 1 25 eclair')).toEqual(wordsOf('Café-Lampe, 1.25" ÉCLAIR'));
});

describe('search', () => {
  const items = Array.from({ length: 300 }, (_, k) =>
    item(`BW-${1000 + k}`, {
      title:
        ['Red head torch', 'Café lamp', 'Star atlas, large print', 'Dew strap 20 cm'][k % 4]! +
        (k % 5 ? '' : ' USB'),
      brand: ['Fellmoor', 'Tarnlight', 'Oxbow & Reed'][k % 3]!,
      category: ['Lighting > Torches', 'Lighting > Lamps', 'Charts'][k % 3]!,
      cost: 100 + ((k * 37) % 900),
      stock: k % 6,
      gtin: k % 2 ? `40063813${String(k).padStart(5, '0')}` : null,
      shipsFrom: k % 9 ? 'Hull' : 'Gdynia',
    }),
  );
  const shelfOf = (supplier: string, own: readonly Item[]): Shelf => {
    const catalogue = new Catalogue();
    const reading = new Reading(catalogue, false);
    for (const i of own) reading.put(i, detail(i.sku));
    reading.piece(true);
    const price = Int32Array.from(own, (i) => i.cost * 2);
    const profit = Int32Array.from(own, (i) => (i.cost % 7 ? i.cost - 300 : -2_147_483_648));
    const margin = profit.map((p, k) => (p === -2_147_483_648 ? p : Math.trunc((p * 1e6) / price[k]!)));
    return {
      supplier,
      name: supplier,
      scale: 100,
      catalogue,
      prices: { price, profit, margin },
      taken: Uint8Array.from(own, (_, k) => (k % 4 ? 0 : 1)),
    };
  };
  const searcher = new Searcher([
    shelfOf('Brackwater', items.slice(0, 200)),
    shelfOf('Hollin', items.slice(200)),
  ]);
  const found = (query: string) =>
    [...searcher.ids(searcher.find(readCondition(query, ITEM_FIELDS, true)))].map((id) => items[id]!);
  const naive = (test: (i: Item, k: number) => boolean) => items.filter(test);

  test.each<[string, (i: Item, k: number) => boolean]>([
    ['torch', (i) => /torch/i.test(i.title + i.category)],
    ['HEA red', (i) => /red head/i.test(i.title)],
    ['cafe', (i) => /Café/.test(i.title)],
    ['-torch', (i) => !/torch/i.test(i.title + i.category)],
    ['fellm lamp', (i) => i.brand === 'Fellmoor' && (/lamp/i.test(i.title) || /Lamps/.test(i.category))],
    ['bw-1007', (i) => i.sku === 'BW-1007'],
    ['cost:>3.5', (i) => i.cost > 350],
    ['cost:2..4,50 -stock:0', (i) => i.cost >= 200 && i.cost <= 450 && i.stock !== 0],
    ['is:taken', (_, k) => (k < 200 ? k : k - 200) % 4 === 0],
    ['has:barcode is:stocked', (i) => i.gtin !== null && i.stock > 0],
    ['brand:"Oxbow & Reed"', (i) => i.brand === 'Oxbow & Reed'],
    ['-brand:fellmoor', (i) => i.brand !== 'Fellmoor'],
    ['brand:fellmoor brand:tarn', (i) => i.brand !== 'Oxbow & Reed'],
    [
      'category:"Lighting > Lamps" from:gdynia',
      (i) => i.category === 'Lighting > Lamps' && i.shipsFrom === 'Gdynia',
    ],
    ['supplier:holl', (_, k) => k >= 200],
    ['-supplier:holl', (_, k) => k < 200],
    ['margin:<0', (i) => i.cost % 7 !== 0 && i.cost < 300],
    ['-margin:<0', (i) => !(i.cost % 7 !== 0 && i.cost < 300)],
    ['sku:100', (i) => i.sku.includes('100')],
    ['4006381300007', (i) => i.gtin === '4006381300007'],
  ])('%s finds what a plain look finds', (query, test) => {
    expect(found(query).map((i) => i.sku)).toEqual(naive(test).map((i) => i.sku));
  });

  test('counts beside a choice are those it would have, with every other term in force', () => {
    const { facets } = searcher.find(
      readCondition('lamp brand:fellmoor from:hull margin:0..10 margin:20..30', ITEM_FIELDS, true),
    );
    for (const [facet, field, rest] of [
      ['brand', 'brand', 'lamp from:hull margin:0..10 margin:20..30'],
      ['from', 'from', 'lamp brand:fellmoor margin:0..10 margin:20..30'],
      ['margin', 'margin', 'lamp brand:fellmoor from:hull'],
      ['supplier', 'supplier', 'lamp brand:fellmoor from:hull margin:0..10 margin:20..30'],
    ] as const) {
      for (const { value, count } of facets[facet])
        expect([facet, value, found(`${rest} ${field}:"${value}"`).length]).toEqual([facet, value, count]);
    }
  });

  test.each(SORTS)(
    'sorted by %s, the first window and the whole agree, both ways, rows without a value last',
    (by) => {
      const all = searcher.find(EVERYTHING);
      for (const descending of [false, true]) {
        const whole = [...searcher.order(all, by, descending, all.count)];
        expect([...searcher.order(all, by, descending, 20)]).toEqual(whole.slice(0, 20));
        expect(new Set(whole).size).toBe(300);
        if (by === 'profit') {
          const values = whole.map((id) => searcher.at(id).shelf.prices!.profit[searcher.at(id).row]!);
          const real = values.filter((v) => v !== -2_147_483_648);
          expect(values.slice(real.length).every((v) => v === -2_147_483_648)).toBe(true);
          expect(real).toEqual([...real].sort((a, b) => (descending ? b - a : a - b)));
        }
      }
    },
  );

  test.each(SORTS)(
    'sorted by %s, an order prepared between questions gives what sorting would give, for many matches and few',
    (by) => {
      const fresh = () => new Searcher([...searcher.shelves]);
      for (const descending of [false, true]) {
        const prepared = fresh();
        prepared.order(prepared.find(EVERYTHING), by, descending, 20);
        while (prepared.prepare());
        for (const query of ['', 'lamp', 'cost:2..4', 'is:taken -torch', 'bw-1007', 'nothing-like-it']) {
          const found = prepared.find(readCondition(query, ITEM_FIELDS, true));
          const sorted = fresh();
          for (const limit of [5, found.count])
            expect([query, ...prepared.order(found, by, descending, limit)]).toEqual([
              query,
              ...sorted.order(found, by, descending, limit),
            ]);
        }
      }
    },
  );

  test('a further item is found by new words of all its lists at once', () => {
    const c = new Catalogue();
    const add = (i: Item, n: number) => {
      const reading = new Reading(c, true);
      reading.put(i, detail(i.sku), n, n);
      while (reading.piece(true));
    };
    add(item('X-1'), 1);
    const of = (query: string) => {
      const shelf: Shelf = {
        supplier: 'x',
        name: 'X',
        scale: 100,
        catalogue: c,
        prices: null,
        taken: new Uint8Array(c.length),
      };
      return new Searcher([shelf]).find(readCondition(query, ITEM_FIELDS, true)).count;
    };
    expect([of('torch'), of('nether'), of('brand:gate')]).toEqual([1, 0, 0]);
    add(
      item('X-2', {
        title: 'Reading lamp',
        brand: 'Nethergate',
        category: 'Study',
        options: { Colour: 'Rust' },
        shipsFrom: 'Gdańsk',
      }),
      2,
    );
    expect([
      of('torch'),
      of('read'),
      of('nether'),
      of('stu'),
      of('rust'),
      of('brand:gate'),
      of('from:gdansk'),
    ]).toEqual([1, 1, 1, 1, 1, 1, 1]);
  });

  test('what cannot be used is named and narrows nothing', () => {
    const { count, problems } = searcher.find(
      readCondition('cost:cheap colour:red is:blue', ITEM_FIELDS, true),
    );
    expect(count).toBe(300);
    expect(problems.map((p) => p.raw)).toEqual(['cost:cheap', 'colour:red', 'is:blue']);
  });
});

test('texts laid end to end come back as they were, whatever letters they are of', () => {
  const letters = fc.constantFrom('a', 'Z', ' ', '7', 'é', 'ż', '€', '🔦');
  const text = fc.array(letters, { maxLength: 12 }).map((l) => l.join(''));
  fc.assert(
    fc.property(fc.array(text, { maxLength: 600 }), (list) => {
      const room = new BytesRoom(list.length + 2);
      for (const one of list) room.add(one);
      const { bytes, ends } = room.close();
      expect(ends.length).toBe(list.length);
      const decoder = new TextDecoder();
      list.forEach((one, i) => {
        expect(decoder.decode(bytes.subarray(i === 0 ? 0 : ends[i - 1], ends[i]))).toBe(one);
      });
    }),
    { numRuns: 40 },
  );
});
