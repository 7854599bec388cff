/**
 * What goods, listings or orders are looked for by: a tree, stored as it is and written as a search line. Its form is that of
 * the schema of the database.
 */
export type Condition =
  /** Of none: everything. */
  | { readonly all: readonly Condition[] }
  /** Of none: nothing. */
  | { readonly any: readonly Condition[] }
  | { readonly none: readonly Condition[] }
  /** A word of what it is called begins so; as it was typed. */
  | { readonly word: string }
  /** A field has a value, or a number in a range: as it was typed. */
  | { readonly field: string; readonly is: string }
  /** A piece of a search line that means nothing, and how to mend it. It finds nothing. */
  | { readonly unread: string; readonly why: string };

export type FieldCondition = Extract<Condition, { field: string }>;

export const EVERYTHING: Condition = { all: [] };

export const isEverything = (condition: Condition): boolean =>
  'all' in condition && condition.all.every(isEverything);

/** The parts of a condition that is made of others. */
export const partsOf = (condition: Condition): readonly Condition[] | null =>
  'all' in condition
    ? condition.all
    : 'any' in condition
      ? condition.any
      : 'none' in condition
        ? condition.none
        : null;

/** Every word, field and piece of a condition, however deep. */
export function* leavesOf(condition: Condition): Generator<Condition> {
  const parts = partsOf(condition);
  if (!parts) yield condition;
  else for (const part of parts) yield* leavesOf(part);
}
