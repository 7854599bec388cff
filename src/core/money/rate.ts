import type { Parsed } from './money';

/** A share in millionths: 12.5 % is 125,000. Exact to a ten-thousandth of a percent. */
export type Ppm = number;

export const WHOLE: Ppm = 1_000_000;

/** `125000` → `12.5 %`. */
export function formatRate(rate: Ppm, plus = false): string {
  const text = String(Math.abs(rate) / 10_000);
  return `${rate < 0 ? '−' : plus && rate > 0 ? '+' : ''}${text} %`;
}

/**
 * A ratio of two integers to one digit after the point, for reading only: `formatShare(563, 2499)` → `22.5
 * %`.
 */
export function formatShare(part: number, whole: number): string {
  if (whole === 0) return '–';
  const tenths = Math.round((part * 1000) / whole);
  return `${tenths < 0 ? '−' : ''}${Math.floor(Math.abs(tenths) / 10)}.${Math.abs(tenths) % 10} %`;
}

/** Reads a percentage as typed: `12.5`, `12,5 %`, `+10%`. */
export function parseRate(text: string): Parsed<Ppm> {
  const match = /^([+\-−]?)\s*(\d{1,4})(?:[.,](\d{1,4}))?\s*%?$/.exec(text.trim());
  if (!match)
    return {
      ok: false,
      reason: text.trim() ? `“${text.trim()}” is not a percentage` : 'a percentage is missing',
    };
  const value = Number(match[2]) * 10_000 + Number((match[3] ?? '').padEnd(4, '0'));
  return { ok: true, value: match[1] === '-' || match[1] === '−' ? -value + 0 : value };
}
