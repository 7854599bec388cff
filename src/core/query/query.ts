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

/**
 * Whether a search line finds only what a shorter one finds: words alone, the last of which goes on or is followed by
 * others. That one typed them sign by sign can be made use of.
 */
export const narrows = (before: string, line: string): boolean =>
  line.startsWith(before) && /^[\p{L}\p{N} ]*$/u.test(line);

/** Why a field that is still being typed narrows nothing. */
export const NO_VALUE = 'It has no value yet.';

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
