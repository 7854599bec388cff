import { type Site, siteChangesInWords } from '.';

const SITE: Site = {
  name: 'Loomhall',
  currency: 'EUR',
  zone: 'Europe/Berlin',
  titleLimit: 140,
  descriptionLimit: 4000,
  needsDescription: true,
  pictures: { least: 1, most: 10, shortest: 0, square: false },
  categories: [
    { id: 'maps', name: 'Maps', words: ['map'], needsBrand: false, needsGtin: false },
    { id: 'optics', name: 'Optics', words: ['lens'], needsBrand: true, needsGtin: false },
  ],
  bannedWords: ['cure'],
  tags: { most: 12, longest: 22 },
  drafts: true,
  attributes: [],
  limits: { inFlight: 2, listingsAtOnce: 1 },
  carriers: [{ code: 'other', name: 'Other' }],
  shipsTo: ['DE'],
  fees: {
    tax: { model: 'inside', rate: 190_000 },
    rules: [
      {
        id: 'sale',
        name: 'Sale fee',
        kind: 'sale',
        per: 'item',
        bands: { optics: [{ upTo: null, rate: 80_000 }], '*': [{ upTo: null, rate: 65_000 }] },
        fixed: 0,
        least: null,
        most: null,
        onShipping: true,
        onTax: true,
        optional: false,
      },
    ],
  },
};
const [SALE] = SITE.fees.rules;
const withRules = (...rules: Site['fees']['rules'][number][]) => ({ fees: { ...SITE.fees, rules } });

test('nothing changed, nothing said', () => {
  expect(siteChangesInWords(SITE, structuredClone(SITE))).toEqual([]);
});

test.each<[Partial<Site>, string]>([
  [
    withRules({ ...SALE!, bands: { ...SALE!.bands, '*': [{ upTo: null, rate: 85_000 }] } }),
    'Sale fee: 8 % in Optics; 8.5 % elsewhere (it was 8 % in Optics; 6.5 % elsewhere)',
  ],
  [
    withRules({ ...SALE!, optional: true }),
    'Sale fee: 8 % in Optics; 6.5 % elsewhere (optional) (it was 8 % in Optics; 6.5 % elsewhere)',
  ],
  [
    withRules(SALE!, { ...SALE!, id: 'listing', name: 'Listing fee', per: 'listing', bands: {}, fixed: 20 }),
    'New fee. Listing fee: 0.20',
  ],
  [withRules(), 'No longer taken. Sale fee: 8 % in Optics; 6.5 % elsewhere'],
  [
    { fees: { ...SITE.fees, tax: { model: 'added', rate: 72_500 } } },
    'Tax: 19 % VAT inside the price → about 7.25 % sales tax added at checkout',
  ],
  [{ titleLimit: 80 }, 'Longest title: 140 → 80'],
  [{ pictures: { ...SITE.pictures, least: 2 } }, 'Fewest pictures: 1 → 2'],
  [{ pictures: { ...SITE.pictures, square: true } }, 'Square pictures: no → yes'],
  [{ tags: null }, 'Most tags: 12 → 0'],
  [{ bannedWords: ['cure', 'best'] }, 'Word not allowed added: best'],
  [
    { categories: SITE.categories.map((c) => ({ ...c, needsGtin: c.id === 'maps' })) },
    'Maps now asks for a GTIN',
  ],
  [{ categories: SITE.categories.slice(1) }, 'Category gone: Maps'],
  [{ carriers: [...SITE.carriers, { code: 'np', name: 'Northpost' }] }, 'Carrier added: Northpost'],
  [{ shipsTo: ['DE', 'AT'] }, 'Country it sells to added: AT'],
  [{ zone: 'Europe/Vienna' }, 'Details that touch neither price nor what a listing needs.'],
])('%j is said in words', (part, says) => {
  expect(siteChangesInWords(SITE, { ...SITE, ...part })).toContain(says);
});
