import Papa from 'papaparse';
import { escapeText, fillTemplate, parseTemplate } from '../copy';
import type { FeedRecord } from './fields';
import type { Escape, FeedForm } from './form';
import { readable, valueIn } from './row';

/** What stands at the head of a feed. */
export interface FeedHead {
  readonly name: string;
  /** Where it is about: the marketplace’s or the shop’s name. */
  readonly of: string;
  /** ISO 8601. */
  readonly made: string;
  /** The address of the shop, for formats that have one; '' for none. */
  readonly link: string;
  readonly currency: string;
  /** How many products are in it. */
  readonly rows: number;
}

/** A product that goes out: its values by column, and for templates of one's own all that is known of it. */
export interface Outgoing {
  readonly values: readonly string[];
  readonly record: FeedRecord;
}

/** Rows that are handed over in one piece. */
const PIECE = 500;

/** A quotation mark must be escaped in attributes, too. */
const xml = (text: string): string => escapeText(text).replaceAll('"', '&quot;');

/**
 * Writes a feed piece by piece: RFC 4180 for CSV, RSS 2.0 with schema.org's words for goods, JSON by RFC 8259, one object a
 * line for JSON Lines, JSON-LD by schema.org.
 */
export function* writeFeed(form: FeedForm, head: FeedHead, rows: Iterable<Outgoing>): Generator<string> {
  const { start, row, between, end } = writerOf(form, head);
  let piece = start;
  let n = 0;
  for (const one of rows) {
    piece += (n ? between : '') + row(one);
    if (++n % PIECE === 0) {
      yield piece;
      piece = '';
    }
  }
  yield piece + end;
}

interface Writer {
  readonly start: string;
  readonly between: string;
  readonly end: string;
  readonly row: (row: Outgoing) => string;
}

function writerOf(form: FeedForm, head: FeedHead): Writer {
  const names = form.columns.map((c) => c.name);
  switch (form.format) {
    case 'csv':
    case 'tsv':
      return separated(names, form.format === 'tsv' ? '\t' : form.delimiter);
    case 'xml':
      return {
        start: `<?xml version="1.0" encoding="UTF-8"?>\n<products made="${xml(head.made)}">\n`,
        between: '',
        end: '</products>\n',
        row: ({ values }) =>
          `<product>${elements(names, values, (name, value) => `<${name}>${xml(value)}</${name}>`)}</product>\n`,
      };
    case 'rss':
      return rss(names, head);
    case 'json':
      return {
        start: '[\n',
        between: ',\n',
        end: '\n]\n',
        row: ({ values }) => JSON.stringify(objectOf(names, values)),
      };
    case 'jsonl':
      return {
        ...{ start: '', between: '', end: '' },
        row: ({ values }) => `${JSON.stringify(objectOf(names, values))}\n`,
      };
    case 'json-ld':
      return {
        start: `{"@context":"https://schema.org","@type":"ItemList","name":${JSON.stringify(head.name)},"numberOfItems":${head.rows},"itemListElement":[\n`,
        between: ',\n',
        end: '\n]}\n',
        row: ({ values }) => JSON.stringify(productOf(names, values)),
      };
    case 'template':
      return ownTemplate(form, head);
  }
}

function separated(names: readonly string[], delimiter: string): Writer {
  // A tab or the end of a line cannot be quoted in TSV as most readers take it.
  const flat = (cells: readonly string[]) =>
    delimiter === '\t' ? cells.map((cell) => cell.replace(/[\t\r\n]+/g, ' ')) : [...cells];
  const line = (cells: readonly string[]) =>
    delimiter === '\t'
      ? `${flat(cells).join('\t')}\r\n`
      : `${Papa.unparse([flat(cells)], { delimiter, newline: '\r\n' })}\r\n`;
  return { start: line(names), between: '', end: '', row: ({ values }) => line(values) };
}

const elements = (
  names: readonly string[],
  values: readonly string[],
  write: (name: string, value: string) => string,
): string => names.map((name, k) => (values[k] ? write(name, values[k]) : '')).join('');

