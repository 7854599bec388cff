import { hashOf } from '../catalogue';

/** What a feed says of each of its products: a mark for each by its id, to be compared with the next. */
export interface FeedMarks {
  readonly ids: readonly string[];
  readonly marks: Int32Array;
}

/** A mark of what a row says. */
export const rowMark = (values: readonly string[]): number => hashOf(values.join('\u0000')) | 0;

/** What differs from the feed of before. */
export interface FeedDifference {
  readonly fresh: readonly string[];
  readonly changed: readonly string[];
  readonly gone: readonly string[];
}

/** Compares a feed with the one before it, by ids. @param before null where there was none */
export function compareFeeds(before: FeedMarks | null, now: FeedMarks): FeedDifference {
  if (!before) return { fresh: now.ids, changed: [], gone: [] };
  const known = new Map(before.ids.map((id, k) => [id, before.marks[k]!]));
  const fresh: string[] = [];
  const changed: string[] = [];
  for (const [k, id] of now.ids.entries()) {
    const mark = known.get(id);
    if (mark === undefined) fresh.push(id);
    else if (mark !== now.marks[k]) changed.push(id);
    known.delete(id);
  }
  return { fresh, changed, gone: [...known.keys()] };
}
