import type { Ppm } from '../money';

/** What a column of a list can be. */
export const FIELDS = [
  'sku',
  'gtin',
  'title',
  'brand',
  'category',
  'cost',
  'stock',
  'weight',
  'description',
  'picture',
  'msrp',
  'map',
  'parent',
  'option',
  'pack',
  'shipsFrom',
  'days',
  'price',
  'state',
  'link',
] as const;
export type FieldName = (typeof FIELDS)[number];

/** Fields that more than one column can be. */
export const MANY: readonly FieldName[] = ['option', 'picture', 'category'];

/**
 * What a list tells: everything of items, their stock and perhaps cost alone, or what a shop sells already.
 */
export type ListKind = 'catalogue' | 'stock' | 'listings';

/** How a file is opened. */
export type Format =
  | {
      readonly kind: 'csv';
      readonly delimiter: string;
      readonly encoding: Encoding;
      readonly headerRow: number | null;
    }
  | { readonly kind: 'xlsx'; readonly sheet: number; readonly headerRow: number | null }
  /** `path` leads to the repeating element: names from the root on. */
  | { readonly kind: 'json'; readonly path: string }
  | { readonly kind: 'xml'; readonly path: string };

export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];

export const WEIGHT_UNITS = ['g', 'kg', 'oz', 'lb'] as const;
export type WeightUnit = (typeof WEIGHT_UNITS)[number];

/**
 * How variants of one product are told: they share a parent's SKU, a title, or the first part of their SKU.
 */
export const VARIANTS = ['none', 'parent', 'title', 'pattern'] as const;
export type Variants = (typeof VARIANTS)[number];

/**
 * How a list is read: what each column is, and the conventions of its figures. Made by guess, corrected by
 * the seller, remembered.
 */
export interface Match {
  readonly kind: ListKind;
  readonly format: Format;
  readonly header: readonly string[];
  /** One for each column; null for a column that is not used. */
  readonly fields: readonly (FieldName | null)[];
  readonly decimal: '.' | ',';
  readonly currency: string;
  /** Tax contained in the cost, in millionths of the net amount; 0 where costs are net. */
  readonly taxInside: Ppm;
  /** Pieces for which the cost is meant, where no column tells it. */
  readonly pack: number;
  readonly weightUnit: WeightUnit;
  readonly variants: Variants;
  /** Units that “in stock” without a number stands for. */
  readonly someStock: number;
  /** Whether an item that the list does not name is no longer offered. */
  readonly whole: boolean;
}

/**
 * Column that a file of refused rows carries last: what was wrong. Such a file is a part of a list, never the
 * whole.
 */
export const REASON_COLUMN = 'What to fix';

/**
 * The columns a list has, whatever their order of rows: a file with the same signature is read by the same
 * match.
 */
export const signatureOf = (kind: Format['kind'], header: readonly string[]): string =>
  `${kind}:${header
    .filter((h) => h !== REASON_COLUMN)
    .map((h) => h.trim().toLowerCase())
    .join('|')}`;

/** The problems of a match that prevent reading a list; empty for none. */
export function matchProblems(m: Match): string[] {
  const has = (f: FieldName) => m.fields.includes(f);
  const problems: string[] = [];
  for (const field of FIELDS) {
    if (!MANY.includes(field) && m.fields.filter((f) => f === field).length > 1)
      problems.push(`Two columns are “${FIELD_WORDS[field]}”: keep one.`);
  }
  if (m.kind === 'stock') {
    if (!has('sku') && !has('gtin')) problems.push('Say which column is the SKU or the barcode.');
    if (!has('stock') && !has('cost')) problems.push('Say which column is the stock.');
  } else {
    if (!has('sku')) problems.push('Say which column is the SKU.');
    if (!has('title')) problems.push('Say which column is the title.');
    if (m.kind === 'catalogue' && !has('cost')) problems.push('Say which column is the cost.');
    if (m.kind === 'listings' && !has('price')) problems.push('Say which column is the price.');
  }
  if (m.variants === 'parent' && !has('parent'))
    problems.push('Variants are told by a parent SKU: say which column it is.');
  return problems;
}

/** Names of fields as the seller reads them. */
export const FIELD_WORDS: Readonly<Record<FieldName, string>> = {
  sku: 'SKU',
  gtin: 'Barcode',
  title: 'Title',
  brand: 'Brand',
  category: 'Category',
  cost: 'Cost',
  stock: 'Stock',
  weight: 'Weight',
  description: 'Description',
  picture: 'Picture',
  msrp: 'MSRP',
  map: 'MAP',
  parent: 'Parent SKU',
  option: 'Option of a variant',
  pack: 'Pieces in a pack',
  shipsFrom: 'Ships from',
  days: 'Dispatch days',
  price: 'Selling price',
  state: 'State',
  link: 'Link',
};
