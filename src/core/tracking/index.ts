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
 * What is wrong with a tracking number, or null. Numbers that look like S10 must have a right check digit;
 * others need 6 to 40 letters and digits.
 */
export function trackingProblem(number: string): TrackingProblem | null {
  if (/^[A-Z]{2}\d{9}[A-Z]{2}$/.test(number)) return isS10(number) ? null : 'check digit';
  return /^[A-Za-z0-9-]{6,40}$/.test(number) ? null : 'shape';
}

export const trackingProblemInWords = (number: string, problem: TrackingProblem): string =>
  problem === 'check digit'
    ? `${number} has a wrong check digit`
    : `“${number.slice(0, 40)}” is not a tracking number`;
