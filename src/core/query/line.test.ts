import fc from 'fast-check';
import {
  type Condition,
  compile,
  EVERYTHING,
  type FieldKinds,
  type Fields,
  hasTerm,
  isEverything,
  lineOf,
  NO_VALUE,
  narrowedBy,
  narrows,
  parseBounds,
  parseRange,
  problemsOf,
  readCondition,
  splitTyped,
  termFor,
  toggleTerm,
} from '.';

const FIELDS: FieldKinds = {
  brand: { kind: 'text' },
  category: { kind: 'text' },
  cost: { kind: 'number' },
  is: { kind: 'flags', flags: ['live'] },
};
const read = (line: string) => readCondition(line, FIELDS);
const torch = { word: 'torch' };
const lantern = { word: 'lantern' };
const is = (field: string, value: string) => ({ field, is: value });

test.each<[string, Condition]>([
  ['', EVERYTHING],
  ['torch or lantern cost:<5', { all: [{ any: [torch, lantern] }, is('cost', '<5')] }],
  ['torch or lantern OR is:live', { all: [{ any: [torch, lantern, is('is', 'live')] }] }],
  ['-(torch lantern)', { all: [{ none: [{ all: [torch, lantern] }] }] }],
  [
    '(torch cost:>5) or (lantern -brand:Otter)',
    {
      all: [
        { any: [{ all: [torch, is('cost', '>5')] }, { all: [lantern, { none: [is('brand', 'Otter')] }] }] },
      ],
    },
  ],
  ['brand:A torch brand:"B (old)"', { all: [{ any: [is('brand', 'A'), is('brand', 'B (old)')] }, torch] }],
  ['(brand:A) (brand:B)', { all: [{ all: [is('brand', 'A')] }, { all: [is('brand', 'B')] }] }],
  ['"or" "Size:L"', { all: [{ word: 'or' }, { word: 'Size:L' }] }],
  ['& Lamp(red) ort', { all: [{ word: 'Lamp(red' }, { word: 'ort' }] }],
])('%s is read', (line, condition) => {
  expect(read(line)).toEqual(condition);
});

test.each([
  ['brand:"Fell', 'quotation mark'],
  ['(torch', 'bracket'],
  ['torch or', 'Nothing stands after'],
  ['or torch', 'Nothing stands before'],
  ['torch ()', 'Nothing stands in'],
  ['&', 'no word'],
])('%s is not understood whole, and finds what is understood while it is typed', (line, reason) => {
  expect(problemsOf(read(line), FIELDS).map((p) => p.reason)).toEqual([expect.stringContaining(reason)]);
  const typed = readCondition(line, FIELDS, true);
  const { test: fits } = compile(typed, { brand: { kind: 'text', get: () => 'Fellmoor' } }, () => 'torch');
  expect(fits(null)).toBe(true);
});

const leaf = fc.constantFrom<Condition>(
  torch,
  { word: 'or' },
  { word: 'red light' },
  { word: 'Size:L' },
  is('brand', 'A'),
  is('brand', 'B (old)'),
  is('category', 'Optics > Filters'),
  is('cost', '>5'),
  is('cost', '..20'),
  is('is', 'live'),
);
const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4, depthSize: 'large' },
    leaf,
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((all) => ({ all })),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((any) => ({ any })),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((none) => ({ none })),
  ),
}));

/** A row says of each leaf whether it holds. */
type Row = ReadonlySet<string>;
const key = (c: Condition) => JSON.stringify(c);
const holds = (row: Row, c: Condition): boolean =>
  'all' in c
    ? c.all.every((one) => holds(row, one))
    : 'any' in c
      ? c.any.some((one) => holds(row, one))
      : 'none' in c
        ? !c.none.some((one) => holds(row, one))
        : row.has(key(c));

test('any tree written as a line means the same when it is read, and is written so again', () => {
  // Any of one, beside another value of its field, is no alternative to that.
  const [a, b] = [is('brand', 'A'), is('brand', 'B (old)')];
  expect(lineOf({ all: [b, { any: [a] }, torch] }, FIELDS)).toBe('brand:"B (old)" (brand:A) torch');
  expect(lineOf({ all: [{ any: [{ any: [a] }] }, b] }, FIELDS)).toBe('brand:A (brand:"B (old)")');
  const leaves = fc.uniqueArray(leaf, { selector: key }).map((some) => new Set(some.map(key)));
  fc.assert(
    fc.property(tree, fc.array(leaves, { minLength: 3, maxLength: 8 }), (condition, rows) => {
      const line = lineOf(condition, FIELDS);
      const again = read(line);
      expect([line, problemsOf(again, FIELDS)]).toEqual([line, []]);
      for (const row of rows) expect([line, holds(row, again)]).toEqual([line, holds(row, condition)]);
      expect(lineOf(again, FIELDS)).toBe(lineOf(read(lineOf(again, FIELDS)), FIELDS));
    }),
    { numRuns: 3_000 },
  );
});

