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

/**
 * A hundred made-up orders, worked out apart from this code in exact fractions: site, what was bought, the buyer's shipping, sale
 * fee, order or listing fee, payment fee, tax inside, and what is left before cost.
 */
const ORDERS = `
Pennywharf UK | 41.43                               | 0.00 |   4.97 | 0.20 |   1.24 |   6.91 |    28.11
Pennywharf UK | 2 × 98.04 + 98.34                   | 0.00 |  35.32 | 0.20 |   7.32 |  49.07 |   202.51
Pennywharf UK | 3 × 135.78                          | 0.00 |  48.87 | 0.20 |  10.03 |  67.89 |   280.35
Pennywharf UK | 3 × 22.82 + 2 × 49.99               | 0.00 |  20.22 | 0.20 |   4.29 |  28.07 |   115.66
Pennywharf UK | 14.82 + 2 × 3.96                    | 0.00 |   2.74 | 0.20 |   0.80 |   3.79 |    15.21
Pennywharf UK | 3.68 + 49.99                        | 0.00 |   6.44 | 0.20 |   1.54 |   8.95 |    36.54
Pennywharf UK | 419.46                              | 0.00 |  50.34 | 0.20 |  10.32 |  69.91 |   288.69
Pennywharf UK | 6.64 + 2.81                         | 0.00 |   1.14 | 0.20 |   0.48 |   1.58 |     6.05
Pennywharf UK | 13.39 + 10.21 + 2 × 86.03           | 0.00 |  23.48 | 0.20 |   4.95 |  32.61 |   134.42
Pennywharf UK | 2 × 3.32                            | 0.00 |   0.80 | 0.20 |   0.41 |   1.11 |     4.12
Pennywharf UK | 2 × 199.24                          | 0.00 |  47.82 | 0.20 |   9.81 |  66.41 |   274.24
Pennywharf UK | 300.53 + 9.99                       | 0.00 |  37.26 | 0.20 |   7.70 |  51.75 |   213.61
Pennywharf UK | 2 × 11.50 + 18.53                   | 0.00 |   4.98 | 0.20 |   1.25 |   6.92 |    28.18
Pennywharf UK | 3 × 49.99 + 3 × 82.33               | 0.00 |  47.64 | 0.20 |   9.78 |  66.16 |   273.18
Pennywharf UK | 15.09                               | 0.00 |   1.81 | 0.20 |   0.61 |   2.52 |     9.95
Pennywharf UK | 401.15                              | 0.00 |  48.14 | 0.20 |   9.88 |  66.86 |   276.07
Pennywharf UK | 78.55 + 2 × 16.50 + 2 × 380.41      | 0.00 | 104.69 | 0.20 |  21.19 | 145.40 |   600.89
Pennywharf UK | 2 × 143.28 + 58.18                  | 0.00 |  41.36 | 0.20 |   8.52 |  57.46 |   237.20
Pennywharf UK | 9.52 + 3 × 393.91 + 6.09            | 0.00 | 143.68 | 0.20 |  28.99 | 199.56 |   824.91
Pennywharf UK | 2 × 487.87                          | 0.00 | 117.08 | 0.20 |  23.67 | 162.62 |   672.17
Pennywharf UK | 268.90                              | 0.00 |  32.27 | 0.20 |   6.70 |  44.82 |   184.91
Pennywharf UK | 3 × 6.80                            | 0.00 |   2.46 | 0.20 |   0.74 |   3.40 |    13.60
Pennywharf UK | 36.44 + 556.21 + 3 × 229.83         | 0.00 | 153.86 | 0.20 |  31.02 | 213.69 |   883.37
Pennywharf UK | 2 × 9.12                            | 0.00 |   2.18 | 0.20 |   0.69 |   3.04 |    12.13
Pennywharf UK | 3 × 58.27 + 3 × 490.03              | 0.00 | 197.37 | 0.20 |  39.73 | 274.15 |  1133.45
Pennywharf UK | 3.31 + 3 × 9.99 + 2 × 24.99         | 0.00 |  10.00 | 0.20 |   2.25 |  13.88 |    56.93
Pennywharf UK | 4.58                                | 0.00 |   0.55 | 0.20 |   0.36 |   0.76 |     2.71
Pennywharf UK | 2 × 122.84                          | 0.00 |  29.48 | 0.20 |   6.15 |  40.95 |   168.90
Pennywharf UK | 6.75 + 4.41                         | 0.00 |   1.34 | 0.20 |   0.52 |   1.86 |     7.24
Pennywharf UK | 90.70                               | 0.00 |  10.88 | 0.20 |   2.43 |  15.12 |    62.07
Pennywharf UK | 70.57                               | 0.00 |   8.47 | 0.20 |   1.94 |  11.76 |    48.20
Pennywharf UK | 2 × 35.60 + 481.28 + 54.48          | 0.00 |  72.83 | 0.20 |  14.82 | 101.16 |   417.95
Pennywharf UK | 33.73 + 3 × 332.51                  | 0.00 | 123.75 | 0.20 |  25.00 | 171.88 |   710.43
Pennywharf UK | 2 × 9.39 + 3 × 35.13                | 0.00 |  14.92 | 0.20 |   3.23 |  20.70 |    85.12
Pennywharf US | 3 × 81.89 + 3 × 8.71                | 5.95 |  38.43 | 0.30 |   8.94 |   0.00 |   230.08
Pennywharf US | 19.91 + 7.38                        | 0.00 |   3.77 | 0.30 |   1.15 |   0.00 |    22.07
Pennywharf US | 23.00 + 2 × 385.47                  | 5.95 | 110.67 | 0.30 |  25.18 |   0.00 |   663.74
Pennywharf US | 2 × 2318.80                         | 0.00 | 540.34 | 0.30 | 144.54 |   0.00 |  3952.42
Pennywharf US | 2 × 24.13                           | 5.95 |   7.50 | 0.30 |   1.99 |   0.00 |    44.42
Pennywharf US | 76.88 + 19.75                       | 0.00 |  13.37 | 0.30 |   3.31 |   0.00 |    79.65
Pennywharf US | 515.25 + 19.99 + 3 × 17.93          | 5.95 |  82.33 | 0.30 |  18.81 |   0.00 |   493.54
Pennywharf US | 3 × 340.29                          | 5.95 | 142.06 | 0.30 |  32.24 |   0.00 |   852.22
Pennywharf US | 124.84 + 49.99                      | 5.95 |  25.01 | 0.30 |   5.92 |   0.00 |   149.55
Pennywharf US | 68.33 + 2 × 3.43                    | 0.00 |  10.39 | 0.30 |   2.64 |   0.00 |    61.86
Pennywharf US | 37.78 + 2 × 74.85                   | 0.00 |  25.95 | 0.30 |   6.13 |   0.00 |   155.10
Pennywharf US | 2 × 8721.09                         | 5.95 | 883.82 | 0.30 | 542.98 |   0.00 | 16021.03
Pennywharf US | 505.01 + 300.08 + 3 × 98.59         | 0.00 | 152.31 | 0.30 |  34.54 |   0.00 |   913.71
Pennywharf US | 7.23                                | 0.00 |   1.00 | 0.30 |   0.52 |   0.00 |     5.41
Pennywharf US | 49.99                               | 5.95 |   7.74 | 0.30 |   2.04 |   0.00 |    45.86
Pennywharf US | 2 × 1.99 + 2 × 49.99 + 2 × 6.53     | 5.95 |  17.02 | 0.30 |   4.12 |   0.00 |   101.53
Pennywharf US | 2 × 46.91                           | 5.95 |  13.80 | 0.30 |   3.40 |   0.00 |    82.27
Pennywharf US | 2 × 541.76 + 91.35                  | 5.95 | 163.36 | 0.30 |  37.03 |   0.00 |   980.13
Pennywharf US | 9.99 + 64.57                        | 5.95 |  11.14 | 0.30 |   2.80 |   0.00 |    66.27
Pennywharf US | 2 × 7953.96                         | 5.95 | 842.70 | 0.30 | 495.26 |   0.00 | 14575.61
Pennywharf US | 2 × 39.53                           | 0.00 |  10.94 | 0.30 |   2.76 |   0.00 |    65.06
Pennywharf US | 15.77 + 194.41                      | 0.00 |  29.08 | 0.30 |   6.84 |   0.00 |   173.96
Pennywharf US | 24.99                               | 0.00 |   3.46 | 0.30 |   1.08 |   0.00 |    20.15
Pennywharf US | 2 × 18.06 + 9.99                    | 5.95 |   7.20 | 0.30 |   1.92 |   0.00 |    42.64
Pennywharf US | 19.31 + 24.99                       | 5.95 |   6.95 | 0.30 |   1.86 |   0.00 |    41.14
Pennywharf US | 3 × 12.43                           | 0.00 |   5.16 | 0.30 |   1.46 |   0.00 |    30.37
Pennywharf US | 3 × 69.63 + 49.99                   | 5.95 |  36.63 | 0.30 |   8.54 |   0.00 |   219.36
Pennywharf US | 573.59                              | 5.95 |  80.18 | 0.30 |  18.33 |   0.00 |   480.73
Pennywharf US | 2 × 77.21 + 95.76                   | 5.95 |  35.44 | 0.30 |   8.27 |   0.00 |   212.12
Pennywharf US | 49.99                               | 5.95 |   7.74 | 0.30 |   2.04 |   0.00 |    45.86
Pennywharf US | 3 × 43.01                           | 5.95 |  18.67 | 0.30 |   4.50 |   0.00 |   111.51
Pennywharf US | 2 × 6.47                            | 0.00 |   1.80 | 0.30 |   0.70 |   0.00 |    10.14
Pennywharf US | 49.99                               | 5.95 |   7.74 | 0.30 |   2.04 |   0.00 |    45.86
Pennywharf US | 3 × 19.99 + 3 × 21.46 + 63.54       | 5.95 |  26.80 | 0.30 |   6.33 |   0.00 |   160.41
Loomhall      | 2 × 35.43                           | 4.50 |   4.90 | 0.40 |   3.31 |  12.03 |    54.72
Loomhall      | 418.79 + 514.15 + 34.44             | 0.00 |  62.88 | 0.60 |  39.00 | 154.46 |   710.44
Loomhall      | 98.75                               | 0.00 |   6.42 | 0.20 |   4.25 |  15.77 |    72.11
Loomhall      | 49.99 + 3 × 5.76 + 3 × 257.77       | 4.50 |  54.93 | 1.40 |  34.10 | 134.93 |   619.72
Loomhall      | 3 × 212.20 + 41.92                  | 4.50 |  44.38 | 0.80 |  27.62 | 109.05 |   501.17
Loomhall      | 247.73                              | 0.00 |  16.10 | 0.20 |  10.21 |  39.55 |   181.67
Loomhall      | 65.31                               | 0.00 |   4.25 | 0.20 |   2.91 |  10.43 |    47.52
Loomhall      | 15.81                               | 4.50 |   1.32 | 0.20 |   1.11 |   3.24 |    14.44
Loomhall      | 29.63 + 75.99                       | 0.00 |   6.87 | 0.40 |   4.52 |  16.86 |    76.97
Loomhall      | 49.99 + 89.00                       | 4.50 |   9.32 | 0.40 |   6.04 |  22.91 |   104.82
Loomhall      | 5.22                                | 0.00 |   0.34 | 0.20 |   0.51 |   0.83 |     3.34
Loomhall      | 3 × 489.55 + 2 × 24.99 + 150.16     | 0.00 | 108.46 | 1.20 |  67.05 | 266.45 |  1225.63
Loomhall      | 2 × 194.15 + 572.79                 | 4.50 |  62.77 | 0.60 |  38.92 | 154.17 |   709.13
Loomhall      | 3.56                                | 4.50 |   0.52 | 0.20 |   0.62 |   1.29 |     5.43
Loomhall      | 19.99 + 3 × 563.14 + 6.81           | 4.50 | 111.84 | 1.00 |  69.13 | 274.74 |  1264.01
Loomhall      | 2 × 8.25 + 78.67                    | 4.50 |   6.48 | 0.60 |   4.29 |  15.91 |    72.39
Loomhall      | 3 × 16.24 + 374.31 + 260.80         | 4.50 |  44.73 | 1.00 |  27.83 | 109.90 |   504.87
Loomhall      | 13.14                               | 0.00 |   0.85 | 0.20 |   0.83 |   2.10 |     9.16
Loomhall      | 252.22 + 3 × 83.50                  | 4.50 |  32.98 | 0.80 |  20.59 |  80.98 |   371.87
Loomhall      | 2 × 9.99 + 16.90                    | 0.00 |   2.40 | 0.60 |   1.78 |   5.89 |    26.21
Loomhall      | 3 × 219.96                          | 4.50 |  43.17 | 0.60 |  26.88 | 106.08 |   487.65
Loomhall      | 3 × 81.20                           | 4.50 |  16.14 | 0.60 |  10.22 |  39.61 |   181.53
Loomhall      | 3 × 49.99 + 8.32                    | 4.50 |  10.58 | 0.80 |   6.81 |  25.99 |   118.61
Loomhall      | 97.74                               | 4.50 |   6.65 | 0.20 |   4.39 |  16.32 |    74.68
Loomhall      | 2 × 19.99 + 2 × 526.25 + 2 × 409.96 | 0.00 | 124.32 | 1.20 |  76.80 | 305.34 |  1404.74
Loomhall      | 2 × 82.16 + 70.17                   | 0.00 |  15.24 | 0.60 |   9.68 |  37.44 |   171.53
Loomhall      | 9.99                                | 4.50 |   0.94 | 0.20 |   0.88 |   2.31 |    10.16
Loomhall      | 49.99                               | 4.50 |   3.54 | 0.20 |   2.48 |   8.70 |    39.57
Loomhall      | 7.78 + 2 × 19.99 + 65.82            | 4.50 |   7.68 | 0.80 |   5.02 |  18.85 |    85.73
Loomhall      | 3 × 22.83                           | 0.00 |   4.44 | 0.60 |   3.04 |  10.94 |    49.47
Loomhall      | 3 × 49.99 + 2 × 24.11               | 0.00 |  12.89 | 1.00 |   8.23 |  31.64 |   144.43
Loomhall      | 2 × 24.99                           | 0.00 |   3.24 | 0.40 |   2.30 |   7.98 |    36.06
Loomhall      | 2 × 13.84 + 9.99                    | 4.50 |   2.75 | 0.60 |   1.99 |   6.73 |    30.10
Loomhall      | 3.32 + 2 × 7.40                     | 4.50 |   1.47 | 0.60 |   1.20 |   3.61 |    15.74
`;

