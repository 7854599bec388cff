import fc from 'fast-check';
import {
  compile,
  hasTerm,
  NO_VALUE,
  narrows,
  parseBounds,
  parseQuery,
  parseRange,
  termFor,
  toggleTerm,
} from '.';

test('a choice is added to a query and taken out again, and nothing else is touched', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('', 'torch', 'torch cost:5..20', '-brand:Otter "two words"'),
      fc.constantFrom('Fellmoor', 'Oxbow & Reed', 'Optics > Filters', 'a"b'),
      (query, value) => {
        const on = toggleTerm(query, 'brand', value);
        expect(hasTerm(parseQuery(on), 'brand', value)).toBe(true);
        expect(
          parseQuery(on)
            .slice(0, -1)
            .map((t) => t.raw),
        ).toEqual(parseQuery(query).map((t) => t.raw));
        expect(hasTerm(parseQuery(toggleTerm(on, 'brand', value)), 'brand', value)).toBe(false);
        expect(parseQuery(toggleTerm(on, 'brand', value))).toEqual(parseQuery(query));
      },
    ),
  );
  expect(termFor('category', 'Optics > Filters')).toBe('category:"Optics > Filters"');
  expect(hasTerm(parseQuery('-brand:A'), 'brand', 'A')).toBe(false);
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
  const fields = {
    cost: { kind: 'number', get: (n: number) => n, hint: '' },
    name: { kind: 'text', get: () => 'a', hint: '' },
  } as const;
  for (const query of ['cost:', '-cost:', 'name:', '-name:', 'name:""', 'cost: name:a']) {
    const { test: fits, problems } = compile<number>(parseQuery(query), fields, () => '');
    expect([query, [1, 2, 3].filter(fits)]).toEqual([query, [1, 2, 3]]);
    expect(problems).toEqual([{ raw: parseQuery(query)[0]!.raw, reason: NO_VALUE }]);
  }
  expect(parseQuery('12:30')).toEqual([{ kind: 'word', text: '12:30', not: false, raw: '12:30' }]);
});

test('of words alone a line that goes on finds only what the shorter one finds', () => {
  const sign = fc.constantFrom('t', 'o', 'r', 'é', 'ß', ' ', '-', '"', ':', '<', '1', '&');
  const text = fc.array(sign, { maxLength: 6 }).map((signs) => signs.join(''));
  const goods = fc.array(fc.constantFrom('t', 'o', 'r', 'e', 's', ' ', '1'), { maxLength: 12 });
  const finds = (line: string, one: string) => compile(parseQuery(line), {}, () => one).test(one);
  let narrowed = 0;
  fc.assert(
    fc.property(text, text, goods, (before, more, signs) => {
      const one = signs.join('');
      if (!narrows(before, before + more)) return;
      narrowed++;
      if (finds(before + more, one)) expect(finds(before, one)).toBe(true);
    }),
    { numRuns: 5_000 },
  );
  expect(narrowed).toBeGreaterThan(500);
  for (const [before, line] of [
    ['to', 'xto'],
    ['-to', '-tor'],
    ['is:live', 'is:lived'],
    ['torch', 'tor'],
  ])
    expect(narrows(before!, line!)).toBe(false);
});
