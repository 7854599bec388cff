import fc from 'fast-check';
import { convert, type ExchangeRate, factorOf, formatExchange, parseExchange, ratesOn } from '.';

const rate = (currency: string, day: string, value: number): ExchangeRate => ({
  currency,
  books: 'GBP',
  day,
  value,
  origin: 'typed',
});
const RATES = [
  rate('USD', '2026-11-01', 79_134_000),
  rate('USD', '2026-11-20', 80_000_000),
  rate('EUR', '2026-11-10', 85_000_000),
  rate('JPY', '2026-11-10', 525_000),
  { ...rate('USD', '2026-11-21', 1), books: 'EUR' },
];
const on = (day: string) => ratesOn(RATES, 'GBP', day);

test('an amount changes currency by the rate of its day, and never without one', () => {
  const money = (minor: number, from: string, to: string, day: string, cushion = 0) => {
    const factor = factorOf(on(day), from, to, cushion);
    return factor && convert(minor, factor);
  };
  expect(money(1000, 'USD', 'GBP', '2026-11-05')).toBe(791);
  expect(money(1000, 'USD', 'GBP', '2026-11-26')).toBe(800);
  expect(money(1000, 'USD', 'GBP', '2026-10-31')).toBeNull();
  expect(money(1000, 'GBP', 'EUR', '2026-11-26')).toBe(1176);
  // By way of the books, rounded once: 0.80 / 0.85.
  expect(money(1000, 'USD', 'EUR', '2026-11-26')).toBe(941);
  expect(money(1000, 'USD', 'GBP', '2026-11-26', 20_000)).toBe(816);
  // Yen have no smaller unit: 1,000 yen are 5.25, 5.25 are 1,000 yen.
  expect(money(1000, 'JPY', 'GBP', '2026-11-26')).toBe(525);
  expect(money(525, 'GBP', 'JPY', '2026-11-26')).toBe(1000);
  expect(money(1000, 'CHF', 'GBP', '2026-11-26')).toBeNull();
  expect(money(1234, 'CHF', 'CHF', '2026-11-26')).toBe(1234);
});

test('conversion is exact to the half, whatever the size', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1_000_000_000, max: 1_000_000_000 }),
      fc.integer({ min: 1, max: 10_000_000_000 }),
      fc.integer({ min: 1, max: 10_000_000_000 }),
      (minor, num, den) => {
        const exact = BigInt(Math.abs(minor)) * BigInt(num) * 2n;
        const up = (exact + BigInt(den)) / (2n * BigInt(den));
        if (up > BigInt(Number.MAX_SAFE_INTEGER)) return;
        expect(convert(minor, { num, den })).toBe(num === den ? minor : Math.sign(minor) * Number(up) + 0);
      },
    ),
  );
});

test('rates are read as typed and written back the same', () => {
  expect([parseExchange('0.79134'), parseExchange('1,17'), parseExchange('190')]).toEqual([
    { ok: true, value: 79_134_000 },
    { ok: true, value: 117_000_000 },
    { ok: true, value: 19_000_000_000 },
  ]);
  for (const bad of ['', '0', '0.0', '-1', '1.2.3', '1.123456789']) expect(parseExchange(bad).ok).toBe(false);
  expect([79_134_000, 100_000_000, 1].map(formatExchange)).toEqual(['0.79134', '1', '0.00000001']);
});
