/** One thing a supplier sells, as known after the door. Amounts in minor units of the supplier's currency. */
export interface Item {
  readonly sku: string;
  /** Items that are variants of one product share it; null for a single item. */
  readonly group: string | null;
  readonly title: string;
  readonly brand: string;
  readonly category: string;
  readonly options: Readonly<Record<string, string>>;
  readonly gtin: string | null;
  readonly cost: number;
  readonly map: number | null;
  readonly msrp: number | null;
  readonly stock: number;
  readonly grams: number;
}

/** What is shown of an item only when it is looked at or picked. */
export interface ItemDetail {
  readonly sku: string;
  /** Cleaned HTML. */
  readonly description: string;
  readonly pictures: readonly string[];
}

/** `Size L, Colour Red`; empty for an item without options. */
export function optionsInWords(options: Readonly<Record<string, string>>): string {
  return Object.entries(options)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ');
}
