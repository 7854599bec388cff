/**
 * One thing a supplier sells, as known after the door. Amounts in minor units of the supplier's currency,
 * without reclaimable tax.
 */
export interface Item {
  readonly sku: string;
  /** Items that are variants of one product share it; null for a single item. */
  readonly group: string | null;
  readonly title: string;
  readonly brand: string;
  readonly category: string;
  readonly options: Readonly<Record<string, string>>;
  /** A barcode of 8 to 14 digits as the supplier wrote it, checked or not; null where there is none. */
  readonly gtin: string | null;
  readonly cost: number;
  readonly map: number | null;
  readonly msrp: number | null;
  /** {@link STOCK_STAYS} of an item that was read where its stock could not be. */
  readonly stock: number;
  /** Null where the weight is not known. */
  readonly grams: number | null;
  /** Where it is sent from, in the supplier's words; '' where not told. */
  readonly shipsFrom: string;
  /** Working days until it is sent; null where not told. */
  readonly days: number | null;
  /** How many pictures there are; the addresses are in {@link ItemDetail}. */
  readonly pictures: number;
}

/** Stands for a stock that could not be read: what was known of it stays, and of a new item there is none. */
export const STOCK_STAYS = -1;

/** What is shown of an item only when it is looked at or picked. */
export interface ItemDetail {
  readonly sku: string;
  /** The supplier's HTML: cleaned where it is read, see `cleanHtml`. */
  readonly description: string;
  readonly pictures: readonly string[];
}

/** `Size L, Colour Red`; empty for an item without options. */
export function optionsInWords(options: Readonly<Record<string, string>>): string {
  return Object.entries(options)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ');
}
