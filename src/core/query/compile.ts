import { fold } from '../copy';
import type { Condition } from './condition';
import { type FieldKind, kindOf, leafProblem, type Problem, problemsOf } from './fields';
import { parseRange } from './range';

/** How a field is read of a row. */
export type Field<R> =
  | (Extract<FieldKind, { kind: 'text' }> & { readonly get: (row: R) => string | null })
  | (Extract<FieldKind, { kind: 'number' }> & {
      readonly get: (row: R) => number | null;
      /** How many units the typed number has, by row where it depends on the currency: `cost:5` means 500 minor units of a euro. */
      readonly scale?: number | ((row: R) => number);
    })
  | (Extract<FieldKind, { kind: 'flags' | 'named' }> & {
      readonly get: (row: R, flag: string) => boolean;
    });

export type Fields<R> = Readonly<Record<string, Field<R>>>;

export interface Compiled<R> {
  readonly test: (row: R) => boolean;
  readonly problems: readonly Problem[];
}

type Test<R> = (row: R) => boolean;

/** A test with how dear it is, so that cheap ones come first. */
interface Weighed<R> {
  readonly test: Test<R>;
  readonly weight: number;
}

/**
 * Makes one test over rows of a condition, cheap parts first and text last. What is not understood is left out.
 * @param words the folded text in which free words are looked for: every word must begin a word of it
 */
export function compile<R>(condition: Condition, fields: Fields<R>, words: (row: R) => string): Compiled<R> {
  const test = weigh(condition, fields, words)?.test ?? (() => true);
  return { test, problems: problemsOf(condition, fields) };
}

function weigh<R>(condition: Condition, fields: Fields<R>, words: (row: R) => string): Weighed<R> | null {
  const each = (parts: readonly Condition[]) =>
    parts.flatMap((one) => weigh(one, fields, words) ?? []).sort((a, b) => a.weight - b.weight);
  if ('all' in condition) {
    const own = each(condition.all);
    const tests = own.map((one) => one.test);
    const [first] = tests;
    if (!first) return null;
    const test = tests.length === 1 ? first : (row: R) => tests.every((t) => t(row));
    return { test, weight: own.at(-1)!.weight };
  }
  if ('none' in condition) {
    const own = each(condition.none);
    const tests = own.map((one) => one.test);
    if (!tests.length) return null;
    return { test: (row) => !tests.some((t) => t(row)), weight: own.at(-1)!.weight };
  }
  if ('any' in condition) {
    if (!condition.any.length) return { test: () => false, weight: 0 };
    const texts = oneText(condition.any, fields);
    if (texts) return texts;
    const own = each(condition.any);
    const tests = own.map((one) => one.test);
    if (!tests.length) return null;
    return { test: (row) => tests.some((t) => t(row)), weight: own.at(-1)!.weight };
  }
  return leaf(condition, fields, words);
}

/** Several texts that one field may contain: it is read and folded once. */
function oneText<R>(any: readonly Condition[], fields: Fields<R>): Weighed<R> | null {
  const [first] = any;
  const field = first && 'field' in first ? (kindOf(fields, first.field) as Field<R> | undefined) : undefined;
  if (field?.kind !== 'text') return null;
  const wanted = any.flatMap((one) =>
    'field' in one && 'field' in first! && one.field === first.field && one.is ? fold(one.is) : [],
  );
  if (wanted.length < any.length) return null;
  const { get } = field;
  return {
    test: (row) => {
      const text = fold(get(row) ?? '');
      return wanted.some((w) => text.includes(w));
    },
    weight: 2,
  };
}

function leaf<R>(one: Condition, fields: Fields<R>, words: (row: R) => string): Weighed<R> | null {
  if (leafProblem(one, fields) !== null) return null;
  if ('word' in one) {
    const word = fold(one.word);
    return { test: (row) => beginsWord(words(row), word), weight: 3 };
  }
  if (!('field' in one)) return null;
  const field = fields[one.field]!;
  if (field.kind === 'text') return oneText([one], fields);
  if (field.kind === 'flags') return { test: (row) => field.get(row, one.is), weight: 0 };
  // What it names may be made of anything.
  if (field.kind === 'named') return { test: (row) => field.get(row, one.is), weight: 2 };
  const { get, scale = 1 } = field;
  const within = parseRange(one.is)!;
  const test: Test<R> =
    typeof scale === 'number'
      ? (row) => {
          const n = get(row);
          return n !== null && within(n / scale);
        }
      : (row) => {
          const n = get(row);
          return n !== null && within(n / scale(row));
        };
  return { test, weight: 1 };
}

function beginsWord(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1)) {
    if (at === 0 || !isOfWord(text, at - 1)) return true;
  }
  return false;
}

/** Whether a letter or digit stands at a place. The text is folded: what is plain is small. */
function isOfWord(text: string, at: number): boolean {
  const code = text.charCodeAt(at);
  if (code < 128) return (code >= 97 && code <= 122) || (code >= 48 && code <= 57);
  return /[\p{L}\p{N}]/u.test(text[at]!);
}
