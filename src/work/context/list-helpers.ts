import type { FoundText, Part, TextList } from '../../connect/lists';
import type { Sheet } from '../../core/catalogue';
import type { Match } from '../../core/lists';
import type { Refused } from '../../store';

/**
 * What a part of a price list came to: its items laid out, what was wrong, and whose rows were spoiled. In
 * the order of the part.
 */
export interface ItemsRead {
  readonly sheets: readonly { readonly sheet: Sheet; readonly lines: Int32Array }[];
  readonly refused: readonly Refused[];
  /**
   * Whose the rows are that were not taken, null where that cannot be told: those items stay as they were.
   */
  readonly spoiled: readonly { readonly sku: string | null; readonly line: number }[];
}

/** Reads items out of a part of a list; by helpers where there are some. */
export type ReadItems = (
  match: Match,
  part: Part,
  lines: Int32Array,
  marks: Int32Array,
) => Promise<ItemsRead>;

/** Records of a text that are found ahead of whoever takes them. */
export interface TextAhead {
  /** The next ones in order; null behind the end. Asked for one at a time. */
  next(): Promise<FoundText | null>;
}

/** What helpers do for the one that reads a list. */
export interface ListHelpers {
  readonly readItems: ReadItems;
  /** Begins to find the records of a text from a place on. */
  readonly findText: (list: TextList, place: string) => TextAhead;
}
