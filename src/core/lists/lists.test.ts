import {
  cellInWords,
  fieldByName,
  flatten,
  guessDecimal,
  guessHeaderRow,
  guessMatch,
  headerOf,
  isDateLike,
  isStockWord,
  listAt,
  listingReader,
  type Match,
  matchProblems,
  plainName,
  readStock,
  readWeight,
  repeatingIn,
  rowReader,
  signatureOf,
  stemOf,
  unwrapCell,
} from '.';

test.each([
  ['sku', 'Item #|Artikel-Nr.|ArtNr|Référence|Symbol|Código artículo|Stock code|Product ID|Bestellnummer'],
  ['gtin', 'EAN|EAN-13|UPC|Barcode|Strichcode|Code barres|Kod kreskowy|Código de barras|GTIN/EAN'],
  ['title', 'Product name|Bezeichnung|Artikelbezeichnung|Libellé|Nazwa towaru|Nombre|Titel'],
  ['brand', 'Manufacturer|Hersteller|Marque|Producent|Marca|Merk'],
  ['category', 'Product group|Warengruppe|Famille|Kategoria|Familia'],
  [
    'cost',
    'Dealer price USD|EK-Preis netto (€)|Prix d’achat HT|Cena netto|Precio sin IVA|Your price|Stückpreis',
  ],
  ['msrp', 'RRP|UVP|Prix conseillé|Cena detaliczna|PVP recomendado|MSRP'],
  ['stock', 'Qty available|Lagerbestand|Stock|Stan magazynowy|Existencias|Verfügbarkeit|On hand'],
  ['weight', 'Weight (kg)|Gewicht g|Poids|Waga|Peso|Shipping weight'],
  ['description', 'Long description|Langtext|Descriptif|Opis produktu|Descripción larga'],
  ['picture', 'Image URL|Bild|Zdjęcie|Imagen|Image 2'],
  ['parent', 'Parent SKU|Hauptartikel|Référence mère|SKU rodzica|Style no'],
  ['option', 'Colour|Farbe|Taille|Rozmiar|Talla|Größe'],
  ['pack', 'Pack size|VE|Conditionnement|Opakowanie|Unidad de venta'],
  ['shipsFrom', 'Warehouse|Versandort|Entrepôt|Magazyn|Almacén'],
  ['days', 'Lead time|Lieferzeit|Délai de livraison|Czas dostawy|Plazo de entrega'],
])('%s is known by its names', (field, names) => {
  for (const name of names.split('|')) expect([name, fieldByName(name)?.field]).toEqual([name, field]);
});

test('names that say nothing say nothing, and marks are taken off', () => {
  for (const name of ['', 'xyz', 'Notes', 'Column 4']) expect(fieldByName(name)).toBeNull();
  expect(plainName('Prix d’achat (HT, €)')).toBe('prix d achat ht');
  expect(plainName('itemNumber')).toBe('item number');
});

test.each([
  [['12,50', '1.299,00', '3,5'], ','],
  [['12.50', '1,299.00', '3.5'], '.'],
  [['1.299', '2.500', '12,5'], ','],
  [['call', '', '12'], '.'],
])('%j has its decimals after a %s', (cells, sign) => {
  expect(guessDecimal(cells)).toBe(sign);
});

test('the row of names is found below a preamble, and missed where there is none', () => {
  expect(
    guessHeaderRow([
      ['Price list 2026'],
      ['Valid from 1 May', ''],
      ['SKU', 'Name', 'Price'],
      ['A', 'B', '1'],
    ]),
  ).toBe(2);
  expect(
    guessHeaderRow([
      ['Kolumna', 'Inna', 'Trzecia'],
      ['A1', 'B', '1.00'],
    ]),
  ).toBe(0);
  expect(
    guessHeaderRow([
      ['A1', 'Lamp', '1.00'],
      ['A2', 'Lamp', '2.00'],
    ]),
  ).toBeNull();
  expect(guessHeaderRow([])).toBeNull();
});

