import { fold } from '../copy';
import { NO_VALUE, parseBounds, type Term } from './query';

/** What a list lets `field:value` terms ask for. */
export type FieldKind =
  | { readonly kind: 'text'; readonly exact?: boolean }
  | {
      readonly kind: 'number';
      /** How many units the typed number has: 100 where `cost:5` means 500 minor units. */
      readonly scale?: number;
      /** Whether several ranges are alternatives, as texts are. */
      readonly alternatives?: boolean;
    }
  | { readonly kind: 'flags'; readonly flags: readonly string[] };

export type FieldKinds = Readonly<Record<string, FieldKind>>;

/** A term that cannot be used, and how to mend it. It does not narrow the result. */
export interface Problem {
  readonly raw: string;
  readonly reason: string;
}

/** The terms of a search line by what they look at. All of them hold together. */
export interface Conditions {
  readonly words: readonly { readonly text: string; readonly not: boolean }[];
  /** Ranges as they are typed; several of one condition are alternatives. */
  readonly numbers: readonly {
    readonly field: string;
    readonly ranges: readonly string[];
    readonly not: boolean;
  }[];
  /** What a text contains, folded; several of one condition are alternatives. */
  readonly texts: readonly {
    readonly field: string;
    readonly wanted: readonly string[];
    readonly not: boolean;
  }[];
  readonly flags: readonly { readonly field: string; readonly flag: string; readonly not: boolean }[];
  readonly problems: readonly Problem[];
}

/**
 * Reads the terms of a search line by the fields that a list has: the one compiler of the search language, whatever the
 * list is held as. Several values of one text field are alternatives; what cannot be used is told.
 */
export function conditionsOf(terms: readonly Term[], fields: FieldKinds): Conditions {
  const words: Conditions['words'][number][] = [];
  const numbers: { field: string; ranges: string[]; not: boolean }[] = [];
  const texts: { field: string; wanted: string[]; not: boolean }[] = [];
  const flags: Conditions['flags'][number][] = [];
  const problems: Problem[] = [];
  for (const term of terms) {
    if (term.kind === 'word') {
      const meant = meantAsField(term.text, fields);
      if (meant) problems.push({ raw: term.raw, reason: meant });
      else words.push({ text: term.text, not: term.not });
      continue;
    }
    const { field, value, not, raw } = term;
    const kind = Object.hasOwn(fields, field) ? fields[field] : undefined;
    const same = <T extends { field: string; not: boolean }>(known: readonly T[]) =>
      not ? undefined : known.find((k) => k.field === field && !k.not);
    if (!kind) {
      const names = Object.keys(fields).join(', ');
      problems.push({ raw, reason: `There is no field “${field}” here. There are: ${names}.` });
    } else if (!value) problems.push({ raw, reason: NO_VALUE });
    else if (kind.kind === 'flags') {
      if (kind.flags.includes(value)) flags.push({ field, flag: value, not });
      else problems.push({ raw, reason: `${field} takes ${kind.flags.join(', ')}.` });
    } else if (kind.kind === 'number') {
      const known = kind.alternatives ? same(numbers) : undefined;
      if (isBackward(value))
        problems.push({ raw, reason: `“${value}” ends before it begins: write the smaller number first.` });
      else if (!parseBounds(value, 1))
        problems.push({ raw, reason: `“${value}” is not a number or a range such as 5..20 or >3.` });
      else if (known) known.ranges.push(value);
      else numbers.push({ field, ranges: [value], not });
    } else {
      const known = kind.exact ? undefined : same(texts);
      if (known) known.wanted.push(fold(value));
      else texts.push({ field, wanted: [fold(value)], not });
    }
  }
  return { words, numbers, texts, flags, problems };
}

/** Why a word such as `cost>20` is not understood; null where it is a word. */
function meantAsField(text: string, fields: FieldKinds): string | null {
  const match = /^(\p{L}+)\s*([<>=]=?)(.*)$/u.exec(text);
  return match && fields[match[1]!]?.kind === 'number'
    ? `Write ${match[1]}:${match[2] === '=' || match[2] === '==' ? '' : match[2]}${match[3]}.`
    : null;
}

/** Whether a range's end lies before its beginning, as in `20..5`. */
function isBackward(value: string): boolean {
  const [from, to] = value.split('..').map((end) => (end ? Number(end.replace(',', '.')) : Number.NaN));
  return from !== undefined && to !== undefined && from > to;
}

/**
 * What of a search line is not understood, an open quotation mark too: what is saved or acted by must be understood whole.
 * While it is typed a mark may still be open.
 */
export function notUnderstood(terms: readonly Term[], fields: FieldKinds): readonly Problem[] {
  const { problems } = conditionsOf(terms, fields);
  const isOpen = ({ raw }: Term) => (raw.match(/"/g)?.length ?? 0) % 2 === 1;
  const open = terms.filter((term) => isOpen(term) && !problems.some((p) => p.raw === term.raw));
  return [...problems, ...open.map(({ raw }) => ({ raw, reason: 'Its quotation mark is not closed.' }))];
}

/** `“cost:>abc” is not understood. “>abc” is not a number or a range such as 5..20 or >3.` */
export const problemInWords = ({ raw, reason }: Problem): string => `“${raw}” is not understood. ${reason}`;

/** For acts on all matches of a search line. @throws where some of it is not understood: it would mean more than is shown */
export function assertUnderstood(problems: readonly Problem[]): void {
  const [problem] = problems;
  if (problem) throw new RangeError(`Mend the search first: ${problemInWords(problem)}`);
}
