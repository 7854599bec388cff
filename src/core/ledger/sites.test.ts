import { deductionsFor, type FeeRule, type FeeTable, takenOf } from '../pricing';

/** The fee tables of the three sites, as far as one order needs them. */
const rule = (id: string, part: Partial<FeeRule>): FeeRule => ({
  id,
  name: id,
  kind: 'sale',
  per: 'item',
  bands: {},
  fixed: 0,
  least: null,
  most: null,
  onShipping: true,
  onTax: true,
  optional: false,
  ...part,
});
const all = (rate: number) => ({ '*': [{ upTo: null, rate }] });
const SITES: Readonly<Record<string, FeeTable>> = {
  'Pennywharf UK': {
    rules: [
      rule('sale', { bands: all(120_000) }),
      rule('order', { per: 'order', fixed: 20, onShipping: false }),
      rule('payment', { kind: 'payment', per: 'order', bands: all(24_000), fixed: 25 }),
    ],
    tax: { model: 'inside', rate: 200_000 },
  },
  'Pennywharf US': {
    rules: [
      rule('sale', {
        bands: {
          '*': [
            { upTo: 200_000, rate: 129_000 },
            { upTo: null, rate: 25_000 },
          ],
        },
        most: 75_000,
      }),
      rule('order', { per: 'order', fixed: 30, onShipping: false }),
      rule('payment', { kind: 'payment', per: 'order', bands: all(29_000), fixed: 30 }),
    ],
    tax: { model: 'added', rate: 72_500 },
  },
  Loomhall: {
    rules: [
      rule('sale', { bands: all(65_000) }),
      rule('listing', { kind: 'listing', per: 'listing', fixed: 20, onShipping: false }),
      rule('payment', { kind: 'payment', per: 'order', bands: all(40_000), fixed: 30 }),
    ],
    tax: { model: 'inside', rate: 190_000 },
  },
};

test.each([
  ['Pennywharf UK', 2499, 0, [300, 20, 85, 417], 1677],
  ['Pennywharf US', 2999, 595, [497, 30, 142], 2925],
  ['Loomhall', 2999, 450, [224, 20, 168, 551], 2486],
])('one order on %s, line by line', (site, price, shipping, amounts, left) => {
  const deductions = deductionsFor(SITES[site]!, 'any')!;
  const taken = takenOf([{ unitPrice: price, quantity: 1, deductions }], shipping);
  expect(taken.map((t) => t.minor)).toEqual(amounts);
  expect(price + shipping - taken.reduce((n, t) => n + t.minor, 0)).toBe(left);
});
