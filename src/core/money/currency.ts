/**
 * Minor units of ISO 4217 that differ from two digits (list one, 2024). Intl disagrees for some, so it is
 * never asked.
 */
const DIGITS: Readonly<Record<string, number>> = {
  BIF: 0,
  CLP: 0,
  DJF: 0,
  GNF: 0,
  ISK: 0,
  JPY: 0,
  KMF: 0,
  KRW: 0,
  PYG: 0,
  RWF: 0,
  UGX: 0,
  UYI: 0,
  VND: 0,
  VUV: 0,
  XAF: 0,
  XOF: 0,
  XPF: 0,
  BHD: 3,
  IQD: 3,
  JOD: 3,
  KWD: 3,
  LYD: 3,
  OMR: 3,
  TND: 3,
  CLF: 4,
  UYW: 4,
};

const SIGNS: Readonly<Record<string, string>> = { GBP: '£', EUR: '€', USD: '$', JPY: '¥' };

/** An ISO 4217 code such as `GBP`. */
export type Currency = string;

/** Digits after the decimal point of a currency, by ISO 4217. */
export function digitsOf(currency: Currency): number {
  return DIGITS[currency] ?? 2;
}

/** The sign people write for a currency (`£`), else its code. */
export function signOf(currency: Currency): string {
  return SIGNS[currency] ?? currency;
}