test.each([
  ['12', 12],
  ['>100', 100],
  ['100+', 100],
  ['1.200', 1200],
  ['12,0', 12],
  ['über 50 Stk', 50],
  ['-4', 0],
  ['Auf Lager', 9],
  ['épuisé', 0],
  ['na stanie', 9],
  ['agotado', 0],
  ['low stock', 2],
])('a stock of %s is %i', (text, n) => {
  expect(readStock(text, 9)).toEqual({ ok: true, value: n });
});
test.each(['lots', '', '1e9', '99999999'])('a stock of “%s” is refused', (text) => {
  expect(readStock(text, 9)).toMatchObject({ ok: false, reason: expect.stringMatching(/\S/) });
});

test.each([
  ['250 g', 'kg', 250],
  ['0,25 kg', 'g', 250],
  ['0.25', 'kg', 250],
  ['8 oz', 'g', 227],
  ['1', 'lb', 454],
  ['1.5lbs', 'g', 681],
  ['90', 'g', 90],
] as const)('a weight of %s in a list in %s is %i g', (text, unit, grams) => {
  expect(readWeight(text, unit)).toEqual({ ok: true, value: grams });
});
test.each(['heavy', '12 stone', '5000 kg'])('a weight of “%s” is refused', (text) => {
  expect(readWeight(text, 'g').ok).toBe(false);
});

test('cells a spreadsheet wrapped are unwrapped, others stay as they are', () => {
  expect(['="007"', "'=1+1", "'n Roll", '=1+1', '  x ', 'O’Hara', '–3 °C'].map(unwrapCell)).toEqual([
    '007',
    '=1+1',
    "'n Roll",
    '=1+1',
    'x',
    'O’Hara',
    '–3 °C',
  ]);
  expect(['12-Oct', 'Okt-26', '3. Mai', '2026-10-12'].map(isDateLike)).toEqual([true, true, false, true]);
  expect(['10-12', 'A-12', 'XL'].map(isDateLike)).toEqual([false, false, false]);
  expect([isStockWord('Lieferbar'), isStockWord('Lamp')]).toEqual([true, false]);
});

const ROWS = [
  ['T-100-RED', 'Torch', '4.00', '3', 'Red', 'P1'],
  ['T-100-BLU', 'Torch', '4.00', '3', 'Blue', 'P1'],
  ['T-200-RED', 'Lamp', '5.00', '3', 'Red', 'P2'],
  ['T-200-BLU', 'Lamp', '5.00', '3', 'Blue', 'P2'],
];
const CSV = { kind: 'csv', delimiter: ',', encoding: 'utf-8', headerRow: 0 } as const;

test.each([
  ['parent', ['SKU', 'Title', 'Cost', 'Stock', 'Colour', 'Parent SKU'], ['P1', 'P1', 'P2', 'P2']],
  ['title', ['SKU', 'Title', 'Cost', 'Stock', 'Colour', 'Notes'], ['Torch', 'Torch', 'Lamp', 'Lamp']],
  ['pattern', ['SKU', 'Title', 'Cost', 'Stock', 'Notes', 'More'], ['T-100', 'T-100', 'T-200', 'T-200']],
] as const)('variants are told by %s', (variants, header, groups) => {
  const match = guessMatch(CSV, header, ROWS, 'GBP');
  expect(match.variants).toBe(variants);
  const read = rowReader(match);
  expect(ROWS.map((r) => read(r)).map((r) => r.ok && r.item.group)).toEqual([...groups]);
  const plain = rowReader({ ...match, variants: 'none' });
  expect(ROWS.map((r) => plain(r)).map((r) => r.ok && r.item.group)).toEqual([null, null, null, null]);
});
test('goods that are numbered one after the other are no variants of one product', () => {
  const titles = ['Linen towel, ash', 'Wool blanket, birch', 'Tin lantern', 'Oak stool'];
  const rows = titles.map((title, k) => [`TW-10${k}`, title, '4.00', '3', '', '']);
  expect(guessMatch(CSV, ['SKU', 'Title', 'Cost', 'Stock', 'Notes', 'More'], rows, 'GBP').variants).toBe(
    'none',
  );
});
test('the stem of a SKU ends before its last mark', () => {
  expect(['T-100-RED', 'AB_1/XL', 'PLAIN', '-X', 'A.B'].map(stemOf)).toEqual([
    'T-100',
    'AB_1',
    null,
    null,
    'A',
  ]);
});

