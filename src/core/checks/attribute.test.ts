import fc from 'fast-check';
import { attributeInWords, attributeProblems, choiceFor, readAttribute, type SiteAttribute } from '.';

const named = (...names: string[]) =>
  names.map((name) => ({ id: name.toLowerCase().replace(/ /g, '-'), name }));
const attribute = (set: Partial<SiteAttribute>): SiteAttribute => ({
  id: 'a',
  name: 'Attribute',
  kind: 'text',
  choices: [],
  unit: '',
  categories: null,
  needed: false,
  usual: '',
  ...set,
});
const COLOURS = named('Black', 'Grey', 'Red', 'Green', 'Blue');
const SIZES = named('Small', 'Medium', 'Large', 'Extra large', 'One size');

test.each([
  ['Schwarz', COLOURS, 'black'],
  ['ROUGE', COLOURS, 'red'],
  ['grün', COLOURS, 'green'],
  ['anthracite', COLOURS, 'grey'],
  ['Schiefer', COLOURS, 'grey'],
  ['Night blue', COLOURS, 'blue'],
  ['Black/red', COLOURS, undefined],
  ['Rust', COLOURS, undefined],
  ['', COLOURS, undefined],
  ['XL', SIZES, 'extra-large'],
  ['L', SIZES, 'large'],
  ['Taille unique', SIZES, 'one-size'],
])('a supplier’s word “%s” means a choice of the site', (word, choices, id) => {
  expect(choiceFor(choices, word)?.id).toBe(id);
});

test.each([
  [{ kind: 'number', unit: 'days' }, '3 days', '3'],
  [{ kind: 'number', unit: 'days' }, '003', '3'],
  [{ kind: 'number', unit: 'days' }, '2.5', null],
  [{ kind: 'number', unit: 'days' }, '-1', null],
  [{ kind: 'amount' }, '24,99', '24.99'],
  [{ kind: 'amount' }, '0', null],
  [{ kind: 'link' }, 'https://films.example/torch', 'https://films.example/torch'],
  [{ kind: 'link' }, 'javascript:alert(1)', null],
  [{ kind: 'link' }, 'https://a b', null],
  [{ kind: 'text' }, ' Merino wool ', 'Merino wool'],
  [{ kind: 'text' }, '<b>x</b>', null],
  [{ kind: 'choice', choices: COLOURS }, 'grey', 'grey'],
  [{ kind: 'choice', choices: COLOURS }, 'mint', null],
] as const)('an attribute of %j takes “%s” as %s', (set, text, value) => {
  const read = readAttribute(attribute(set), text, 'GBP');
  expect(read.ok ? read.value : null).toBe(value);
});

test('what was taken is taken again as it is said, and told the same', () => {
  const kinds = fc.constantFrom<Partial<SiteAttribute>>(
    { kind: 'choice', choices: COLOURS },
    { kind: 'number', unit: 'days' },
    { kind: 'amount' },
    { kind: 'text' },
    { kind: 'link' },
  );
  const texts = fc.oneof(fc.string(), fc.constantFrom('Rot', '7', '7 days', '12.50', 'https://x.example/y'));
  fc.assert(
    fc.property(kinds, texts, (set, text) => {
      const of = attribute(set);
      const first = readAttribute(of, text, 'GBP');
      if (!first.ok || !first.value) return;
      const again = readAttribute(of, attributeInWords(of, first.value), 'GBP');
      expect(again).toEqual(first);
      expect(attributeProblems([of], undefined, { a: first.value }, 'GBP')).toEqual([]);
    }),
  );
});

test('only what the category has is asked for, and only what is needed is missing', () => {
  const asked = [
    attribute({ id: 'condition', name: 'Condition', needed: true }),
    attribute({ id: 'size', name: 'Size', needed: true, categories: ['clothing'] }),
    attribute({ id: 'video', name: 'Video' }),
  ];
  expect(attributeProblems(asked, { id: 'maps', name: 'Maps' }, {}, 'GBP')).toEqual([
    'Condition is missing.',
  ]);
  expect(attributeProblems(asked, { id: 'clothing', name: 'Clothing' }, { condition: 'New' }, 'GBP')).toEqual(
    ['Size is missing: “Clothing” asks for it.'],
  );
});
