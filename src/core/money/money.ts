import { type Currency, digitsOf, signOf } from './currency';
import { divideDown } from './rounding';

/** An amount: integer minor units (pence, cents) of one currency. */
export interface Money {
  readonly minor: number;
  readonly currency: Currency;
}

/**
 * The largest amount that Sampan takes: ten million in a two-digit currency. Products with a rate then stay
 * exact in 53 bits.
 */
export const LARGEST_MINOR = 1_000_000_000;

const MINUS = '−';

/**
 * Writes minor units as people read them, without the currency: `formatMinor(-123456, 'GBP')` → `−1,234.56`.
 * @param plus put a plus before amounts above nothing, for differences and profits
 */
export function formatMinor(minor: number, currency: Currency, plus = false): string {
  const digits = digitsOf(currency);
  const text = String(Math.abs(minor)).padStart(digits + 1, '0');
  const whole = text.slice(0, text.length - digits).replace(/\B(?=(\d{3})+$)/g, ',');
  const sign = minor < 0 ? MINUS : plus && minor > 0 ? '+' : '';
  return sign + whole + (digits ? `.${text.slice(-digits)}` : '');
}

/** Writes an amount with its sign or code: `£12.50`, `−£3.06`. */
export function formatMoney(amount: Money, plus = false): string {
  const text = formatMinor(amount.minor, amount.currency, plus);
  const sign = signOf(amount.currency);
  const lead = /^[−+]/.exec(text)?.[0] ?? '';
  return `${lead}${sign}${sign.length > 1 ? ' ' : ''}${text.slice(lead.length)}`;
}

/** Minor units as plain decimal text for files and the wire: `-1234.56`. */
export function decimalOf(minor: number, currency: Currency): string {
  return formatMinor(minor, currency).replaceAll(',', '').replace(MINUS, '-');
}

export type Parsed<T> = { ok: true; value: T } | { ok: false; reason: string };

/**
 * Reads a number as people type it: `1.299,00`, `1,299.00`, `12,5`, `£ 3.20`, `+0.50`. The last separator is
 * the decimal one, unless it stands once before exactly three digits and the other is absent and the currency
 * has other digits (`1.299` in GBP is refused as ambiguous).
 * @returns minor units, or a reason to show beside the field
 */
export function parseMinor(text: string, currency: Currency): Parsed<number> {
  const bare = text
    .replace(/[\s  ']/g, '')
    .replace(signOf(currency), '')
    .replace(currency, '')
    .replace(MINUS, '-');
  const match = /^([+-]?)(\d[\d.,]*|[.,]\d+)$/.exec(bare);
  if (!match)
    return { ok: false, reason: text.trim() ? `“${text.trim()}” is not an amount` : 'an amount is missing' };
  const digits = digitsOf(currency);
  const body = match[2]!;
  const lastDot = body.lastIndexOf('.');
  const lastComma = body.lastIndexOf(',');
  const at = Math.max(lastDot, lastComma);
  let whole = body;
  let part = '';
  if (at >= 0) {
    const mark = body[at]!;
    const after = body.length - at - 1;
    const single = body.indexOf(mark) === at;
    const both = lastDot >= 0 && lastComma >= 0;
    // A currency without smaller units has no decimals to mistake thousands for.
    const thousands = digits === 0 && at > 0 && after === 3;
    if (single && !both && after === 3 && digits !== 3 && !thousands) {
      return {
        ok: false,
        reason: `“${text.trim()}” can be read two ways: write ${body.slice(0, at)}${body.slice(at + 1)} or ${body.slice(0, at)}.${body.slice(at + 1, at + 3)}`,
      };
    }
    if (single && !thousands) {
      whole = body.slice(0, at);
      part = body.slice(at + 1);
    }
  }
  const groups = whole.split(/[.,]/);
  if (groups.length > 1 && (groups[0]!.length > 3 || groups.slice(1).some((g) => g.length !== 3))) {
    return { ok: false, reason: `“${text.trim()}” is not an amount` };
  }
  if (part.length > digits) return { ok: false, reason: `${currency} has ${digits} digits after the point` };
  const minor = Number(groups.join('') + part.padEnd(digits, '0'));
  if (!Number.isSafeInteger(minor) || minor > LARGEST_MINOR)
    return { ok: false, reason: `“${text.trim()}” is too large` };
  return { ok: true, value: match[1] === '-' ? -minor + 0 : minor };
}

/** Reads a price as people type it: like {@link parseMinor}, and more than nothing. */
export function parsePrice(text: string, currency: Currency): Parsed<number> {
  const parsed = parseMinor(text, currency);
  return !parsed.ok || parsed.value > 0
    ? parsed
    : { ok: false, reason: `“${text.trim()}” is not a price: it must be above zero` };
}

/**
 * Shares an amount out by weights without losing a minor unit; what is left over goes to the largest
 * fractions, first come first. `shareOut(100, [1, 1, 1])` → `[34, 33, 33]`.
 */
export function shareOut(minor: number, weights: readonly number[]): number[] {
  const total = weights.reduce((a, b) => a + b, 0);
  if (total <= 0) throw new RangeError('weights must add up to more than nothing');
  const shares = weights.map((w) => divideDown(minor * w, total));
  const rest = minor - shares.reduce((a, b) => a + b, 0);
  const order = weights
    .map((w, i) => ({ i, left: minor * w - shares[i]! * total }))
    .sort((a, b) => b.left - a.left || a.i - b.i);
  for (let k = 0; k < rest; k++) shares[order[k]!.i]!++;
  return shares;
}
