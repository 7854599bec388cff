import fc from 'fast-check';
import { SAME, WHOLE } from '../money';
import {
  buyersInWords,
  type CostRules,
  costsByCountry,
  discountsInWords,
  furtherCosts,
  importsInWords,
  itemPricesInWords,
  landedCosts,
  landedOf,
  NO_COST_RULES,
  parseBuyers,
  parseDiscounts,
  parseImports,
  parseItemPrices,
  parseZones,
  shippingTo,
  sumAt,
  withTax,
  zonesInWords,
} from '.';

const shipping = [
  { upToGrams: 2000, minor: 350 },
  { upToGrams: 30_000, minor: 990 },
];
const rules = (set: Partial<CostRules>): CostRules => ({ ...NO_COST_RULES, ...set });
const unit: Parameters<typeof landedCosts>[0] = {
  cost: 2000,
  pack: 1,
  sku: '',
  grams: 1500,
  cubicMillimetres: null,
};
const GB = [{ country: 'GB', share: WHOLE }];
const MIX = [
  { country: 'GB', share: 750_000 },
  { country: 'US', share: 250_000 },
];
const landed = (set: Partial<CostRules>, buyers = GB, of = unit, tax = 0) =>
  landedCosts(of, { shipping, rules: rules(set) }, buyers, SAME, tax);

test('without rules it is goods, shipping and tax, as ever', () => {
  expect(landedCosts(unit, { shipping, rules: null }, MIX, SAME, 200_000)).toEqual(
    withTax(2000, 350, 200_000),
  );
  expect(landed({}, MIX, unit, 200_000)).toEqual(withTax(2000, 350, 200_000));
});

test('where buyers are: the cheapest service of each zone, the mean by share, by hand', () => {
  const zones = [
    { countries: ['US', 'CA'], service: '', bands: [{ upToGrams: 30_000, minor: 1450 }] },
    { countries: ['US'], service: 'slow', bands: [{ upToGrams: 2000, minor: 1199 }] },
  ];
  // 0.75 × 3.50 + 0.25 × 11.99 = 5.6225
  expect(landed({ zones }, MIX)).toMatchObject({ goods: 2000, shipping: 562 });
  // Too heavy for the slow one: 0.75 × 9.90 + 0.25 × 14.50 = 11.05
  expect(landed({ zones }, MIX, { ...unit, grams: 2500 })).toMatchObject({ shipping: 1105 });
});

test('a country that nothing goes to is left out of the mean; where nothing goes at all there is no cost', () => {
  const zones = [{ countries: ['US'], service: '', bands: [{ upToGrams: 100, minor: 500 }] }];
  expect(landed({ zones }, MIX)).toMatchObject({ shipping: 350 });
  expect(landed({ zones }, [{ country: 'US', share: WHOLE }])).toBeNull();
  expect(landed({}, GB, { ...unit, grams: 40_000 })).toBeNull();
});

test('a border: duty on goods and shipping, tax on all with the duty, by hand', () => {
  const US = [{ country: 'US', share: WHOLE }];
  const border = { countries: ['US'], duty: 40_000, tax: 80_000, reclaimed: false, freeUpTo: 0 };
  // 23.50 × 4 % = 0.94; (23.50 + 0.94) × 8 % = 1.9552
  expect(landed({ imports: [border] }, US)!.more).toEqual([
    { kind: 'duty', minor: 94 },
    { kind: 'import tax', minor: 196 },
  ]);
  expect(landed({ imports: [{ ...border, reclaimed: true }] }, US)!.more).toEqual([
    { kind: 'duty', minor: 94 },
  ]);
  expect(landed({ imports: [{ ...border, freeUpTo: 2000 }] }, US)!.more).toEqual([]);
  expect(landed({ imports: [border] }, GB)!.more).toEqual([]);
  const none = { shipping: 350, duty: 0, importTax: 0 };
  expect(costsByCountry(unit, { shipping, rules: rules({ imports: [border] }) }, MIX, SAME)).toEqual([
    { country: 'GB', share: 750_000, ...none },
    { country: 'US', share: 250_000, ...none, duty: 94, importTax: 196 },
  ]);
  expect(costsByCountry(unit, { shipping, rules: rules({}) }, MIX, SAME)).toBeNull();
  // A quarter of the buyers: 0.94 / 4 = 0.235, 1.96 / 4 = 0.49
  expect(landed({ imports: [border] }, MIX)!.more).toEqual([
    { kind: 'duty', minor: 24 },
    { kind: 'import tax', minor: 49 },
  ]);
});

