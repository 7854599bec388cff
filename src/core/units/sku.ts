/** A field of a SKU pattern: `{sku}`, or `{colour:3}` for the first three characters. */
const FIELD = /\{([^{}:]{1,40})(?::(\d{1,2}))?\}/g;

/** A value as part of a SKU: letters, digits and points, other characters as hyphens; capitals. */
const partOf = (value: string): string =>
  value
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9.]+/g, '-')
    .replace(/^-|-$/g, '')
    .toUpperCase();

/**
 * Our SKU for a supplier's item by a pattern of the seller's. A field without a value leaves nothing, and no hyphen twice.
 * @param fields by name in lower case: `sku` the supplier's, `number` what follows its first hyphen, `brand`, `category`,
 *   and the options, such as `colour`
 * @example skuBy('DD-{number}', { number: '010001' }) → DD-010001; skuBy('{brand:3}-{number}-{colour:2}', …) → FEL-010001-RE
 */
export function skuBy(pattern: string, fields: Readonly<Record<string, string>>): string {
  const made = pattern.replace(FIELD, (_, name: string, length: string | undefined) => {
    const key = name.trim().toLowerCase();
    const value = Object.hasOwn(fields, key) ? fields[key]! : '';
    // The supplier's own number stays as it is written.
    const part = key === 'sku' || key === 'number' ? value : partOf(value);
    return length ? part.slice(0, Number(length)) : part;
  });
  return made.replace(/-{2,}/g, '-').replace(/^-|-$/g, '').slice(0, 60);
}
