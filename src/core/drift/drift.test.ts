import type { FeeRule } from '../pricing';
import { cushionBy, driftOf, FEWEST, feesBy, handlingBy, type Pair } from '.';

/** A sequence of Park and Miller, so that the same numbers come each time. */
function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}

/** Orders of some days, each off by chance by up to a share, and all of them by another. */
function pairs(n: number, seed: number, noise: number, shift: number, from = 20_000): Pair[] {
  const luck = chance(seed);
  return Array.from({ length: n }, (_, k) => {
    const expected = 200 + Math.floor(luck() * 600);
    const actual = Math.round(expected * (1 + shift + (luck() - 0.5) * 2 * noise));
    return { expected, actual, day: from + Math.floor(k / 5) };
  });
}

test('chance alone is hardly ever called a drift, a real one nearly always', () => {
  let [wrongly, found] = [0, 0];
  for (let seed = 1; seed <= 300; seed++) {
    if (driftOf(pairs(60, seed, 0.2, 0))!.sure) wrongly++;
    if (driftOf(pairs(60, seed, 0.2, 0.08))!.sure) found++;
  }
  // Of 99 % confidence beyond a percent of tolerance less than one in a hundred is left.
  expect(wrongly).toBeLessThanOrEqual(3);
  expect(found).toBeGreaterThanOrEqual(285);
});

test('a few orders prove nothing, however far off; what is off by less than matters neither', () => {
  expect(driftOf(pairs(FEWEST - 1, 5, 0, 0.3))).toMatchObject({ sure: false, orders: FEWEST - 1 });
  expect(driftOf(pairs(FEWEST, 5, 0, 0.3))!.sure).toBe(true);
  expect(driftOf(pairs(500, 5, 0.01, 0.008))!.sure).toBe(false);
  expect(driftOf([])).toBeNull();
});

test('it holds since the first of the weeks in which all are off to its side', () => {
  const drift = driftOf([...pairs(50, 3, 0.02, 0, 20_000), ...pairs(100, 4, 0.02, 0.1, 20_010)])!;
  expect(drift.sure).toBe(true);
  // Twenty days of it, counted by weeks from the last.
  expect(drift.since).toBeGreaterThanOrEqual(20_009);
  expect(drift.since).toBeLessThanOrEqual(20_016);
});

const FEE: FeeRule = {
  ...{ id: 'f', name: 'Sale fee', kind: 'sale', per: 'item', fixed: 30, least: null, most: null },
  ...{ bands: { '*': [{ upTo: null, rate: 100_000 }] }, onShipping: true, onTax: true, optional: false },
};

test('corrections bring what is expected to what came, to the step of their kind', () => {
  // 1,000.00 paid, 120.00 charged where 110.00 were expected: one percent point more.
  const fees = feesBy({ expected: 11_000, actual: 12_000 }, 100_000, [FEE])!;
  expect(fees).toMatchObject({ by: 10_000, rules: [{ bands: { '*': [{ rate: 110_000 }] }, fixed: 30 }] });
  expect(feesBy({ expected: 11_000, actual: 12_000 }, 100_000, [{ ...FEE, kind: 'payment' }])).toBeNull();
  expect(handlingBy(29.5, null)).toMatchObject({ by: 30, costs: { handling: { order: 30 } } });
  // Less than nothing is charged by nobody.
  expect(handlingBy(-40, handlingBy(30, null)!.costs)).toMatchObject({
    by: -30,
    costs: { handling: { order: 0 } },
  });
  expect(handlingBy(0.2, null)).toBeNull();
  expect(cushionBy({ ratio: 1.0301 }, 20_000)).toBe(31_000);
  expect(cushionBy({ ratio: 1.02 }, 20_000)).toBeNull();
  expect(cushionBy({ ratio: 0.9 }, 0)).toBeNull();
});
