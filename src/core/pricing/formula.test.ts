import fc from 'fast-check';
import { evaluate, type FormulaValues, parseFormula } from './formula';

const VALUES: FormulaValues = {
  cost: 1120,
  goods: 1000,
  shipping: 120,
  market: 2900,
  map: null,
  msrp: 3500,
  weight: 450,
  stock: 18,
};
const given = (text: string, values: Partial<FormulaValues> = {}, digits = 2) => {
  const read = parseFormula(text);
  if (!read.ok) return `${read.problem.at}: ${read.problem.reason}`;
  const answer = evaluate(read.formula, { ...VALUES, ...values }, digits);
  return answer.ok ? answer.minor : answer.reason;
};

test.each([
  ['max(cost * 1.45 + 2.2, market - 0.05)', 2895],
  ['cost * 1.45 + 2.2', 1844],
  ['COST + 10%  * cost', 1232],
  ['goods + shipping', 1120],
  ['-(-cost)', 1120],
  ['cost + weight * 3.5', 1278],
  ['round(cost * 1.5, 0.5) - 0.01', 1699],
  ['if(stock < 5, market, cost * 2)', 2240],
  ['if(cost / market <= 0.5, market * 0.99, market)', 2871],
  ['first(map, msrp)', 3500],
  ['min(map, market)', 2900],
  ['cost / 3', 373],
  ['12.345', 1235],
])('%s is %s', (text, minor) => {
  expect(given(text)).toBe(minor);
});

test.each([
  ['', /0: Write a formula/],
  ['cost *', /6: A value is missing/],
  ['cost * * 2', /7: A value is expected/],
  ['cost + colour', /7: There is no field “colour”/],
  ['alert(1)', /0: There is no function “alert”/],
  ['constructor', /0: There is no field/],
  ['cost # 2', /5: “#” means nothing/],
  ['cost * market', /5: An amount times an amount/],
  ['2 / cost', /2: A number cannot be divided/],
  ['cost + stock', /5: A number cannot be added/],
  ['stock * weight', /0: It gives a number/],
  ['max()', /4: A value is expected/],
  ['round(cost)', /0: “round” takes 2/],
  ['if(cost, 1, 2)', /7: “if” begins with a comparison/],
  ['(cost', /5: “\)” is missing/],
  ['cost 2', /5: The formula ends here/],
  [`${'('.repeat(60)}cost${')'.repeat(60)}`, /nested more than/],
  [`${'-'.repeat(60)}cost`, /nested more than/],
  ['cost'.padEnd(500, ' '), /more than 400/],
])('%s is told where it is wrong', (text, problem) => {
  expect(given(text)).toMatch(problem);
});

test.each([
  ['cost / (stock - 18)', /divides by nothing/],
  ['map + 1', /not known: MAP/],
  ['cost - market', /no amount above nothing/],
  [`cost${' * 999999999999'.repeat(20)}`, /too large/],
  ['round(cost, 0)', /rounds to nothing/],
])('%s gives no price, and says why', (text, reason) => {
  expect(given(text)).toMatch(reason);
});

test('a currency without minor units is counted in whole ones', () => {
  expect(given('cost * 1.1', { cost: 1120 }, 0)).toBe(1232);
});

test('sums and products are exact: as with fractions of whole numbers', () => {
  const cents = fc.integer({ min: 1, max: 200_000 });
  fc.assert(
    fc.property(cents, cents, fc.integer({ min: 1, max: 400 }), (cost, plus, rate) => {
      const minor = given(`cost * ${(rate / 100).toFixed(2)} + ${(plus / 100).toFixed(2)}`, { cost });
      // In hundredths of a minor unit: whole numbers, halves up.
      expect(minor).toBe(Math.floor((cost * rate + plus * 100 + 50) / 100));
    }),
  );
});

test('no text makes it fail in any other way than by saying why', () => {
  const part = fc.constantFrom(
    'cost',
    'market',
    '(',
    ')',
    '*',
    '+',
    '/',
    ',',
    'max',
    'if',
    '<',
    '2',
    '0',
    '%',
    ' ',
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 30 }), fc.string({ maxLength: 40 }), (parts, noise) => {
      for (const text of [parts.join(''), noise]) expect(['number', 'string']).toContain(typeof given(text));
    }),
    { numRuns: 2_000 },
  );
});
