import fc from 'fast-check';
import { type SoldByDay, soldWithin, withSale } from './sold';

const DAY = 86_400_000;
const START = Date.parse('2026-06-01T00:00:00Z');

test('units within some days are those of the sales of these days, in whatever order they came', () => {
  const sales = fc.array(
    fc.record({ day: fc.nat(120), hour: fc.nat(23), units: fc.integer({ min: 1, max: 9 }) }),
    { maxLength: 60 },
  );
  fc.assert(
    fc.property(sales, fc.constantFrom(1, 7, 30), (some, within) => {
      const at = (s: { day: number; hour: number }) => START + s.day * DAY + s.hour * 3_600_000;
      const days = some.reduce<SoldByDay>((all, s) => withSale(all, at(s), s.units), []);
      const last = Math.max(0, ...some.map((s) => s.day));
      const now = START + last * DAY + 12 * 3_600_000;
      // The day of now counts, and so many before it that together they are as many as asked for.
      const wanted = some.filter((s) => s.day > last - within).reduce((n, s) => n + s.units, 0);
      expect(soldWithin(days, within, now)).toBe(wanted);
      expect(days.length).toBeLessThanOrEqual(90);
      expect(days.map(([day]) => day)).toEqual([...days.map(([day]) => day)].sort((a, b) => a - b));
    }),
  );
});

test('what was sold longer ago than is kept is gone, and a late order of then does not bring it back over', () => {
  const old = withSale([], START, 5);
  const now = withSale(old, START + 100 * DAY, 2);
  expect(now).toEqual([[Math.floor(START / DAY) + 100, 2]]);
  expect(withSale(now, START, 3)).toEqual(now);
  expect(soldWithin(now, 30, START + 131 * DAY)).toBe(0);
});
