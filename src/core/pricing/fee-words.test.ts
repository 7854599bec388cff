import { feeSharesInWords, parseFeeShares } from '.';

const CATEGORIES = [
  { id: 'optics', name: 'Optics' },
  { id: 'light', name: 'Lamps and light' },
];
const read = (text: string) => parseFeeShares(text, 'GBP', CATEGORIES);

test.each([
  ['12 %', { '*': [{ upTo: null, rate: 120_000 }] }],
  [
    '12,5% to 50, 9 % above',
    {
      '*': [
        { upTo: 5000, rate: 125_000 },
        { upTo: null, rate: 90_000 },
      ],
    },
  ],
  [
    'optics: 8 %\nelsewhere: 12 % up to 1000.00; 2.5 %',
    {
      optics: [{ upTo: null, rate: 80_000 }],
      '*': [
        { upTo: 100_000, rate: 120_000 },
        { upTo: null, rate: 25_000 },
      ],
    },
  ],
  ['', {}],
])('%s', (text, bands) => {
  const got = read(text);
  expect(got).toEqual({ ok: true, value: bands });
  expect(read(feeSharesInWords({ bands: bands as never }, 'GBP', CATEGORIES))).toEqual(got);
});

test.each([
  ['twelve', /no share/],
  ['120 %', /no share/],
  ['12 % to 50', /last share/],
  ['12 %, 9 %', /up to which/],
  ['12 % to 50, 10 % to 40, 9 %', /rise/],
  ['Garden: 12 %', /no category “Garden”/],
  ['Optics: 8 %\nOptics: 9 %', /twice/],
])('“%s” is refused with the reason', (text, reason) =>
  expect(read(text)).toMatchObject({ ok: false, reason: expect.stringMatching(reason) }),
);
