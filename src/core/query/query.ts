import { fold } from '../copy';

/** One condition of a search line. */
export type Term =
  | { readonly kind: 'word'; readonly text: string; readonly not: boolean; readonly raw: string }
  | {
      readonly kind: 'field';
      readonly field: string;
      readonly value: string;
      readonly not: boolean;
      readonly raw: string;
    };

/** What is no letter or digit at either end. */
const EDGES = /^[^\p{L}\p{N}]+|(?<=[\p{L}\p{N}])[^\p{L}\p{N}]+$/gu;

/**
 * Splits what is typed into terms that are finished, by a blank outside of quotes, and the one that is still
 * being typed. Typed sign by sign or pasted at once, it comes to the same.
 */
export function splitTyped(text: string): { readonly done: readonly string[]; readonly rest: string } {
  const done: string[] = [];
  let from = 0;
  let quoted = false;
  for (let at = 0; at < text.length; at++) {
    const c = text[at]!;
    if (c === '"') quoted = !quoted;
    else if (!quoted && /\s/.test(c)) {
      if (at > from) done.push(text.slice(from, at));
      from = at + 1;
    }
  }
  return { done, rest: text.slice(from) };
}

/**
 * Splits a search line into terms: words, `"quoted words"`, `field:value`, `field:"a b"`, each with `-`
 * before it for “not”. A field without a value has an empty one. Never fails.
 */
export function parseQuery(text: string): Term[] {
  const terms: Term[] = [];
  for (const match of text.matchAll(
    /(-?)(?:([\p{L}][\p{L}\d-]*):)?(?:"([^"]*)"?|([^\s"]+)|(?<=:)(?=\s|$))/gu,
  )) {
    const value = match[3] ?? match[4] ?? '';
    const not = match[1] === '-';
    // Signs around a word are none of it, and what has no letter or digit is no word: `Oxbow & Reed`.
    const text = match[2] ? '' : fold(value).replace(EDGES, '');
    if (match[2]) terms.push({ kind: 'field', field: match[2].toLowerCase(), value, not, raw: match[0] });
    else if (text) terms.push({ kind: 'word', text, not, raw: match[0] });
  }
  return terms;
}

/** Why a field that is still being typed narrows nothing. */
export const NO_VALUE = 'It has no value yet.';

/**
 * What a row offers to `field:value` terms. Money is read in major units as typed (`cost:5..20`) against
 * minor units.
 */
export type Field<R> =
  | { readonly kind: 'text'; readonly get: (row: R) => string | null; readonly hint: string }
  | {
      readonly kind: 'number';
      readonly get: (row: R) => number | null;
      readonly hint: string;
      readonly scale?: number;
    }
  | {
      readonly kind: 'flags';
      readonly get: (row: R, flag: string) => boolean;
      readonly flags: readonly string[];
      readonly hint: string;
    };

export type Fields<R> = Readonly<Record<string, Field<R>>>;

export interface Compiled<R> {
  readonly test: (row: R) => boolean;
  /** Terms that could not be used, each with the reason and how to mend it. They do not narrow the result. */
  readonly problems: readonly { readonly raw: string; readonly reason: string }[];
}

/**
 * `5..20`, `>3`, `>=3`, `<8`, `<=8`, `7`, `5..`, `..20`; null where it is none of these. Ends are included
 * but for `>` and `<`.
 */
export function parseRange(text: string): ((n: number) => boolean) | null {
  const span = /^(-?\d+(?:[.,]\d+)?)?\.\.(-?\d+(?:[.,]\d+)?)?$/.exec(text);
  const num = (t: string | undefined) => (t === undefined ? null : Number(t.replace(',', '.')));
  if (span && (span[1] ?? span[2]) !== undefined) {
    const min = num(span[1]) ?? Number.NEGATIVE_INFINITY;
    const max = num(span[2]) ?? Number.POSITIVE_INFINITY;
    return (n) => n >= min && n <= max;
  }
  const one = /^(>=|<=|>|<|=)?(-?\d+(?:[.,]\d+)?)$/.exec(text);
  if (!one) return null;
  const x = num(one[2])!;
  switch (one[1]) {
    case '>':
      return (n) => n > x;
    case '>=':
      return (n) => n >= x;
    case '<':
      return (n) => n < x;
    case '<=':
      return (n) => n <= x;
    default:
      return (n) => n === x;
  }
}

