import { addressProblem, addressProblemInWords, type CheckInput, checkInWords, checkOrder, holdsOf } from '.';

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
  shipsTo: ['GB', 'IE', 'US'],
  currency: 'GBP',
  balance: 5000,
  spend: 1120,
};
const LINE = {
  title: 'Torch',
  quantity: 1,
  personalised: false,
  item: { key: 'brackwater:T', supplier: 'Brackwater', pieces: 4, pack: 1 },
};
const GOOD: CheckInput = {
  lines: [LINE],
  address: ADDRESS,
  suppliers: [SUPPLIER],
  profit: 557,
  least: 100,
  books: 'GBP',
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
])('address %j', (part, problem) => {
  const found = addressProblem({ ...ADDRESS, ...part }, [SUPPLIER]);
  if (problem === null) expect(found).toBeNull();
  else expect(addressProblemInWords(found!)).toMatch(problem);
});
