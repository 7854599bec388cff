import { carrierByShape, shapeProblem, trackingsIn } from '.';

const OWN = [
  { carrier: 'Moor Riders', shape: 'MR-####-@@' },
  { carrier: 'Fen Post', shape: 'FP##########' },
];

test('a carrier is known by the shape of its numbers, whole ones alone', () => {
  expect(carrierByShape('MR-1234-AB', OWN)).toBe('Moor Riders');
  expect(carrierByShape('MR-1234-A1', OWN)).toBeNull();
  expect(carrierByShape('XMR-1234-AB', OWN)).toBeNull();
  expect(carrierByShape('FP2231889012', OWN)).toBe('Fen Post');
});

test('numbers of own shapes are found in a text without a word before them, with blanks and in small letters', () => {
  const text = 'Off it went: fp 2231 8890 12, and mr-1234-ab. Not FP22318890123.';
  expect(trackingsIn(text, OWN).map((t) => t.tracking)).toEqual(['FP2231889012', 'MR-1234-AB']);
  expect(trackingsIn(text)).toEqual([]);
  const [first] = trackingsIn(text, OWN);
  expect(text.slice(first!.at, first!.at + first!.length)).toBe('fp 2231 8890 12');
});

test('a shape that would fit anything, or is none, is refused and finds nothing', () => {
  const of = (shape: string, carrier = 'Fen Post') => shapeProblem({ carrier, shape });
  expect([of('FP##########'), of('mr-####-@@')]).toEqual([null, null]);
  for (const bad of ['', 'FP##', '(.*)+$#####', 'ABCDEFGH###']) expect(of(bad)).not.toBeNull();
  expect(of('FP##########', ' ')).not.toBeNull();
  expect(trackingsIn('AAAAAAAAAA', [{ carrier: 'x', shape: '(a+)+$' }])).toEqual([]);
});
