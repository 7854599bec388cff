import type { ColumnKind, Escape, FeedFormat } from '../../core/feeds';

export const FORMATS: Readonly<Record<FeedFormat, string>> = {
  csv: 'CSV',
  tsv: 'TSV',
  rss: 'RSS 2.0',
  xml: 'XML',
  json: 'JSON',
  jsonl: 'JSON Lines',
  'json-ld': 'schema.org, JSON-LD',
  template: 'Own template',
};

export const ESCAPE_WORDS: Readonly<Record<Escape, string>> = {
  none: 'as they are',
  xml: 'for XML and HTML',
  csv: 'for CSV',
  json: 'for JSON',
};

export const KIND_WORDS: Readonly<Record<ColumnKind, string>> = {
  text: 'text',
  number: 'number',
  'whole number': 'whole number',
  price: 'price',
  address: 'address',
  barcode: 'GTIN',
  date: 'date',
};

/** `812 B`, `4.2 kB`, `1.3 MB` */
export const bytesInWords = (bytes: number): string =>
  bytes < 1_000
    ? `${bytes} B`
    : bytes < 1_000_000
      ? `${(bytes / 1_000).toFixed(1)} kB`
      : `${(bytes / 1_000_000).toFixed(1)} MB`;
