import { formatMinor, type Parsed, parseMinor } from '../money';

/** A supplier's shipping by weight: the first band that holds the weight gives the charge. */
export interface ShippingBand {
  readonly upToGrams: number;
  readonly minor: number;
}

/**
 * Shipping for a weight, or null where the supplier has no band that holds it. A weight that is not known (null) has
 * a charge only where there is one for every weight: an unknown weight is never taken for a light one.
 */
export function shippingFor(bands: readonly ShippingBand[], grams: number | null): number | null {
  if (grams === null) return bands.length === 1 ? bands[0]!.minor : null;
  for (const band of bands) if (grams <= band.upToGrams) return band.minor;
  return null;
}

/**
 * Reads shipping by weight as people write it: `2 kg: 3.50, 30 kg: 9.90`; one amount alone holds for any
 * weight up to 30 kg.
 * @returns bands by growing weight
 */
export function parseShipping(text: string, currency: string): Parsed<ShippingBand[]> {
  const parts = text
    .split(/[;\n]|,\s+/)
    .map((p) => p.trim())
    .filter(Boolean);
  if (!parts.length)
    return { ok: false, reason: 'Write what a parcel costs, such as 2 kg: 3.50, 30 kg: 9.90.' };
  const bands: ShippingBand[] = [];
  for (const part of parts) {
    const match = /^(?:(?:up to\s+)?(\d+(?:[.,]\d+)?)\s*(kg|g)\s*[:=]?\s+)?(\S+)$/i.exec(
      part.replace(/:(?=\S)/, ': '),
    );
    if (!match || (parts.length > 1 && !match[1]))
      return { ok: false, reason: `“${part}” is not a weight and an amount, such as 2 kg: 3.50.` };
    const amount = parseMinor(match[3]!, currency);
    if (!amount.ok) return amount;
    if (amount.value < 0) return { ok: false, reason: `“${part}” is below zero.` };
    const grams = match[1]
      ? Math.round(Number(match[1].replace(',', '.')) * (match[2]!.toLowerCase() === 'kg' ? 1000 : 1))
      : 30_000;
    bands.push({ upToGrams: grams, minor: amount.value });
  }
  return { ok: true, value: bands.sort((a, b) => a.upToGrams - b.upToGrams) };
}

export const shippingInWords = (bands: readonly ShippingBand[], currency: string): string =>
  bands
    .map(
      (b) =>
        `${b.upToGrams % 1000 ? `${b.upToGrams} g` : `${b.upToGrams / 1000} kg`}: ${formatMinor(b.minor, currency)}`,
    )
    .join(', ');
