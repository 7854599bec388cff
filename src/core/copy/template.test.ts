import fc from 'fast-check';
import { cleanHtml, fillTemplate, parseTemplate, shortenHtml, TEMPLATE_LIMITS, withoutWords } from './index';

const fill = (text: string, fields: Record<string, string>) => {
  const read = parseTemplate(text);
  if (!read.ok) throw new Error(read.problem.reason);
  const map = new Map(Object.entries(fields));
  return fillTemplate(read.template, (name) => map.get(name) ?? '');
};
const problemOf = (text: string) => {
  const read = parseTemplate(text);
  return read.ok ? null : read.problem;
};

test('fields, sections, what stands in place of them, and what is flagged', () => {
  const text = '{{Brand}} {{ keyword }}{{#colour}}, {{colour}}{{/colour}}{{^colour}}, plain{{/colour}}';
  expect(fill(text, { brand: 'Fellmoor', keyword: 'red torch', colour: 'Red' })).toEqual({
    text: 'Fellmoor red torch, Red',
    empty: [],
    cut: false,
  });
  expect(fill(text, { brand: 'Fellmoor' })).toEqual({
    text: 'Fellmoor , plain',
    empty: ['keyword'],
    cut: false,
  });
  // A section inside one that is left out is neither printed nor flagged.
  expect(fill('{{#a}}{{#b}}{{c}}{{/b}}{{/a}}', { b: 'x' })).toEqual({ text: '', empty: [], cut: false });
});

test('a value that looks like a template is text', () => {
  expect(fill('{{a}}', { a: '{{b}}', b: 'secret' }).text).toBe('{{b}}');
  expect(fill('{{constructor}}|{{__proto__}}|{{toString}}', {}).text).toBe('||');
});

test.each([
  ['{{brand', /never closed/, 7],
  ['{{#brand}} x', /no “\{\{\/brand\}\}”/, 12],
  ['x {{/brand}}', /never opened/, 2],
  ['{{> other}}', /another one/, 0],
  ['{{=<% %>=}}', /cannot be changed/, 0],
  ['ab {{}}', /without the name/, 3],
  ['{{.}}', /without the name/, 0],
])('%s is told with its place', (text, reason, at) => {
  expect(problemOf(text)).toMatchObject({ at, reason: expect.stringMatching(reason) });
});

test('a template that nests a thousand deep, or is endless, is refused; one that grows without end is cut', () => {
  expect(problemOf('{{#a}}'.repeat(1_000) + '{{/a}}'.repeat(1_000))!.reason).toMatch(/at most 20 deep/);
  expect(problemOf('{{#a}}'.repeat(3_000))).not.toBeNull();
  expect(problemOf('x'.repeat(TEMPLATE_LIMITS.length + 1))!.reason).toMatch(/at most 20000/);
  const filled = fill('{{a}}'.repeat(1_000), { a: 'x'.repeat(1_000) });
  expect([filled.cut, filled.text.length]).toEqual([true, TEMPLATE_LIMITS.output]);
});

test('whatever is typed is read or refused, and never throws', () => {
  const part = fc.constantFrom(
    '{{',
    '}}',
    '{{{',
    '}}}',
    '#',
    '/',
    '^',
    '&',
    '>',
    '=',
    '!',
    'a',
    ' b ',
    '\n',
    '"',
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 30 }), (parts) => {
      const read = parseTemplate(parts.join(''));
      if (!read.ok) return read.problem.at >= 0 && read.problem.at <= parts.join('').length;
      return typeof fillTemplate(read.template, () => '').text === 'string';
    }),
    { numRuns: 2_000 },
  );
});

test('a description is cut within its limit, whole again, and twice is once', () => {
  expect(shortenHtml('<p>One two three</p><ul><li>four</li></ul>', 22)).toBe('<p>One two three</p>');
  expect(shortenHtml('<p>One two three</p>', 15)).toBe('<p>One two</p>');
  const words = fc.constantFrom(
    '<p>',
    '</p>',
    '<ul>',
    '<li>',
    '</li>',
    '</ul>',
    '<br>',
    'word ',
    'A&amp;B ',
    '<b>',
    '</b>',
  );
  fc.assert(
    fc.property(fc.array(words, { maxLength: 40 }), fc.integer({ min: 10, max: 80 }), (parts, limit) => {
      const html = cleanHtml(parts.join(''));
      const short = shortenHtml(html, limit);
      expect(short.length).toBeLessThanOrEqual(Math.max(limit, 0));
      expect(shortenHtml(short, limit)).toBe(short);
      expect(short).not.toMatch(/&\w*$|<[^>]*$/);
      if (html.length <= limit) expect(short).toBe(html);
    }),
    { numRuns: 2_000 },
  );
});

test('words are taken out whole, as a run, whatever their case', () => {
  expect(withoutWords('The BEST torch, best-selling', ['best'])).toEqual({
    text: 'The torch, best-selling',
    found: ['BEST'],
  });
  expect(withoutWords('a mass produced thing', ['mass produced']).text).toBe('a thing');
  expect(withoutWords('Bestla  moon', ['best']).text).toBe('Bestla  moon');
});
