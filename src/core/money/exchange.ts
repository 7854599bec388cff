import { type Currency, digitsOf } from './currency';
import { LARGEST_MINOR, type Parsed } from './money';
import { type Ppm, WHOLE } from './rate';
import { divideHalfUp } from './rounding';

/** Digits of an exchange rate behind the point. */
const RATE_DIGITS = 8;
export const RATE_ONE = 10 ** RATE_DIGITS;

/** What one unit of a currency was worth in the currency of the books on a day, in hundred-millionths. */
export interface ExchangeRate {
  readonly currency: Currency;
  readonly books: Currency;
  /** Calendar day from which on it holds, until the next. */
  readonly day: string;
  readonly value: number;
  readonly origin: 'typed' | 'file' | 'service';
}

/** The rates that hold now, by currency, each against the currency of the books. */
export interface Rates {
  readonly books: Currency;
  readonly by: ReadonlyMap<Currency, ExchangeRate>;
}

/** The newest rate of each currency up to a day. Rates against other books are none of it. */
export function ratesOn(rates: readonly ExchangeRate[], books: Currency, day: string): Rates {
  const by = new Map<Currency, ExchangeRate>();
  for (const rate of rates) {
    if (rate.books !== books || rate.day > day) continue;
    const known = by.get(rate.currency);
    if (!known || known.day <= rate.day) by.set(rate.currency, rate);
  }
  return { books, by };
}

/** Minor units of one currency into minor units of another: times `num` over `den`, exact. */
export interface Factor {
  readonly num: number;
  readonly den: number;
}

export const SAME: Factor = { num: 1, den: 1 };

const gcd = (a: bigint, b: bigint): bigint => (b ? gcd(b, a % b) : a);

function reduced(num: bigint, den: bigint): Factor {
  const shared = gcd(num, den);
  let [n, d] = [num / shared, den / shared];
  // Beyond 53 bits the last digits are far below a minor unit of any amount: they are dropped on both sides.
  while (n > BigInt(Number.MAX_SAFE_INTEGER) || d > BigInt(Number.MAX_SAFE_INTEGER)) {
    n /= 10n;
    d /= 10n;
  }
  return { num: Number(n), den: Number(d || 1n) };
}

/**
 * How amounts of one currency become amounts of another by the rates on record, by way of the books.
 * @param cushion added on top, for what the rate may move until it is paid
 * @returns null where a rate is missing
 */
export function factorOf(rates: Rates, from: Currency, to: Currency, cushion: Ppm = 0): Factor | null {
  if (from === to) return SAME;
  let known = worked.get(rates);
  if (!known) {
    known = new Map();
    worked.set(rates, known);
  }
  const key = `${from} ${to} ${cushion}`;
  let factor = known.get(key);
  if (factor === undefined) {
    factor = workedOut(rates, from, to, cushion);
    known.set(key, factor);
  }
  return factor;
}

/** Factors that were worked out, for each set of rates: the same few are asked for with every price. */
const worked = new WeakMap<Rates, Map<string, Factor | null>>();

function workedOut(rates: Rates, from: Currency, to: Currency, cushion: Ppm): Factor | null {
  const worth = (currency: Currency) =>
    currency === rates.books ? RATE_ONE : (rates.by.get(currency)?.value ?? null);
  const [a, b] = [worth(from), worth(to)];
  if (a === null || b === null) return null;
  return reduced(
    BigInt(a) * 10n ** BigInt(digitsOf(to)) * BigInt(WHOLE + cushion),
    BigInt(b) * 10n ** BigInt(digitsOf(from)) * BigInt(WHOLE),
  );
}

/** An amount in another currency, halves away from nothing. */
export function convert(minor: number, { num, den }: Factor): number {
  if (num === den) return minor;
  const product = minor * num;
  if (Number.isSafeInteger(product)) return divideHalfUp(product, den);
  const [n, d] = [BigInt(Math.abs(minor)) * BigInt(num), BigInt(den)];
  const half = (n * 2n + d) / (d * 2n);
  return Math.sign(minor) * Number(half) + 0;
}

/** `0.79134`, without zeros at the end. */
export function formatExchange(value: number): string {
  const text = String(value).padStart(RATE_DIGITS + 1, '0');
  const part = text.slice(-RATE_DIGITS).replace(/0+$/, '');
  return text.slice(0, -RATE_DIGITS) + (part ? `.${part}` : '');
}

/** Reads an exchange rate as typed: `0.79134`, `1,17`. More than nothing, at most eight digits behind the point. */
export function parseExchange(text: string): Parsed<number> {
  const match = /^(\d{1,7})(?:[.,](\d{1,8}))?$/.exec(text.trim());
  if (!match) return { ok: false, reason: `“${text.trim()}” is not a rate such as 0.79134` };
  const value = Number(match[1]! + (match[2] ?? '').padEnd(RATE_DIGITS, '0'));
  if (value === 0) return { ok: false, reason: 'A rate must be above zero' };
  return value <= LARGEST_MINOR * 10 ** 6
    ? { ok: true, value }
    : { ok: false, reason: 'This rate is too large' };
}
