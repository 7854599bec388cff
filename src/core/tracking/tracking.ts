import { fold } from '../copy';

/**
 * Whether a number is a whole UPU S10 item identifier (two letters, eight digits, check digit, country), such
 * as `LX473124829GB`. Source: Universal Postal Union, standard S10, check digit by weights 8 6 4 2 3 5 9 7,
 * modulo 11.
 */
export function isS10(number: string): boolean {
  const match = /^[A-Z]{2}(\d{8})(\d)[A-Z]{2}$/.exec(number);
  return match !== null && s10CheckDigit(match[1]!) === match[2];
}

/** The check digit for the eight digits of an S10 number. */
export function s10CheckDigit(eight: string): string {
  const weights = [8, 6, 4, 2, 3, 5, 9, 7];
  const rest = 11 - (weights.reduce((sum, w, i) => sum + w * Number(eight[i]), 0) % 11);
  return rest === 10 ? '0' : rest === 11 ? '5' : String(rest);
}

/**
 * Whether eighteen digits are a GS1 Serial Shipping Container Code, by its check digit: digits weighted 3 and 1 from the
 * left, the sum filled up to ten. Source: GS1 General Specifications, section 7.9.
 */
export function isSscc(digits: string): boolean {
  if (!/^\d{18}$/.test(digits)) return false;
  const sum = [...digits.slice(0, 17)].reduce((n, d, k) => n + Number(d) * (k % 2 === 0 ? 3 : 1), 0);
  return (10 - (sum % 10)) % 10 === Number(digits[17]);
}

/** A carrier as a marketplace knows it. */
export interface Carrier {
  readonly code: string;
  readonly name: string;
}

/**
 * The marketplace's code for a carrier the supplier named, by name without case, accents and punctuation;
 * null where the marketplace does not list it.
 */
export function carrierFor(name: string, known: readonly Carrier[]): Carrier | null {
  const key = (text: string) => fold(text).replace(/[^a-z0-9]/g, '');
  return known.find((carrier) => key(carrier.name) === key(name) || key(carrier.code) === key(name)) ?? null;
}

export type TrackingProblem = 'check digit' | 'shape';

/**
 * What is wrong with a tracking number, or null. Numbers that look like S10 or SSCC must have a right check digit;
 * others need 6 to 40 letters and digits.
 */
export function trackingProblem(number: string): TrackingProblem | null {
  if (/^[A-Z]{2}\d{9}[A-Z]{2}$/.test(number)) return isS10(number) ? null : 'check digit';
  // An SSCC behind its application identifier; eighteen digits alone may be any carrier's.
  if (/^00\d{18}$/.test(number)) return isSscc(number.slice(2)) ? null : 'check digit';
  return /^[A-Za-z0-9-]{6,40}$/.test(number) ? null : 'shape';
}

export const trackingProblemInWords = (number: string, problem: TrackingProblem): string =>
  problem === 'check digit'
    ? `${number} has a wrong check digit`
    : `“${number.slice(0, 40)}” is not a tracking number`;
