import type { WireSite } from '../../../src/connect/wire';
import { LOOMHALL } from './loomhall';
import { UK_SITE, US_SITE } from './pennywharf';

export { LOOMHALL, UK_SITE, US_SITE };

/** A marketplace as it is started: its rules, how its numbers begin, where its buyers live. */
export interface SiteSpec {
  readonly id: SiteId;
  readonly site: WireSite;
  /** Name on the page where consent is given. */
  readonly house: string;
  readonly prefix: string;
  readonly countries: readonly string[];
  /** Buyers' towns with their postcodes, by country. */
  readonly towns: readonly (readonly [town: string, postcode: string, country: string])[];
  /** Shipping that buyers pay, where sellers ask for it; nothing for free. */
  readonly shipping: string | null;
}

export const SITE_IDS = ['pennywharf', 'pennywharf-us', 'loomhall'] as const;
export type SiteId = (typeof SITE_IDS)[number];

export const SITES: Readonly<Record<SiteId, SiteSpec>> = {
  pennywharf: {
    id: 'pennywharf',
    site: UK_SITE,
    house: 'Pennywharf',
    prefix: 'PW',
    countries: ['GB'],
    shipping: null,
    towns: [
      ['Leeds', 'LS8 4QX', 'GB'],
      ['Cardiff', 'CF11 9ZB', 'GB'],
      ['York', 'YO24 1ND', 'GB'],
      ['Bath', 'BA1 5TT', 'GB'],
      ['Truro', 'TR1 2JH', 'GB'],
      ['Perth', 'PH1 5WA', 'GB'],
      ['Derby', 'DE22 3LP', 'GB'],
      ['Ely', 'CB7 4HU', 'GB'],
      ['Kendal', 'LA9 6BT', 'GB'],
      ['Norwich', 'NR2 3DG', 'GB'],
    ],
  },
  'pennywharf-us': {
    id: 'pennywharf-us',
    site: US_SITE,
    house: 'Pennywharf',
    prefix: 'PU',
    countries: ['US'],
    shipping: '5.95',
    towns: [
      ['Ashtabula', '44004', 'US'],
      ['Burlington', '05401', 'US'],
      ['Flagstaff', '86001', 'US'],
      ['Duluth', '55802', 'US'],
      ['Savannah', '31401', 'US'],
      ['Boise', '83702', 'US'],
    ],
  },
  loomhall: {
    id: 'loomhall',
    site: LOOMHALL,
    house: 'Loomhall',
    prefix: 'LH',
    countries: ['DE', 'FR', 'NL'],
    shipping: '4.50',
    towns: [
      ['Lübeck', '23552', 'DE'],
      ['Görlitz', '02826', 'DE'],
      ['Freiburg', '79098', 'DE'],
      ['Rennes', '35000', 'FR'],
      ['Colmar', '68000', 'FR'],
      ['Haarlem', '2011 AB', 'NL'],
    ],
  },
};