test('packs: discount for their quantity, extra items instead of their weight, handling of each', () => {
  const pack = { cost: 6000, pack: 3, sku: '', grams: 4500, cubicMillimetres: null };
  const discounts = [
    { from: 3, off: 50_000 },
    { from: 10, off: 100_000 },
  ];
  // Weighed together 4.5 kg: 9.90. One of 1.5 kg and two more at 1.20: 3.50 + 2.40.
  expect(landed({ discounts }, GB, pack)).toMatchObject({ goods: 5700, shipping: 990 });
  // An item with prices of its own has them alone: from three on 18.50 each; below that no discount at all.
  const own = {
    discounts,
    itemPrices: {
      'BW-1': [
        { from: 3, price: 1850 },
        { from: 5, price: 1500 },
      ],
    },
  };
  expect(landed(own, GB, { ...pack, sku: 'BW-1' })).toMatchObject({ goods: 5550, shipping: 990 });
  expect(landed(own, GB, { ...pack, sku: 'BW-2' })).toMatchObject({ goods: 5700 });
  expect(landed(own, GB, { ...unit, sku: 'BW-1' })).toMatchObject({ goods: unit.cost });
  expect(landed(own, GB, { ...pack, sku: 'toString' })).toMatchObject({ goods: 5700 });
  expect(landed({ extraItem: 120 }, GB, pack)).toMatchObject({ goods: 6000, shipping: 590 });
  expect(landed({ handling: { order: 50, item: 20 } }, GB, pack)!.more).toEqual([
    { kind: 'handling', minor: 110 },
  ]);
});

test('a large light parcel is charged by its volume', () => {
  // 60 × 40 × 30 cm = 72,000 cm³, at 5,000 cm³ a kilogram 14.4 kg.
  const large = { ...unit, cubicMillimetres: 600 * 400 * 300 };
  expect(landed({ volumetric: 5000 }, GB, large)).toMatchObject({ shipping: 990 });
  expect(landed({ volumetric: 60_000 }, GB, large)).toMatchObject({ shipping: 350 });
});

test('paying and cashback; the lines of a sum add up to its landed cost', () => {
  const set = rules({
    paying: { rate: 15_000, fixed: 20 },
    cashback: { rate: 20_000, counted: true },
    handling: { order: 75, item: 0 },
  });
  // (20.00 + 3.50 + 0.75) × 1.5 % = 0.36375, + 0.20; cashback 2 % of 20.00.
  const costs = landed(set, GB, unit, 200_000)!;
  expect(costs.more).toEqual([
    { kind: 'handling', minor: 75 },
    { kind: 'paying', minor: 56 },
    { kind: 'cashback', minor: -40 },
  ]);
  // Tax on goods, shipping and handling: 24.25 × 20 %.
  expect(costs.tax).toBe(485);
  expect(landedOf(costs)).toBe(2000 + 350 + 485 + 75 + 56 - 40);
  const sum = sumAt(5000, costs, { fees: [], taxInside: 0 } as never);
  expect(sum.lines.reduce((all, l) => all + l.minor, 0)).toBe(sum.landed);
  expect(landed({ cashback: { rate: 20_000, counted: false } })!.more).toEqual([]);
});

test('what one order costs is what its one unit was priced with, wherever one buyer lives', () => {
  const amount = fc.integer({ min: 0, max: 5000 });
  const share = fc.integer({ min: 0, max: 300_000 });
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 50_000 }),
      fc.integer({ min: 1, max: 30_000 }),
      fc.record({
        order: amount,
        item: amount,
        duty: share,
        tax: share,
        free: amount,
        paying: share,
        fixed: amount,
        back: share,
        zone: fc.boolean(),
      }),
      (cost, grams, r) => {
        const set = rules({
          zones: r.zone
            ? [{ countries: ['US'], service: '', bands: [{ upToGrams: 30_000, minor: 1299 }] }]
            : [],
          handling: { order: r.order, item: r.item },
          imports: [{ countries: ['US'], duty: r.duty, tax: r.tax, reclaimed: false, freeUpTo: r.free }],
          paying: { rate: r.paying, fixed: r.fixed },
          cashback: { rate: r.back, counted: true },
        });
        const US = [{ country: 'US', share: WHOLE }];
        const costs = landed(set, US, { cost, pack: 1, grams, sku: '', cubicMillimetres: null })!;
        const parcel = { items: 1, grams, heaviest: grams, cubicMillimetres: null };
        const carriage = shippingTo({ shipping, rules: set }, 'US', parcel)! + r.order + r.item;
        const further = furtherCosts(cost, carriage, 'US', set);
        expect(landedOf(costs)).toBe(
          cost + carriage + further.duty + further.importTax + further.paying - further.cashback,
        );
      },
    ),
  );
});

