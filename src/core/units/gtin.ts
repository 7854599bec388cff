/**
 * Whether a barcode is a whole GTIN-8, -12, -13 or -14 with a right check digit.
 * Source: GS1 General Specifications, section 7.9, "Standard check digit calculations".
 */
export function isGtin(text: string): boolean {
  if (!/^(\d{8}|\d{12,14})$/.test(text)) return false;
  return gtinCheckDigit(text.slice(0, -1)) === text.at(-1);
}

/** The check digit for the digits before it. */
export function gtinCheckDigit(digits: string): string {
  let sum = 0;
  for (let i = digits.length - 1, weight = 3; i >= 0; i--, weight = 4 - weight) sum += Number(digits[i]) * weight;
  return String((10 - (sum % 10)) % 10);
}
