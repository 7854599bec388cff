import fc from 'fast-check';
import {
  addressProblem,
  type CheckInput,
  checkOrder,
  type Facts,
  holdsOf,
  isLate,
  isOpen,
  mayDo,
  standingOf,
} from '.';

const ACCOUNT = { revenue: 2499, goods: 1000, shipping: 120, fee: 320, payment: 85, tax: 417, profit: 557 };
const ADDRESS = {
  name: 'Nia Lind',
  line1: '4 Otter Row',
  line2: '',
  town: 'Bath',
  postcode: 'BA1 5TT',
  country: 'GB',
};
const GOOD: CheckInput = {
  currency: 'GBP',
  supplier: 'Brackwater',
  suppliers: 1,
  takesOrders: true,
  lines: [{ title: 'Torch', quantity: 1, personalisation: null, item: { stock: 4 } }],
  address: ADDRESS,
  shipsTo: ['GB', 'IE'],
  account: ACCOUNT,
  smallestProfit: 100,
  balance: 5000,
  boughtAlready: null,
};
const failed = (part: Partial<CheckInput>) =>
  checkOrder({ ...GOOD, ...part })
    .filter((c) => !c.passed)
    .map((c) => c.kind);

test('each check holds for its own reason', () => {
  expect(failed({})).toEqual([]);
  expect(failed({ lines: [{ ...GOOD.lines[0]!, item: null }], account: null })).toEqual([
    'linked',
    'stock',
    'profit',
  ]);
  expect(failed({ lines: [{ ...GOOD.lines[0]!, quantity: 5 }] })).toEqual(['stock']);
  expect(failed({ account: { ...ACCOUNT, profit: 99 } })).toEqual(['profit']);
  expect(failed({ account: { ...ACCOUNT, profit: 100 } })).toEqual([]);
  expect(failed({ address: { ...ADDRESS, postcode: 'BA1' } })).toEqual(['address']);
  expect(failed({ lines: [{ ...GOOD.lines[0]!, personalisation: 'For Ida' }] })).toEqual(['personalised']);
  expect(failed({ balance: 1119 })).toEqual(['balance']);
  expect(failed({ balance: 1120 })).toEqual([]);
  expect(failed({ boughtAlready: 'BT-1' })).toEqual(['bought']);
  expect(failed({ suppliers: 2 })).toEqual(['supplier']);
  expect(failed({ takesOrders: false })).toEqual(['supplier']);
});

test('what no supplier could carry out stays held, whatever a person releases', () => {
  const released = (part: Partial<CheckInput>) =>
    holdsOf(checkOrder({ ...GOOD, ...part }), ['linked', 'supplier', 'stock', 'profit']).map((c) => c.kind);
  expect(released({ suppliers: 2 })).toEqual(['supplier']);
  expect(released({ takesOrders: false })).toEqual(['supplier']);
  expect(released({ lines: [{ ...GOOD.lines[0]!, item: null }], account: null })).toEqual(['linked']);
  expect(released({ lines: [{ ...GOOD.lines[0]!, quantity: 5 }] })).toEqual([]);
});

test('a person can release every hold but one: what was bought is not bought again', () => {
  const checks = checkOrder({ ...GOOD, boughtAlready: 'BT-1', balance: 0 });
  expect(holdsOf(checks, ['balance', 'bought']).map((c) => c.kind)).toEqual(['bought']);
});

test.each([
  [{}, null],
  [{ name: ' ' }, /name/],
  [{ line1: '' }, /street/],
  [{ town: '' }, /town/],
  [{ country: 'US' }, /does not ship to US/],
  [{ country: 'gb' }, /country code/],
  [{ postcode: '' }, /missing/],
  [{ postcode: 'SW1A1AA' }, null],
  [{ postcode: '12345' }, /not a postcode/],
  [{ country: 'IE', postcode: '' }, null],
])('address %j', (part, problem) => {
  const says = addressProblem({ ...ADDRESS, ...part }, ['GB', 'IE']);
  if (problem === null) expect(says).toBeNull();
  else expect(says).toMatch(problem);
});

const maybe = fc.option(fc.integer({ min: 1, max: 1000 }), { nil: null });
const facts: fc.Arbitrary<Facts> = fc.record({
  paidAt: fc.constant(1),
  checkedAt: maybe,
  boughtAt: maybe,
  shippedAt: maybe,
  toldAt: maybe,
  deliveredAt: maybe,
  cancelledAt: maybe,
});

test('whatever happened to an order, nothing can be bought or edited once it was bought, is being bought, or was cancelled; it can be cancelled until it ships', () => {
  fc.assert(
    fc.property(facts, fc.boolean(), fc.boolean(), (f, forwarding, recalling) => {
      const past =
        f.boughtAt !== null || f.cancelledAt !== null || f.shippedAt !== null || forwarding || recalling;
      for (const step of ['edit', 'release', 'forward'] as const)
        if (past) expect(mayDo(step, f, forwarding, recalling)).toBe(false);
      expect(mayDo('cancel', f, forwarding, recalling)).toBe(
        f.cancelledAt === null && f.shippedAt === null && !recalling,
      );
      if (f.cancelledAt !== null) expect(isOpen(standingOf(f, forwarding, recalling))).toBe(recalling);
      if (!past) expect(mayDo('forward', f, forwarding, recalling)).toBe(f.checkedAt !== null);
    }),
  );
});

test('an order is late within six hours of its ship-by, until a parcel is there', () => {
  const f: Facts = {
    paidAt: 0,
    checkedAt: 1,
    boughtAt: 2,
    shippedAt: null,
    toldAt: null,
    deliveredAt: null,
    cancelledAt: null,
  };
  const hour = 3_600_000;
  expect(isLate(f, 48 * hour, 41 * hour)).toBe(false);
  expect(isLate(f, 48 * hour, 43 * hour)).toBe(true);
  expect(isLate({ ...f, shippedAt: 3 }, 48 * hour, 60 * hour)).toBe(false);
});
