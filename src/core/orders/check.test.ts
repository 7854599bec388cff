import {
  addressProblem,
  addressProblemInWords,
  type CheckInput,
  checkInWords,
  checkOrder,
  holdsOf,
  mendedAddress,
} from '.';

const ADDRESS = {
  name: 'Nia Lind',
  line1: '4 Otter Row',
  line2: '',
  town: 'Bath',
  postcode: 'BA1 5TT',
  country: 'GB',
};
const SUPPLIER = {
  name: 'Brackwater',
  shipsTo: ['GB', 'IE', 'US', 'NL', 'PL'],
  takes: { boxes: true, longest: null as number | null },
  stopped: false,
  notices: [],
  costDays: 0,
  currency: 'GBP',
  balance: 5000,
  spend: 1120,
};
const LINE = {
  title: 'Torch',
  quantity: 1,
  personalised: false,
  unproofed: false,
  item: { key: 'brackwater:T', supplier: 'Brackwater', pieces: 4, pack: 1 },
};
const GOOD: CheckInput = {
  lines: [LINE],
  address: ADDRESS,
  suppliers: [SUPPLIER],
  profit: 557,
  least: 100,
  books: 'GBP',
  note: false,
  paid: 2499,
  repeats: [],
  watched: null,
  usual: { paid: 50_000, units: 20 },
  costDays: 14,
};
const failed = (part: Partial<CheckInput>) =>
  checkOrder({ ...GOOD, ...part })
    .filter((c) => !c.passed)
    .map((c) => c.kind);

test('each check holds for its own reason', () => {
  expect(failed({})).toEqual([]);
  expect(failed({ lines: [{ ...LINE, item: null }], profit: null })).toEqual(['linked', 'stock', 'profit']);
  expect(failed({ lines: [{ ...LINE, quantity: 5 }] })).toEqual(['stock']);
  // Lines of one item take of the same stock.
  expect(
    failed({
      lines: [
        { ...LINE, quantity: 3 },
        { ...LINE, quantity: 3 },
      ],
    }),
  ).toEqual(['stock']);
  expect(failed({ lines: [LINE, { ...LINE, quantity: 3 }] })).toEqual([]);
  expect(failed({ lines: [{ ...LINE, quantity: 3, item: { ...LINE.item, pack: 2 } }] })).toEqual(['stock']);
  expect(failed({ profit: 99 })).toEqual(['profit']);
  expect(failed({ profit: 100 })).toEqual([]);
  expect(failed({ address: { ...ADDRESS, postcode: 'BA1' } })).toEqual(['address']);
  expect(failed({ lines: [{ ...LINE, personalised: true }] })).toEqual(['personalised']);
  expect(failed({ suppliers: [{ ...SUPPLIER, balance: 1119 }] })).toEqual(['balance']);
  expect(failed({ suppliers: [{ ...SUPPLIER, balance: 1120 }] })).toEqual([]);
  // Of several suppliers each must ship there and be paid.
  const hollin = { ...SUPPLIER, name: 'Hollin', shipsTo: ['US'], balance: null };
  expect(failed({ suppliers: [SUPPLIER, hollin] })).toEqual(['address']);
  expect(failed({ suppliers: [{ ...SUPPLIER, stopped: true }] })).toEqual(['stopped']);
  expect(failed({ suppliers: [{ ...SUPPLIER, costDays: 15 }] })).toEqual(['costs']);
  expect(failed({ note: true })).toEqual(['note']);
  expect(failed({ paid: 50_000 })).toEqual([]);
  expect(failed({ paid: 50_001 })).toEqual(['unusual']);
  expect(failed({ repeats: ['PW-1'] })).toEqual(['repeat']);
  expect(failed({ watched: '' })).toEqual(['watched']);
});

test('every check says what it went by', () => {
  const says = (part: Partial<CheckInput>) =>
    checkOrder({ ...GOOD, ...part })
      .filter((c) => !c.passed)
      .map(checkInWords);
  expect(says({ lines: [{ ...LINE, quantity: 5 }] })).toEqual(['Brackwater has 4 of “Torch” left, 5 sold.']);
  expect(says({ profit: -120 })).toEqual(['Profit at today’s cost is −£1.20, at least £1.00 is required.']);
  expect(says({ suppliers: [{ ...SUPPLIER, balance: 1119 }] })).toEqual([
    'Brackwater’s balance of £11.19 does not cover £11.20.',
  ]);
});

