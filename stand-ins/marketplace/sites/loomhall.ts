import type { WireSite } from '../../../src/connect/wire';
import { COLOURS, UK_SITE } from './pennywharf';

/** What Loomhall, a makers' marketplace, asks and takes: a fee for each listing sold, drafts, tags, and who made it. */
export const LOOMHALL: WireSite = {
  ...UK_SITE,
  name: 'Loomhall',
  limits: { inFlight: 2, listingsAtOnce: 20 },
  currency: 'EUR',
  zone: 'Europe/Berlin',
  titleLimit: 140,
  descriptionLimit: 10_000,
  pictures: { least: 1, most: 10, shortest: 500, square: true },
  bannedWords: ['mass produced'],
  shipsTo: ['DE', 'FR', 'NL', 'IE', 'PL'],
  tax: { model: 'inside', rate: '19' },
  tags: { most: 12, longest: 22 },
  drafts: true,
  attributes: [
    {
      id: 'maker',
      name: 'Made by',
      kind: 'choice',
      choices: [
        { id: 'us', name: 'We did' },
        { id: 'partner', name: 'A partner, to our design' },
        { id: 'another', name: 'Another company' },
      ],
      needed: true,
    },
    { id: 'section', name: 'Section of your shop', kind: 'text' },
    { id: 'handling', name: 'Handling time', kind: 'number', unit: 'days', needed: true, usual: '3' },
    { id: 'colour', name: 'Colour', kind: 'choice', choices: COLOURS, categories: ['clothing', 'lighting'] },
  ],
  fees: [
    {
      id: 'sale',
      name: 'Transaction fee',
      kind: 'sale',
      per: 'item',
      bands: { '*': [{ upTo: null, rate: '6.5' }] },
      onShipping: true,
      onTax: true,
    },
    {
      id: 'listing',
      name: 'Listing fee',
      kind: 'listing',
      per: 'listing',
      fixed: '0.20',
      onShipping: false,
      onTax: true,
    },
    {
      id: 'payment',
      name: 'Payment fee',
      kind: 'payment',
      per: 'order',
      bands: { '*': [{ upTo: null, rate: '4' }] },
      fixed: '0.30',
      onShipping: true,
      onTax: true,
    },
  ],
  categories: UK_SITE.categories.map((c) => ({ ...c, needsBrand: false, needsGtin: false })),
};
