import Decimal from 'decimal.js';
import { deductionsFor, type FeeTable, profitAt, STARTING_PLAN, solvePrice } from '../src/core/pricing';
import { chance } from '../stand-ins/random';

const COUNT = 300_000;
const SOME = 3_000;

/** Pennywharf UK's fees on lighting, as it takes them. */
const FEES: FeeTable = {
  rules: [
    {
      ...{ id: 'sale', name: 'Sale fee', kind: 'sale', per: 'item', fixed: 20, least: null, most: null },
      ...{ onShipping: true, onTax: true, optional: false },
      bands: {
        '*': [
          { upTo: 5_000, rate: 120_000 },
          { upTo: null, rate: 90_000 },
        ],
      },
    },
    {
      ...{
        id: 'payment',
        name: 'Payment fee',
        kind: 'payment',
        per: 'order',
        fixed: 25,
        least: null,
        most: null,
      },
      ...{ onShipping: true, onTax: true, optional: false },
      bands: { '*': [{ upTo: null, rate: 24_000 }] },
    },
  ],
  tax: { model: 'inside', rate: 200_000 },
};

const dec = (n: Decimal.Value) => new Decimal(n);
const cents = (n: Decimal) => n.toDecimalPlaces(2, Decimal.ROUND_HALF_UP);

/** Slope, base and end of what is left of a price: up to 50.00, and above. */
const PIECES = [
  [dec('0.689333333'), '0.45', 50],
  [dec('0.719333333'), '1.95', null],
] as const;

/** What a sale earns, in decimals. */
function earned(price: Decimal, landed: Decimal): Decimal {
  const low = Decimal.min(price, 50);
  const sale = cents(low.times('0.12').plus(price.minus(low).times('0.09'))).plus('0.20');
  const payment = cents(price.times('0.024')).plus('0.25');
  const tax = cents(price.times(20).div(120));
  return price.minus(sale).minus(payment).minus(tax).minus(landed);
}

/** The smallest price with the margin, then the guards and the ending, as one would write them over decimals. */
function solvedInDecimals(item: { landed: number; map: number | null; msrp: number | null }): number | null {
  const landed = dec(item.landed).div(100);
  // Begins where all rounding together could reach it, as the solver does, on each straight piece of the fees.
  const first = (meets: (p: Decimal) => boolean, fixed: Decimal.Value, share: Decimal.Value): Decimal => {
    for (const [slope, base, end] of PIECES) {
      const line = landed.plus(fixed).plus(base).minus('0.0175').div(slope.minus(share)).minus('0.01');
      const from = end === null ? Decimal.max(line, '50.01') : line;
      for (
        let p = from.toDecimalPlaces(2, Decimal.ROUND_DOWN);
        end === null || p.lte(end);
        p = p.plus('0.01')
      )
        if (meets(p)) return p;
    }
    throw new RangeError('No price reaches it.');
  };
  const margin = (p: Decimal) => earned(p, landed).gte(p.times('0.2'));
  const profit = (p: Decimal) => earned(p, landed).gte(1);
  const goal = first(margin, 0, '0.2');
  const least = first(profit, 1, 0);
  const floor = Decimal.max(least, item.map === null ? 0 : dec(item.map).div(100));
  const ceiling = item.msrp === null ? dec(1e7) : dec(item.msrp).div(100);
  if (floor.gt(ceiling)) return null;
  let price = Decimal.min(Decimal.max(goal, floor), ceiling);
  const met = margin(price);
  const up = price.minus('0.99').ceil().plus('0.99');
  const down = price.minus('0.99').floor().plus('0.99');
  const allowed = (p: Decimal) => p.gte(floor) && p.lte(ceiling) && profit(p);
  if (allowed(up) && (!met || margin(up))) price = up;
  else if (allowed(down)) price = down;
  return price.times(100).toNumber();
}

/** Exact prices in plain integers beside the same rules over a decimal package, in the same run. */
export function measurePrices(tell: (what: string, says: string) => void): void {
  const luck = chance(7);
  const deductions = deductionsFor(FEES, '*')!;
  const items = Array.from({ length: COUNT }, () => {
    const landed = luck.whole(150, 20_000);
    const msrp = luck.next() < 0.5 ? Math.round(landed * (1.4 + luck.next() * 2)) : null;
    return { landed, map: luck.next() < 0.2 ? Math.round(landed * 1.3) : null, msrp };
  });
  for (const item of items.slice(0, 20_000)) solvePrice(STARTING_PLAN, item, deductions);
  const begun = performance.now();
  let check = 0;
  for (const item of items) {
    const answer = solvePrice(STARTING_PLAN, item, deductions);
    if (answer.ok) check += profitAt(answer.price, item.landed, deductions);
  }
  const each = (performance.now() - begun) / COUNT;
  tell(
    'exact prices, with guards, ending and every step told',
    `${Math.round(1000 / each).toLocaleString('en-GB')} a second (${(each * 1000).toFixed(2)} µs each; ${check})`,
  );
  const some = items.slice(0, SOME);
  for (const item of some.slice(0, 300)) solvedInDecimals(item);
  const from = performance.now();
  const slow = some.map(solvedInDecimals);
  const decimal = (performance.now() - from) / SOME;
  const same = some.filter((item, k) => {
    const answer = solvePrice(STARTING_PLAN, item, deductions);
    return (answer.ok ? answer.price : null) === slow[k];
  }).length;
  tell(
    'the same rules over decimal.js',
    `${Math.round(1000 / decimal).toLocaleString('en-GB')} a second: ${(decimal / each).toFixed(0)} times as long; ${same} of ${SOME} the same`,
  );
}
