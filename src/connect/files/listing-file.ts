import Papa from 'papaparse';
import { decimalOf } from '../../core/money';

/** A listing as a shop without a service reads it. */
export interface ListingFileRow {
  readonly sku: string;
  readonly group: string | null;
  readonly title: string;
  readonly description: string;
  readonly brand: string;
  readonly gtin: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly pictures: readonly string[];
  readonly price: number;
  readonly quantity: number;
}

export const LISTING_COLUMNS = [
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
] as const;

/**
 * Writes a listing file: comma separated (RFC 4180), UTF-8, a header row. All that the shop should show stands in it, so
 * that reading one twice changes nothing; what it no longer names is not for sale.
 */
export function writeListingFile(rows: readonly ListingFileRow[], currency: string): string {
  const data = rows.map((r) => [
    r.sku,
    r.group ?? '',
    r.title,
    r.description,
    r.brand,
    r.gtin ?? '',
    Object.entries(r.options)
      .map(([k, v]) => `${k}: ${v}`)
      .join('; '),
    r.pictures.join(' '),
    decimalOf(r.price, currency),
    currency,
    String(r.quantity),
  ]);
  return `${Papa.unparse({ fields: [...LISTING_COLUMNS], data }, { escapeFormulae: true })}\r\n`;
}
