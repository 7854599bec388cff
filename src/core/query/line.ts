import { type Condition, leavesOf } from './condition';
import { type FieldKinds, kindOf, leafLine } from './fields';

/** Characters at either end that are neither letters nor digits. */
const EDGES = /^[^\p{L}\p{N}]+|(?<=[\p{L}\p{N}])[^\p{L}\p{N}]+$/gu;

/** A word or `field:value`, in quotes or not, with `-` before it for “not”. */
const TERM = /(-?)(?:([\p{L}][\p{L}\d-]*):)?(?:"([^"]*)("?)|([^\s"]+)|(?<=:)(?=\s|$))/uy;

/** Brackets in brackets: more than anybody means, and a pasted text must not be gone into without end. */
const DEEPEST = 30;

const OPEN_QUOTE = 'Its quotation mark is not closed.';
const OPEN_BRACKET = 'Its bracket is not closed.';
const NOTHING_AFTER = 'Nothing stands after it.';
const NOTHING_BEFORE = 'Nothing stands before it.';
const NOTHING_IN = 'Nothing stands in the brackets.';
const TOO_DEEP = 'Too many brackets stand in each other.';
const NO_WORD = 'It has no word and no field.';

/**
 * Reads a search line: words, `"quoted words"`, `field:value`, `field:"a b"`, each with `-` before it for “not”; `or` between
 * two for either; brackets around several. All that stands side by side holds together, but for several values of one
 * text, which are alternatives. Never fails: what means nothing is a piece of the tree, and says why.
 * @param typing it is still typed: a quotation mark or bracket may be open, and signs alone mean nothing yet
 */
export function readCondition(line: string, fields: FieldKinds, typing = false): Condition {
  const all = new Reader(line, fields, typing).list(0);
  return !all.length && !typing && line.trim() ? { unread: line.trim(), why: NO_WORD } : { all };
}

/** Reads a line from its beginning to its end, brackets in brackets. */
class Reader {
  private at = 0;

  constructor(
    private readonly line: string,
    private readonly fields: FieldKinds,
    private readonly typing: boolean,
  ) {}

  /** What stands side by side, up to the bracket that ends it. */
  list(depth: number): Condition[] {
    const inBrackets = depth > 0;
    const items: Condition[] = [];
    /** Whether the last item is joined by `or`, and whether one more is to be. */
    let [joined, joins, closed] = [false, false, false];
    while (this.next()) {
      if (inBrackets && this.takes(/\)/y)) {
        closed = true;
        break;
      }
      if (this.takes(/or(?=[\s)]|$)/iy)) {
        if (!items.length || joins) items.push({ unread: 'or', why: NOTHING_BEFORE });
        else joins = true;
        continue;
      }
      const one = this.one(depth);
      if (!one) continue;
      const before = joins ? items.pop()! : null;
      items.push(before ? { any: [...(joined && 'any' in before ? before.any : [before]), one] } : one);
      joined = joins;
      joins = false;
    }
    if (joins) items.push({ unread: 'or', why: NOTHING_AFTER });
    if (inBrackets && !closed && !this.typing) items.push({ unread: '(', why: OPEN_BRACKET });
    return this.alternatives(items);
  }

  /** Goes to what comes next; false at the end. */
  private next(): boolean {
    this.takes(/\s*/y);
    return this.at < this.line.length;
  }

  private takes(pattern: RegExp): RegExpExecArray | null {
    pattern.lastIndex = this.at;
    const match = pattern.exec(this.line);
    if (match) this.at = pattern.lastIndex;
    return match;
  }

  /** One word, field or what stands in brackets; null for signs that mean nothing. */
  private one(depth: number): Condition | null {
    const bracket = this.takes(/(-?)\(/y);
    if (bracket && depth === DEEPEST) {
      this.at = this.line.length;
      return { unread: '(', why: TOO_DEEP };
    }
    if (bracket) {
      const parts = this.list(depth + 1);
      if (!parts.length) return this.typing ? null : { unread: '()', why: NOTHING_IN };
      return bracket[1] ? { none: [{ all: parts }] } : { all: parts };
    }
    const begin = this.at;
    const match = this.takes(TERM);
    if (!match) {
      this.at++;
      return null;
    }
    const [raw, not, field, inQuotes, endQuote] = match;
    let plain = match[5] ?? '';
    if (depth && plain) {
      const own = withoutClosing(plain);
      this.at -= plain.length - own.length;
      plain = own;
    }
    if (inQuotes !== undefined && !endQuote && !this.typing) return { unread: raw, why: OPEN_QUOTE };
    if (this.at === begin) this.at++;
    const value = inQuotes ?? plain;
    // Signs around a word are none of it, and what has no letter or digit is no word: `Oxbow & Reed`.
    const word = field ? '' : value.replace(EDGES, '');
    if (!field && !/[\p{L}\p{N}]/u.test(word)) return null;
    const one: Condition = field ? { field: field.toLowerCase(), is: value } : { word };
    return not ? { none: [one] } : one;
  }

  /** Several values of one text, or ranges of what is told apart by them, stand for either. */
  private alternatives(items: readonly Condition[]): Condition[] {
    const result: Condition[] = [];
    const places = new Map<string, number>();
    for (const one of items) {
      if (!('field' in one) || !one.is || !areAlternatives(this.fields, one.field)) {
        result.push(one);
        continue;
      }
      const place = places.get(one.field);
      if (place === undefined) {
        places.set(one.field, result.length);
        result.push(one);
        continue;
      }
      const known = result[place]!;
      result[place] = { any: [...('any' in known ? known.any : [known]), one] };
    }
    return result;
  }
}

