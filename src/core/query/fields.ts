import { fold } from '../copy';
import { type Condition, leavesOf } from './condition';
import { parseRange } from './range';

/** What a list lets `field:value` ask for. */
export type FieldKind =
  | { readonly kind: 'text' }
  /** `alternatives`: several ranges stand for either, as texts do; of others each holds. */
  | { readonly kind: 'number'; readonly alternatives?: boolean }
  | { readonly kind: 'flags'; readonly flags: readonly string[] }
  /** Something of the seller's own, by its name. */
  | { readonly kind: 'named'; readonly named?: Named };

/**
 * The names there are, folded, each with why it cannot be asked for here; null where it can. Missing where they are not known,
 * as on a page: every name may be one then.
 */
export type Named = ReadonlyMap<string, string | null>;

export type FieldKinds = Readonly<Record<string, FieldKind>>;

/** A piece of a condition that cannot be used, and how to mend it. It does not narrow the result. */
export interface Problem {
  readonly raw: string;
  readonly reason: string;
}

/** Why a field that is still being typed narrows nothing. */
export const NO_VALUE = 'It has no value yet.';

/** The field of a name, if the list has it. */
export const kindOf = (fields: FieldKinds, name: string): FieldKind | undefined =>
  Object.hasOwn(fields, name) ? fields[name] : undefined;

/** A text as it is typed, in quotes where it would not be read as one otherwise. */
function typed(text: string, needsQuotes: RegExp): string {
  const plain = text.replaceAll('"', '');
  return needsQuotes.test(plain) ? `"${plain}"` : plain;
}
/** Blanks and brackets end a value; a word may look like something else besides. */
const VALUE = /[\s()]/;
const WORD = /[\s()]|^or$|^-|\p{L}[\p{L}\d-]*:/iu;

/** One word, field or piece as it is typed. */
export const leafLine = (leaf: Condition): string =>
  'word' in leaf
    ? typed(leaf.word, WORD)
    : 'field' in leaf
      ? `${leaf.field}:${typed(leaf.is, VALUE)}`
      : 'unread' in leaf
        ? leaf.unread
        : '';

/** Why one word, field or piece cannot be used; null where it can. */
export function leafProblem(leaf: Condition, fields: FieldKinds): string | null {
  if ('unread' in leaf) return leaf.why;
  if ('word' in leaf) return meantAsField(leaf.word, fields);
  if (!('field' in leaf)) return null;
  const { field, is } = leaf;
  const kind = kindOf(fields, field);
  if (!kind) return `There is no field “${field}” here. There are: ${Object.keys(fields).join(', ')}.`;
  if (!is) return NO_VALUE;
  if (kind.kind === 'flags')
    return kind.flags.includes(is) ? null : `${field} takes ${kind.flags.join(', ')}.`;
  if (kind.kind === 'text') return null;
  if (kind.kind === 'named') return nameProblem(field, is, kind.named);
  if (isBackward(is)) return `“${is}” ends before it begins: write the smaller number first.`;
  return parseRange(is) ? null : `“${is}” is not a number or a range such as 5..20 or >3.`;
}

function nameProblem(field: string, is: string, named: Named | undefined): string | null {
  if (!named) return null;
  const why = named.get(fold(is));
  return why === undefined ? `There is no ${field} “${is}”.` : why;
}

/** Why a word such as `cost>20` is not understood; null where it is a word. */
function meantAsField(text: string, fields: FieldKinds): string | null {
  const [, name, sign, rest] = /^(\p{L}+)\s*([<>=]=?)(.*)$/u.exec(fold(text)) ?? [];
  return name && kindOf(fields, name)?.kind === 'number'
    ? `Write ${name}:${sign === '=' || sign === '==' ? '' : sign}${rest}.`
    : null;
}

/** Whether a range's end lies before its beginning, as in `20..5`. */
function isBackward(value: string): boolean {
  const [from, to] = value.split('..').map((end) => (end ? Number(end.replace(',', '.')) : Number.NaN));
  return from !== undefined && to !== undefined && from > to;
}

/** A part of a condition that is not understood. */
export const problemsOf = (condition: Condition, fields: FieldKinds): Problem[] =>
  [...leavesOf(condition)].flatMap((leaf) => {
    const reason = leafProblem(leaf, fields);
    return reason === null ? [] : [{ raw: leafLine(leaf), reason }];
  });

/** `“cost:>abc” is not understood. “>abc” is not a number or a range such as 5..20 or >3.` */
export const problemInWords = ({ raw, reason }: Problem): string => `“${raw}” is not understood. ${reason}`;

/** For acts on all that is found. @throws where some of it is not understood: it would mean more than is shown */
export function assertUnderstood(condition: Condition, fields: FieldKinds): void {
  const [problem] = problemsOf(condition, fields);
  if (problem) throw new RangeError(`Mend the search first: ${problemInWords(problem)}`);
}
