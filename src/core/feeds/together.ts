import type { FeedRecord } from './fields';

/** Fields that are told of all variants of a product, each value once. */
const LISTED = new Set(['options', 'tags']);

/** Fields that differ between variants and of which none stands for all. */
const OF_ONE = new Set(['barcode', 'sku', 'weight']);

const listed = (values: readonly string[], mark: string): string =>
  [...new Set(values.filter(Boolean))].join(mark);

/**
 * A product's variants as one: told as its cheapest variant that is to be had, with all options, in stock where one is, the
 * units of all together. What tells variants apart and is not the same in all of them is left empty.
 * @param records one or more, all of the same product
 * @param optionNames fields of which variants have their own
 */
export function together(records: readonly FeedRecord[], optionNames: readonly string[]): FeedRecord {
  const [only] = records;
  if (!only) throw new RangeError('A product has a variant.');
  const had = records.filter((r) => r.availability === 'in stock');
  // Prices of one marketplace, in one currency, with the same digits: the shorter or smaller text is the lower price.
  const price = (r: FeedRecord) => (r.price ? Number(r.price) : Number.POSITIVE_INFINITY);
  const lead = (had.length ? had : records).reduce((a, b) => (price(b) < price(a) ? b : a));
  const one: Record<string, string> = { ...lead, id: lead.product ?? lead.id ?? '' };
  for (const field of LISTED)
    one[field] = listed(
      records.map((r) => r[field] ?? ''),
      field === 'options' ? '; ' : ',',
    );
  for (const field of optionNames)
    one[field] = listed(
      records.map((r) => r[field] ?? ''),
      ', ',
    );
  for (const field of OF_ONE) if (new Set(records.map((r) => r[field])).size > 1) one[field] = '';
  one.quantity = String(records.reduce((n, r) => n + Number(r.quantity ?? 0), 0));
  return one;
}
