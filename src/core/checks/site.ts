import type { FeeTable } from '../pricing';
import type { Carrier } from '../tracking';
import type { SiteAttribute } from './attribute';
import type { PictureRules } from './picture';

/** What a marketplace's country site asks of a listing, and what it takes. */
export interface Site {
  readonly name: string;
  readonly currency: string;
  readonly zone: string;
  readonly titleLimit: number;
  readonly pictures: PictureRules;
  readonly descriptionLimit: number;
  /** Whether a listing without a description is refused. */
  readonly needsDescription: boolean;
  readonly categories: readonly SiteCategory[];
  readonly bannedWords: readonly string[];
  readonly fees: FeeTable;
  /** Search words of a listing; null where the site has none. */
  readonly tags: { readonly most: number; readonly longest: number } | null;
  /** Whether listings start as drafts. */
  readonly drafts: boolean;
  /** What it asks of a listing besides its texts, in its order. */
  readonly attributes: readonly SiteAttribute[];
  /** How much it may be asked at once. */
  readonly limits: SiteLimits;
  readonly carriers: readonly Carrier[];
  readonly shipsTo: readonly string[];
  /** The language of its buyers, ISO 639-1; missing for English. */
  readonly language?: string;
  /** Events at which it writes to buyers itself, as it names them; missing for none. */
  readonly ownMessages?: readonly string[];
}

/** How much a site may be asked at once. */
export interface SiteLimits {
  /** Requests that may be on their way at the same time. */
  readonly inFlight: number;
  /** Listings in one request; 1 where it takes them one by one. */
  readonly listingsAtOnce: number;
}

/** What holds where a site does not say. */
export const USUAL_LIMITS: SiteLimits = { inFlight: 2, listingsAtOnce: 1 };

export interface SiteCategory {
  readonly id: string;
  readonly name: string;
  /** Words that suppliers use for such goods. */
  readonly words: readonly string[];
  readonly needsBrand: boolean;
  readonly needsGtin: boolean;
}
