import { accountOf } from '@/core/ledger';
import { chargeOf, livingIn, numberOf, standingOf, unseenOf } from '@/core/orders';
import type { Order } from '@/store';
import { setOwnPrice } from '@/work/listings/prices';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { accountsOf } from '@/work/orders/accounts';
import {
  cancelOrder,
  caseSeen,
  editOrder,
  forwardOrder,
  releaseOrder,
  tellAnyway,
} from '@/work/orders/actions';
import { recheckOrders } from '@/work/orders/due';
import { setOrderRules } from '@/work/orders/rules';
import { listingRowId, publishRow } from '@/work/outbox/row';
import { readCourse } from '@/work/overview/course';
import { cancelLines, sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, callOff, move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, setOut, toSee, type Voyage } from './voyage';

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(20);
});
afterEach(() => v.end());

const byHand = () => v.work.db.settings.update('shop', { forward: 'by hand' });
const sold = async (wish: Parameters<typeof sell>[3] = {}): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 50), v.work.clock(), { quantity: 1, ...wish })!;
  await v.settle(61_000);
  return (await v.work.db.orders.get(`pennywharf:${made.number}`))!;
};
const now = (order: Order) => v.work.db.orders.get(order.id) as Promise<Order>;
const shipTo = async (order: Order) => (await v.work.db.buyers.get(order.id))!.addresses[order.address]!;
/** Its account by what was really charged. */
const actual = async (order: Order) =>
  accountsOf(await now(order), await v.work.db.ledger.get(order.id), 'GBP').actual;

test('by hand: nothing is bought before a person says so, and then once', async () => {
  await byHand();
  const order = await sold();
  expect(standingOf(order)).toBe('ready');
  await v.settle(3_600_000);
  expect(v.outside.warehouse.purchases).toHaveLength(0);
  expect(await forwardOrder(v.work, order.id)).toEqual({ ok: true });
  expect(await forwardOrder(v.work, order.id)).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/too late/),
  });
  await v.settle();
  expect(v.outside.warehouse.purchases).toHaveLength(1);
});

test('the supplier gets name, reference, ship-to and the slip as edited; nothing can be edited afterwards', async () => {
  await byHand();
  const order = await sold();
  const address = { ...(await shipTo(order)), line2: 'Top floor' };
  expect(await editOrder(v.work, order.id, { address, slip: 'For Ida' })).toEqual({ ok: true });
  await forwardOrder(v.work, order.id);
  const spied = jest.spyOn(v.work, 'reach');
  await v.settle();
  const sent = spied.mock.calls.flatMap(([service, , init]) =>
    service === 'brackwater' && init?.method === 'POST' ? [JSON.parse(String(init.body))] : [],
  );
  expect(sent).toMatchObject([{ reference: order.id, shop: 'Dusk & Dipper', slip: 'For Ida' }]);
  expect(v.outside.warehouse.purchases[0]!.shipTo).toMatchObject({ line2: 'Top floor', name: address.name });
  expect(await editOrder(v.work, order.id, { slip: 'late' })).toMatchObject({ ok: false });
});

test('a personalised or badly addressed order never goes by itself', async () => {
  const personal = await sold({ personalised: true });
  const bad = await sold({ badAddress: true });
  expect([standingOf(personal), standingOf(bad)]).toEqual(['held', 'held']);
  await recheckOrders(v.work);
  await v.settle(3_600_000);
  expect(v.outside.warehouse.purchases).toHaveLength(0);
  await releaseOrder(v.work, personal.id, ['personalised'], true);
  await v.settle();
  expect(v.outside.warehouse.purchases.map((p) => p.reference)).toEqual([personal.id]);
  await editOrder(v.work, bad.id, { address: { ...(await shipTo(bad)), postcode: 'LS8 4QX' } });
  expect(standingOf(await now(bad))).toBe('ready');
});

test('goods that are not ours are held and cannot be released, only cancelled; the marketplace is told', async () => {
  const live = Object.values(v.outside.market.listings)[0]!;
  v.outside.market.listings['XX-1'] = { ...live, sku: 'XX-1', quantity: 9 };
  const order = await sold({ sku: 'XX-1' });
  expect(order.checks.filter((c) => !c.passed).map((c) => c.kind)).toContain('linked');
  await releaseOrder(v.work, order.id, ['linked', 'stock', 'profit'], true);
  await v.settle();
  expect(v.outside.warehouse.purchases).toHaveLength(0);
  expect(await cancelOrder(v.work, order.id, 'Not ours')).toEqual({ ok: true });
  await v.settle();
  expect(v.outside.market.orders[0]!.status).toBe('cancelled');
  expect(standingOf(await now(order))).toBe('cancelled');
});

