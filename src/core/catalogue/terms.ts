import { KINDS } from '../fields';
import { type Condition, type FieldCondition, leafProblem, readCondition } from '../query';

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

export const LIST_OF = { brand: 'brand', category: 'category', from: 'shipsFrom' } as const;

/** What a search line over catalogues may ask for. */
export const ITEM_FIELDS = KINDS.item;

/** A search line over catalogues, as it is kept; what is not understood of it finds nothing. */
export const readItems = (line: string): Condition => readCondition(line, ITEM_FIELDS);

/** Whether the last of what is typed is a word that the name of a field begins with: it may become one with the next keys. */
export const mayBecomeField = (one: Condition): boolean =>
  'word' in one && Object.keys(ITEM_FIELDS).some((name) => name.startsWith(one.word.toLowerCase()));

/** The field and the values, one or several, that are all that a part of a search asks for; null where it is something else. */
export function valuesAsked(part: Condition): { readonly field: string; readonly values: string[] } | null {
  const values = 'any' in part ? part.any : [part];
  const [first] = values;
  if (!first || !('field' in first)) return null;
  const { field } = first;
  const asked = values.filter(
    (one): one is FieldCondition =>
      'field' in one && one.field === field && leafProblem(one, ITEM_FIELDS) === null,
  );
  return asked.length === values.length ? { field, values: asked.map((one) => one.is) } : null;
}

export const isFacet = (field: string): field is FacetName => (FACETS as readonly string[]).includes(field);
