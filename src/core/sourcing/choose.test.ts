import fc from 'fast-check';
import { chooseSource, splitUnits } from '.';

const offer = (pieces: number | null, pack = 1) => ({ pieces, pack });

test('the preferred source is bought of while it has a unit, then the next that has one, else the preferred again', () => {
  expect(chooseSource([])).toBe(-1);
  expect(chooseSource([offer(1), offer(9)])).toBe(0);
  expect(chooseSource([offer(0), offer(9)])).toBe(1);
  expect(chooseSource([offer(1, 2), offer(0), offer(3)])).toBe(2);
  expect(chooseSource([offer(0), offer(null)])).toBe(0);
});

test('units are shared out whole, none of a source that has none, and what nobody has is found at the preferred one', () => {
  const offers = fc.array(
    fc.record({
      pieces: fc.option(fc.integer({ min: -3, max: 20 }), { nil: null }),
      pack: fc.integer({ min: 1, max: 3 }),
    }),
    { minLength: 1, maxLength: 4 },
  );
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 30 }), offers, (units, some) => {
      const shares = splitUnits(units, some);
      expect(shares.reduce((a, b) => a + b, 0)).toBe(units);
      for (const [k, n] of shares.entries()) {
        const has = Math.max(0, Math.floor((some[k]!.pieces ?? 0) / some[k]!.pack));
        if (k > 0) expect(n).toBeLessThanOrEqual(has);
        if (k > 0 && n > 0)
          expect(shares[0]).toBeGreaterThanOrEqual(
            Math.min(units, Math.max(0, Math.floor((some[0]!.pieces ?? 0) / some[0]!.pack))),
          );
      }
    }),
  );
});