/** Ends of a range over whole numbers, both included. */
export interface Bounds {
  readonly min: number;
  readonly max: number;
}

/**
 * {@link parseRange} over whole numbers: `scale` is how many units the typed number has, so that `cost:>3.5`
 * with 100 means from 351 on. Null where the text is no range.
 */
export function parseBounds(text: string, scale: number): Bounds | null {
  const units = (t: string) => Math.round(Number(t.replace(',', '.')) * scale * 1e4) / 1e4;
  const span = /^(-?\d+(?:[.,]\d+)?)?\.\.(-?\d+(?:[.,]\d+)?)?$/.exec(text);
  if (span && (span[1] ?? span[2]) !== undefined)
    return {
      min: span[1] === undefined ? Number.NEGATIVE_INFINITY : Math.ceil(units(span[1])),
      max: span[2] === undefined ? Number.POSITIVE_INFINITY : Math.floor(units(span[2])),
    };
  const one = /^(>=|<=|>|<|=)?(-?\d+(?:[.,]\d+)?)$/.exec(text);
  if (!one) return null;
  const x = units(one[2]!);
  switch (one[1]) {
    case '>':
      return { min: Math.floor(x) + 1, max: Number.POSITIVE_INFINITY };
    case '>=':
      return { min: Math.ceil(x), max: Number.POSITIVE_INFINITY };
    case '<':
      return { min: Number.NEGATIVE_INFINITY, max: Math.ceil(x) - 1 };
    case '<=':
      return { min: Number.NEGATIVE_INFINITY, max: Math.floor(x) };
    default:
      return { min: Math.ceil(x), max: Math.floor(x) };
  }
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
  const cheap: ((row: R) => boolean)[] = [];
  const dear: ((row: R) => boolean)[] = [];
  const problems: { raw: string; reason: string }[] = [];
  const names = Object.keys(fields).join(', ');
  const turn = (not: boolean, test: (row: R) => boolean) => (not ? (row: R) => !test(row) : test);

  for (const term of terms) {
    if (term.kind === 'word') {
      dear.push(turn(term.not, (row) => beginsWord(words(row), term.text)));
      continue;
    }
    const field = fields[term.field];
    if (!field || !Object.hasOwn(fields, term.field)) {
      problems.push({
        raw: term.raw,
        reason: `There is no field “${term.field}” here. There are: ${names}.`,
      });
    } else if (!term.value) {
      problems.push({ raw: term.raw, reason: NO_VALUE });
    } else if (field.kind === 'number') {
      const range = parseRange(term.value);
      const scale = field.scale ?? 1;
      if (!range)
        problems.push({
          raw: term.raw,
          reason: `“${term.value}” is not a number or a range such as 5..20 or >3.`,
        });
      else
        cheap.push(
          turn(term.not, (row) => {
            const n = field.get(row);
            return n !== null && range(n / scale);
          }),
        );
    } else if (field.kind === 'flags') {
      if (!field.flags.includes(term.value))
        problems.push({ raw: term.raw, reason: `${term.field} takes ${field.flags.join(', ')}.` });
      else cheap.push(turn(term.not, (row) => field.get(row, term.value)));
    } else {
      const wanted = fold(term.value);
      dear.push(turn(term.not, (row) => fold(field.get(row) ?? '').includes(wanted)));
    }
  }
  const tests = [...cheap, ...dear];
  return { test: (row) => tests.every((t) => t(row)), problems };
}

function beginsWord(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1)) {
    if (at === 0 || !/[\p{L}\p{N}]/u.test(text[at - 1]!)) return true;
  }
  return false;
}
