import fc from 'fast-check';
import { type Candidate, rankCandidates, shareUnits } from '.';

const candidate = (part: Partial<Candidate>): Candidate => ({
  ...{ supplier: 's', item: 'i', pack: 1, pieces: 9, landed: 1000, days: 3, near: false, against: [] },
  ...part,
});
const out = [{ why: 'destination' }] as const;

test('each strategy has its own first, and the seller’s order decides where two are alike', () => {
  const some = [
    candidate({ landed: 1200, days: 4 }),
    candidate({ landed: 900, days: 9 }),
    candidate({ landed: 1000, days: 2, near: true }),
    candidate({ landed: null, days: null }),
    candidate({ landed: 100, days: 1, near: true, against: out }),
  ];
  const first = (...args: [Parameters<typeof rankCandidates>[1], number, (number | null)?]) =>
    rankCandidates(some, ...args)[0];
  expect(rankCandidates(some, 'preferred', 0)).toEqual([0, 1, 2, 3, 4]);
  expect(rankCandidates(some, 'cheapest', 0)).toEqual([1, 2, 0, 3, 4]);
  expect(rankCandidates(some, 'fastest', 0)).toEqual([2, 0, 1, 3, 4]);
  // Nearness may cost so much more than the cheapest that can be bought of, and no more.
  expect([first('nearest', 99), first('nearest', 100)]).toEqual([1, 2]);
  expect([first('cheapest', 0, 0), first('cheapest', 0, 4)]).toEqual([0, 1]);
});

test('units are shared out whole, and none to a source that nothing can be bought of while another can', () => {
  const one = fc.record({
    pieces: fc.option(fc.integer({ min: -2, max: 12 }), { nil: null }),
    pack: fc.integer({ min: 1, max: 3 }),
    out: fc.boolean(),
  });
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20 }),
      fc.array(one, { minLength: 1, maxLength: 4 }),
      (units, some) => {
        const list = some.map((s) => candidate({ ...s, against: s.out ? out : [] }));
        const shares = shareUnits(units, list, rankCandidates(list, 'cheapest', 0));
        expect(shares.reduce((a, b) => a + b, 0)).toBe(units);
        if (some.some((s) => !s.out))
          for (const [k, s] of some.entries()) if (s.out) expect(shares[k]).toBe(0);
      },
    ),
  );
});