/** A text without the brackets at its end that close none of its own. */
function withoutClosing(text: string): string {
  let open = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '(') open++;
    else if (text[at] === ')' && --open < 0) return text.slice(0, at);
  }
  return text;
}

/** Whether several values of a field, side by side, stand for either. */
function areAlternatives(fields: FieldKinds, field: string): boolean {
  const kind = kindOf(fields, field);
  return kind?.kind === 'text' || (kind?.kind === 'number' && kind.alternatives === true);
}

/** A condition as a search line: reading it gives one that means the same. */
export const lineOf = (condition: Condition, fields: FieldKinds): string =>
  'all' in condition ? sideBySide(condition.all, fields) : sideBySide([condition], fields);

/** The field that a part asks for by one value or several; null where it is something else. */
function oneField(part: Condition): string | null {
  if ('field' in part) return part.field;
  if (!('any' in part) || !part.any.length) return null;
  const [first] = part.any;
  const field = first && 'field' in first ? first.field : null;
  return part.any.every((o) => 'field' in o && o.field === field && o.is) ? field : null;
}

/** Any of one is that one. */
const bare = (one: Condition): Condition => ('any' in one && one.any.length === 1 ? bare(one.any[0]!) : one);

function sideBySide(several: readonly Condition[], fields: FieldKinds): string {
  const seen = new Set<string>();
  const parts = several.map(bare);
  const lines = parts.map((one) => {
    const field = oneField(one);
    if (field === null || !areAlternatives(fields, field)) return part(one, fields, false);
    // Side by side they would be alternatives of those before.
    if (seen.has(field)) return 'field' in one ? `(${leafLine(one)})` : part(one, fields, false);
    const alone = parts.filter((o) => oneField(o) === field).length === 1;
    if ('field' in one || alone) seen.add(field);
    return 'any' in one && alone ? one.any.map(leafLine).join(' ') : part(one, fields, false);
  });
  return lines.filter(Boolean).join(' ');
}

/** @param bound whether it stands beside `or` or after `-`, and so needs brackets where it is several */
function part(condition: Condition, fields: FieldKinds, bound: boolean): string {
  if ('all' in condition)
    return condition.all.length ? `(${sideBySide(condition.all, fields)})` : bound ? '-()' : '';
  if ('any' in condition) {
    if (!condition.any.length) return '()';
    const line = condition.any.map((one) => part(one, fields, true)).join(' or ');
    return bound && condition.any.length > 1 ? `(${line})` : line;
  }
  if ('none' in condition) {
    const line = condition.none.map((one) => `-${part(one, fields, true)}`).join(' ');
    return bound ? `(${line || '-()'})` : line;
  }
  return leafLine(condition);
}

/**
 * Splits what is typed into terms that are finished, by a blank outside of quotes and brackets, and the one that is still
 * being typed. Typed sign by sign or pasted at once, it comes to the same.
 */
export function splitTyped(text: string): { readonly done: readonly string[]; readonly rest: string } {
  const done: string[] = [];
  let from = 0;
  let quoted = false;
  let brackets = 0;
  for (let at = 0; at < text.length; at++) {
    const c = text[at]!;
    if (c === '"') quoted = !quoted;
    else if (!quoted && c === '(' && /(^|[\s(])-?$/.test(text.slice(0, at))) brackets++;
    else if (!quoted && c === ')' && brackets) brackets--;
    else if (!quoted && !brackets && /\s/.test(c)) {
      if (at > from) done.push(text.slice(from, at));
      from = at + 1;
    }
  }
  return { done, rest: text.slice(from) };
}

/**
 * Whether a search line finds only what a shorter one finds: words alone, the last of which goes on or is followed by
 * others. That one typed them sign by sign can be made use of.
 */
export const narrows = (before: string, line: string): boolean =>
  line.startsWith(before) && /^[\p{L}\p{N} ]*$/u.test(line) && !/(^| )or( |$)/i.test(line);

/** Those of what a line finds for which something more holds. A line that ends in the middle stays one that is not understood. */
export const narrowedBy = (line: string, term: string): string =>
  line.trim() ? `(${line.trim()}) ${term}` : term;

/** A term as it is typed. */
export const termFor = (field: string, value: string): string => leafLine({ field, is: value });

const names = (one: Condition, field: string, value: string): boolean =>
  'field' in one && one.field === field && one.is === value.replaceAll('"', '');

/** Whether a condition asks for this value of a field, among others or alone. */
export const hasTerm = (condition: Condition, field: string, value: string): boolean =>
  'all' in condition &&
  condition.all.some((one) =>
    'any' in one
      ? one.any.every((o) => 'field' in o && o.field === field) && one.any.some((o) => names(o, field, value))
      : names(one, field, value),
  );

/** A search line with a value of a field added, or taken out if it is in it. */
export function toggleTerm(line: string, field: string, value: string, fields: FieldKinds): string {
  const read = readCondition(line, fields, true);
  const all = 'all' in read ? read.all : [read];
  if (!hasTerm(read, field, value)) {
    // Behind an open quotation mark or `or` it would be part of that.
    const whole = [...leavesOf(readCondition(line, fields))].every((leaf) => !('unread' in leaf));
    const before = whole ? line : lineOf({ all: all.filter((one) => !('unread' in one)) }, fields);
    return `${before.trim()} ${termFor(field, value)}`.trim();
  }
  const without = all.flatMap((one): Condition[] => {
    if (!('any' in one)) return names(one, field, value) ? [] : [one];
    const any = one.any.filter((o) => !names(o, field, value));
    return any.length ? [{ any }] : [];
  });
  return lineOf({ all: without }, fields);
}
