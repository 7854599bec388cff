import fc from 'fast-check';
import { type Deductions, deductionsFor } from './fees';
import type { PricePlan, Target } from './plan';
import { breakEven, solvePrice, solveTarget } from './solve';
import { profitAt, sumAt, totalOf, withTax } from './sum';

const MILLION = 1_000_000;

const RULE = { onShipping: false, onTax: true, optional: false, least: null, most: null };
const amountOrNone = fc.option(fc.integer({ min: 0, max: 900 }), { nil: null });

/**
 * Real-looking and odd fees: up to three bands, even with a dear one first, so that profit may fall before it
 * rises; least and most; on the price with or without tax; every model of tax.
 */
const fees = fc
  .record({
    edges: fc.uniqueArray(fc.integer({ min: 100, max: 6_000 }), { maxLength: 2 }),
    rates: fc.array(fc.integer({ min: 0, max: 450_000 }), { minLength: 3, maxLength: 3 }),
    fixed: fc.integer({ min: 0, max: 80 }),
    least: amountOrNone,
    most: amountOrNone,
    onTax: fc.boolean(),
    paymentRate: fc.integer({ min: 0, max: 60_000 }),
    paymentFixed: fc.integer({ min: 0, max: 60 }),
    tax: fc.record({
      model: fc.constantFrom('inside' as const, 'added' as const, 'none' as const),
      rate: fc.constantFrom(0, 50_000, 77_000, 190_000, 200_000, 250_000),
    }),
  })
  .map(({ edges, rates, fixed, least, most, onTax, paymentRate, paymentFixed, tax }): Deductions => {
    const sorted = [...edges].sort((a, b) => a - b);
    const bands = [...sorted.map((upTo, i) => ({ upTo, rate: rates[i]! })), { upTo: null, rate: rates[2]! }];
    const limits =
      most !== null && least !== null && most < least ? { least: most, most: least } : { least, most };
    const sale = { ...RULE, ...limits, id: 's', name: 'S', kind: 'sale', per: 'item', onTax, fixed } as const;
    const payment = {
      ...RULE,
      id: 'p',
      name: 'P',
      kind: 'payment',
      per: 'order',
      fixed: paymentFixed,
    } as const;
    return deductionsFor(
      {
        rules: [
          { ...sale, bands: { '*': bands } },
          { ...payment, bands: { '*': [{ upTo: null, rate: paymentRate }] } },
        ],
        tax,
      },
      'any',
    )!;
  });

const target: fc.Arbitrary<Target> = fc.oneof(
  fc.integer({ min: 0, max: 450_000 }).map((rate) => ({ kind: 'margin' as const, rate })),
  fc.integer({ min: 0, max: 2_500_000 }).map((rate) => ({ kind: 'markup' as const, rate })),
  fc.integer({ min: 0, max: 3_000 }).map((minor) => ({ kind: 'profit' as const, minor })),
);

const landed = fc.integer({ min: 1, max: 4_000 });
const CEILING = 12_000;

/** Says in the plainest way whether a price meets a target; everything stays below 2^53. */
function meets(price: number, cost: number, f: Deductions, t: Target, flat: number): boolean {
  const profit = (profitAt(price, cost, f) - flat) * MILLION;
  if (t.kind === 'margin') return profit >= t.rate * price;
  if (t.kind === 'markup') return profit >= t.rate * cost;
  return profit >= t.minor * MILLION;
}

function bruteForce(test: (price: number) => boolean): number | null {
  for (let price = 0; price <= CEILING; price++) if (test(price)) return price;
  return null;
}

test('the solved price is the smallest that a search penny by penny finds', () => {
  let found = 0;
  fc.assert(
    fc.property(target, fees, landed, fc.integer({ min: -200, max: 400 }), (t, f, cost, flat) => {
      const solved = solveTarget(t, flat, cost, f);
      const searched = bruteForce((p) => meets(p, cost, f, t, flat));
      if (searched === null) expect(solved === null || solved > CEILING).toBe(true);
      else {
        found++;
        expect(solved).toBe(searched);
      }
    }),
    { numRuns: 200, seed: 20_261_101 },
  );
  expect(found).toBeGreaterThan(90);
});

test('break-even is the smallest price that does not lose', () => {
  fc.assert(
    fc.property(fees, landed, (f, cost) => {
      const searched = bruteForce((p) => profitAt(p, cost, f) >= 0);
      const solved = breakEven(cost, f);
      if (searched !== null) expect(solved).toBe(searched);
    }),
    { numRuns: 120, seed: 7 },
  );
});

test('profit really dips as the price rises, so that bisection over rounded profit would be wrong', () => {
  const f = deductionsFor(
    {
      rules: [
        {
          ...RULE,
          id: 's',
          name: 'S',
          kind: 'sale',
          per: 'item',
          bands: { '*': [{ upTo: null, rate: 150_000 }] },
          fixed: 0,
        },
        {
          ...RULE,
          id: 'p',
          name: 'P',
          kind: 'payment',
          per: 'order',
          bands: { '*': [{ upTo: null, rate: 50_000 }] },
          fixed: 0,
        },
      ],
      tax: { model: 'inside', rate: 200_000 },
    },
    'any',
  )!;
  const dips = Array.from({ length: 2000 }, (_, p) => p + 1).filter(
    (p) => profitAt(p, 100, f) < profitAt(p - 1, 100, f),
  );
  expect(dips.length).toBeGreaterThan(0);
});

