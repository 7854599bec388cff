import fc from 'fast-check';
import { deductionsFor, type FeeRule, type FeeTable, feeOn, taxInside } from './fees';
import { profitAt, sumAt, takenOf, withTax } from './sum';

const RULE: Omit<FeeRule, 'id' | 'name' | 'kind' | 'per' | 'bands'> = {
  onShipping: false,
  onTax: true,
  optional: false,
  fixed: 0,
  least: null,
  most: null,
};
const flat = (rate: number) => ({ '*': [{ upTo: null, rate }] });
const UK: FeeTable = {
  rules: [
    {
      ...RULE,
      id: 'sale',
      name: 'Sale fee',
      kind: 'sale',
      per: 'item',
      bands: {
        torches: [
          { upTo: 5000, rate: 120_000 },
          { upTo: null, rate: 90_000 },
        ],
        '*': [{ upTo: null, rate: 150_000 }],
      },
    },
    { ...RULE, id: 'order', name: 'Order fee', kind: 'sale', per: 'order', bands: {}, fixed: 20 },
    {
      ...RULE,
      id: 'pay',
      name: 'Payment',
      kind: 'payment',
      per: 'order',
      bands: flat(24_000),
      fixed: 25,
      onShipping: true,
    },
    {
      ...RULE,
      id: 'ads',
      name: 'Advertising',
      kind: 'advertising',
      per: 'item',
      bands: flat(40_000),
      optional: true,
    },
  ],
  tax: { model: 'inside', rate: 200_000 },
};
const US: FeeTable = { rules: UK.rules, tax: { model: 'added', rate: 70_000 } };

test.each([
  [0, 0, 25, 0],
  [1, 0, 25, 0],
  [1000, 120, 49, 167],
  [5000, 600, 145, 833],
  [5001, 600, 145, 834],
  [12_345, 1261, 321, 2058],
])('the fees of %i are counted to the penny', (price, sale, payment, tax) => {
  const d = deductionsFor(UK, 'torches')!;
  const [first, , second] = d.fees;
  expect([feeOn(first!, price), feeOn(second!, price), taxInside(d.taxInside, price)]).toEqual([
    sale,
    payment,
    tax,
  ]);
});

test('a category without bands of its own takes the rest’s; where there are none, there are no fees to go by', () => {
  expect(feeOn(deductionsFor(UK, 'unknown')!.fees[0]!, 1000)).toBe(150);
  const strict = { ...UK, rules: UK.rules.map((r) => ({ ...r, bands: { torches: r.bands['*'] ?? [] } })) };
  expect(deductionsFor(strict, 'unknown')).toBeNull();
  expect(deductionsFor(strict, 'constructor')).toBeNull();
});

test('tax added at checkout is none of the seller’s, but part of what fees are taken of; an optional fee only counts once opted in', () => {
  // 20.00 and 7 % make 21.40: 12 % of that are 2.568, 2.4 % are 0.5136.
  const d = deductionsFor(US, 'torches')!;
  expect(sumAt(2000, withTax(900, 100, 0), d).lines.map((l) => [l.kind, l.minor])).toEqual([
    ['goods', 900],
    ['shipping', 100],
    ['sale', 257],
    ['sale', 20],
    ['payment', 76],
  ]);
  expect(deductionsFor(UK, 'torches', ['ads'])!.fees.map((f) => f.kind)).toContain('advertising');
});

test('a fee on the price without tax, at least and at most so much', () => {
  const rule: FeeRule = {
    ...RULE,
    id: 's',
    name: 'S',
    kind: 'sale',
    per: 'item',
    bands: flat(100_000),
    onTax: false,
    least: 40,
    most: 300,
  };
  const [fee] = deductionsFor({ rules: [rule], tax: UK.tax }, 'x')!.fees;
  // 12.00 holds 2.00 of tax: a tenth of 10.00.
  expect([300, 1200, 6000].map((price) => feeOn(fee!, price))).toEqual([40, 100, 300]);
});

test('an order is charged by unit what is charged by unit, and once what is charged once', () => {
  const torches = deductionsFor(UK, 'torches')!;
  const rest = deductionsFor(UK, 'rest')!;
  const lines = [
    { unitPrice: 1000, quantity: 2, deductions: torches },
    { unitPrice: 501, quantity: 1, deductions: rest },
  ];
  // Sale: 2 × 1.20 + 0.75, order 0.20; payment 2.4 % of 25.01 + 3.00 and 0.25; tax a sixth of 28.01.
  expect(takenOf(lines, 300)).toEqual([
    { kind: 'sale', name: 'Sale fee', minor: 315 },
    { kind: 'sale', name: 'Order fee', minor: 20 },
    { kind: 'payment', name: 'Payment', minor: 92 },
    { kind: 'tax', name: '', minor: 467 },
  ]);
});

test('the price’s sum and the order’s are the same for one unit, and the inner loop agrees with both', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 500_000 }),
      fc.integer({ min: 0, max: 90_000 }),
      fc.constantFrom(UK, US),
      fc.constantFrom('torches', 'rest'),
      fc.constantFrom(0, 190_000),
      (price, goods, table, category, costTax) => {
        const d = deductionsFor(table, category, ['ads'])!;
        const sum = sumAt(price, withTax(goods, 250, costTax), d);
        const taken = takenOf([{ unitPrice: price, quantity: 1, deductions: d }], 0);
        expect(sum.lines.filter((l) => !['goods', 'shipping', 'tax on cost'].includes(l.kind))).toEqual(
          taken,
        );
        expect(profitAt(price, sum.landed, d)).toBe(sum.profit);
        expect(sum.lines.reduce((left, l) => left - l.minor, price)).toBe(sum.profit);
      },
    ),
  );
});
