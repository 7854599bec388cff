import type { WireSite } from '../../src/connect/wire';

const fees = (low: string, high: string, edge = '50.00') => [
  { upTo: edge, rate: low },
  { upTo: null, rate: high },
];

/** What Pennywharf's UK site asks and takes. */
export const UK_SITE: WireSite = {
  name: 'Pennywharf UK',
  currency: 'GBP',
  zone: 'Europe/London',
  titleLimit: 75,
  descriptionLimit: 4000,
  pictures: { least: 1, most: 12 },
  bannedWords: ['best', 'cheapest', 'free'],
  shipsTo: ['GB', 'IE'],
  taxInside: '20',
  fixedFee: '0.20',
  payment: { rate: '2.4', fixed: '0.25' },
  categories: [
    {
      id: 'optics',
      name: 'Optics and astronomy',
      words: ['telescope', 'dew', 'filter', 'eyepiece', 'lens', 'binocular', 'tripod', 'camera', 'strap', 'cap', 'care'],
      needsBrand: true,
      needsGtin: true,
      fees: fees('9.5', '6.5', '100.00'),
    },
    {
      id: 'lighting',
      name: 'Lighting and torches',
      words: ['torch', 'lantern', 'lamp', 'film'],
      needsBrand: false,
      needsGtin: false,
      fees: fees('12', '9'),
    },
    {
      id: 'maps',
      name: 'Books, maps and charts',
      words: ['chart', 'atlas', 'planisphere', 'map'],
      needsBrand: false,
      needsGtin: false,
      fees: fees('11', '8', '30.00'),
    },
    {
      id: 'furniture',
      name: 'Outdoor furniture',
      words: ['chair', 'stool', 'table', 'camp'],
      needsBrand: false,
      needsGtin: false,
      fees: fees('12', '9'),
    },
    {
      id: 'kitchen',
      name: 'Kitchen and flasks',
      words: ['flask', 'mug', 'thermos'],
      needsBrand: false,
      needsGtin: false,
      fees: fees('12', '10'),
    },
    {
      id: 'clothing',
      name: 'Clothing and blankets',
      words: ['glove', 'hat', 'beanie', 'blanket'],
      needsBrand: true,
      needsGtin: false,
      fees: fees('13', '11'),
    },
    {
      id: 'power',
      name: 'Batteries and cables',
      words: ['battery', 'cable', 'power'],
      needsBrand: true,
      needsGtin: false,
      fees: fees('8', '7'),
    },
    {
      id: 'outdoor',
      name: 'Outdoor gear',
      words: ['cover', 'sheet', 'navigation', 'compass', 'outdoor'],
      needsBrand: false,
      needsGtin: false,
      fees: fees('12', '9'),
    },
  ],
  carriers: [
    { code: 'rookline', name: 'Rookline Parcels' },
    { code: 'fenpost', name: 'Fen Post' },
    { code: 'other', name: 'Other carrier' },
  ],
};
