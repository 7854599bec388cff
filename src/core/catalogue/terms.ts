import { fold } from '../copy';
import { NO_VALUE, parseBounds, type Term } from '../query';
import { wordsOf } from './words';

/** Fields whose choices are counted beside the results. */
export const FACETS = ['category', 'brand', 'supplier', 'from', 'margin'] as const;
export type FacetName = (typeof FACETS)[number];

export const MARGIN_BANDS = ['<0', '0..10', '10..20', '20..30', '30..'] as const;

export interface Problem {
  readonly raw: string;
  readonly reason: string;
}

/** Fields of numbers: the column, and how many units of it the typed number has. */
export const NUMBER_FIELDS = {
  cost: { of: 'cost', scale: 'money' },
  stock: { of: 'stock', scale: 1 },
  weight: { of: 'grams', scale: 1 },
  days: { of: 'days', scale: 1 },
  price: { of: 'price', scale: 'money' },
  profit: { of: 'profit', scale: 'money' },
  margin: { of: 'margin', scale: 10_000 },
} as const;
export type NumberField = keyof typeof NUMBER_FIELDS;

const FLAGS = {
  is: ['new', 'taken', 'stocked'],
  has: ['barcode', 'picture', 'map', 'msrp'],
} as const;
export type Flag = `is:${(typeof FLAGS.is)[number]}` | `has:${(typeof FLAGS.has)[number]}`;

const TEXT_FIELDS = ['brand', 'category', 'supplier', 'from'] as const;
export type TextField = (typeof TEXT_FIELDS)[number];

const NAMES = [...Object.keys(NUMBER_FIELDS), ...Object.keys(FLAGS), ...TEXT_FIELDS, 'sku'];

/** Whether a term is a word that the name of a field begins with: it may become one with the next keys. */
export function mayBecomeField(term: Term): boolean {
  return term.kind === 'word' && NAMES.some((name) => name.startsWith(term.text));
}

export interface WordTerm {
  readonly words: readonly string[];
  readonly text: string;
  readonly not: boolean;
}

/** The terms of a search by what they look at. */
export interface Conditions {
  /** Ranges as they are typed; several of one condition are alternatives. */
  readonly numbers: readonly {
    readonly field: NumberField;
    readonly texts: readonly string[];
    readonly not: boolean;
  }[];
  readonly flags: readonly { readonly name: Flag; readonly not: boolean }[];
  /** What a text contains, folded; several of one condition are alternatives. */
  readonly texts: readonly {
    readonly field: TextField;
    readonly wanted: readonly string[];
    readonly not: boolean;
  }[];
  readonly words: readonly WordTerm[];
  readonly skus: readonly { readonly wanted: string; readonly not: boolean }[];
  readonly problems: readonly Problem[];
}

const isNumber = (field: string): field is NumberField => Object.hasOwn(NUMBER_FIELDS, field);
const isFlagField = (field: string): field is keyof typeof FLAGS => Object.hasOwn(FLAGS, field);
const isText = (field: string): field is TextField => (TEXT_FIELDS as readonly string[]).includes(field);

/**
 * Sorts terms by what they look at. Choices of one field that is counted are alternatives, all other terms
 * hold together; what cannot be used is told.
 */
export function conditionsOf(terms: readonly Term[]): Conditions {
  const problems: Problem[] = [];
  const numbers: { field: NumberField; texts: string[]; not: boolean }[] = [];
  const flags: { name: Flag; not: boolean }[] = [];
  const texts: { field: TextField; wanted: string[]; not: boolean }[] = [];
  const words: WordTerm[] = [];
  const skus: Conditions['skus'][number][] = [];
  for (const term of terms) {
    if (term.kind === 'word') {
      words.push({ words: wordsOf(term.text), text: term.text, not: term.not });
      continue;
    }
    const { field, value, not, raw } = term;
    if (!value && NAMES.includes(field)) problems.push({ raw, reason: NO_VALUE });
    else if (isNumber(field)) {
      const same = field === 'margin' && !not ? numbers.find((n) => n.field === field && !n.not) : undefined;
      if (!parseBounds(value, 1))
        problems.push({ raw, reason: `“${value}” is not a number or a range such as 5..20 or >3.` });
      else if (same) same.texts.push(value);
      else numbers.push({ field, texts: [value], not });
    } else if (isFlagField(field)) {
      if ((FLAGS[field] as readonly string[]).includes(value))
        flags.push({ name: `${field}:${value}` as Flag, not });
      else problems.push({ raw, reason: `${field} takes ${FLAGS[field].join(', ')}.` });
    } else if (field === 'sku') skus.push({ wanted: fold(value), not });
    else if (isText(field)) {
      const same = not ? undefined : texts.find((t) => t.field === field && !t.not);
      if (same) same.wanted.push(fold(value));
      else texts.push({ field, wanted: [fold(value)], not });
    } else
      problems.push({ raw, reason: `There is no field “${field}” here. There are: ${NAMES.join(', ')}.` });
  }
  return { numbers, flags, texts, words, skus, problems };
}