test('a prepaid balance is shared out: what it does not cover is held until it does', async () => {
  await byHand();
  const first = await sold();
  const second = await sold();
  const { goods, shipping } = accountOf(first.expected!, 'GBP')!;
  const cost = goods + shipping;
  v.outside.warehouse.balance = cost + 10;
  await v.work.db.health.update('brackwater', { balance: cost + 10 });
  expect(await forwardOrder(v.work, first.id)).toEqual({ ok: true });
  await forwardOrder(v.work, second.id);
  const held = await now(second);
  expect(standingOf(held)).toBe('held');
  expect(held.checks.find((c) => c.kind === 'balance')).toMatchObject({ passed: false });
  await v.settle();
  v.outside.warehouse.balance = 100_000;
  await v.work.db.settings.update('shop', { forward: 'at once' });
  await v.settle(16 * 60_000);
  expect(v.outside.warehouse.purchases).toHaveLength(2);
});

test('a buyer who cancels before it is bought stops it; afterwards the purchase is asked back, and a person sees what it cost', async () => {
  await byHand();
  const early = await sold();
  cancelLines(v.outside.market, v.outside.market.orders[0]!);
  await v.settle(61_000);
  expect(standingOf(await now(early))).toBe('cancelled');
  expect(await forwardOrder(v.work, early.id)).toMatchObject({ ok: false });
  await v.work.db.settings.update('shop', { forward: 'at once' });
  const late = await sold();
  cancelLines(v.outside.market, v.outside.market.orders[1]!);
  await v.settle(61_000);
  expect(await now(late)).toMatchObject({ open: 1, purchases: [{ charged: { goods: 0, shipping: 0 } }] });
  expect(await toSee(v.work, await now(late))).toMatch(/took BT-88001 back. It costs nothing/);
  expect(v.outside.warehouse).toMatchObject({ purchases: [{ status: 'cancelled' }], balance: 250_000 });
  await caseSeen(v.work, late.id, unseenOf(await now(late))[0]!.id);
  expect((await now(late)).open).toBe(0);

  const picked = await sold();
  v.tick(2 * 3_600_000);
  cancelLines(v.outside.market, v.outside.market.orders[2]!);
  await v.settle(61_000);
  expect(await toSee(v.work, await now(picked))).toMatch(/took BT-88002 back. It costs £1.50/);
  expect(await actual(picked)).toMatchObject({ revenue: 0, profit: -150 });

  const gone = await sold();
  advance(v.outside.warehouse, 'BT-88003', v.work.clock(), 0);
  cancelLines(v.outside.market, v.outside.market.orders[3]!);
  await v.settle(61_000);
  const { goods, shipping } = v.outside.warehouse.purchases[2]!;
  expect((await now(gone)).open).toBe(1);
  expect(await toSee(v.work, await now(gone))).toMatch(
    /^Cancelled after it was bought. Brackwater Trade (had shipped BT-88003 by then|does not take BT-88003 back: .*)\. It costs/,
  );
  expect((await actual(gone))!.profit).toBe(-goods - shipping);
  expect(v.outside.market.orders[3]!.dispatches).toBeUndefined();
});

test('the seller cancels what is bought: the supplier is asked first, and only if it agrees is the buyer refunded', async () => {
  const back = await sold();
  expect(await cancelOrder(v.work, back.id, 'Sold elsewhere')).toEqual({ ok: true });
  expect([standingOf(await now(back)), v.outside.market.orders[0]!.status]).toEqual([
    'being cancelled',
    'paid',
  ]);
  await v.settle();
  expect([standingOf(await now(back)), v.outside.market.orders[0]!.status]).toEqual([
    'cancelled',
    'cancelled',
  ]);
  const kept = await sold({ sku: back.lines[0]!.sku });
  advance(v.outside.warehouse, 'BT-88002', v.work.clock(), 0);
  expect(await cancelOrder(v.work, kept.id, 'Sold elsewhere')).toEqual({ ok: true });
  await v.settle();
  expect(await toSee(v.work, await now(kept))).toMatch(/^It was not cancelled/);
  expect(standingOf(await now(kept))).not.toBe('being cancelled');
  await v.settle(300_000);
  expect(v.outside.market.orders[1]!.status).toBe('shipped');
});

