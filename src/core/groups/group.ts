import { fold } from '../copy';
import {
  type Condition,
  compile,
  type FieldKinds,
  type Fields,
  leafProblem,
  leavesOf,
  type Named,
} from '../query';

/** A group of products: what a condition finds, what was picked besides, and without what was left out, by products' ids. */
export interface GroupOf {
  readonly name: string;
  readonly filter: Condition;
  readonly picked: readonly string[];
  readonly left: readonly string[];
}

/** Products that are picked or left out by hand, and characters of a name, at most. */
export const GROUP_LIMITS = { byHand: 20_000, name: 80, groups: 500 } as const;

/** What groups are told apart by. */
export const groupKey = (name: string): string => fold(name.trim()).replace(/\s+/g, ' ');

/** The names of groups that a condition asks for. */
export const groupsIn = (condition: Condition): string[] =>
  [...leavesOf(condition)].flatMap((leaf) => ('field' in leaf && leaf.field === 'group' ? [leaf.is] : []));

/** A condition with a group under another name. */
export function renamed(condition: Condition, from: string, to: string): Condition {
  if ('all' in condition) return { all: condition.all.map((one) => renamed(one, from, to)) };
  if ('any' in condition) return { any: condition.any.map((one) => renamed(one, from, to)) };
  if ('none' in condition) return { none: condition.none.map((one) => renamed(one, from, to)) };
  return 'field' in condition && condition.field === 'group' && groupKey(condition.is) === groupKey(from)
    ? { field: 'group', is: to }
    : condition;
}

/** Groups by what they are told apart by; of two alike the first. */
const byKey = (groups: readonly GroupOf[]): Map<string, GroupOf> => {
  const known = new Map<string, GroupOf>();
  for (const group of groups) if (!known.has(groupKey(group.name))) known.set(groupKey(group.name), group);
  return known;
};

/**
 * The way on which a group leads back to itself, as names from one to the same; null where none does.
 * @param start the group as it would be, in place of the one of its name
 */
export function circleOf(start: GroupOf, groups: readonly GroupOf[]): string[] | null {
  const known = byKey(groups);
  known.set(groupKey(start.name), start);
  const seen = new Set<string>();
  const walk = (group: GroupOf, way: readonly string[]): string[] | null => {
    for (const name of groupsIn(group.filter)) {
      const key = groupKey(name);
      if (key === groupKey(start.name)) return [...way, start.name];
      const next = known.get(key);
      if (!next || seen.has(key)) continue;
      seen.add(key);
      const found = walk(next, [...way, next.name]);
      if (found) return found;
    }
    return null;
  };
  return walk(start, [start.name]);
}

/** `“Lamps” asks for “Evening”, “Evening” asks for “Lamps”` */
export const circleInWords = (way: readonly string[]): string =>
  way
    .slice(1)
    .map((name, k) => `“${way[k]}” asks for “${name}”`)
    .join(', ');

/**
 * Who is in which group, over rows of one kind. Each group is compiled when it is asked for first; groups may ask for
 * others, to any depth. What leads back to itself or is not wholly understood holds nothing, and says why.
 */
export class Membership<R> {
  private readonly known: Map<string, GroupOf>;
  private readonly tests = new Map<string, (row: R) => boolean>();
  /** Every name, with why it cannot be asked for. */
  readonly named: Named;

  /**
   * @param kinds the fields that rows of this kind have
   * @param fieldsOf how they are read, given this
   * @param words in what free words are looked for
   * @param productOf the id of a row's product
   */
  constructor(
    groups: readonly GroupOf[],
    kinds: FieldKinds,
    private readonly fieldsOf: (self: Membership<R>) => Fields<R>,
    private readonly words: (row: R) => string,
    private readonly productOf: (row: R) => string,
  ) {
    this.known = byKey(groups);
    this.named = reasonsOf(this.known, kinds);
  }

  has(row: R, name: string): boolean {
    const key = groupKey(name);
    let test = this.tests.get(key);
    if (!test) {
      test = this.testOf(key);
      this.tests.set(key, test);
    }
    return test(row);
  }

  private testOf(key: string): (row: R) => boolean {
    const group = this.known.get(key);
    if (!group || this.named.get(key) !== null) return () => false;
    return memberTest(group, this.fieldsOf(this), this.words, this.productOf);
  }
}

/** Whether a row is in a group, as one test. */
export function memberTest<R>(
  { filter, picked, left }: GroupOf,
  fields: Fields<R>,
  words: (row: R) => string,
  productOf: (row: R) => string,
): (row: R) => boolean {
  const { test } = compile(filter, fields, words);
  if (!picked.length && !left.length) return test;
  const [in_, out] = [new Set(picked), new Set(left)];
  return (row) => {
    const product = productOf(row);
    return !out.has(product) && (in_.has(product) || test(row));
  };
}

/** Why each group cannot be asked for; null where it can. */
function reasonsOf(known: ReadonlyMap<string, GroupOf>, kinds: FieldKinds): Named {
  const reasons = new Map<string, string | null>();
  const under = new Set<string>();
  const reasonOf = (key: string, group: GroupOf): string | null => {
    const found = reasons.get(key);
    if (found !== undefined) return found;
    if (under.has(key)) return `Group “${group.name}” leads back to itself.`;
    under.add(key);
    let reason: string | null = null;
    for (const leaf of leavesOf(group.filter)) {
      if ('field' in leaf && leaf.field === 'group') {
        const next = known.get(groupKey(leaf.is));
        reason ??= next
          ? reasonOf(groupKey(leaf.is), next)
          : `Group “${group.name}” asks for “${leaf.is}”, which is no group.`;
      } else if ('field' in leaf && !Object.hasOwn(kinds, leaf.field))
        reason ??= `Group “${group.name}” goes by ${leaf.field}, which cannot be gone by here.`;
      else {
        const problem = leafProblem(leaf, kinds);
        if (problem !== null) reason ??= `Group “${group.name}”: ${problem}`;
      }
    }
    under.delete(key);
    reasons.set(key, reason);
    return reason;
  };
  for (const [key, group] of known) reasonOf(key, group);
  return reasons;
}
