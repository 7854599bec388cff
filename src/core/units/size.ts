/** Length, width and height in millimetres. */
export type Size = readonly [number, number, number];

const MILLIMETRES: Readonly<Record<string, number>> = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, '': 10 };

/**
 * A size as people write it: `30 x 20 x 10 cm`, `30×20×10`, `300 * 200 * 100 mm`, `12 by 8 by 4 in`. Without a unit centimetres
 * are meant. @returns null of what is none: three numbers, each from 1 mm to 10 m
 */
export function readSize(text: string): Size | null {
  const number = String.raw`(\d{1,5}(?:[.,]\d{1,2})?)`;
  const unit = String.raw`\s*(mm|cm|m|in|"|)`;
  const times = String.raw`\s*(?:x|×|\*|by)\s*`;
  const found = new RegExp(
    `^${number}${unit}${times}${number}${unit}${times}${number}${unit}\\.?$`,
    'i',
  ).exec(text.trim());
  if (!found) return null;
  const last = found[6]!.toLowerCase();
  const sides = [1, 3, 5].map((at) => {
    const own = found[at + 1]!.toLowerCase() || last;
    return Math.round(Number(found[at]!.replace(',', '.')) * MILLIMETRES[own]!);
  });
  return sides.every((mm) => mm >= 1 && mm <= 10_000) ? (sides as unknown as Size) : null;
}

/** `30 × 20 × 10 cm`. */
export const sizeInWords = (size: Size): string => `${size.map((mm) => String(mm / 10)).join(' × ')} cm`;
