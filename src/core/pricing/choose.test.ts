import fc from 'fast-check';
import { choosePlan, choosePlans } from './choose';

const plan = fc.record({
  on: fc.boolean(),
  marketplaces: fc.option(fc.subarray(['uk', 'us', 'loom']), { nil: null }),
  rows: fc.option(fc.uniqueArray(fc.integer({ min: 0, max: 19 })), { nil: null }),
});

test('by sets of rows the same plan wins as row by row, and every row that a plan covers is counted as held or taken away', () => {
  fc.assert(
    fc.property(fc.array(plan, { maxLength: 5 }), fc.constantFrom('uk', 'us', 'loom'), (plans, market) => {
      const choice = choosePlans(plans, market, 20, (p) => p.rows);
      for (let row = 0; row < 20; row++) {
        const one = choosePlan(plans, market, (p) => p.rows === null || p.rows.includes(row));
        expect(choice.of[row]).toBe(one ? plans.indexOf(one) : -1);
      }
      plans.forEach((p, k) => {
        expect(choice.plans[k]!.holds).toBe([...choice.of].filter((of) => of === k).length);
        const meant = p.on && (p.marketplaces === null || p.marketplaces.includes(market));
        expect(choice.plans[k]!.covers).toBe(meant ? (p.rows?.length ?? 20) : 0);
      });
    }),
  );
});

test('the first in order wins, one that is off or for another marketplace does not count', () => {
  const all = { on: true, marketplaces: null };
  const plans = [
    { id: 'off', ...all, on: false },
    { id: 'us', ...all, marketplaces: ['us'] },
    { id: 'torches', ...all },
    { id: 'rest', ...all },
  ];
  const chosen = (market: string, torch: boolean) =>
    choosePlan(plans, market, (p) => p.id !== 'torches' || torch)?.id ?? null;
  expect([chosen('uk', true), chosen('uk', false), chosen('us', true)]).toEqual(['torches', 'rest', 'us']);
  expect(choosePlan(plans, 'uk', () => false)).toBeNull();
});
