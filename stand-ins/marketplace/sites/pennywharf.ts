import type { WireAttribute, WireSite } from '../../../src/connect/wire';

const bands = (low: string, high: string, edge = '50.00') => [
  { upTo: edge, rate: low },
  { upTo: null, rate: high },
];

const named = (...names: string[]) =>
  names.map((name) => ({ id: name.toLowerCase().replace(/\W+/g, '-'), name }));

export const COLOURS = named(
  'Black',
  'White',
  'Grey',
  'Red',
  'Orange',
  'Yellow',
  'Green',
  'Blue',
  'Brown',
  'Multicolour',
);

/** What it asks of a listing besides its texts. */
const ATTRIBUTES: WireAttribute[] = [
  {
    id: 'condition',
    name: 'Condition',
    kind: 'choice',
    choices: named('New', 'Opened', 'Used'),
    needed: true,
    usual: 'new',
  },
  {
    id: 'handling',
    name: 'Handling time',
    kind: 'number',
    unit: 'days',
    needed: true,
    usual: '2',
    least: 0,
    most: 30,
  },
  {
    id: 'returns',
    name: 'Returns',
    kind: 'choice',
    choices: [
      { id: 'r14', name: 'Within 14 days' },
      { id: 'r30', name: 'Within 30 days' },
      { id: 'r60', name: 'Within 60 days' },
    ],
    needed: true,
    usual: 'r30',
  },
  {
    id: 'delivery',
    name: 'Delivery',
    kind: 'choice',
    choices: [
      { id: 'parcel', name: 'Parcel, tracked' },
      { id: 'letter', name: 'Large letter' },
      { id: 'freight', name: 'Freight, by appointment' },
    ],
    needed: true,
    usual: 'parcel',
  },
  {
    id: 'tax-class',
    name: 'Tax class',
    kind: 'choice',
    choices: named('Standard', 'Reduced', 'Zero'),
    needed: true,
    usual: 'standard',
  },
  {
    id: 'colour',
    name: 'Colour',
    kind: 'choice',
    choices: COLOURS,
    categories: ['lighting', 'clothing', 'furniture'],
  },
  {
    id: 'size',
    name: 'Size',
    kind: 'choice',
    choices: named('Small', 'Medium', 'Large', 'Extra large', 'One size'),
    categories: ['clothing'],
  },
  { id: 'material', name: 'Material', kind: 'text', categories: ['clothing', 'furniture', 'kitchen'] },
  { id: 'before', name: 'Compare-at price', kind: 'amount', before: true },
  { id: 'video', name: 'Video', kind: 'link' },
];

/** What Pennywharf's UK site asks and takes. */
export const UK_SITE: WireSite = {
  name: 'Pennywharf UK',
  limits: { inFlight: 4, listingsAtOnce: 50 },
  currency: 'GBP',
  zone: 'Europe/London',
  titleLimit: 75,
  descriptionLimit: 4000,
  pictures: { least: 1, most: 12, shortest: 500 },
  bannedWords: ['best', 'cheapest', 'free'],
  shipsTo: ['GB', 'IE'],
  tax: { model: 'inside', rate: '20' },
  attributes: ATTRIBUTES,
  fees: [
    {
      id: 'sale',
      name: 'Sale fee',
      kind: 'sale',
      per: 'item',
      bands: {
        optics: bands('9.5', '6.5', '100.00'),
        lighting: bands('12', '9'),
        maps: bands('11', '8', '30.00'),
        furniture: bands('12', '9'),
        kitchen: bands('12', '10'),
        clothing: bands('13', '11'),
        power: bands('8', '7'),
        outdoor: bands('12', '9'),
      },
      onShipping: true,
      onTax: true,
    },
    {
      id: 'order',
      name: 'Order fee',
      kind: 'sale',
      per: 'order',
      fixed: '0.20',
      onShipping: false,
      onTax: true,
    },
    {
      id: 'payment',
      name: 'Payment fee',
      kind: 'payment',
      per: 'order',
      bands: { '*': [{ upTo: null, rate: '2.4' }] },
      fixed: '0.25',
      onShipping: true,
      onTax: true,
    },
    {
      id: 'advertising',
      name: 'Advertising share',
      kind: 'advertising',
      per: 'item',
      bands: { '*': [{ upTo: null, rate: '4' }] },
      onShipping: false,
      onTax: true,
      optional: true,
    },
  ],
  categories: [
    {
      id: 'optics',
      name: 'Optics and astronomy',
      words: [
        'telescope',
        'dew',
        'filter',
        'eyepiece',
        'lens',
        'binocular',
        'tripod',
        'camera',
        'strap',
        'cap',
        'care',
      ],
      needsBrand: true,
      needsGtin: true,
    },
    {
      id: 'lighting',
      name: 'Lighting and torches',
      words: ['torch', 'lantern', 'lamp', 'film'],
      needsBrand: false,
      needsGtin: false,
    },
    {
      id: 'maps',
      name: 'Books, maps and charts',
      words: ['chart', 'atlas', 'planisphere', 'map'],
      needsBrand: false,
      needsGtin: false,
    },
    {
      id: 'furniture',
      name: 'Outdoor furniture',
      words: ['chair', 'stool', 'table', 'camp'],
      needsBrand: false,
      needsGtin: false,
    },
    {
      id: 'kitchen',
      name: 'Kitchen and flasks',
      words: ['flask', 'mug', 'thermos'],
      needsBrand: false,
      needsGtin: false,
    },
    {
      id: 'clothing',
      name: 'Clothing and blankets',
      words: ['glove', 'hat', 'beanie', 'blanket'],
      needsBrand: true,
      needsGtin: false,
    },
    {
      id: 'power',
      name: 'Batteries and cables',
      words: ['battery', 'cable', 'power'],
      needsBrand: true,
      needsGtin: false,
    },
    {
      id: 'outdoor',
      name: 'Outdoor gear',
      words: ['cover', 'sheet', 'navigation', 'compass', 'outdoor'],
      needsBrand: false,
      needsGtin: false,
    },
  ],
  carriers: [
    { code: 'rookline', name: 'Rookline Parcels' },
    { code: 'fenpost', name: 'Fen Post' },
    { code: 'other', name: 'Other carrier' },
  ],
};

/** What Pennywharf's US site asks and takes: tax comes on top at checkout and is part of what fees are taken of. */
export const US_SITE: WireSite = {
  ...UK_SITE,
  name: 'Pennywharf US',
  currency: 'USD',
  zone: 'America/New_York',
  shipsTo: ['US'],
  tax: { model: 'added', rate: '7.25' },
  fees: UK_SITE.fees.map((fee) =>
    fee.id === 'sale'
      ? { ...fee, bands: { '*': bands('12.9', '2.5', '2000.00') }, most: '750.00' }
      : fee.id === 'order'
        ? { ...fee, fixed: '0.30' }
        : fee.id === 'payment'
          ? { ...fee, bands: { '*': [{ upTo: null, rate: '2.9' }] }, fixed: '0.30' }
          : fee,
  ),
};
