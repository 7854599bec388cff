import { formatMinor, formatRate, type Parsed, parseMinor, parseRate } from '../../core/money';

/** Readers and writers of what stands in the slots of a plan's sentence. */

const within = (parsed: Parsed<number>, least: number, most: number, says: string): Parsed<number> =>
  !parsed.ok || (parsed.value >= least && parsed.value <= most) ? parsed : { ok: false, reason: says };

/** What a slider beside a field covers, in the field's units; the field itself may go further. */
export interface Slide {
  readonly least: number;
  readonly most: number;
  /** What one press of an arrow key moves. */
  readonly step: number;
}

/** A share from 0 % to a most. */
export const shareUpTo = (most: number) => ({
  slide: { least: 0, most: Math.min(most, 1_000_000), step: 5_000 },
  write: (n: number) => formatRate(n),
  parse: (text: string) => within(parseRate(text), 0, most, `From 0 % to ${formatRate(most)}`),
});

/** A markup: `+45 %` is 45 % more. `115` alone may be meant two ways, and is asked about. */
export const MARKUP = {
  slide: { least: 0, most: 3_000_000, step: 10_000 },
  write: (n: number) => formatRate(n, true),
  parse: (text: string): Parsed<number> => {
    const bare = /^\s*(\d{1,4}(?:[.,]\d{1,4})?)\s*$/.exec(text)?.[1];
    const n = bare ? Number(bare.replace(',', '.')) : 0;
    const times = (factor: number) => `${Math.round(factor * 10_000) / 10_000} times the cost`;
    // Small and large numbers may be factors, or shares that count the cost itself.
    if (n > 0 && n < 10)
      return {
        ok: false,
        reason: `${bare} can be read two ways: write +${n} % for ${times(1 + n / 100)}, or +${Math.round((n - 1) * 1_000_000) / 10_000} % for ${times(n)}.`,
      };
    if (n >= 100)
      return {
        ok: false,
        reason: `${bare} can be read two ways: write +${n} % for ${times(n / 100 + 1)}, or +${n - 100} % for ${times(n / 100)}.`,
      };
    return within(parseRate(text), 0, 20_000_000, 'From 0 % to +2,000 %');
  },
};

/** A factor on another price: `105 %` is five percent more than it. */
export const FACTOR = {
  slide: { least: 500_000, most: 1_500_000, step: 5_000 },
  write: (n: number) => formatRate(n),
  parse: (text: string): Parsed<number> => {
    if (/^\s*[+−-]/.test(text)) {
      const more = parseRate(text);
      return more.ok
        ? within({ ok: true, value: 1_000_000 + more.value }, 10_000, 10_000_000, FACTORS)
        : more;
    }
    return within(parseRate(text), 10_000, 10_000_000, FACTORS);
  },
};
const FACTORS = 'From 1 % to 1,000 % of it; +5 % is 105 %';

export const amountIn = (currency: string, least = 0) => ({
  write: (n: number) => formatMinor(n, currency),
  parse: (text: string): Parsed<number> =>
    within(parseMinor(text, currency), least, 100_000_000, 'Not below zero'),
});

/** A whole number of units or times. */
export const WHOLE_NUMBER = {
  write: (n: number) => String(n),
  parse: (text: string): Parsed<number> => {
    const n = Number(text.trim());
    return Number.isInteger(n) && n >= 0 && n <= 9999 && text.trim()
      ? { ok: true, value: n }
      : { ok: false, reason: 'A whole number from 0 to 9999' };
  },
};
