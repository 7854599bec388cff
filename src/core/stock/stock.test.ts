import fc from 'fast-check';
import { quantityShown, STARTING_STOCK_RULE, type StockRule, stockProblems, stockSteps } from '.';

const RULE = STARTING_STOCK_RULE;
const rule = (set: Partial<StockRule>): StockRule => ({ ...RULE, ...set });

test.each<[string, number, Partial<StockRule>, object, number]>([
  ['less the safety amount, at most n', 18, {}, {}, 5],
  ['what is promised is not sold again', 6, {}, { promised: 3 }, 1],
  ['never negative', 1, {}, { promised: 9 }, 0],
  ['a share', 20, { show: { is: 'share', share: 250_000 } }, {}, 3],
  ['packs are whole', 17, { atMost: 99 }, { pack: 4 }, 3],
  ['kept back for other use', 10, {}, { keptBack: 6 }, 2],
  ['out once the supplier falls to n', 3, { outAt: 3 }, {}, 0],
  ['rather none than one', 3, { atLeast: 2 }, {}, 0],
  ['a number while there is enough', 40, { show: { is: 'number', units: 3 } }, {}, 3],
  ['a number, less where there is less', 2, { show: { is: 'number', units: 3 } }, {}, 2],
  ['old stock counts half', 12, { aging: { hours: 24, share: 500_000 }, atMost: 99 }, { old: true }, 4],
  ['fresh stock counts whole', 12, { aging: { hours: 24, share: 500_000 }, atMost: 99 }, {}, 10],
  ['it sells down before it is filled up', 50, { topUp: { downTo: 2, backTo: 4 } }, { shownNow: 3 }, 3],
  ['sold down, it is filled up', 50, { topUp: { downTo: 2, backTo: 4 } }, { shownNow: 2 }, 4],
  ['no more than there is', 4, { topUp: { downTo: 2, backTo: 4 } }, { shownNow: 5 }, 2],
])('%s', (_, stock, set, of, shown) => {
  expect(quantityShown({ stock, promised: 0, ...of }, rule(set))).toBe(shown);
});

test('no rule ever shows more than the supplier has left for sale', () => {
  const units = fc.integer({ min: 0, max: 60 });
  fc.assert(
    fc.property(
      fc.record({
        stock: units,
        promised: units,
        keptBack: units,
        pack: fc.integer({ min: 1, max: 5 }),
        shownNow: fc.option(units, { nil: null }),
        old: fc.boolean(),
      }),
      fc.record({
        show: fc.oneof(
          fc.record({ is: fc.constant('share' as const), share: fc.integer({ min: 0, max: 1_000_000 }) }),
          fc.record({ is: fc.constant('number' as const), units }),
        ),
        atMost: units,
        atLeast: units,
        safety: units,
        outAt: units,
        aging: fc.constantFrom(null, { hours: 1, share: 300_000 }),
        topUp: fc.option(fc.record({ downTo: units, backTo: units }), { nil: null }),
        whenOut: fc.constant('pause' as const),
      }),
      (of, r) => {
        const steps = stockSteps(of, r);
        const shown = quantityShown(of, r);
        expect(shown).toBe(steps.at(-1)!.units);
        expect(shown).toBeGreaterThanOrEqual(0);
        expect(shown).toBeLessThanOrEqual(r.atMost);
        expect(shown * of.pack).toBeLessThanOrEqual(Math.max(0, of.stock - of.promised - of.keptBack));
        if (of.stock <= r.outAt) expect(shown).toBe(0);
        if (shown > 0 && !r.topUp) expect(shown).toBeGreaterThanOrEqual(r.atLeast);
      },
    ),
    { numRuns: 4_000 },
  );
});

test('rules that contradict themselves are told', () => {
  expect(stockProblems(RULE)).toEqual([]);
  expect(stockProblems(rule({ atLeast: 9, topUp: { downTo: 4, backTo: 3 } }))).toHaveLength(2);
});