test('an address is read by what the supplier’s carrier takes', () => {
  const by = (takes: { boxes: boolean; longest: number | null }, part: Partial<typeof ADDRESS>) =>
    addressProblem({ ...ADDRESS, ...part }, [{ ...SUPPLIER, takes }])?.why;
  const choosy = { boxes: false, longest: 30 };
  for (const line1 of [
    'PO Box 12',
    'P.O. Box 9',
    'Postfach 1204',
    'Packstation 118',
    'Apartado de Correos 4',
  ])
    expect([by(choosy, { line1 }), by(SUPPLIER.takes, { line1 })]).toEqual(['box', undefined]);
  expect(by(choosy, { line1: '4 Boxwood Lane' })).toBeUndefined();
  expect(by(choosy, { line1: 'The Old Observatory, 4 Otter Row' })).toBe('long');
});

test.each([
  ['GB', { postcode: 'ba15tt' }, { postcode: 'BA1 5TT' }],
  ['GB', { postcode: '', town: 'Bath BA1 5TT' }, { postcode: 'BA1 5TT', town: 'Bath' }],
  ['GB', { postcode: 'Bath', town: 'BA1 5TT' }, { postcode: 'BA1 5TT', town: 'Bath' }],
  ['PL', { postcode: '00001', town: 'Warszawa' }, { postcode: '00-001', town: 'Warszawa' }],
  ['DE', { postcode: 'D-10115', town: 'Berlin' }, { postcode: '10115', town: 'Berlin' }],
  ['DE', { postcode: '1O115', town: 'Berlin' }, { postcode: '10115', town: 'Berlin' }],
  ['US', { postcode: '440041234' }, { postcode: '44004-1234' }],
])('in %s, %j is proposed as %j', (country, written, mended) => {
  expect(mendedAddress({ ...ADDRESS, country, ...written })).toMatchObject(mended);
});

test('an address that is right is left alone, and nothing is made up', () => {
  expect(mendedAddress(ADDRESS)).toBeNull();
  expect(mendedAddress({ ...ADDRESS, postcode: 'nowhere', town: 'Bath' })).toBeNull();
  const long = mendedAddress({ ...ADDRESS, line1: 'The Old Observatory, 4 Otter Row' }, 30)!;
  expect([long.line1, long.line2]).toEqual(['The Old Observatory', '4 Otter Row']);
});

test('what no supplier could carry out stays held, whatever a person releases', () => {
  const released = (part: Partial<CheckInput>) =>
    holdsOf(checkOrder({ ...GOOD, ...part }), ['linked', 'stock', 'profit']).map((c) => c.kind);
  expect(released({ lines: [{ ...LINE, item: null }], profit: null })).toEqual(['linked']);
  expect(released({ lines: [{ ...LINE, quantity: 5 }] })).toEqual([]);
});

test.each([
  [{}, null],
  [{ name: ' ' }, /name/],
  [{ line1: '' }, /street/],
  [{ town: '' }, /town/],
  [{ country: 'FR' }, /does not ship to FR/],
  [{ country: 'gb' }, /country code/],
  [{ postcode: '' }, /missing/],
  [{ postcode: 'SW1A1AA' }, null],
  [{ postcode: '12345' }, /postcode is not one/],
  [{ country: 'IE', postcode: '' }, null],
  [{ country: 'US', postcode: '44004' }, null],
  [{ country: 'US', postcode: 'BA1 5TT' }, /postcode is not one/],
  [{ country: 'NL', postcode: '1012 AB' }, null],
  [{ country: 'NL', postcode: '0012 AB' }, /postcode is not one/],
])('address %j', (part, problem) => {
  const found = addressProblem({ ...ADDRESS, ...part }, [SUPPLIER]);
  if (problem === null) expect(found).toBeNull();
  else expect(addressProblemInWords(found!)).toMatch(problem);
});
