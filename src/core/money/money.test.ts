import fc from 'fast-check';
import {
  decimalOf,
  divideDown,
  divideHalfUp,
  divideUp,
  formatMinor,
  formatMoney,
  halfUp,
  parseMinor,
  parseRate,
  shareOut,
} from '.';

test.each([
  ['12.50', 1250],
  ['12,5', 1250],
  ['£ 3.20', 320],
  ['1.299,00', 129_900],
  ['1,299.00', 129_900],
  ['1 299.00', 129_900],
  ['+0.5', 50],
  ['-3', -300],
  ['−3.06', -306],
  ['.99', 99],
  ['1,234,567', 123_456_700],
  ['0', 0],
])('reads %s as people type it', (text, minor) => {
  expect(parseMinor(text, 'GBP')).toEqual({ ok: true, value: minor });
});

test.each(['', 'call', '1.2.3', '12.345678', '1.299', '1,2345.00', '99999999999', '3 €', '1e5', '--2'])(
  'refuses %s with a reason',
  (text) => {
    expect(parseMinor(text, 'GBP')).toMatchObject({ ok: false, reason: expect.stringMatching(/\S/) });
  },
);

test('currencies with other digits keep them', () => {
  expect(formatMoney({ minor: 1500, currency: 'JPY' })).toBe('¥1,500');
  expect(formatMinor(1500, 'KWD')).toBe('1.500');
  expect(parseMinor('1.299', 'KWD')).toEqual({ ok: true, value: 1299 });
  expect(parseMinor('12.5', 'JPY')).toMatchObject({ ok: false });
  // Without smaller units a mark before three digits can only part thousands.
  expect(parseMinor('29,990', 'JPY')).toEqual({ ok: true, value: 29_990 });
  expect(parseMinor('.990', 'JPY')).toMatchObject({ ok: false });
});

test('what is written can be read again', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1_000_000_000, max: 1_000_000_000 }),
      fc.constantFrom('GBP', 'JPY', 'EUR'),
      (minor, currency) => {
        expect(parseMinor(formatMinor(minor, currency), currency)).toEqual({ ok: true, value: minor });
        expect(Number(decimalOf(minor, currency))).toBeCloseTo(minor / (currency === 'JPY' ? 1 : 100), 6);
      },
    ),
  );
});

test('each rounding does what its name says, on both sides of nothing', () => {
  expect([5, -5, 4, 7].map((n) => divideHalfUp(n, 2))).toEqual([3, -3, 2, 4]);
  expect([5, -5, 4].map((n) => divideDown(n, 2))).toEqual([2, -3, 2]);
  expect([5, -5, 4].map((n) => divideUp(n, 2))).toEqual([3, -2, 2]);
  expect(() => divideHalfUp(2 ** 60, 3)).toThrow(RangeError);
});

test('the quick rounding of the inner loop agrees with the checked one', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 1_000_000_000 }),
      fc.integer({ min: 0, max: 1_000_000 }),
      fc.constantFrom(1_000_000, 1_200_000, 1_077_000, 7),
      (price, rate, d) => {
        fc.pre((price * rate) / d < 2 ** 31);
        expect(halfUp(price * rate, d)).toBe(divideHalfUp(price * rate, d));
      },
    ),
    { numRuns: 5000 },
  );
  for (let k = 0; k < 2000; k++) expect(halfUp(2 * k + 1, 2)).toBe(k + 1);
});

test('sharing out loses no penny', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 1_000_000 }),
      fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 9 }),
      (minor, weights) => {
        fc.pre(weights.some((w) => w > 0));
        expect(shareOut(minor, weights).reduce((a, b) => a + b, 0)).toBe(minor);
      },
    ),
  );
  expect(shareOut(100, [1, 1, 1])).toEqual([34, 33, 33]);
});

test('percentages are read with and without sign', () => {
  expect(parseRate('12,5 %')).toEqual({ ok: true, value: 125_000 });
  expect(parseRate('+10%')).toEqual({ ok: true, value: 100_000 });
  expect(parseRate('-4')).toEqual({ ok: true, value: -40_000 });
  expect(parseRate('ten')).toMatchObject({ ok: false });
});