const plan = fc.record({
  target,
  flat: fc.integer({ min: 0, max: 200 }),
  neverUnderMap: fc.boolean(),
  neverOverMsrp: fc.boolean(),
  smallestProfit: fc.integer({ min: 0, max: 600 }),
  ending: fc.option(
    fc.record({
      minor: fc.constantFrom(99, 95, 0),
      per: fc.constant(100),
      direction: fc.constantFrom('up' as const, 'down' as const, 'nearest' as const),
    }),
    { nil: null },
  ),
  contradiction: fc.constant('show none' as const),
});
const guard = fc.option(fc.integer({ min: 50, max: 9_000 }), { nil: null });

test('no price ever goes through a guard, and a refusal is given only where the guards leave nothing', () => {
  fc.assert(
    fc.property(plan, fees, landed, guard, guard, (p: PricePlan, f, cost, map, msrp) => {
      const answer = solvePrice(p, { landed: cost, map, msrp }, f);
      const kept = (price: number) =>
        (!p.neverUnderMap || map === null || price >= map) &&
        (!p.neverOverMsrp || msrp === null || price <= msrp) &&
        profitAt(price, cost, f) >= p.smallestProfit;
      if (answer.ok) {
        expect(kept(answer.price)).toBe(true);
        expect(answer.meetsTarget).toBe(meets(answer.price, cost, f, p.target, p.flat));
        expect(answer.steps.at(-1)!.price).toBe(answer.price);
      } else if (answer.why === 'guards' && p.neverOverMsrp && msrp !== null) {
        expect(bruteForce((price) => kept(price) && price <= msrp)).toBeNull();
      }
    }),
    { numRuns: 1500, seed: 99 },
  );
});

const UK = deductionsFor(
  {
    rules: [
      {
        ...RULE,
        id: 'sale',
        name: 'Sale fee',
        kind: 'sale',
        per: 'item',
        bands: {
          '*': [
            { upTo: 5_000, rate: 120_000 },
            { upTo: null, rate: 90_000 },
          ],
        },
        fixed: 20,
      },
      {
        ...RULE,
        id: 'payment',
        name: 'Payment fee',
        kind: 'payment',
        per: 'order',
        bands: { '*': [{ upTo: null, rate: 24_000 }] },
        fixed: 25,
      },
    ],
    tax: { model: 'inside', rate: 200_000 },
  },
  'any',
)!;
const PLAN: PricePlan = {
  target: { kind: 'margin', rate: 200_000 },
  flat: 0,
  neverUnderMap: true,
  neverOverMsrp: true,
  smallestProfit: 100,
  ending: { minor: 99, per: 100, direction: 'up' },
  contradiction: 'show none',
};

test('a worked example adds up to the penny', () => {
  // 24.99: fee 12 % = 2.9988 → 3.00 + 0.20; payment 2.4 % = 0.59976 → 0.60 + 0.25; VAT 24.99 / 6 = 4.165 →
  // 4.17.
  expect(sumAt(2499, withTax(1000, 120, 0), UK)).toEqual({
    price: 2499,
    lines: [
      { kind: 'goods', name: '', minor: 1000 },
      { kind: 'shipping', name: '', minor: 120 },
      { kind: 'sale', name: 'Sale fee', minor: 320 },
      { kind: 'payment', name: 'Payment fee', minor: 85 },
      { kind: 'tax', name: '', minor: 417 },
    ],
    landed: 1120,
    profit: 557,
  });
  // 60.00 crosses the band: 50.00 at 12 % and 10.00 at 9 %.
  expect(totalOf(sumAt(6000, withTax(0, 0, 0), UK), 'sale')).toBe(600 + 90 + 20);
});

test('guards move the price and say so in order', () => {
  const solve = (part: Partial<PricePlan>, map: number | null, msrp: number | null) =>
    solvePrice({ ...PLAN, ...part }, { landed: 1120, map, msrp }, UK);
  const free = solve({ ending: null }, null, null);
  expect(free.ok && free.steps.map((s) => s.rule)).toEqual(['target']);
  const underMap = solve({}, 3_050, null);
  expect(underMap.ok && [underMap.price, underMap.steps.map((s) => s.rule)]).toEqual([
    3_099,
    ['target', 'map', 'ending'],
  ]);
  const overMsrp = solve({}, null, 2_200);
  expect(overMsrp.ok && [overMsrp.price, overMsrp.meetsTarget]).toEqual([2_199, false]);
  expect(solve({ smallestProfit: 900 }, null, 2_200)).toMatchObject({
    ok: false,
    why: 'guards',
    floorBy: 'smallest-profit',
    ceiling: 2_200,
  });
  expect(solve({ target: { kind: 'margin', rate: 800_000 } }, null, null)).toEqual({
    ok: false,
    why: 'unreachable',
  });
  // .99 up would break MSRP 24.50, so the ending below is taken.
  const capped = solve({ target: { kind: 'profit', minor: 500 } }, null, 2_450);
  expect(capped.ok && capped.price).toBe(2_399);
});
