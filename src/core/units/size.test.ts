import { readSize, sizeInWords } from '.';

test.each([
  ['30 x 20 x 10 cm', [300, 200, 100]],
  ['30×20,5×10', [300, 205, 100]],
  ['300*200*100 MM', [300, 200, 100]],
  ['12 by 8 by 4 in', [305, 203, 102]],
  ['1.2 m x 20 cm x 5 mm', [1200, 200, 5]],
])('%s', (text, size) => expect(readSize(text)).toEqual(size));

test.each(['', '30 x 20', '0 x 1 x 1', '30 x 20 x 10 kg', '20 m x 1 m x 1 m', 'a x b x c', '1 x 2 x 3 x 4'])(
  '“%s” is no size',
  (text) => expect(readSize(text)).toBeNull(),
);

test('what is written is read again as the same', () => {
  expect(readSize(sizeInWords([305, 2, 10_000]))).toEqual([305, 2, 10_000]);
});
