import { writeDelimited } from '../../core/lists';
import type { Address } from '../../core/orders';

/** One line of a purchase, as a supplier reads it in an order file. */
export interface OrderFileRow {
  readonly reference: string;
  /** The order's line: by it a supplier can say which of several lines of one SKU it means. */
  readonly line: string;
  readonly sku: string;
  readonly quantity: number;
  readonly personalisation: string | null;
  readonly address: Address;
  readonly shop: string;
  readonly slip: string;
  /** '' where it is no present. */
  readonly gift: string;
  /** Names of its print files, which lie beside the order file; none for goods that are bought as they are. */
  readonly files: readonly string[];
}

/** The columns of an order file, in order; `docs/wire-contract.md` says what each means. */
export const ORDER_COLUMNS = [
  'reference',
  'line',
  'sku',
  'quantity',
  'personalisation',
  'name',
  'address line 1',
  'address line 2',
  'town',
  'postcode',
  'country',
  'shop',
  'packing slip',
  'gift message',
  'print files',
] as const;

/**
 * Writes an order file: comma separated (RFC 4180), UTF-8, a header row, one row for each line; rows of one purchase share
 * its reference. Cells that a spreadsheet would take for a formula are neutralised.
 */
export function writeOrderFile(rows: readonly OrderFileRow[]): string {
  const cells = rows.map(({ address: a, ...r }) => [
    r.reference,
    r.line,
    r.sku,
    String(r.quantity),
    r.personalisation ?? '',
    a.name,
    a.line1,
    a.line2,
    a.town,
    a.postcode,
    a.country,
    r.shop,
    r.slip,
    r.gift,
    r.files.join(' | '),
  ]);
  return writeDelimited([[...ORDER_COLUMNS], ...cells]);
}
