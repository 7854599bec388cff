import type { FeeTable } from '../pricing';
import type { Carrier } from '../tracking';

/** What a marketplace's country site asks of a listing, and what it takes. */
export interface Site {
  readonly name: string;
  readonly currency: string;
  readonly zone: string;
  readonly titleLimit: number;
  readonly pictures: { readonly least: number; readonly most: number };
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
  /** Whether it asks who made the goods. */
  readonly asksMaker: boolean;
  readonly carriers: readonly Carrier[];
  readonly shipsTo: readonly string[];
}

export interface SiteCategory {
  readonly id: string;
  readonly name: string;
  /** Words that suppliers use for such goods. */
  readonly words: readonly string[];
  readonly needsBrand: boolean;
  readonly needsGtin: boolean;
}
