import fc from 'fast-check';
import {
  addressProblem,
  addressProblemInWords,
  type CheckInput,
  checkInWords,
  checkOrder,
  holdsOf,
  isCancelled,
  isLate,
  isOpen,
  isRecalling,
  linesIn,
  marksOf,
  mayDo,
  nextReference,
  type OrderLine,
  type OrderState,
  openLines,
  orderOf,
  type Purchase,
  standingOf,
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
  shipsTo: ['GB', 'IE', 'US'],
  currency: 'GBP',
  balance: 5000,
  spend: 1120,
};
const LINE = {
  title: 'Torch',
  quantity: 1,
  personalisation: null,
  item: { supplier: 'Brackwater', available: 4 },
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
  expect(failed({ profit: 99 })).toEqual(['profit']);
  expect(failed({ profit: 100 })).toEqual([]);
  expect(failed({ address: { ...ADDRESS, postcode: 'BA1' } })).toEqual(['address']);
  expect(failed({ lines: [{ ...LINE, personalisation: 'For Ida' }] })).toEqual(['personalised']);
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
  [{ postcode: '12345' }, /not a postcode/],
  [{ country: 'IE', postcode: '' }, null],
  [{ country: 'US', postcode: '44004' }, null],
  [{ country: 'US', postcode: 'BA1 5TT' }, /not a postcode/],
])('address %j', (part, problem) => {
  const found = addressProblem({ ...ADDRESS, ...part }, [SUPPLIER]);
  if (problem === null) expect(found).toBeNull();
  else expect(addressProblemInWords(found!)).toMatch(problem);
});

const line = (id: string, cancelledAt: number | null = null): OrderLine => ({
  id,
  sku: id,
  title: id,
  quantity: 1,
  unitPrice: 1000,
  personalisation: null,
  cancelledAt,
});
const purchase = (part: Partial<Purchase> = {}, ...lines: string[]): Purchase => ({
  reference: 'uk:1',
  supplier: 'a',
  lane: 'service',
  state: 'accepted',
  lines: lines.map((id) => ({ line: id, item: id, quantity: 1, personalisation: null, cancelledAt: null })),
  at: 2,
  number: 'N1',
  acceptedAt: 3,
  currency: 'GBP',
  expected: { goods: 0, shipping: 0 },
  charged: null,
  parcels: [],
  complete: false,
  recall: null,
  ...part,
});
const parcel = (tracking: string, toldAt: number | null, deliveredAt: number | null = null) => ({
  carrier: 'c',
  tracking,
  shippedAt: 4,
  deliveredAt,
  lines: null,
  toldAt,
});
const state = (part: Partial<OrderState> = {}): OrderState => ({
  paidAt: 1,
  lines: [line('x'), line('y')],
  checkedAt: null,
  purchases: [],
  dispatched: [],
  elsewhere: false,
  cancelling: null,
  ...part,
});

test('an order stands where all of it has come to', () => {
  const both = (b: Partial<Purchase>, a: Partial<Purchase> = {}) =>
    standingOf(state({ purchases: [purchase(a, 'x'), purchase({ supplier: 'b', ...b }, 'y')] }));
  expect(standingOf(state())).toBe('held');
  expect(standingOf(state({ checkedAt: 2 }))).toBe('ready');
  // Bought in part: the rest is still to be decided.
  expect(standingOf(state({ purchases: [purchase({}, 'x')] }))).toBe('held');
  expect(both({ state: 'waiting', acceptedAt: null })).toBe('forwarding');
  expect(both({})).toBe('with supplier');
  const sent = { complete: true, parcels: [parcel('1', 5)] };
  expect(both(sent)).toBe('with supplier');
  expect(both({ ...sent, parcels: [parcel('2', null)] }, sent)).toBe('shipped');
  expect(both(sent, sent)).toBe('told');
  expect(both({ ...sent, parcels: [parcel('2', 5, 6)] }, { ...sent, parcels: [parcel('1', 5, 7)] })).toBe(
    'delivered',
  );
  // A purchase that ended counts no more, and leaves its lines to be bought again.
  expect(both({ state: 'cancelled' })).toBe('held');
  expect(standingOf(state({ lines: [line('x'), line('y', 9)], purchases: [purchase({}, 'x')] }))).toBe(
    'with supplier',
  );
  expect(standingOf(state({ lines: [line('x', 9), line('y', 9)] }))).toBe('cancelled');
  expect(standingOf(state({ elsewhere: true }))).toBe('told');
});

