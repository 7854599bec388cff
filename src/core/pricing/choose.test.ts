import fc from 'fast-check';
import { isWithin, nextBoundary, spanProblem } from './calendar';
import { choosePlan, choosePlans } from './choose';

const AT = Date.parse('2026-11-27T00:00:00Z');

const plan = fc.record({
  on: fc.boolean(),
  marketplaces: fc.option(fc.subarray(['uk', 'us', 'loom']), { nil: null }),
  from: fc.constantFrom(null, '2026-11-01T00:00', '2026-12-01T00:00'),
  to: fc.constantFrom(null, '2026-11-20T00:00', '2026-12-31T00:00'),
  rows: fc.option(fc.uniqueArray(fc.integer({ min: 0, max: 19 })), { nil: null }),
});

test('by sets of rows the same plan wins as row by row, and every row that a plan covers is counted as held or taken away', () => {
  fc.assert(
    fc.property(
      fc.array(plan, { maxLength: 5 }),
      fc.constantFrom('uk', 'us', 'loom'),
      (plans, marketplace) => {
        const market = { marketplace, zone: 'Europe/London', at: AT };
        const choice = choosePlans(plans, market, 20, (p) => p.rows);
        for (let row = 0; row < 20; row++) {
          const one = choosePlan(plans, market, (p) => p.rows === null || p.rows.includes(row));
          expect(choice.of[row]).toBe(one ? plans.indexOf(one) : -1);
        }
        plans.forEach((p, k) => {
          expect(choice.plans[k]!.holds).toBe([...choice.of].filter((of) => of === k).length);
          const meant =
            p.on &&
            (p.marketplaces === null || p.marketplaces.includes(marketplace)) &&
            (p.from === null || p.from <= '2026-11-27') &&
            (p.to === null || p.to > '2026-11-27');
          expect(choice.plans[k]!.covers).toBe(meant ? (p.rows?.length ?? 20) : 0);
        });
      },
    ),
  );
});

test('the first in order wins, one that is off or for another marketplace does not count', () => {
  const all = { on: true, marketplaces: null, from: null, to: null };
  const plans = [
    { id: 'off', ...all, on: false },
    { id: 'us', ...all, marketplaces: ['us'] },
    { id: 'torches', ...all },
    { id: 'rest', ...all },
  ];
  const chosen = (market: string, torch: boolean) =>
    choosePlan(plans, { marketplace: market, zone: 'UTC', at: AT }, (p) => p.id !== 'torches' || torch)?.id ??
    null;
  expect([chosen('uk', true), chosen('uk', false), chosen('us', true)]).toEqual(['torches', 'rest', 'us']);
  expect(choosePlan(plans, { marketplace: 'uk', zone: 'UTC', at: AT }, () => false)).toBeNull();
});

test('a span holds in the zone of its marketplace, across a change of the clocks, and tells when it begins or ends next', () => {
  const sale = { from: '2026-10-24T00:00', to: '2026-10-26T00:00' };
  const at = (iso: string) => Date.parse(iso);
  // The clocks go back in Berlin in the night to the 25th: the two days have 49 hours.
  const begins = at('2026-10-23T22:00:00Z');
  const ends = at('2026-10-25T23:00:00Z');
  expect(ends - begins).toBe(49 * 3_600_000);
  const within = (t: number) => isWithin(sale, t, 'Europe/Berlin');
  expect([begins - 1, begins, ends - 1, ends].map(within)).toEqual([false, true, true, false]);
  expect(isWithin(sale, begins, 'Europe/London')).toBe(false);
  expect(nextBoundary(sale, begins - 1, 'Europe/Berlin')).toBe(begins);
  expect(nextBoundary(sale, begins, 'Europe/Berlin')).toBe(ends);
  expect(nextBoundary(sale, ends, 'Europe/Berlin')).toBeNull();
  expect(isWithin({ from: 'soon', to: null }, begins, 'UTC')).toBe(false);
  expect(spanProblem({ from: sale.to, to: sale.from })).toMatch(/ends before it begins/);
  expect(spanProblem({ from: '2026-13-01T00:00', to: null })).toMatch(/no date|not a date/);
});
