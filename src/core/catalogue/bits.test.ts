import fc from 'fast-check';
import { Bits } from './bits';

const length = fc.integer({ min: 0, max: 130 });
const rowsIn = (n: number) => fc.uniqueArray(fc.nat({ max: Math.max(0, n - 1) }), { maxLength: n });
const setOf = (n: number, rows: readonly number[]) => {
  const bits = new Bits(n);
  bits.addAll(Int32Array.from(rows));
  return bits;
};
const listOf = (bits: Bits) => {
  const out = new Int32Array(bits.length);
  return [...out.subarray(0, bits.list(out))];
};
const sorted = (rows: Iterable<number>) => [...rows].sort((a, b) => a - b);

test('a set of bits does what a set of numbers does, at the ends of words too', () => {
  const case_ = length.chain((n) =>
    fc.record({ n: fc.constant(n), a: n ? rowsIn(n) : fc.constant([]), b: n ? rowsIn(n) : fc.constant([]) }),
  );
  fc.assert(
    fc.property(case_, ({ n, a, b }) => {
      const [A, B] = [new Set(a), new Set(b)];
      const one = setOf(n, a);
      expect(listOf(one)).toEqual(sorted(A));
      expect(one.count()).toBe(A.size);
      for (let row = 0; row < n; row++) expect(one.has(row)).toBe(A.has(row));
      expect(listOf(one.copy().keep(setOf(n, b)))).toEqual(sorted([...A].filter((x) => B.has(x))));
      expect(listOf(one.copy().keep(setOf(n, b), true))).toEqual(sorted([...A].filter((x) => !B.has(x))));
      expect(listOf(one.copy().join(setOf(n, b)))).toEqual(sorted(new Set([...A, ...B])));
      // The copies were their own.
      expect(listOf(one)).toEqual(sorted(A));
      expect(listOf(Bits.where(n, (row) => A.has(row)))).toEqual(sorted(A));
    }),
    { numRuns: 400 },
  );
});

test('rows between two ends are those whose number is, whatever the ends', () => {
  const number = fc.oneof(
    fc.integer({ min: -2_147_483_648, max: 2_147_483_647 }),
    fc.integer({ min: -3, max: 3 }),
  );
  const end = fc.oneof(
    number,
    fc.constantFrom(Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY, -2_147_483_649, 2_147_483_648),
  );
  fc.assert(
    fc.property(fc.array(number, { maxLength: 100 }), end, end, (column, min, max) => {
      const found = listOf(Bits.between(column.length, Int32Array.from(column), min, max));
      expect(found).toEqual(column.flatMap((x, row) => (x >= min && x <= max ? [row] : [])));
    }),
    { numRuns: 1000 },
  );
});

test('rows of some codes', () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat({ max: 4 }), { maxLength: 100 }),
      fc.array(fc.boolean(), { minLength: 5, maxLength: 5 }),
      (codes, ok) => {
        const found = listOf(Bits.coded(codes.length, Int32Array.from(codes), Uint8Array.from(ok, Number)));
        expect(found).toEqual(codes.flatMap((code, row) => (ok[code] ? [row] : [])));
      },
    ),
  );
});

test('the first rows are enough where only so many are asked for, and no more than a word beyond them is written', () => {
  fc.assert(
    fc.property(
      rowsIn(500),
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: 0, max: 9 }),
      (rows, limit, at) => {
        const out = new Int32Array(600).fill(-1);
        const end = setOf(500, rows).list(out, at, limit);
        const all = sorted(rows);
        expect([...out.subarray(at, Math.min(end, at + limit))]).toEqual(all.slice(0, limit));
        expect(end - at).toBeLessThan(limit + 32);
        expect(out.subarray(0, at).every((x) => x === -1)).toBe(true);
      },
    ),
  );
});
