import type { Parsed } from '../money';
import type { Ending } from './plan';

/** The last digits of a price, without a direction. */
export type EndingDigits = Pick<Ending, 'minor' | 'per'>;

/** Digits before the point that an ending may fix. */
const MOST_WHOLE = 4;

/**
 * Reads what prices are to end in, as people write it: `.95`, `0.95` or `,95` for the part after the point; `9.99` for the digit
 * before it too; `9` or `50` for whole amounts that end so. Currencies without a part after the point have whole ones alone.
 * @param digits of the currency after the point
 */
export function parseEnding(text: string, digits: number): Parsed<EndingDigits> {
  const [, typed = '', fraction] = /^\s*(\d*)(?:[.,](\d+))?\s*$/.exec(text) ?? [];
  // `0.95` is written for `.95`; nobody means prices of 10.95, 20.95 alone.
  const whole = typed === '0' && fraction !== undefined ? '' : typed;
  if (!whole && fraction === undefined)
    return { ok: false, reason: `“${text.trim()}” is no ending: write ${digits ? '.95, or 9.95' : '80'}.` };
  if (whole.length > MOST_WHOLE)
    return { ok: false, reason: `Up to ${MOST_WHOLE} digits before the point can be fixed.` };
  if (fraction !== undefined && fraction.length !== digits)
    return {
      ok: false,
      reason: digits
        ? `Amounts here have ${digits} digits after the point.`
        : 'Amounts here have no digits after the point.',
    };
  const unit = 10 ** digits;
  return {
    ok: true,
    value: { minor: Number(whole) * unit + Number(fraction ?? 0), per: unit * 10 ** whole.length },
  };
}

/** Digits as they stand at the end of prices: `.95`, `9.99`, `50.00`; `.49 or .99` where two fit, `…5` where
 * more do; `whole amounts`. */
export function endingText({ minor, per }: EndingDigits, digits: number): string {
  const unit = 10 ** digits;
  if (minor === 0 && per === unit) return 'whole amounts';
  // The smallest power of ten that a price's last digits repeat within.
  const span = Math.max(unit, 10 ** Math.ceil(Math.log10(per)));
  const written = (end: number) => {
    const whole =
      span > unit ? String(Math.floor(end / unit)).padStart(String(span / unit).length - 1, '0') : '';
    return digits ? `${whole}.${String(end % unit).padStart(digits, '0')}` : whole;
  };
  if (span / per > 2) return `…${String(minor).padStart(String(per).length - 1, '0')}`;
  return Array.from({ length: span / per }, (_, k) => written(minor + k * per)).join(' or ');
}