test('what stays bought for a cancelled line holds the rest of the order up no longer', () => {
  const sent = (tracking: string, toldAt: number | null) => ({
    complete: true,
    parcels: [parcel(tracking, toldAt)],
  });
  const kept = purchase({ reference: 'uk:PW-1#2', ...sent('2', null) }, 'y');
  const lines = [line('x'), line('y', 9)];
  const stands = (p: Purchase) => standingOf(state({ lines, purchases: [p, kept] }));
  expect(stands(purchase({}, 'x'))).toBe('with supplier');
  expect(stands(purchase(sent('1', null), 'x'))).toBe('shipped');
  expect(stands(purchase(sent('1', 5), 'x'))).toBe('told');
  // The same where both lines are one purchase in two parcels.
  const parcels = [
    { ...parcel('1', 5), lines: ['x'] },
    { ...parcel('2', null), lines: ['y'] },
  ];
  expect(standingOf(state({ lines, purchases: [purchase({ complete: true, parcels }, 'x', 'y')] }))).toBe(
    'told',
  );
});

const purchases = fc.array(
  fc
    .record({
      state: fc.constantFrom('waiting', 'sent', 'accepted', 'refused', 'withdrawn', 'cancelled'),
      supplier: fc.constantFrom('a', 'b'),
      complete: fc.boolean(),
      asked: fc.boolean(),
      lines: fc.subarray(['x', 'y'], { minLength: 1 }),
      told: fc.option(fc.constant(5), { nil: null }),
    })
    .map(({ lines, asked, told, ...rest }) =>
      purchase(
        {
          ...rest,
          parcels: rest.complete ? [parcel('1', told)] : [],
          recall: asked ? { by: 'seller', reason: '', at: 1, lines, state: 'asked' } : null,
        } as Partial<Purchase>,
        ...lines,
      ),
    ),
  { maxLength: 3 },
);
const orders = fc
  .record({
    purchases,
    checkedAt: fc.option(fc.constant(2), { nil: null }),
    x: fc.option(fc.constant(9), { nil: null }),
    y: fc.option(fc.constant(9), { nil: null }),
  })
  .map(({ x, y, ...rest }) => state({ ...rest, lines: [line('x', x), line('y', y)] }));

test('whatever happened to an order, only what nothing is bought for can be bought, and nothing while it is cancelled or asked back', () => {
  fc.assert(
    fc.property(orders, (o) => {
      const open = openLines(o).map((l) => l.id);
      for (const p of o.purchases) for (const l of linesIn(p)) expect(open).not.toContain(l.line);
      const over = isCancelled(o) || isRecalling(o);
      for (const step of ['release', 'forward'] as const)
        if (over || !open.length) expect(mayDo(step, o)).toBe(false);
      if (over) expect(mayDo('cancel', o)).toBe(false);
      if (isCancelled(o)) expect(isOpen(standingOf(o))).toBe(isRecalling(o));
      if (linesIn(o.purchases[0] ?? purchase({ state: 'refused' })).length)
        expect(mayDo('edit', o)).toBe(false);
      const standing = standingOf(o);
      if (open.length && !over) expect(['held', 'ready']).toContain(standing);
      expect(marksOf(o)[3] === null || open.length === 0).toBe(true);
    }),
    { numRuns: 2000 },
  );
});

test('a reference stays the same until something was really bought under it', () => {
  const next = (...made: Purchase[]) => nextReference('uk:PW-1', 'a', made);
  expect(next()).toBe('uk:PW-1');
  expect(next(purchase({ state: 'refused' }, 'x'), purchase({ state: 'withdrawn' }, 'x'))).toBe('uk:PW-1');
  expect(next(purchase({ supplier: 'b' }, 'x'))).toBe('uk:PW-1');
  expect(next(purchase({ state: 'cancelled' }, 'x'))).toBe('uk:PW-1#2');
  expect(next(purchase({}, 'x'))).toBe('uk:PW-1#2');
  expect(['uk:PW-1', 'uk:PW-1#2'].map(orderOf)).toEqual(['uk:PW-1', 'uk:PW-1']);
});

test('an order is late within six hours of its ship-by, until all of it is sent', () => {
  const hour = 3_600_000;
  const o = state({ purchases: [purchase({}, 'x', 'y')] });
  expect(isLate(o, 48 * hour, 41 * hour)).toBe(false);
  expect(isLate(o, 48 * hour, 43 * hour)).toBe(true);
  const part = purchase({ parcels: [parcel('1', null)] }, 'x', 'y');
  expect(isLate(state({ purchases: [part] }), 48 * hour, 60 * hour)).toBe(true);
  expect(isLate(state({ purchases: [{ ...part, complete: true }] }), 48 * hour, 60 * hour)).toBe(false);
  expect(isLate(state({ elsewhere: true }), 48 * hour, 60 * hour)).toBe(false);
});
