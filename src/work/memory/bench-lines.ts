import type { Site } from '../../core/checks';
import { type ValueOf, valueFields } from '../../core/fields';
import type { Instant } from '../../core/units';
import type { MarketConnection, Product } from '../../store';
import type { FullListing } from '../quoting/full-listing';
import type { benchStanding } from '../quoting/listing-standing';
import type { FieldMend } from '../quoting/mend';
import type { GoodsPicture, ListAnswer, ListQuestion, Strip } from './listing-list';

const OWN_SORTS = ['taken', 'title'] as const;

export type BenchSort = (typeof OWN_SORTS)[number] | ValueOf<'bench'>;

export const BENCH_SORTS: readonly BenchSort[] = [...OWN_SORTS, ...valueFields('bench').map(({ id }) => id)];

/** How far a product is on one marketplace. */
export type BenchState =
  /** Not before a time; null for at once. */
  | { readonly is: 'publishing'; readonly left: number; readonly at: Instant | null }
  | { readonly is: 'refused'; readonly why: string }
  /** `more`: what it lacks besides the first, each once. */
  | { readonly is: 'lacking'; readonly what: string; readonly more: readonly string[] }
  | { readonly is: 'approved' }
  | { readonly is: 'ready' }
  /** A draft on its marketplace. */
  | { readonly is: 'draft' }
  /** On sale; `differs` from what the marketplace was told. */
  | { readonly is: 'live'; readonly differs: boolean }
  | { readonly is: 'ended' };

/** A product on one marketplace, as a cell of the Bench shows it. */
export interface BenchMark {
  readonly state: BenchState;
  readonly currency: string;
  /** Of the cheapest variant. */
  readonly price: number | null;
  readonly strip: Strip | null;
}

/** One product on the Bench, with how far it is on each marketplace. */
export interface BenchLine {
  /** The product's id. */
  readonly key: string;
  readonly title: string;
  readonly sku: string;
  readonly variants: number;
  readonly picture: GoodsPicture;
  /** By marketplace; without those that it is not meant for. */
  readonly on: Readonly<Record<string, BenchMark>>;
  /** The values of its fields, in words. */
  readonly values: Readonly<Record<ValueOf<'bench'>, string>>;
}

/** What is asked of the Bench. */
export interface BenchQuestion extends ListQuestion<BenchSort> {
  /** The marketplace that is looked at; null for all. */
  readonly market: string | null;
}

export interface BenchFound extends ListAnswer<BenchLine> {
  /** Products on a marketplace, each counted once for every marketplace. */
  readonly ready: number;
  readonly lacking: number;
  readonly approved: number;
  /** Of them refused before. */
  readonly refused: number;
  /** Listings on their way. */
  readonly publishing: number;
  /** The same of the matches alone. */
  readonly among: Pick<BenchFound, 'ready' | 'approved' | 'refused'>;
}

/** One product on one marketplace in full. */
export interface BenchInFull {
  readonly key: string;
  readonly product: Product;
  readonly market: MarketConnection;
  readonly site: Site;
  /** Marketplaces that the product is meant for, with how far it is there. */
  readonly on: Readonly<Record<string, BenchMark>>;
  /** Its listings on this marketplace; empty where it is not meant for it. */
  readonly full: readonly FullListing[];
  readonly standing: ReturnType<typeof benchStanding>;
  /** What a machine can mend of it. */
  readonly mends: readonly FieldMend[];
  readonly title: string;
  readonly approved: boolean;
  readonly refused: number;
}
