import fc from 'fast-check';
import { fold } from '../copy';
import {
  type Goods,
  isSmall,
  languageOf,
  proposeDescription,
  proposeTags,
  proposeTitle,
  stemOf,
  wordsIn,
} from './index';

const LIMITS = {
  site: 'Pennywharf UK',
  titleLimit: 75,
  banned: ['best', 'cheapest', 'mass produced'],
  tags: { most: 12, longest: 22 },
};
const goods = (some: Partial<Goods>): Goods => ({
  keyword: '',
  title: '',
  brand: '',
  category: '',
  attributes: [],
  ...some,
});

test.each<[string, Partial<Goods>, string]>([
  [
    'what is searched for first, what was said left out',
    {
      keyword: 'red head torch',
      title: 'BEST RECHARGEABLE Headlamp for Astronomy, Red Light Torch HOT SALE!!! with Strap',
      brand: 'Fellmoor',
      attributes: [['Colour', 'Red']],
    },
    'Red head torch Fellmoor Rechargeable Headlamp for Astronomy, with Strap',
  ],
  [
    'plurals are repeats',
    {
      keyword: 'moon filter',
      title: 'Moon Filter 1.25" ND96 moon filters for telescopes and telescope eyepieces',
    },
    'Moon filter 1.25" ND96 for telescopes and eyepieces',
  ],
  [
    'German, with brand and size at the end',
    {
      title: 'Sternenkarte drehbar für den Nordhimmel',
      brand: 'Nachtwerk',
      attributes: [['Durchmesser', '25 cm']],
    },
    'Sternenkarte drehbar für den Nordhimmel, Nachtwerk, 25 cm',
  ],
  [
    'German plurals',
    { keyword: 'Rotlichtlampe', title: 'Rotlichtlampen, dimmbar – Versandkostenfrei' },
    'Rotlichtlampe, dimmbar',
  ],
  ['nothing but noise', { title: 'BEST free shipping!!!' }, ''],
  [
    'the brand where it is in the title',
    { title: 'Fellmoor tea towel', brand: 'Fellmoor' },
    'Fellmoor tea towel',
  ],
])('a title: %s', (_, some, title) => {
  expect(proposeTitle(goods(some), LIMITS).value).toBe(title);
});

test('each thing that was left out or added is told', () => {
  const { reasons } = proposeTitle(
    goods({ title: 'BEST torch, torches WHOLESALE', brand: 'Fellmoor', attributes: [['Colour', 'Red']] }),
    LIMITS,
  );
  expect(reasons.join(' ')).toMatch(/Fellmoor was added.*Colour was added.*“WHOLESALE”.*“BEST”.*“torches”/);
});

test.each<[Partial<Goods>, readonly string[]]>([
  [
    {
      keyword: 'red head torch',
      title: 'Headlamp for astronomy',
      attributes: [
        ['Colour', 'Blue'],
        ['Battery', '1200 mAh'],
      ],
    },
    ['red head torch', 'red head', 'head torch', 'blue torch', 'torch', 'headlamp', 'astronomy'],
  ],
  [
    { title: 'Drehbare Sternenkarte für den Nordhimmel', category: 'Karten > Sternkarten' },
    ['drehbare sternenkarte', 'sternenkarte', 'sternkarten', 'karten', 'drehbare', 'nordhimmel'],
  ],
])('tags of %j', (some, tags) => {
  expect(proposeTags(goods(some), LIMITS).value).toEqual(tags);
});

test('a description starts from the attributes, keeps what there was, and is not added to twice', () => {
  const towel = goods({ title: 'Tea towel', brand: 'Oxbow & Reed', attributes: [['Colour', 'navy <b>']] });
  const fresh = proposeDescription(towel, '').value;
  expect(fresh).toBe('<p>Tea towel by Oxbow &amp; Reed.</p><ul><li>Colour: navy &lt;b&gt;</li></ul>');
  const lamp = goods({ title: 'Lampe', attributes: [['Farbe', 'rot']] });
  const more = proposeDescription(lamp, '<p>Für das Feld.</p>').value;
  expect(more).toBe('<p>Für das Feld.</p><ul><li>Farbe: rot</li></ul>');
  expect(proposeDescription(lamp, more).value).toBe(more);
});

test('the language of a text, and what a word has in common with its plural', () => {
  expect([languageOf('Torch for the field'), languageOf('Lampe für das Feld und den Garten')]).toEqual([
    'en',
    'de',
  ]);
  for (const [one, many] of [
    ['torch', 'torches'],
    ['battery', 'batteries'],
    ['glass', 'glasses'],
    ['Lampe', 'Lampen'],
    ['filter', 'filters'],
    ['Karte', 'Karten'],
  ] as const)
    expect(stemOf(one)).toBe(stemOf(many));
  expect(new Set(['torch', 'towel', 'tent', 'tin', 'map', 'mat', 'moon', 'month'].map(stemOf)).size).toBe(8);
});

test('whatever the goods, a proposal is within the limits, without repeats or words that are not taken, and made again the same', () => {
  const word = fc.constantFrom(
    ...'torch Torches RED red Light best cheapest for with and filter filters 1.25" ND96 Lampe Lampen für und Fellmoor wholesale , – ! mass produced telescope constellations ÜBERGROSS'.split(
      ' ',
    ),
  );
  const text = fc.array(word, { maxLength: 16 }).map((w) => w.join(' '));
  fc.assert(
    fc.property(
      text,
      text,
      fc.array(fc.tuple(fc.constant('Colour'), text), { maxLength: 3 }),
      fc.integer({ min: 8, max: 90 }),
      (keyword, title, attributes, limit) => {
        const limits = { ...LIMITS, titleLimit: limit };
        const of = goods({ keyword, title, attributes, brand: 'Fellmoor', category: 'Lighting/Torches' });
        const made = proposeTitle(of, limits);
        expect([...made.value].length).toBeLessThanOrEqual(limit);
        const stems = wordsIn(made.value)
          .filter((w) => !isSmall(w))
          .map(stemOf);
        expect(new Set(stems).size).toBe(stems.length);
        expect(fold(` ${made.value} `)).not.toMatch(/ (best|cheapest|mass produced) /);
        expect(proposeTitle(of, limits)).toEqual(made);
        const tags = proposeTags(of, limits).value;
        expect(tags.length).toBeLessThanOrEqual(12);
        const sets = tags.map((tag) => [...new Set(wordsIn(tag).map(stemOf))].sort().join(' '));
        expect(new Set(sets).size).toBe(tags.length);
        for (const tag of tags) expect([...tag].length).toBeLessThanOrEqual(22);
      },
    ),
    { numRuns: 1_500 },
  );
});
