import { fieldKey, parseTemplate } from '../copy';
import type { FeedField } from './fields';

/** How a feed is written. */
export const FEED_FORMATS = ['csv', 'tsv', 'rss', 'xml', 'json', 'jsonl', 'json-ld', 'template'] as const;
export type FeedFormat = (typeof FEED_FORMATS)[number];

/** How values are written into a template of one's own. */
export const ESCAPES = ['none', 'xml', 'csv', 'json'] as const;
export type Escape = (typeof ESCAPES)[number];

/** What a column's values must be. */
export const COLUMN_KINDS = [
  'text',
  'number',
  'whole number',
  'price',
  'address',
  'barcode',
  'date',
] as const;
export type ColumnKind = (typeof COLUMN_KINDS)[number];

/** One column of a feed: under which name, of what, and what holds for it. */
export interface FeedColumn {
  readonly name: string;
  readonly from:
    | { readonly field: FeedField | string }
    | { readonly value: string }
    /** Mustache over the same fields. */
    | { readonly template: string };
  readonly kind: ColumnKind;
  /** A product without it is left out. */
  readonly required: boolean;
  /** Characters at least and at most; null for no limit. A text that is longer is cut at a word. */
  readonly shortest: number | null;
  readonly longest: number | null;
  /** The values that are taken; empty for any. */
  readonly allowed: readonly string[];
}

/** A feed as it is written. */
export interface FeedForm {
  readonly format: FeedFormat;
  /** Of CSV. */
  readonly delimiter: ',' | ';' | '|';
  readonly columns: readonly FeedColumn[];
  /** Of a template of one's own: before the products, for each, and behind them. */
  readonly template: { readonly header: string; readonly row: string; readonly footer: string };
  readonly escape: Escape;
  /** A product's variants each by itself, or all as one. */
  readonly variants: 'each' | 'together';
  /** Whether what is not to be had goes in, too. */
  readonly soldOut: boolean;
  /** Mustache for the address of a product's page and of a picture; '' for those that are known. */
  readonly page: string;
  readonly picture: string;
  /** The target's category for each of ours: by word, as `fieldKey` writes it. */
  readonly categories: Readonly<Record<string, string>>;
}

/** What marks the buyers who came by a feed: a parameter in the address of a page, and its value. */
export interface FeedMark {
  readonly parameter: string;
  readonly value: string;
}

export const FEED_LIMITS = { columns: 60, name: 80, categories: 2_000 } as const;

const column = (
  name: string,
  field: FeedField,
  kind: ColumnKind = 'text',
  more: Partial<FeedColumn> = {},
): FeedColumn => ({
  ...{ name, from: { field }, kind, required: false, shortest: null, longest: null, allowed: [] },
  ...more,
});

const NEEDED = { required: true } as const;

/** The common columns of a product, by format. */
export function usualColumns(format: FeedFormat): readonly FeedColumn[] {
  switch (format) {
    case 'rss':
      // RSS 2.0 has no words for goods: those are schema.org's, under their own namespace.
      return [
        column('title', 'title', 'text', { ...NEEDED, longest: 150 }),
        column('link', 'page', 'address', NEEDED),
        column('description', 'description', 'text', { ...NEEDED, longest: 5_000 }),
        column('guid', 'id', 'text', NEEDED),
        column('category', 'category'),
        column('enclosure', 'picture', 'address'),
        column('s:sku', 'sku'),
        column('s:gtin', 'barcode', 'barcode'),
        column('s:brand', 'brand'),
        column('s:price', 'price', 'price', NEEDED),
        column('s:priceCurrency', 'currency', 'text', NEEDED),
        column('s:availability', 'availability address', 'address', NEEDED),
        column('s:itemCondition', 'condition address', 'address'),
      ];
    case 'json-ld':
      return [
        column('name', 'title', 'text', { ...NEEDED, longest: 150 }),
        column('sku', 'sku', 'text', NEEDED),
        column('gtin', 'barcode', 'barcode'),
        column('brand.name', 'brand'),
        column('description', 'description', 'text', { longest: 5_000 }),
        column('category', 'category'),
        column('image', 'picture', 'address'),
        column('url', 'page', 'address', NEEDED),
        column('offers.price', 'price', 'price', NEEDED),
        column('offers.priceCurrency', 'currency', 'text', NEEDED),
        column('offers.availability', 'availability address', 'address', NEEDED),
        column('offers.itemCondition', 'condition address', 'address'),
        column('offers.url', 'page', 'address'),
      ];
    default:
      return [
        column('id', 'id', 'text', NEEDED),
        column('title', 'title', 'text', { ...NEEDED, longest: 150 }),
        column('description', 'description', 'text', { longest: 5_000 }),
        column('link', 'page', 'address', NEEDED),
        column('picture', 'picture', 'address'),
        column('price', 'price', 'price', NEEDED),
        column('currency', 'currency', 'text', NEEDED),
        column('availability', 'availability', 'text', NEEDED),
        column('brand', 'brand'),
        column('gtin', 'barcode', 'barcode'),
        column('category', 'category'),
        column('shipping', 'shipping', 'price'),
        column('product', 'product'),
      ];
  }
}