test('a choice is added to a line and taken out again, and nothing else is touched', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('', 'torch', 'torch cost:5..20', '-brand:Otter "two words"', 'torch or lantern'),
      fc.constantFrom('Fellmoor', 'Oxbow & Reed', 'Optics > Filters', 'a"b'),
      (line, value) => {
        const on = toggleTerm(line, 'brand', value, FIELDS);
        expect(on).toBe(`${line} ${termFor('brand', value)}`.trim());
        expect(hasTerm(read(on), 'brand', value)).toBe(true);
        const both = toggleTerm(on, 'brand', 'Tarn', FIELDS);
        expect(toggleTerm(both, 'brand', 'Tarn', FIELDS)).toBe(on);
        expect(toggleTerm(on, 'brand', value, FIELDS)).toBe(line);
      },
    ),
  );
  expect(termFor('category', 'Optics > Filters')).toBe('category:"Optics > Filters"');
  expect(hasTerm(read('-brand:A'), 'brand', 'A')).toBe(false);
  expect(toggleTerm('torch or', 'brand', 'A', FIELDS)).toBe('torch brand:A');
  expect(toggleTerm('"red li', 'brand', 'A', FIELDS)).toBe('"red li" brand:A');
});

test('an act on those of a line narrows it whatever it ends with; what is not understood stays so', () => {
  expect(read(narrowedBy('torch or lantern', 'is:live'))).toEqual({
    all: [{ all: [{ any: [torch, lantern] }] }, is('is', 'live')],
  });
  expect(read(narrowedBy(' ', 'is:live'))).toEqual({ all: [is('is', 'live')] });
  for (const line of ['torch or', '"torch', '(torch', 'cost:>x', '&'])
    expect([line, problemsOf(read(narrowedBy(line, 'is:live')), FIELDS).length > 0]).toEqual([line, true]);
});

test('a pasted text of brackets alone is refused, and takes no stack with it', () => {
  for (const line of ['('.repeat(100_000), '-('.repeat(100_000)])
    expect(problemsOf(read(line), FIELDS).map((p) => p.reason)).toContain(
      'Too many brackets stand in each other.',
    );
});

test('what stands in quotes or brackets is one piece while it is typed', () => {
  expect(splitTyped('torch (a or b) -"c d" e')).toEqual({ done: ['torch', '(a or b)', '-"c d"'], rest: 'e' });
  expect(splitTyped('torch (a or ')).toEqual({ done: ['torch'], rest: '(a or ' });
  expect(splitTyped('Lamp(red) ')).toEqual({ done: ['Lamp(red)'], rest: '' });
});

test('bounds over whole units agree with the range as it is typed', () => {
  const typed = fc.constantFrom(
    '5..20',
    '>3',
    '>=3',
    '<8',
    '<=8',
    '7',
    '5..',
    '..20',
    '>3.5',
    '2.25..9,75',
    '<0',
    '-3..-1',
  );
  fc.assert(
    fc.property(typed, fc.integer({ min: -2500, max: 2500 }), (text, minor) => {
      const bounds = parseBounds(text, 100)!;
      expect(minor >= bounds.min && minor <= bounds.max).toBe(parseRange(text)!(minor / 100));
    }),
    { numRuns: 2000 },
  );
  for (const text of ['', 'cheap', '5..20..30', '>', '..']) expect(parseBounds(text, 100)).toBeNull();
});

test('a field that has no value yet narrows nothing and says so, with or without “not”', () => {
  const fields: Fields<number> = {
    cost: { kind: 'number', get: (n) => n },
    brand: { kind: 'text', get: () => 'a' },
  };
  for (const line of ['cost:', '-cost:', 'brand:', '-brand:', 'brand:""', 'cost: brand:a']) {
    const { test: fits, problems } = compile<number>(read(line), fields, () => '');
    expect([line, [1, 2, 3].filter(fits)]).toEqual([line, [1, 2, 3]]);
    expect(problems).toEqual([{ raw: expect.stringMatching(/^(cost|brand):$/), reason: NO_VALUE }]);
  }
  expect(read('12:30')).toEqual({ all: [{ word: '12:30' }] });
  expect([isEverything(read('  ')), isEverything(read('torch'))]).toEqual([true, false]);
});

test('of words alone a line that goes on finds only what the shorter one finds', () => {
  const sign = fc.constantFrom('t', 'o', 'r', 'é', 'ß', ' ', '-', '"', ':', '<', '1', '&', '(', ' or ');
  const text = fc.array(sign, { maxLength: 6 }).map((signs) => signs.join(''));
  const goods = fc.array(fc.constantFrom('t', 'o', 'r', 'e', 's', ' ', '1'), { maxLength: 12 });
  const finds = (line: string, one: string) =>
    compile(readCondition(line, {}, true), {}, () => one).test(one);
  let narrowed = 0;
  fc.assert(
    fc.property(text, text, goods, (before, more, signs) => {
      const one = signs.join('');
      if (!narrows(before, before + more)) return;
      narrowed++;
      if (finds(before + more, one)) expect(finds(before, one)).toBe(true);
    }),
    { numRuns: 10_000 },
  );
  expect(narrowed).toBeGreaterThan(500);
  for (const [before, line] of [
    ['to', 'xto'],
    ['-to', '-tor'],
    ['is:live', 'is:lived'],
    ['torch', 'tor'],
    ['torch o', 'torch or'],
  ])
    expect(narrows(before!, line!)).toBe(false);
});