test('a purchase whose answer was lost and whose next try meets a 404 from between is found again, never bought anew, even from a copy of before', async () => {
  await byHand();
  const copy = await sold();
  const { brackwater } = v.outside.faults;
  brackwater.set({ loseAnswers: 1 });
  await forwardOrder(v.work, copy.id);
  await v.settle();
  brackwater.set({ random: { drop: 0, lose: 0, fail: 0, tooMany: 0, stray: 1 } });
  for (let k = 0; k < 3; k++) await v.settle(20_000);
  const doubtful = await now(copy);
  expect([standingOf(doubtful), doubtful.cases]).toEqual(['forwarding', []]);
  expect(await releaseOrder(v.work, copy.id, [], true)).toMatchObject({ ok: false });
  brackwater.set({ random: null });
  await v.settle(600_000);
  expect(numberOf((await now(copy)).purchases[0]!)).toBe('BT-88001');
  // A copy from before the purchase, with another message for the slip: the same key, so that it is the same
  // purchase.
  await v.work.db.outbox.clear();
  const buyer = (await v.work.db.buyers.get(copy.id))!;
  await v.work.db.buyers.put({ ...buyer, texts: ['Another word'] });
  await v.work.db.orders.put({ ...copy, slip: 0 });
  await forwardOrder(v.work, copy.id);
  await v.settle();
  expect(v.outside.warehouse.purchases).toHaveLength(1);
  expect(numberOf((await now(copy)).purchases[0]!)).toBe('BT-88001');
});

test('a purchase that waits for an outage to end is withdrawn when the buyer cancels; one the supplier cancels can be bought again', async () => {
  v.outside.faults.brackwater.set({ outage: true });
  const order = await sold();
  expect(standingOf(order)).toBe('forwarding');
  cancelLines(v.outside.market, v.outside.market.orders[0]!);
  await v.settle(61_000);
  // It was tried, so that only the supplier can say that it has none.
  expect(standingOf(await now(order))).toBe('being cancelled');
  v.outside.faults.brackwater.set({ outage: false });
  await v.settle(600_000);
  expect(await now(order)).toMatchObject({ open: 0, cases: [], purchases: [{ state: 'withdrawn' }] });
  expect(v.outside.warehouse.purchases).toHaveLength(0);

  const again = await sold();
  callOff(v.outside.warehouse, v.outside.warehouse.purchases[0]!);
  await v.settle(300_000);
  expect([standingOf(await now(again)), await toSee(v.work, await now(again))]).toEqual([
    'held',
    expect.stringMatching(/cancelled BT-88001/),
  ]);
  await releaseOrder(v.work, again.id, [], true);
  await v.settle();
  expect(v.outside.warehouse.purchases.map((p) => p.status)).toEqual(['cancelled', 'accepted']);
});

test('what somebody between answers refuses no listing and no parcel at once, and blocks the others for a while only', async () => {
  v.outside.faults.pennywharf.set({ random: { drop: 0, lose: 0, fail: 0, tooMany: 0, stray: 1 } });
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
  await setOwnPrice(v.work, listing.id, listing.published!.price + 100);
  await v.settle();
  expect(await v.work.db.outbox.get(listingRowId('offer', listing.id))).toMatchObject({
    state: 'waiting',
    attempts: 1,
  });
  await v.work.db.outbox.put(publishRow(listing, v.work.clock()));
  for (let k = 0; k < 8; k++) await v.settle(400_000);
  const published = await v.work.db.outbox.get(listingRowId('publish', listing.id));
  expect(published).toMatchObject({
    state: 'refused',
    attempts: 5,
    says: expect.stringMatching(/something stands between/),
  });
});

