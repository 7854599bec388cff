import { fold } from '../copy';
import { conditionsOf, type FieldKind, type Problem } from './conditions';
import { parseRange, type Term } from './query';

/** How a field is read of a row. Money is typed in major units (`cost:5..20`) and read in minor ones. */
export type Field<R> =
  | (Extract<FieldKind, { kind: 'text' }> & { readonly get: (row: R) => string | null })
  | (Extract<FieldKind, { kind: 'number' }> & { readonly get: (row: R) => number | null })
  | (Extract<FieldKind, { kind: 'flags' }> & { readonly get: (row: R, flag: string) => boolean });

export type Fields<R> = Readonly<Record<string, Field<R>>>;

export interface Compiled<R> {
  readonly test: (row: R) => boolean;
  readonly problems: readonly Problem[];
}

/**
 * Turns terms into one test over rows, cheap conditions first and text last.
 * @param words the folded text in which free words are looked for: every word must begin a word of it
 */
export function compile<R>(
  terms: readonly Term[],
  fields: Fields<R>,
  words: (row: R) => string,
): Compiled<R> {
  const c = conditionsOf(terms, fields);
  const turn = (not: boolean, test: (row: R) => boolean) => (not ? (row: R) => !test(row) : test);
  const numbers = c.numbers.map(({ field, ranges, not }) => {
    const { get, scale = 1 } = fields[field] as Extract<Field<R>, { kind: 'number' }>;
    const within = ranges.map((r) => parseRange(r)!);
    return turn(not, (row) => {
      const n = get(row);
      return n !== null && within.some((range) => range(n / scale));
    });
  });
  const flags = c.flags.map(({ field, flag, not }) => {
    const { get } = fields[field] as Extract<Field<R>, { kind: 'flags' }>;
    return turn(not, (row) => get(row, flag));
  });
  const texts = c.texts.map(({ field, wanted, not }) => {
    const { get } = fields[field] as Extract<Field<R>, { kind: 'text' }>;
    return turn(not, (row) => {
      const text = fold(get(row) ?? '');
      return wanted.some((w) => text.includes(w));
    });
  });
  const free = c.words.map(({ text, not }) => turn(not, (row) => beginsWord(words(row), text)));
  const tests = [...flags, ...numbers, ...texts, ...free];
  return { test: (row) => tests.every((t) => t(row)), problems: c.problems };
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
