import type { FeedForm, FeedMark } from '../core/feeds';
import type { Condition } from '../core/query';
import type { Instant } from '../core/units';

/** A group of products: a condition, what was picked besides, and without what was left out, by products' ids. */
export interface GroupRow {
  readonly id: string;
  readonly name: string;
  readonly filter: Condition;
  readonly picked: readonly string[];
  readonly left: readonly string[];
  /** When it was changed last. */
  readonly at: Instant;
}

/** A product feed as it is set. When it is made stands with its job, what was made last in {@link MadeFeedRow}. */
export interface FeedRow {
  readonly id: string;
  readonly name: string;
  /** The marketplace whose listings it tells of. */
  readonly market: string;
  /** The group of products in it; null for all. */
  readonly group: string | null;
  readonly form: FeedForm;
  /** Stands in the addresses of pages; null for none. */
  readonly mark: FeedMark | null;
  /** What buyers pay for shipping, in minor units of the marketplace; null where that is not told. */
  readonly shipping: number | null;
  /** The part of its address that nobody guesses. */
  readonly secret: string;
  readonly at: Instant;
}

/** What was made of a feed last. */
export interface MadeFeedRow {
  /** The feed's. */
  readonly id: string;
  readonly at: Instant;
  /** Milliseconds that it took. */
  readonly took: number;
  readonly rows: number;
  readonly bytes: number;
  /** Rows that were left out, and rows that went out with something amiss. */
  readonly leftOut: number;
  readonly amiss: number;
  /** Compared with the one before it. */
  readonly fresh: number;
  readonly changed: number;
  readonly gone: number;
  /** Of each row in it, by its id, a mark of what it says. */
  readonly ids: readonly string[];
  readonly marks: Int32Array;
  /** Whether Sampan's server has it. */
  readonly served: boolean;
}
