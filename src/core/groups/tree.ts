import { type Condition, EVERYTHING, partsOf } from '../query';

/** A place in a condition: the number of the part at each level, from the top. */
export type Path = readonly number[];

export type Branch = 'all' | 'any' | 'none';

export const branchOf = (condition: Condition): Branch | null =>
  'all' in condition ? 'all' : 'any' in condition ? 'any' : 'none' in condition ? 'none' : null;

/** A condition made of parts. */
export const branch = (of: Branch, parts: readonly Condition[]): Condition =>
  of === 'all' ? { all: parts } : of === 'any' ? { any: parts } : { none: parts };

/** Parts and depth of a condition that is built by hand, at most. */
export const TREE_LIMITS = { parts: 500, depth: 30 } as const;

/** The part at a place; null where there is none. */
export function partAt(condition: Condition, [first, ...rest]: Path): Condition | null {
  if (first === undefined) return condition;
  const part = partsOf(condition)?.[first];
  return part ? partAt(part, rest) : null;
}

/** A condition with another part at a place, or with none there. The top that is taken away leaves everything. */
export function replaced(condition: Condition, [first, ...rest]: Path, next: Condition | null): Condition {
  if (first === undefined) return next ?? EVERYTHING;
  const parts = partsOf(condition);
  const own = branchOf(condition);
  const part = parts?.[first];
  if (!parts || !own || !part) return condition;
  const put = rest.length ? [replaced(part, rest, next)] : next ? [next] : [];
  return branch(own, [...parts.slice(0, first), ...put, ...parts.slice(first + 1)]);
}

/** A condition with one more part in the branch at a place, before the part of a number. */
export function inserted(condition: Condition, into: Path, before: number, part: Condition): Condition {
  const at = partAt(condition, into);
  const own = at && branchOf(at);
  const parts = at && partsOf(at);
  if (!own || !parts) return condition;
  return replaced(condition, into, branch(own, [...parts.slice(0, before), part, ...parts.slice(before)]));
}

const within = (path: Path, of: Path): boolean => of.every((n, k) => path[k] === n);

/**
 * A condition with a part moved into the branch at a place, before the part of a number as they are numbered now. Into
 * itself nothing is moved.
 */
export function moved(condition: Condition, from: Path, into: Path, before: number): Condition {
  const part = partAt(condition, from);
  if (!part || !from.length || within(into, from)) return condition;
  const target = partAt(condition, into);
  if (!target || !branchOf(target)) return condition;
  // Taken out first, it moves what stands behind it one to the front.
  const level = from.length - 1;
  const out = from[level]!;
  const shifts = (path: Path): boolean => path.length > level && within(path, from.slice(0, level));
  const own = [...into];
  if (into.length > level && shifts(into) && into[level]! > out) own[level] = into[level]! - 1;
  const place =
    into.length === level && within(into, from.slice(0, level)) && before > out ? before - 1 : before;
  return inserted(replaced(condition, from, null), own, place, part);
}

/** How many parts a condition has in all, and how deep they stand. */
export function measured(condition: Condition): { readonly parts: number; readonly depth: number } {
  let parts = 0;
  let depth = 0;
  const walk = (one: Condition, level: number) => {
    parts++;
    depth = Math.max(depth, level);
    for (const part of partsOf(one) ?? []) walk(part, level + 1);
  };
  walk(condition, 0);
  return { parts, depth };
}

/** Whether something from outside has the form of a condition, and is no larger than one may be. */
export function isCondition(value: unknown, depth = 0): value is Condition {
  if (typeof value !== 'object' || value === null || depth > TREE_LIMITS.depth) return false;
  const entries = Object.entries(value);
  const [first] = entries;
  if (!first) return false;
  const [key, inside] = first;
  if (key === 'all' || key === 'any' || key === 'none')
    return (
      entries.length === 1 &&
      Array.isArray(inside) &&
      inside.length <= TREE_LIMITS.parts &&
      inside.every((one) => isCondition(one, depth + 1))
    );
  const text = (name: string) => typeof (value as Record<string, unknown>)[name] === 'string';
  return (
    (entries.length === 1 && text('word')) ||
    (entries.length === 2 && ((text('field') && text('is')) || (text('unread') && text('why'))))
  );
}
