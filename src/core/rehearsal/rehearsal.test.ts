import fc from 'fast-check';
import { type Past, type PastMove, rehearse, type Trial, totalsOf, unitsAt } from '.';

const FEW: Trial = {
  quote: (_, { cost, stock }) => ({
    price: cost * 2,
    shown: stock,
    profitAt: (price) => price - cost - 10,
  }),
  turns: () => false,
  fewer: 0,
};

test('each day is sold at the price of then, worked out by hand', () => {
  const past: Past = {
    from: 100,
    to: 103,
    moves: [
      [
        { day: 90, cost: 100, stock: 5 },
        { day: 102, cost: 150, stock: 1 },
      ],
      [{ day: 100, cost: 40, stock: 0 }],
    ],
    sales: [
      { day: 99, listing: 0, units: 9, price: 200, order: 'before' },
      { day: 100, listing: 0, units: 2, price: 200, order: 'a' },
      { day: 102, listing: 0, units: 3, price: 200, order: 'b' },
      { day: 102, listing: 1, units: 1, price: 45, order: 'c' },
    ],
  };
  const days = [...rehearse(past, FEW)];
  // 2 × (200 − 110); then 3 × (300 − 160) and 1 × (80 − 50); two and one more sold than were shown.
  expect(days.map((d) => [d.profit, d.changes, d.oversold, d.below])).toEqual([
    [180, 0, 0, 0],
    [0, 0, 0, 0],
    [450, 1, 3, 0],
    [0, 0, 0, 0],
  ]);
  expect(totalsOf(days)).toEqual({ profit: 630, milli: 6_000, below: 0, oversold: 3, changes: 1 });
  // At half as many for each percent, +50 % sells three quarters of three less.
  const fewer = [...rehearse(past, { ...FEW, fewer: 500_000 })];
  expect(fewer[2]!.sales.map((s) => s.milli)).toEqual([2_250, 611]);
  expect(fewer[2]!.profit).toBe(315 + 18);
});

test('a price that the plans do not give stays as it was, and losses are counted', () => {
  const past: Past = {
    from: 1,
    to: 2,
    moves: [
      [
        { day: 0, cost: 100, stock: 9 },
        { day: 2, cost: 900, stock: 9 },
      ],
    ],
    sales: [{ day: 2, listing: 0, units: 1, price: 210, order: 'a' }],
  };
  const held: Trial = {
    ...FEW,
    quote: (l, m) => ({ ...FEW.quote(l, m)!, price: m.cost > 500 ? null : 200 }),
  };
  expect([...rehearse(past, held)][1]).toMatchObject({ profit: -710, below: 1, changes: 0 });
});

test('day by day with what changed alone is the same as everything quoted anew each day', () => {
  const move = fc.record({
    day: fc.integer({ min: 1, max: 20 }),
    cost: fc.integer({ min: 1, max: 500 }),
    stock: fc.integer({ min: 0, max: 9 }),
  });
  const listing = fc
    .uniqueArray(move, { maxLength: 8, selector: (m) => m.day })
    .map((all): PastMove[] => [{ day: 0, cost: 50, stock: 3 }, ...all.sort((a, b) => a.day - b.day)]);
  const sale = fc.record({
    day: fc.integer({ min: 1, max: 20 }),
    listing: fc.integer({ min: 0, max: 3 }),
    units: fc.integer({ min: 1, max: 4 }),
    price: fc.integer({ min: 1, max: 999 }),
    order: fc.constant('o'),
  });
  fc.assert(
    fc.property(
      fc.array(listing, { minLength: 4, maxLength: 4 }),
      fc.array(sale, { maxLength: 20 }),
      fc.integer({ min: 0, max: 2_000_000 }),
      (moves, sales, fewer) => {
        const past: Past = { from: 1, to: 20, moves, sales: sales.sort((a, b) => a.day - b.day) };
        const changed = [...rehearse(past, { ...FEW, fewer })];
        const anew = [...rehearse(past, { ...FEW, fewer, turns: () => true })];
        expect(changed).toEqual(anew);
        expect(changed.flatMap((d) => d.sales)).toHaveLength(sales.length);
      },
    ),
    { numRuns: 300 },
  );
});

test('fewer sell the dearer it is, as many at the same price, and never less than none', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20 }),
      fc.integer({ min: 1, max: 9_999 }),
      fc.integer({ min: 1, max: 9_999 }),
      fc.integer({ min: 0, max: 5_000_000 }),
      (units, was, price, fewer) => {
        const milli = unitsAt(units, was, price, fewer);
        expect(milli).toBeGreaterThanOrEqual(0);
        if (price === was || !fewer) expect(milli).toBe(units * 1000);
        else if (price > was) expect(milli).toBeLessThanOrEqual(units * 1000);
        else expect(milli).toBeGreaterThanOrEqual(units * 1000);
      },
    ),
  );
});
