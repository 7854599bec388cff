/**
 * Whether a barcode is a whole GTIN-8, -12, -13 or -14 with a right check digit.
 * Source: GS1 General Specifications, section 7.9, "Standard check digit calculations".
 */
export function isGtin(text: string): boolean {
  const n = text.length;
  if (n !== 8 && (n < 12 || n > 14)) return false;
  let sum = 0;
  for (let i = n - 1, weight = 1; i >= 0; i--, weight = 4 - weight) {
    const digit = text.charCodeAt(i) - 48;
    if (digit < 0 || digit > 9) return false;
    sum += digit * weight;
  }
  return sum % 10 === 0;
}

/** The check digit for the digits before it. */
export function gtinCheckDigit(digits: string): string {
  let sum = 0;
  for (let i = digits.length - 1, weight = 3; i >= 0; i--, weight = 4 - weight)
    sum += Number(digits[i]) * weight;
  return String((10 - (sum % 10)) % 10);
}
