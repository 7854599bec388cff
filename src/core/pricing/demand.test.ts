import fc from 'fast-check';
import {
  afterRest,
  afterSale,
  type DemandRule,
  demandProblems,
  noDemand,
  type PricePlan,
  STARTING_PLAN,
  solvePrice,
  steppedPrice,
} from '.';

const DAY = 86_400_000;
const RULE: DemandRule = {
  raise: { sales: 3, rate: 20_000, minor: 5, most: 100_000 },
  lower: { days: 7, rate: 50_000, minor: 0, most: 120_000 },
};
const sale = (units: number, at: number) => ({ units, earned: units * 400, price: 2000, at });

test('by hand: up with every third sale, never over the cap, down after each week without one, never under the floor', () => {
  let demand = noDemand(0);
  demand = afterSale(demand, RULE, sale(2, DAY));
  expect(demand).toEqual({ steps: 0, sold: 2, earned: 800, since: DAY });
  demand = afterSale(demand, RULE, sale(2, 2 * DAY));
  // 20.00 × 2 % + 0.05 = 0.45
  expect(demand).toEqual({ steps: 1, sold: 1, earned: 0, since: 2 * DAY });
  expect(steppedPrice(2000, 1, RULE)).toBe(2045);
  demand = afterSale(demand, RULE, sale(30, 3 * DAY));
  // 10 % of 20.00 is 2.00: the fifth step reaches it, a sixth would not move it.
  expect(demand.steps).toBe(5);
  expect(steppedPrice(2000, 5, RULE)).toBe(2200);
  expect(afterRest(demand, RULE, 2000, 9 * DAY)).toBe(demand);
  for (let week = 1; week <= 5; week++) demand = afterRest(demand, RULE, 2000, (3 + 7 * week) * DAY);
  expect(demand.steps).toBe(0);
  for (let week = 6; week <= 20; week++) demand = afterRest(demand, RULE, 2000, (3 + 7 * week) * DAY);
  // 5 %, 10 %, then the floor of 12 %.
  expect(demand.steps).toBe(-3);
  expect([-1, -2, -3].map((steps) => steppedPrice(2000, steps, RULE))).toEqual([1900, 1800, 1760]);
});

test('guards hold after a step, and the ending comes last', () => {
  const plan: PricePlan = {
    ...STARTING_PLAN,
    bands: [{ upTo: null, target: { kind: 'fixed', minor: 2000 }, flat: 0 }],
    endings: [{ upTo: null, ending: { minor: 49, per: 50, direction: 'up' } }],
    smallestProfit: 700,
    demand: RULE,
  };
  const item = { landed: 1000, map: null, msrp: 2100 };
  const free = { fees: [], taxInside: 0, pieces: [{ upTo: Infinity, slope: 1, base: 0 }], slack: 0 } as never;
  const priceAt = (demand: number) => {
    const answer = solvePrice(plan, { ...item, demand }, free);
    return answer.ok ? [answer.price, ...answer.steps.map((s) => s.rule)] : answer;
  };
  expect(priceAt(0)).toEqual([2049, 'target', 'ending']);
  expect(priceAt(1)).toEqual([2049, 'target', 'demand', 'ending']);
  // 22.00 is over MSRP 21.00, 17.60 earns less than wanted.
  expect(priceAt(5)).toEqual([2099, 'target', 'demand', 'msrp', 'ending']);
  expect(priceAt(-3)).toEqual([1799, 'target', 'demand', 'ending']);
  const least = { ...plan, smallestProfit: 850 };
  const answer = solvePrice(least, { ...item, demand: -3 }, free);
  expect(answer).toMatchObject({ ok: true, price: 1899 });
});

test('whatever is sold and however long nothing is, a price stays between floor and cap', () => {
  const step = fc.record({
    rate: fc.integer({ min: 0, max: 300_000 }),
    minor: fc.integer({ min: 0, max: 300 }),
    most: fc.integer({ min: 1, max: 900_000 }),
  });
  fc.assert(
    fc.property(
      step,
      step,
      fc.integer({ min: 1, max: 100_000 }),
      fc.array(fc.integer({ min: 0, max: 5 }), { maxLength: 60 }),
      (up, down, price, days) => {
        const rule: DemandRule = { raise: { ...up, sales: 2 }, lower: { ...down, days: 3 } };
        let demand = noDemand(0);
        for (const [day, units] of days.entries()) {
          if (units) demand = afterSale(demand, rule, { ...sale(units, day * DAY), price });
          demand = afterRest(demand, rule, price, day * DAY);
          const now = steppedPrice(price, demand.steps, rule);
          expect(now).toBeLessThanOrEqual(price + Math.round((price * up.most) / 1e6));
          expect(now).toBeGreaterThanOrEqual(price - Math.round((price * down.most) / 1e6));
        }
      },
    ),
  );
});

test('a rule that cannot be is said to be so', () => {
  expect(demandProblems(RULE)).toEqual([]);
  expect(
    demandProblems({
      raise: { sales: 0, rate: 0, minor: 0, most: 100_000 },
      lower: { days: 2, rate: 10_000, minor: 0, most: 1_000_000 },
    }),
  ).toHaveLength(3);
});
