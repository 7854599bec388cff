import type { WireBlank, WirePurchase } from '../../src/connect/wire';
import { drawPicture, makeCatalogue } from './brackwater';
import type { StockedItem } from './item';
import { BLANKS, drawBlank, extraFor, makeBlankItems } from './tinloft';

export type HouseId = 'brackwater' | 'tinloft';

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
  /** Of the first parcel of a purchase, and of further ones. */
  readonly carriers: readonly [string, string];
  /** Goods it prints on; none where it makes nothing to order. */
  readonly blanks: readonly WireBlank[];
  readonly items: (seed: number, count: number) => StockedItem[];
  /** What a piece of a line costs besides the item, for what is printed on it. */
  readonly extraFor: (line: WirePurchase['lines'][number]) => number;
  readonly picture: (name: string) => string;
}

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
    carriers: ['Rookline Parcels', 'Fen Post'],
    blanks: [],
    items: makeCatalogue,
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
    carriers: ['Rookline Parcels', 'Fen Post'],
    blanks: BLANKS,
    items: makeBlankItems,
    extraFor,
    picture: drawBlank,
  },
};
