import { parseShipping, shippingInWords } from '.';

test.each([
  [
    '2 kg: 3.50, 30 kg: 9.90',
    [
      [2000, 350],
      [30_000, 990],
    ],
  ],
  [
    '30 kg: 9,90; 500 g: 2,10',
    [
      [500, 210],
      [30_000, 990],
    ],
  ],
  ['up to 1.5 kg 4', [[1500, 400]]],
  ['4.20', [[30_000, 420]]],
])('%s', (text, bands) => {
  const read = parseShipping(text, 'GBP');
  expect(read.ok && read.value.map((b) => [b.upToGrams, b.minor])).toEqual(bands);
  if (read.ok) expect(parseShipping(shippingInWords(read.value, 'GBP'), 'GBP')).toEqual(read);
});
test.each(['', 'free', '2 kg', '3.50, 9.90', '2 kg: -1', '2 kg: 1.2.3'])(
  '“%s” is refused with a reason',
  (text) => {
    expect(parseShipping(text, 'GBP')).toMatchObject({ ok: false, reason: expect.stringMatching(/\S/) });
  },
);
