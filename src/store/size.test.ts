import { sizeOf } from './size';

test('binary parts count in full, letters and names of fields one by one', () => {
  expect(sizeOf(new Uint8Array(1000))).toBe(1000);
  expect(sizeOf(new Blob(['x'.repeat(70)]))).toBe(70);
  expect(sizeOf('Compass') - sizeOf('')).toBe(7);
  const row = { id: 'a', price: 1499, tags: ['map', 'hull'] };
  expect(sizeOf({ ...row, text: 'x'.repeat(300) }) - sizeOf(row)).toBeGreaterThanOrEqual(300);
  expect(sizeOf({ ...row, text: 'x'.repeat(300) }) - sizeOf(row)).toBeLessThan(320);
  expect(sizeOf(new Map([['a', new Int32Array(25)]]))).toBeGreaterThanOrEqual(100);
  expect(sizeOf(null)).toBe(1);
});