test('a match that cannot read says what it lacks', () => {
  const match = guessMatch(CSV, ['SKU', 'Title', 'Cost', 'Stock'], ROWS, 'GBP');
  expect(matchProblems(match)).toEqual([]);
  const lacks = (part: Partial<Match>) => matchProblems({ ...match, ...part }).join(' ');
  expect(lacks({ fields: ['sku', null, 'cost', null] })).toMatch(/title/);
  expect(lacks({ fields: ['sku', 'title', null, null] })).toMatch(/cost/);
  expect(lacks({ fields: ['sku', 'title', 'cost', 'cost'] })).toMatch(/Two columns are “Cost”/);
  expect(lacks({ variants: 'parent' })).toMatch(/parent/);
  expect(lacks({ kind: 'stock', fields: [null, null, null, 'stock'] })).toMatch(/SKU or the barcode/);
  expect(lacks({ kind: 'listings', fields: ['sku', 'title', null, null] })).toMatch(/price/);
});

test('a list is known again by its columns, whatever their case; the column of what to mend does not count', () => {
  expect(signatureOf('csv', ['SKU', 'Title '])).toBe(signatureOf('csv', ['sku', 'title', 'What to fix']));
  expect(signatureOf('csv', ['SKU'])).not.toBe(signatureOf('xlsx', ['SKU']));
});

test('nested records become flat by path; what is hostile or too deep is left out', () => {
  const flat = new Map<string, string>();
  flatten({ a: { b: [1, 2], c: [{ d: 'x' }, { d: 'y' }] }, e: null, f: true, constructor: { z: 1 } }, flat);
  expect([...flat]).toEqual([
    ['a/b', '1|2'],
    ['a/c/1/d', 'x'],
    ['a/c/2/d', 'y'],
    ['e', ''],
    ['f', 'true'],
  ]);
  let deep: unknown = 'end';
  for (let i = 0; i < 10_000; i++) deep = { a: deep };
  const left = new Map<string, string>();
  flatten(deep, left);
  expect(left.size).toBe(0);
  const data = { x: { items: [{ id: 1 }, { id: 2 }] }, tags: [{ t: 1 }] };
  expect(repeatingIn(data)).toEqual([
    { path: 'x/items', count: 2 },
    { path: 'tags', count: 1 },
  ]);
  expect(listAt(data, 'x/items')).toHaveLength(2);
  expect([listAt(data, 'x/none'), listAt(data, '__proto__'), listAt(data, 'x')]).toEqual([null, null, null]);
  expect(headerOf([flat, new Map([['z', '1']])])).toEqual(['a/b', 'a/c/1/d', 'a/c/2/d', 'e', 'f', 'z']);
});

test('a shop’s listings are read with their state, options and price', () => {
  const match = guessMatch(
    CSV,
    ['SKU', 'Title', 'Price', 'Qty', 'Status', 'Colour'],
    [['A', 'Lamp with hook', '12.50', '3', 'beendet', 'Red']],
    'GBP',
    'listings',
  );
  const read = listingReader(match);
  expect(read(['A', 'Lamp with hook', '12.50', '3', 'beendet', 'Red'])).toMatchObject({
    ok: true,
    listing: { price: 1250, quantity: 3, state: 'ended', options: { Colour: 'Red' } },
  });
  expect(read(['A', 'Lamp', '12.50', '', 'paused', ''])).toMatchObject({
    ok: true,
    listing: { quantity: 0, state: 'paused' },
  });
  expect(read(['', 'Lamp', '12.50', '', '', ''])).toMatchObject({ ok: false, problem: { column: 'SKU' } });
  expect(read(['A', 'Lamp', 'x', '', '', ''])).toMatchObject({ ok: false, problem: { column: 'Price' } });
});