const minor = (text: string) => Number(text.replace('.', ''));
const orders = ORDERS.trim()
  .split('\n')
  .map((row) => row.split('|').map((cell) => cell.trim()));

test('there are a hundred of them, on every site', () => {
  expect(orders.length).toBeGreaterThanOrEqual(100);
  expect(new Set(orders.map(([site]) => site)).size).toBe(3);
});

test.each(orders)('%s: %s, shipping %s', (site, bought, shipping, sale, per, payment, tax, left) => {
  const deductions = deductionsFor(SITES[site!]!, 'any')!;
  const lines = bought!.split(' + ').map((line) => {
    const [, quantity = '1', price = ''] = /^(?:(\d+) × )?([\d.]+)$/.exec(line)!;
    return { unitPrice: minor(price), quantity: Number(quantity), deductions };
  });
  const taken = takenOf(lines, minor(shipping!));
  const of = (name: string) => taken.filter((t) => t.name === name).reduce((sum, t) => sum + t.minor, 0);
  const perName = site === 'Loomhall' ? 'listing' : 'order';
  const vat = taken.find((t) => t.kind === 'tax')?.minor ?? 0;
  expect([of('sale'), of(perName), of('payment'), vat]).toEqual(
    [sale, per, payment, tax].map((t) => minor(t!)),
  );
  const paid = lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0) + minor(shipping!);
  expect(taken.reduce((sum, t) => sum - t.minor, paid)).toBe(minor(left!));
});
