import { digitsOf, LARGEST_MINOR } from '../core/money';
import { isDay } from '../core/units';

/**
 * Decimal text of the wire to minor units; throws RangeError on more digits than the currency has, or absurd
 * size. Shapes have checked the form.
 */
export function minorOf(text: string, currency: string): number {
  const [whole, part = ''] = text.split('.');
  const digits = digitsOf(currency);
  if (part.slice(digits).replace(/0/g, '')) throw new RangeError(`${text} has more digits than ${currency}`);
  const minor = Number(whole! + part.slice(0, digits).padEnd(digits, '0'));
  if (!Number.isSafeInteger(minor) || minor > LARGEST_MINOR)
    throw new RangeError(`${text} is larger than any amount Sampan takes`);
  return minor;
}

/** A percentage of the wire to millionths. */
export function ppmOf(text: string): number {
  const [whole, part = ''] = text.split('.');
  return Number(whole) * 10_000 + Number(part.padEnd(4, '0'));
}

/** A time of the wire (RFC 3339) as an instant. Throws RangeError on one that does not exist. */
export function timeOf(text: string): number {
  const at = Date.parse(text);
  // A day that does not exist is no other day: 31 February is not 3 March.
  if (!/^\d{4}-\d\d-\d\dT/i.test(text) || !Number.isFinite(at) || !isDay(text.slice(0, 10)))
    throw new RangeError(`“${text.slice(0, 40)}” is not a time such as 2026-11-26T14:05:00Z`);
  return at;
}
