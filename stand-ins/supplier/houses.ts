import type { WireBlank, WirePurchase } from '../../src/connect/wire';
import { drawPicture, makeCatalogue } from './brackwater';
import type { StockedItem } from './item';
import { makeGoods } from './quillmere';
import { BLANKS, drawBlank, extraFor, makeBlankItems } from './tinloft';

export type HouseId = 'brackwater' | 'tinloft' | 'quillmere';

/** What one supplier is that another is not. */
export interface House {
  readonly name: string;
  readonly currency: string;
  readonly zone: string;
  /** Accounts with their keys. */
  readonly accounts: Readonly<Record<string, string>>;
  /** In front of its order numbers. */
  readonly prefix: string;
  readonly shipping: readonly { readonly upToGrams: number; readonly minor: number }[];
  readonly shipsTo: readonly string[];
  /** Promised days from its places. */
  readonly delivery: readonly {
    readonly from: string;
    readonly to: readonly string[];
    readonly days: number;
  }[];
  /** Ways of shipping besides the usual one; missing for none. */
  readonly services?: readonly {
    readonly id: string;
    readonly name: string;
    readonly to: readonly string[];
    readonly minor: number;
    readonly days: number;
  }[];
  /** Where it prints, cents; missing where it makes nothing. */
  readonly sites?: readonly {
    readonly id: string;
    readonly name: string;
    readonly country: string;
    readonly reaches: readonly {
      readonly to: readonly string[];
      readonly minor: number;
      readonly days: number;
    }[];
  }[];
  /** What its carriers take of an address; missing for anything. */
  readonly address?: { readonly boxes: boolean; readonly longest?: number };
  /** Of the first parcel of a purchase, and of further ones. */
  readonly carriers: readonly [string, string];
  /** Goods it prints on; none where it makes nothing to order. */
  readonly blanks: readonly WireBlank[];
  /** It takes what it has of a line and calls the rest off, where others refuse the whole purchase. */
  readonly partial?: true;
  readonly items: (seed: number, count: number) => StockedItem[];
  /** What a piece of a line costs besides the item, for what is printed on it. */
  readonly extraFor: (line: WirePurchase['lines'][number]) => number;
  readonly picture: (name: string) => string;
}

const ISLES = ['GB', 'IE'];
const MAINLAND = ['FR', 'DE', 'NL', 'PL', 'ES', 'IT', 'AT', 'BE'];

export const HOUSES: Readonly<Record<HouseId, House>> = {
  brackwater: {
    name: 'Dusk & Dipper',
    currency: 'GBP',
    zone: 'Europe/London',
    accounts: { 'DD-4471': 'lantern-moss-42' },
    prefix: 'BT',
    shipping: [
      { upToGrams: 100, minor: 155 },
      { upToGrams: 250, minor: 210 },
      { upToGrams: 750, minor: 295 },
      { upToGrams: 2000, minor: 395 },
      { upToGrams: 5000, minor: 595 },
      { upToGrams: 10000, minor: 895 },
      { upToGrams: 30000, minor: 1490 },
    ],
    shipsTo: ['GB', 'IE', 'FR', 'DE', 'NL', 'PL'],
    delivery: [
      { from: 'GB', to: ['GB'], days: 2 },
      { from: 'GB', to: ['IE', 'FR', 'NL'], days: 5 },
      { from: 'GB', to: ['DE', 'PL'], days: 7 },
    ],
    services: [{ id: 'next-day', name: 'Next day', to: ['GB'], minor: 460, days: 1 }],
    address: { boxes: false, longest: 60 },
    carriers: ['Rookline Parcels', 'Fen Post'],
    blanks: [],
    items: makeCatalogue,
    extraFor: () => 0,
    picture: drawPicture,
  },
  quillmere: {
    name: 'Dusk & Dipper',
    currency: 'GBP',
    zone: 'Europe/London',
    accounts: { 'QG-318': 'reed-harbour-9' },
    prefix: 'QM',
    shipping: [
      { upToGrams: 500, minor: 240 },
      { upToGrams: 2000, minor: 345 },
      { upToGrams: 10000, minor: 795 },
      { upToGrams: 30000, minor: 1250 },
    ],
    shipsTo: ['GB', 'IE', 'FR', 'DE', 'NL'],
    delivery: [
      { from: 'GB', to: ['GB'], days: 3 },
      { from: 'GB', to: ['IE', 'FR', 'DE', 'NL'], days: 6 },
    ],
    services: [
      { id: 'two-days', name: 'Two days', to: ['GB'], minor: 240, days: 2 },
      { id: 'air', name: 'By air', to: ['IE', 'FR', 'DE', 'NL'], minor: 890, days: 3 },
    ],
    address: { boxes: true, longest: 35 },
    carriers: ['Fen Post', 'Rookline Parcels'],
    blanks: [],
    partial: true,
    items: makeGoods,
    extraFor: () => 0,
    picture: drawPicture,
  },
  tinloft: {
    name: 'Dusk & Dipper',
    currency: 'EUR',
    zone: 'Europe/London',
    accounts: { 'TP-2093': 'loft-ember-17' },
    prefix: 'TP',
    shipping: [
      { upToGrams: 150, minor: 240 },
      { upToGrams: 500, minor: 390 },
      { upToGrams: 1000, minor: 490 },
      { upToGrams: 2500, minor: 690 },
      { upToGrams: 10000, minor: 1190 },
    ],
    shipsTo: ['GB', 'IE', 'FR', 'DE', 'NL', 'PL', 'ES', 'IT', 'AT', 'BE'],
    delivery: [
      { from: 'GB', to: ['GB', 'IE'], days: 4 },
      { from: 'PL', to: ['FR', 'DE', 'NL', 'PL', 'ES', 'IT', 'AT', 'BE'], days: 5 },
    ],
    sites: [
      {
        ...{ id: 'leeds', name: 'Leeds', country: 'GB' },
        reaches: [
          { to: ISLES, minor: 120, days: 4 },
          { to: MAINLAND, minor: 310, days: 8 },
        ],
      },
      {
        ...{ id: 'wroclaw', name: 'Wrocław', country: 'PL' },
        reaches: [
          { to: MAINLAND, minor: 0, days: 5 },
          { to: ISLES, minor: 0, days: 9 },
        ],
      },
    ],
    carriers: ['Rookline Parcels', 'Fen Post'],
    blanks: BLANKS,
    items: makeBlankItems,
    extraFor,
    picture: drawBlank,
  },
};