/** A feed to begin with. */
export const startingForm = (format: FeedFormat = 'csv'): FeedForm => ({
  ...{ format, delimiter: ',', columns: usualColumns(format) },
  template: { header: '', row: '{{sku}} {{title}} {{price}} {{currency}}\n', footer: '' },
  ...{ escape: 'none', variants: 'each', soldOut: true, page: '', picture: '', categories: {} },
});

/** An element's name in XML 1.0, with at most one prefix: plain letters, as any reader takes. */
const XML_NAME = /^[A-Za-z_][\w.-]*(:[A-Za-z_][\w.-]*)?$/;

/** Elements that every item of RSS 2.0 may have without a namespace. */
const OF_RSS = new Set([
  ...['title', 'link', 'description', 'author', 'category', 'comments'],
  ...['enclosure', 'guid', 'pubDate', 'source'],
]);

/** A line and column of a text, both from 1, by the number of characters before. */
export function placeIn(text: string, at: number): { readonly line: number; readonly column: number } {
  const before = text.slice(0, at).split('\n');
  return { line: before.length, column: before.at(-1)!.length + 1 };
}

/** Where a template of one's own cannot be read. @param name what it is called: `The row` */
export function templateProblem(name: string, text: string): string | null {
  const read = parseTemplate(text);
  if (read.ok) return null;
  const { line, column: place } = placeIn(text, read.problem.at);
  return `${name}, line ${line}, column ${place}: ${read.problem.reason}`;
}

/** The parts of a template of one's own, with what each is called. */
export const TEMPLATE_PARTS = [
  ['header', 'The header'],
  ['row', 'The row'],
  ['footer', 'The footer'],
] as const;

/** The fields that a feed asks for, as `fieldKey` writes them: those of its columns, its templates and its addresses. */
export function fieldsAsked(form: FeedForm): Set<string> {
  const asked = new Set<string>();
  const template = (text: string) => {
    const read = parseTemplate(text);
    if (read.ok) for (const field of read.template.fields) asked.add(field);
  };
  for (const { from } of form.format === 'template' ? [] : form.columns) {
    if ('field' in from) asked.add(fieldKey(from.field));
    else if ('template' in from) template(from.template);
  }
  if (form.format === 'template') for (const [part] of TEMPLATE_PARTS) template(form.template[part]);
  for (const address of [form.page, form.picture]) template(address);
  return asked;
}

/** Why a feed cannot be made as it is set; empty where it can. */
export function formProblems(form: FeedForm): string[] {
  const wrong: string[] = [];
  const say = (problem: string | null) => problem !== null && wrong.push(problem);
  say(templateProblem('The address of pages', form.page));
  say(templateProblem('The address of pictures', form.picture));
  if (form.format === 'template') {
    for (const [part, name] of TEMPLATE_PARTS) say(templateProblem(name, form.template[part]));
    if (!form.template.row.trim()) say('The row is empty: nothing would stand for a product.');
    return wrong;
  }
  if (!form.columns.length) say('A feed has at least one column.');
  if (form.columns.length > FEED_LIMITS.columns) say(`A feed has at most ${FEED_LIMITS.columns} columns.`);
  const seen = new Set<string>();
  for (const { name, from, shortest, longest } of form.columns) {
    if (!name.trim()) say('A column has a name.');
    else if (seen.has(name)) say(`There are two columns “${name}”.`);
    seen.add(name);
    if ('template' in from) say(templateProblem(`Column “${name}”`, from.template));
    if (shortest !== null && longest !== null && shortest > longest)
      say(`Column “${name}”: at least ${shortest} characters is more than at most ${longest}.`);
    if (form.format === 'xml' || form.format === 'rss')
      if (name.trim() && !XML_NAME.test(name)) say(`“${name}” is no name of an XML element.`);
    if (form.format === 'rss' && XML_NAME.test(name) && !name.includes(':') && !OF_RSS.has(name))
      say(`RSS 2.0 has no element “${name}”: write s:${name} for one of schema.org.`);
    if (XML_NAME.test(name) && name.includes(':') && (form.format === 'xml' || !name.startsWith('s:')))
      say(
        `“${name}”: ${form.format === 'xml' ? 'plain XML has no prefixes.' : 'the one prefix is s: for schema.org.'}`,
      );
  }
  // RSS 2.0: every item has at least a title or a description.
  if (form.format === 'rss' && !seen.has('title') && !seen.has('description'))
    say('An item of RSS has a title or a description.');
  return wrong;
}

/** The end of a feed's address and what it is sent as, by format. */
export const FILE_OF: Readonly<Record<FeedFormat, { readonly ending: string; readonly type: string }>> = {
  csv: { ending: 'csv', type: 'text/csv; charset=utf-8' },
  tsv: { ending: 'tsv', type: 'text/tab-separated-values; charset=utf-8' },
  rss: { ending: 'xml', type: 'application/rss+xml; charset=utf-8' },
  xml: { ending: 'xml', type: 'application/xml; charset=utf-8' },
  json: { ending: 'json', type: 'application/json; charset=utf-8' },
  jsonl: { ending: 'jsonl', type: 'application/x-ndjson; charset=utf-8' },
  'json-ld': { ending: 'jsonld', type: 'application/ld+json; charset=utf-8' },
  template: { ending: 'txt', type: 'text/plain; charset=utf-8' },
};