test('a sale lowers what is promised, so that the last piece is not sold twice', async () => {
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
  move(v.outside.warehouse, await itemOf(v.work, listing), { stock: 3 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await v.settle();
  expect(v.outside.market.listings[listing.sku]!.quantity).toBe(1);
  await byHand();
  await sold({ sku: listing.sku });
  await v.settle();
  expect(v.outside.market.listings[listing.sku]).toMatchObject({ quantity: 0 });
});

test('where one piece is left, the first order has it and the second is held, whichever marketplace they come from', async () => {
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
  const item = await itemOf(v.work, listing);
  const [a, b] = [0, 1].map(
    (k) => sell(v.outside.market, chance(70 + k), v.work.clock(), { sku: listing.sku, quantity: 1 })!,
  );
  move(v.outside.warehouse, item, { stock: 1 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await v.work.db.jobs.update('pennywharf:orders', { nextAt: v.work.clock() + 60_000 });
  await v.settle();
  await v.settle(61_000);
  const [first, second] = await v.work.db.orders.bulkGet([a, b].map((o) => `pennywharf:${o!.number}`));
  expect([standingOf(first!), standingOf(second!)]).toEqual(['with supplier', 'held']);
  expect(second!.checks.find((c) => c.kind === 'stock')).toMatchObject({ short: [{ has: 0, sold: 1 }] });
  expect(v.outside.warehouse.purchases).toHaveLength(1);
});

test('a tracking number with a wrong check digit is not passed on until a person says so', async () => {
  const order = await sold();
  advance(v.outside.warehouse, v.outside.warehouse.purchases[0]!.number, v.work.clock(), 0);
  v.outside.warehouse.purchases[0]!.parcels[0]!.tracking = 'LX406160078GB';
  await v.settle(300_000);
  expect(await toSee(v.work, await now(order))).toMatch(/wrong check digit/);
  expect(v.outside.market.orders[0]!.status).toBe('paid');
  await tellAnyway(v.work, order.id, 'LX406160078GB');
  await v.settle();
  expect(v.outside.market.orders[0]!.dispatches?.[0]?.tracking).toBe('LX406160078GB');
});

test('a carrier the marketplace does not list is told as another carrier', async () => {
  const order = await sold();
  const [bought] = v.outside.warehouse.purchases;
  advance(v.outside.warehouse, bought!.number, v.work.clock(), 0);
  bought!.parcels[0]!.carrier = 'Snail Mail';
  await v.settle(300_000);
  expect(v.outside.market.orders[0]!.dispatches).toEqual([
    {
      carrier: 'other',
      tracking: bought!.parcels[0]!.tracking,
      lines: [{ id: order.lines[0]!.id, quantity: 1 }],
    },
  ]);
});

test('Today names what needs a person, worst first, with where to mend it', async () => {
  const bad = await sold({ badAddress: true });
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').last())!;
  await v.work.db.listings.update(listing.id, { published: { ...listing.published!, price: 100 } });
  v.outside.faults.pennywharf.set({ outage: true });
  for (let i = 0; i < 4; i++) await v.settle(61_000);
  const course = await readCourse(v.work);
  const ids = course.needs.map((need) => need.id.split(':')[0]);
  expect(new Set(ids)).toEqual(new Set(['connection', 'order', 'listing']));
  // What loses money at each sale stands first, then what hurts soonest.
  const [worst, ...others] = course.needs;
  expect(worst).toMatchObject({ id: `listing:${listing.id}`, losing: true });
  expect(others.map((need) => need.left)).toEqual(others.map((need) => need.left).sort((a, b) => a - b));
  expect(course.needs.find((need) => need.id === `order:${bad.id}`)).toMatchObject({
    href: `/orders?row=${encodeURIComponent(bad.id)}`,
    why: expect.stringMatching(/postcode/),
  });
  expect(course.orders).toMatchObject({ open: 1, need: 1 });
  v.outside.faults.pennywharf.set({ outage: false });
  await cancelOrder(v.work, bad.id, 'x');
  await v.work.db.listings.update(listing.id, { published: listing.published });
  await v.settle(600_000);
  expect((await readCourse(v.work)).needs).toEqual([]);
});

test('an account is settled to the penny, and differs where the supplier charged more', async () => {
  const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
  const { cost, item } = await factsOf(v.work, listing);
  move(v.outside.warehouse, item, { cost: cost + 37 });
  const order = await sold({ sku: listing.sku });
  expect(order.expected!.filter((e) => e.kind === 'goods').map((e) => e.amount)).toEqual([-cost]);
  expect(chargeOf((await now(order)).purchases[0]!)!.goods).toBe(cost + 37);
  expect(await actual(order)).toBeNull();
  advance(v.outside.warehouse, numberOf((await now(order)).purchases[0]!)!, v.work.clock(), 0);
  await v.settle(300_000);
  await v.settle(61_000);
  expect((await actual(order))!.profit).toBe(accountOf(order.expected!, 'GBP')!.profit - 37);
});

test('what a supplier takes out by itself while it is asked to take all back is not the rest of it', async () => {
  const [a, b] = await v.work.db.listings
    .filter((l) => l.state === 'live')
    .limit(2)
    .toArray();
  const order = await sold({ skus: [a!.sku, b!.sku] });
  const [bought] = v.outside.warehouse.purchases;
  await cancelOrder(v.work, order.id, 'None left');
  const sku = await itemOf(v.work, a!);
  callOff(v.outside.warehouse, bought!, [{ line: order.lines[0]!.id, sku, quantity: 1 }]);
  advance(v.outside.warehouse, bought!.number, v.work.clock(), 0);
  for (let k = 0; k < 3; k++) await v.settle(3_600_000);
  // The other line is on its way: nothing is bought for it again, whatever becomes of the one taken out.
  const rest = await itemOf(v.work, b!);
  const living = v.outside.warehouse.purchases.filter(
    (p) => p.lines.some((l) => l.sku === rest) && !p.cancelled.some((l) => l.sku === rest),
  );
  expect(living.map((p) => p.number)).toEqual([bought!.number]);
  const left = (await now(order)).purchases[0]!;
  expect(left.lines.map((l) => [l.item, livingIn(left, l)])).toEqual([
    [sku, 0],
    [rest, 1],
  ]);
});

test('a cancellation that crosses the buyer’s own does not bring the sale back', async () => {
  await byHand();
  const order = await sold();
  expect(await cancelOrder(v.work, order.id, 'None left')).toEqual({ ok: true });
  cancelLines(v.outside.market, v.outside.market.orders[0]!);
  await v.work.db.settings.update('shop', { forward: 'at once' });
  await v.settle(3_600_000);
  expect(standingOf(await now(order))).toBe('cancelled');
  expect(v.outside.warehouse.purchases).toHaveLength(0);
});

test('a cancellation that the marketplace refuses leaves the order sold, and says so', async () => {
  await byHand();
  const order = await sold();
  await cancelOrder(v.work, order.id, 'None left');
  // Somebody told it of a parcel outside of Sampan.
  const there = v.outside.market.orders[0]!;
  there.status = 'shipped';
  await v.settle(61_000);
  const refused = await now(order);
  expect(refused.lines.every((l) => l.cancelled === 0)).toBe(true);
  expect(await toSee(v.work, refused)).toMatch(/refused the cancellation/);
});

test('a new forwarding rule sends what stands ready, and undo brings the old rule back', async () => {
  await byHand();
  const order = await sold();
  expect(standingOf(order)).toBe('ready');
  await setOrderRules(v.work, { forward: 'at once' }, 'At once');
  await v.settle();
  expect(standingOf(await now(order))).toBe('with supplier');
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect((await v.work.db.settings.get('shop'))!.forward).toBe('by hand');
  expect(standingOf(await sold())).toBe('ready');
  expect(v.outside.warehouse.purchases).toHaveLength(1);
});

test('checking a held order again writes history only when something about it changed', async () => {
  const bad = await sold({ badAddress: true });
  const lines = () =>
    v.work.db.edits
      .where('[subject+at]')
      .between([`order:${bad.id}`, 0], [`order:${bad.id}`, Number.POSITIVE_INFINITY])
      .count();
  const before = await lines();
  await sold();
  for (let i = 0; i < 3; i++) await recheckOrders(v.work);
  expect(await lines()).toBe(before);
  const item = await itemOf(v.work, (await v.work.db.listings.get(`pennywharf:${bad.lines[0]!.sku}`))!);
  move(v.outside.warehouse, item, { stock: 0 });
  await v.work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await v.settle();
  expect(await lines()).toBe(before + 1);
  expect((await now(bad)).checks.filter((c) => !c.passed).map((c) => c.kind)).toEqual(['stock', 'address']);
});
