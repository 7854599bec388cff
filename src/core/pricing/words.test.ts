import { feesFor, marketplaceFee, paymentFee, shippingFor, taxInside } from './costs';
import { STARTING_PLAN } from './plan';
import { solvePrice } from './solve';
import { endingInWords, planInWords, refusalInWords, stepInWords, targetInWords } from './words';

const TABLE = {
  categories: {
    torches: [
      { upTo: 5000, rate: 120_000 },
      { upTo: null, rate: 90_000 },
    ],
    '*': [{ upTo: null, rate: 150_000 }],
  },
  fixed: 20,
  payment: { rate: 24_000, fixed: 25 },
  taxInside: 200_000,
};

test.each([
  [0, 20, 25, 0],
  [1, 20, 25, 0],
  [1000, 140, 49, 167],
  [5000, 620, 145, 833],
  [5001, 620, 145, 834],
  [12_345, 1281, 321, 2058],
])('the fees of %i are counted to the penny', (price, fee, payment, tax) => {
  const fees = feesFor(TABLE, 'torches');
  expect([marketplaceFee(fees, price), paymentFee(fees, price), taxInside(fees, price)]).toEqual([
    fee,
    payment,
    tax,
  ]);
});

test('a category without a band of its own takes the rest’s, and a table without either is a fault', () => {
  expect(marketplaceFee(feesFor(TABLE, 'unknown'), 1000)).toBe(170);
  expect(() => feesFor({ ...TABLE, categories: {} }, 'x')).toThrow(/no band/);
});

test('shipping is by the first band that holds the weight', () => {
  const bands = [
    { upToGrams: 100, minor: 155 },
    { upToGrams: 750, minor: 295 },
  ];
  expect([0, 100, 101, 750, 751].map((g) => shippingFor(bands, g))).toEqual([155, 155, 295, 295, null]);
});

test('plans, targets and endings read as a person would say them, percentages never two ways', () => {
  expect(targetInWords({ kind: 'markup', rate: 500_000 }, 'GBP')).toBe('markup +50 % on landed cost');
  expect(targetInWords({ kind: 'margin', rate: 125_000 }, 'GBP')).toBe('margin 12.5 % of the selling price');
  expect(planInWords({ ...STARTING_PLAN, flat: 50 }, 'GBP')).toBe(
    'margin 20 % of the selling price plus 0.50, .99 up',
  );
  expect(endingInWords({ minor: 5, per: 10, direction: 'nearest' })).toBe('.5 nearest');
  expect(endingInWords({ minor: 0, per: 100, direction: 'down' })).toBe('whole down');
});

test('every step of a price is told with its amounts, and a refusal with both sides of the contradiction', () => {
  const fees = feesFor(TABLE, 'torches');
  const raised = solvePrice(STARTING_PLAN, { landed: 1120, map: 3050, msrp: null }, fees);
  const told = raised.ok ? raised.steps.map((s) => stepInWords(s, STARTING_PLAN, 'GBP')) : [];
  expect(told).toEqual([
    'The smallest price with margin 20 % of the selling price: 23.82',
    'Never under MAP: 23.82 → 30.50',
    'Ending .99 up: 30.50 → 30.99',
  ]);
  const capped = solvePrice(
    { ...STARTING_PLAN, ending: null },
    { landed: 1120, map: null, msrp: 2300 },
    fees,
  );
  expect(capped.ok && stepInWords(capped.steps[1]!, STARTING_PLAN, 'GBP')).toBe(
    'Never over MSRP: 23.82 → 23.00',
  );
  const against = solvePrice(STARTING_PLAN, { landed: 1120, map: 3050, msrp: 2500 }, fees);
  expect(refusalInWords(against, 'GBP')).toBe(
    'Guards contradict: MAP asks for at least 30.50, MSRP allows at most 25.00.',
  );
  expect(
    refusalInWords(
      solvePrice(
        { ...STARTING_PLAN, target: { kind: 'margin', rate: 900_000 } },
        { landed: 1, map: null, msrp: null },
        fees,
      ),
      'GBP',
    ),
  ).toMatch(/Lower the target/);
});
