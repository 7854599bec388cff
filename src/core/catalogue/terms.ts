import { conditionsOf, type FieldKinds, notUnderstood, type Problem, parseQuery, type Term } from '../query';
import { wordsOf } from './words';

/** Fields whose choices are counted beside the results. */
export const FACETS = ['category', 'brand', 'supplier', 'from', 'margin'] as const;
export type FacetName = (typeof FACETS)[number];

export const MARGIN_BANDS = ['<0', '0..10', '10..20', '20..30', '30..'] as const;

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
  is: ['new', 'taken', 'variant', 'stocked'],
  has: ['barcode', 'picture', 'map', 'msrp'],
} as const;
export type Flag = `is:${(typeof FLAGS.is)[number]}` | `has:${(typeof FLAGS.has)[number]}`;

const TEXT_FIELDS = ['brand', 'category', 'supplier', 'from'] as const;
export type TextField = (typeof TEXT_FIELDS)[number];

/** Whether a term is a word that the name of a field begins with: it may become one with the next keys. */
export function mayBecomeField(term: Term): boolean {
  return term.kind === 'word' && Object.keys(FIELDS).some((name) => name.startsWith(term.text));
}

export interface WordTerm {
  readonly words: readonly string[];
  readonly text: string;
  readonly not: boolean;
}

/** What a search line of catalogues may ask for. */
const FIELDS: FieldKinds = {
  cost: { kind: 'number' },
  stock: { kind: 'number' },
  weight: { kind: 'number' },
  days: { kind: 'number' },
  price: { kind: 'number' },
  profit: { kind: 'number' },
  margin: { kind: 'number', alternatives: true },
  is: { kind: 'flags', flags: FLAGS.is },
  has: { kind: 'flags', flags: FLAGS.has },
  ...Object.fromEntries(TEXT_FIELDS.map((field) => [field, { kind: 'text' }])),
  sku: { kind: 'text', exact: true },
};

/** The terms of a search by what they look at. */
export interface CatalogueConditions {
  /** Ranges as they are typed; several of one condition are alternatives. */
  readonly numbers: readonly {
    readonly field: NumberField;
    readonly ranges: readonly string[];
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

/** Terms by what they look at in a catalogue. SKUs are looked through last, among the rows that all else leaves. */
export function catalogueConditions(terms: readonly Term[]): CatalogueConditions {
  const { words, numbers, texts, flags, problems } = conditionsOf(terms, FIELDS);
  return {
    numbers: numbers as CatalogueConditions['numbers'],
    flags: flags.map(({ field, flag, not }) => ({ name: `${field}:${flag}` as Flag, not })),
    texts: texts.filter((t) => t.field !== 'sku') as unknown as CatalogueConditions['texts'],
    words: words.map(({ text, not }) => ({ words: wordsOf(text), text, not })),
    skus: texts.flatMap((t) => (t.field === 'sku' ? { wanted: t.wanted[0]!, not: t.not } : [])),
    problems,
  };
}

/** What of a search line over catalogues is not understood: one that is kept or acted by must be understood whole. */
export const catalogueProblems = (line: string): readonly Problem[] =>
  notUnderstood(parseQuery(line), FIELDS);