test('the picture of the first rows says what a cell is read as, after tax and pack', () => {
  const match: Match = {
    ...guessMatch(CSV, ['SKU', 'Title', 'Cost', 'Stock'], ROWS, 'GBP'),
    taxInside: 200_000,
    pack: 2,
  };
  expect(cellInWords(match, 2, '12.00')).toEqual({ ok: true, says: '5.00 GBP' });
  expect(cellInWords(match, 3, 'lots')).toMatchObject({ ok: false });
  expect(cellInWords(match, 0, '')).toBeNull();
});

test.each<[string, string[], string[], string]>([
  ['an attribute', ['@code', 'name', 'price', 'weight', 'weight/@unit'], ['lb', 'lb'], 'lb'],
  ['a column named so', ['SKU', 'Name', 'Price', 'Weight', 'Weight unit'], ['OZ', 'oz'], 'oz'],
  [
    'cells that differ: the number decides',
    ['SKU', 'Name', 'Price', 'Weight', 'Weight unit'],
    ['g', 'oz'],
    'kg',
  ],
])('the unit of weights in %s', (_, header, units, wanted) => {
  const rows = [
    ['A-1', 'Torch', '4.20', '0.4', units[0]!],
    ['A-2', 'Lamp', '5.20', '1.5', units[1]!],
  ];
  const match = guessMatch(
    { kind: 'csv', delimiter: ',', encoding: 'utf-8', headerRow: 0 },
    header,
    rows,
    'GBP',
  );
  expect([match.fields[3], match.weightUnit]).toEqual(['weight', wanted]);
});

test('choices that come again are the same object, and a size that became a date is told in every row that has it', () => {
  const guess = guessMatch(
    CSV,
    ['SKU', 'Title', 'Cost', 'Colour', 'Size'],
    [['A1', 'Glove', '3.20', 'Red', 'M']],
    'GBP',
  );
  const match: Match = { ...guess, fields: ['sku', 'title', 'cost', 'option', 'option'] };
  const read = rowReader(match);
  const row = (sku: string, colour: string, size: string) => {
    const made = read([sku, 'Glove', '3.20', colour, size]);
    if (!made.ok) throw new Error(made.problem.reason);
    return made;
  };
  const first = row('A1', 'Red', 'M');
  expect(first.item.options).toEqual({ Colour: 'Red', Size: 'M' });
  expect(row('A2', 'Red', 'M').item.options).toBe(first.item.options);
  // The same words in other columns are other choices; a blank one is none.
  expect(row('A3', 'M', 'Red').item.options).toEqual({ Colour: 'M', Size: 'Red' });
  expect(row('A4', '', 'M').item.options).toEqual({ Size: 'M' });
  expect(row('A5', '', '').item.options).toEqual({});
  for (const sku of ['A6', 'A7']) {
    const dated = row(sku, 'Red', '12-Oct');
    expect(dated.item.options).toEqual({ Colour: 'Red', Size: '12-Oct' });
    expect(dated.told.map((t) => [t.column, t.value])).toEqual([['Size', '12-Oct']]);
  }
  expect(row('A8', '12-Oct', 'L').told.map((t) => t.column)).toEqual(['Colour']);
  expect(row('A9', 'Red', 'M').told).toEqual([]);
});

test('more different choices than are remembered are read all the same', () => {
  const guess = guessMatch(CSV, ['SKU', 'Title', 'Cost', 'Colour'], [['A1', 'Glove', '3.20', 'Red']], 'GBP');
  const read = rowReader({ ...guess, fields: ['sku', 'title', 'cost', 'option'] });
  for (let k = 0; k < 10_100; k++) {
    const made = read([`A${k}`, 'Glove', '3.20', `Shade ${k}`]);
    expect(made.ok && made.item.options).toEqual({ Colour: `Shade ${k}` });
  }
  const again = read(['B1', 'Glove', '3.20', 'Shade 10050']);
  expect(again.ok && again.item.options).toEqual({ Colour: 'Shade 10050' });
});
