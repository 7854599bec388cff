import { type ListingFileColumn, type ListingFileField, writeDelimited } from '../../core/lists';
import { decimalOf } from '../../core/money';
import { type FileRead, needed, readRows } from './rows';

/** A listing as a shop without a service reads it. */
export interface ListingFileRow {
  readonly sku: string;
  readonly group: string | null;
  readonly title: string;
  readonly description: string;
  readonly brand: string;
  readonly category: string;
  readonly gtin: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly pictures: readonly string[];
  readonly tags: readonly string[];
  readonly price: number;
  readonly quantity: number;
}

/** The columns of a shop that has no format of its own. */
export const LISTING_COLUMNS: readonly ListingFileColumn[] = (
  [
    'sku',
    'group',
    'title',
    'description',
    'brand',
    'gtin',
    'options',
    'pictures',
    'price',
    'currency',
    'quantity',
  ] as const
).map((field) => ({ header: field, holds: { is: 'field', field } }));

const textOf = (row: ListingFileRow, field: ListingFileField, currency: string): string => {
  switch (field) {
    case 'group':
      return row.group ?? '';
    case 'gtin':
      return row.gtin ?? '';
    case 'options':
      return Object.entries(row.options)
        .map(([k, v]) => `${k}: ${v}`)
        .join('; ');
    case 'pictures':
      return row.pictures.join(' ');
    case 'first picture':
      return row.pictures[0] ?? '';
    case 'tags':
      return row.tags.join(', ');
    case 'price':
      return decimalOf(row.price, currency);
    case 'currency':
      return currency;
    case 'quantity':
      return String(row.quantity);
    default:
      return row[field];
  }
};

/**
 * Writes a listing file: comma separated (RFC 4180), UTF-8, a header row. All that the shop should show stands in it, so
 * that reading one twice changes nothing; what it no longer names is not for sale.
 */
export function writeListingFile(
  rows: readonly ListingFileRow[],
  currency: string,
  columns: readonly ListingFileColumn[] = LISTING_COLUMNS,
): string {
  const data = rows.map((row) =>
    columns.map(({ holds }) => (holds.is === 'text' ? holds.text : textOf(row, holds.field, currency))),
  );
  return writeDelimited([columns.map((c) => c.header), ...data]);
}

/** What a site answered to a listing of a file. */
export interface ListingAnswer {
  readonly sku: string;
  /** Why it was refused; null where it was taken. */
  readonly refused: string | null;
}

const TAKEN = /^(ok|accepted|success|live|created|updated|taken|angenommen|erfolgreich)$/i;
const REFUSED = /^(error|failed|rejected|refused|invalid|declined|abgelehnt|fehler)$/i;

/** Reads a site's answer to a listing file: sku, status, and where it was refused the reason. */
export const readAnswerFile = (text: string): FileRead<ListingAnswer> =>
  readRows(text, ['sku', 'status'], (cell) => {
    const sku = needed(cell, 'sku');
    const status = needed(cell, 'status');
    if (TAKEN.test(status)) return { sku, refused: null };
    if (!REFUSED.test(status)) throw new RangeError(`status: “${status}” is neither accepted nor refused`);
    return { sku, refused: cell('reason') || cell('message') || 'It was refused without a reason.' };
  });