function rss(names: readonly string[], head: FeedHead): Writer {
  const element = (name: string, value: string): string => {
    // Its length is not known before it is fetched: 0, as RSS wants it named all the same.
    if (name === 'enclosure')
      return `<enclosure url="${xml(value)}" length="0" type="${pictureType(value)}"/>`;
    const attribute = name === 'guid' ? ' isPermaLink="false"' : '';
    return `<${name}${attribute}>${xml(value)}</${name}>`;
  };
  const made = new Date(head.made).toUTCString();
  return {
    start: `<?xml version="1.0" encoding="UTF-8"?>\n<rss version="2.0" xmlns:s="https://schema.org/">\n<channel>\n<title>${xml(head.name)}</title>\n<link>${xml(head.link)}</link>\n<description>${xml(`${head.name}, ${head.of}`)}</description>\n<lastBuildDate>${made}</lastBuildDate>\n`,
    between: '',
    end: '</channel>\n</rss>\n',
    row: ({ values }) => `<item>${elements(names, values, element)}</item>\n`,
  };
}

/** The type of a picture by the end of its address. */
function pictureType(address: string): string {
  const [, ending = 'jpeg'] = /\.(png|webp|gif|svg)(?:[?#]|$)/i.exec(address) ?? [];
  return ending.toLowerCase() === 'svg' ? 'image/svg+xml' : `image/${ending.toLowerCase()}`;
}

/** Values by name; what is empty is left out. */
function objectOf(names: readonly string[], values: readonly string[]): Record<string, string> {
  // A name such as __proto__ is one like any other.
  const own = Object.create(null) as Record<string, string>;
  for (const [k, name] of names.entries()) if (values[k]) own[name] = values[k];
  return own;
}

/** What schema.org calls the things that stand in a product. */
const TYPES: Readonly<Record<string, string>> = { brand: 'Brand', offers: 'Offer' };

type Nested = { [name: string]: string | Nested };

/** A product by schema.org: a point in a column's name leads into what stands in it. */
function productOf(names: readonly string[], values: readonly string[]): Nested {
  const product: Nested = { '@type': 'Product' };
  for (const [k, name] of names.entries()) {
    const value = values[k];
    if (!value) continue;
    const [outer = name, inner] = name.split('.', 2);
    if (inner === undefined) product[outer] = value;
    else {
      const known = Object.hasOwn(product, outer) ? product[outer] : undefined;
      const into: Nested =
        typeof known === 'object' ? known : { ...(TYPES[outer] && { '@type': TYPES[outer] }) };
      into[inner] = value;
      product[outer] = into;
    }
  }
  return product;
}

/** How a value is written into a template of one's own. */
export const ESCAPED: Readonly<Record<Escape, (value: string) => string>> = {
  none: (value) => value,
  xml,
  csv: (value) => (/[",;|\t\r\n]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value),
  json: (value) => JSON.stringify(value).slice(1, -1),
};

function ownTemplate({ template, escape: how }: FeedForm, head: FeedHead): Writer {
  const ofHead: FeedRecord = {
    ...{ feed: head.name, marketplace: head.of, made: head.made, currency: head.currency },
    rows: String(head.rows),
  };
  const fill = (text: string) => {
    const read = parseTemplate(text);
    return (record: FeedRecord) =>
      read.ok
        ? fillTemplate(read.template, (field) => readable(valueIn(record, field)), ESCAPED[how]).text
        : '';
  };
  const row = fill(template.row);
  return {
    start: fill(template.header)(ofHead),
    between: '',
    end: fill(template.footer)(ofHead),
    row: ({ record }) => row(record),
  };
}

/** What header and footer of a template of one's own may name. */
export const HEAD_FIELDS: Readonly<Record<string, string>> = {
  feed: 'its name',
  marketplace: 'whose listings it tells of',
  made: 'when it was made, ISO 8601',
  currency: 'ISO 4217',
  rows: 'how many products are in it',
};