test('what people type is read, and what is written is read again as the same', () => {
  const zones = parseZones('de, fr express: 2 kg: 9.50, 30 kg: 24.00\nUS: 12.00', 'GBP');
  expect(zones).toMatchObject({
    ok: true,
    value: [
      { countries: ['DE', 'FR'], service: 'express', bands: [{ minor: 950 }, { minor: 2400 }] },
      { countries: ['US'], service: '', bands: [{ minor: 1200 }] },
    ],
  });
  if (zones.ok) expect(parseZones(zonesInWords(zones.value, 'GBP'), 'GBP')).toEqual(zones);
  const imports = parseImports('US, CA: duty 4 %, tax 8.25 %, reclaimed, free up to 800', 'GBP');
  expect(imports).toEqual({
    ok: true,
    value: [{ countries: ['US', 'CA'], duty: 40_000, tax: 82_500, reclaimed: true, freeUpTo: 80_000 }],
  });
  if (imports.ok) expect(parseImports(importsInWords(imports.value, 'GBP'), 'GBP')).toEqual(imports);
  const discounts = parseDiscounts('50: 8 %, 10: 5 %');
  expect(discounts).toEqual({
    ok: true,
    value: [
      { from: 10, off: 50_000 },
      { from: 50, off: 80_000 },
    ],
  });
  if (discounts.ok) expect(parseDiscounts(discountsInWords(discounts.value))).toEqual(discounts);
  const items = parseItemPrices('BW-1: 50: 2,90; 10: 3.20\n AB:7 : 2: 1', 'GBP');
  expect(items).toEqual({
    ok: true,
    value: {
      'BW-1': [
        { from: 10, price: 320 },
        { from: 50, price: 290 },
      ],
      'AB:7': [{ from: 2, price: 100 }],
    },
  });
  if (items.ok) expect(parseItemPrices(itemPricesInWords(items.value, 'GBP'), 'GBP')).toEqual(items);
  expect(parseItemPrices('BW-1: 1: 3.20', 'GBP')).toMatchObject({ ok: false });
  expect(parseItemPrices('BW-1 10 3.20', 'GBP')).toMatchObject({ ok: false });
  expect(parseItemPrices('BW-1: 10: 3\nBW-1: 20: 2', 'GBP')).toEqual({
    ok: false,
    reason: 'Line 2: BW-1 stands there twice.',
  });
  const buyers = parseBuyers('GB 80 %, ie: 20 %');
  expect(buyers).toEqual({
    ok: true,
    value: [
      { country: 'GB', share: 800_000 },
      { country: 'IE', share: 200_000 },
    ],
  });
  if (buyers.ok) expect(parseBuyers(buyersInWords(buyers.value))).toEqual(buyers);
});

test.each([
  [() => parseZones('Germany: 2 kg: 9.50', 'GBP'), /Line 1: .*zone/],
  [() => parseZones('GB: 2 kg: 3.50\nDE', 'GBP'), /Line 2/],
  [() => parseImports('US: customs 4 %', 'GBP'), /duty, tax/],
  [() => parseImports('US: duty four', 'GBP'), /share/],
  [() => parseDiscounts('10: 120 %'), /discount/],
  [() => parseDiscounts('1: 5 %'), /discount/],
  [() => parseBuyers('GB 80 %, GB 20 %'), /twice/],
  [() => parseBuyers('everywhere'), /country/],
])('what is wrong is said: %#', (read, reason) => {
  expect(read()).toMatchObject({ ok: false, reason: expect.stringMatching(reason) });
});
