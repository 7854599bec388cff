import { endingText, parseEnding } from './ending';
import { deductionsFor } from './fees';
import { STARTING_PLAN } from './plan';
import { alwaysSaidOf, type ListingProblem, problemInWords, sameProblem } from './problem';
import { shippingFor } from './shipping';
import { solvePrice } from './solve';
import { endingInWords, feeInWords, planInWords, stepInWords, targetInWords } from './words';

test('shipping is by the first band that holds the weight', () => {
  const bands = [
    { upToGrams: 100, minor: 155 },
    { upToGrams: 750, minor: 295 },
  ];
  expect([0, 100, 101, 750, 751].map((g) => shippingFor(bands, g))).toEqual([155, 155, 295, 295, null]);
  // A weight that is not known has a charge only where weight does not matter.
  expect([shippingFor(bands, null), shippingFor(bands.slice(1), null)]).toEqual([null, 295]);
});

test('plans, targets and endings read as a person would say them, percentages never two ways', () => {
  expect(targetInWords({ kind: 'markup', rate: 500_000 }, 'GBP')).toBe('markup +50 % on landed cost');
  expect(targetInWords({ kind: 'margin', rate: 125_000 }, 'GBP')).toBe('margin 12.5 % of the selling price');
  expect(planInWords({ ...STARTING_PLAN, bands: [{ ...STARTING_PLAN.bands[0]!, flat: 50 }] }, 'GBP')).toBe(
    'margin 20 % of the selling price plus 0.50, .99 up',
  );
  const bands = [
    { upTo: 1250, target: { kind: 'markup', rate: 450_000 }, flat: 220 },
    { upTo: null, target: { kind: 'site', marketplace: 'us', rate: 900_000, minor: -5 }, flat: 0 },
  ] as const;
  expect(planInWords({ ...STARTING_PLAN, bands, room: 200_000 }, 'GBP')).toBe(
    'up to 12.50 markup +45 % on landed cost plus 2.20; above 90 % of the price on us less 0.05, .99 up, room for a sale of 20 %',
  );
  expect(endingInWords({ minor: 5, per: 10, direction: 'nearest' }, 'GBP')).toBe('…5 nearest');
  expect(endingInWords({ minor: 0, per: 100, direction: 'down' }, 'GBP')).toBe('whole amounts down');
});

test('every step of a price is told with its amounts, and a refusal with both sides of the contradiction', () => {
  const rule = { onShipping: false, onTax: true, optional: false, least: null, most: null } as const;
  const fees = deductionsFor(
    {
      rules: [
        {
          ...rule,
          id: 's',
          name: 'S',
          kind: 'sale',
          per: 'item',
          bands: { '*': [{ upTo: null, rate: 120_000 }] },
          fixed: 20,
        },
        {
          ...rule,
          id: 'p',
          name: 'P',
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
  expect(fees.fees.map((f) => feeInWords(f, 'GBP'))).toEqual(['12 % + 0.20', '2.4 % + 0.25']);
  const raised = solvePrice(STARTING_PLAN, { landed: 1120, map: 3050, msrp: null }, fees);
  const told = raised.ok ? raised.steps.map((s) => stepInWords(s, 'GBP')) : [];
  expect(told).toEqual([
    'The smallest price with margin 20 % of the selling price: 23.82',
    'Never under MAP: 23.82 → 30.50',
    'Ending .99 up: 30.50 → 30.99',
  ]);
  const capped = solvePrice(
    { ...STARTING_PLAN, endings: [{ upTo: null, ending: null }] },
    { landed: 1120, map: null, msrp: 2300 },
    fees,
  );
  expect(capped.ok && stepInWords(capped.steps[1]!, 'GBP')).toBe('Never over MSRP: 23.82 → 23.00');
});

test('each problem is told, with what finds all of its kind', () => {
  const nameOf = (id: string) => ({ a: 'Pennywharf', b: 'Loomhall' })[id] ?? id;
  const told: readonly [ListingProblem, string][] = [
    [
      { why: 'guards', floor: 3050, floorBy: 'map', ceiling: 2500, ceilingBy: 'msrp' },
      'Guards contradict: MAP asks for at least 30.50, MSRP allows at most 25.00.',
    ],
    [
      { why: 'unreachable' },
      'No price reaches this target: fees, tax and margin together take the whole of it. Lower the target.',
    ],
    [{ why: 'unknown', what: { is: 'not listed', marketplace: 'a' } }, 'It is not listed on Pennywharf.'],
    [
      { why: 'unknown', what: { is: 'circle', marketplaces: ['a', 'b', 'a'] } },
      'Its prices go by each other in a circle: Pennywharf, by Loomhall, by Pennywharf.',
    ],
    [
      { why: 'no rate', from: 'USD', to: 'GBP' },
      'There is no exchange rate from USD to GBP yet. Enter one under Settings.',
    ],
    [
      { why: 'no parcel', grams: 31_000, byZone: true },
      'The supplier ships no parcel of 31000 g to where the buyers are.',
    ],
    [
      { why: 'own price', price: 999, breaks: { guard: 'cost', loses: 41 } },
      'Own price 9.99: each sale loses 0.41.',
    ],
    [
      { why: 'own price', price: 4000, breaks: { guard: 'msrp', rate: 900_000, msrp: 3999 } },
      'Own price 40.00 is over 90 % of MSRP 39.99.',
    ],
    [{ why: 'step', from: 2000, to: 2550 }, 'A step to 25.50 (+27.5 %) waits for you.'],
    [{ why: 'refused', said: 'Too small.', marketplace: 'b' }, 'Loomhall refused: Too small.'],
    [{ why: 'refused', said: 'Too small.' }, 'Too small.'],
  ];
  for (const [problem, words] of told) {
    expect(problemInWords(problem, 'GBP', nameOf)).toBe(words);
    expect(words).toContain(alwaysSaidOf(problem));
  }
  expect(sameProblem(told[0]![0], { ...told[0]![0] })).toBe(true);
  expect(sameProblem({ why: 'step', from: 1, to: 2 }, { why: 'step', from: 1, to: 3 })).toBe(false);
  expect(sameProblem(null, { why: 'no plan' })).toBe(false);
});

test.each([
  ['.95', 2, 95, 100, '.95'],
  ['0,95', 2, 95, 100, '.95'],
  ['9.99', 2, 999, 1_000, '9.99'],
  ['50', 2, 5_000, 10_000, '50.00'],
  ['.00', 2, 0, 100, 'whole amounts'],
  ['980', 0, 980, 1_000, '980'],
  ['.990', 3, 990, 1_000, '.990'],
])('“%s” with %i digits is an ending, and written back', (text, digits, minor, per, written) => {
  const read = parseEnding(text, digits);
  expect(read).toEqual({ ok: true, value: { minor, per } });
  expect(endingText({ minor, per }, digits)).toBe(written);
});

test('what is no ending is refused, and two at once are both told', () => {
  for (const [text, digits] of [
    ['', 2],
    ['.9', 2],
    ['.5', 0],
    ['abc', 2],
    ['-.95', 2],
    ['123456', 2],
  ] as const)
    expect(parseEnding(text, digits).ok).toBe(false);
  expect(endingText({ minor: 49, per: 50 }, 2)).toBe('.49 or .99');
});
