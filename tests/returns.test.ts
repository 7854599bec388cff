import { accountOf } from '@/core/ledger';
import { isOpenReturn, isReturn, type Return, returnStep, standingOf } from '@/core/orders';
import { lossOf, rateAmong, USUAL_RETURN_RULES } from '@/core/returns';
import { type Order, settingsOf } from '@/store';
import { runRound } from '@/work/jobs/runner';
import { archiveOrders } from '@/work/order-book/archive';
import { eraseBuyers } from '@/work/order-book/erase';
import {
  answerReturn,
  claimReturn,
  closeReturn,
  noteReturn,
  openReturn,
  sendParcelAgain,
  setReturnRules,
} from '@/work/orders/returns';
import * as market from '../stand-ins/marketplace/returns';
import { chance } from '../stand-ins/random';
import * as desk from '../stand-ins/supplier/returns';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, toSee, type Voyage } from './voyage';

const HOUR = 3_600_000;
let v: Voyage;
let seed = 700;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const now = async ({ id }: Pick<Order, 'id'>) => (await v.work.db.orders.get(id))!;
const there = (order: Pick<Order, 'number'>) =>
  v.outside.market.orders.find((o) => o.number === order.number)!;
const returnOf = (order: Order): Return => order.cases.findLast(isReturn)!;
const photo = new Blob([new Uint8Array(64).fill(9)], { type: 'image/jpeg' });

/** An order that was sold, bought, sent and delivered. */
async function delivered(quantity = 1): Promise<Order> {
  const order = await sellOne(v, seed++, { quantity });
  const [p] = order.purchases;
  const bought = v.outside.warehouse.purchases.find((one) => one.reference === p!.reference)!;
  advance(v.outside.warehouse, bought.number, v.work.clock(), 24 * HOUR);
  await v.settle(150_000);
  advance(v.outside.warehouse, bought.number, v.work.clock(), 24 * HOUR);
  await v.settle(20 * 60_000);
  return now(order);
}

async function asked(order: Order, wish: market.ReturnWish): Promise<Order> {
  expect(
    market.openReturn(v.outside.market, there(order), chance(seed), v.work.clock(), wish),
  ).not.toBeNull();
  await v.settle(150_000);
  return now(order);
}

const minor = (amount: string | undefined) => Math.round(Number(amount ?? 0) * 100);

/** What the outside's own books say that an order left the seller with, in minor units: none of it is Sampan's sum. */
function booksOf(order: Order): number {
  const o = there(order);
  const paid = o.lines.reduce((sum, l) => sum + minor(l.unitPrice) * l.quantity, 0) + minor(o.shipping);
  const left = paid - minor(o.refunded);
  const fees = (o.charges ?? []).reduce((sum, c) => sum + minor(c.amount), 0);
  const labels = (o.returns ?? []).reduce((sum, r) => sum + minor(r.label), 0);
  // One sixth of what is left is tax: 20 % inside.
  const tax = Math.floor((left * 20) / 120 + 0.5);
  const bought = v.outside.warehouse.purchases.filter((p) => p.reference.startsWith(order.id));
  const spent = bought.reduce((sum, p) => {
    const back = (p.returns ?? []).reduce((n, r) => n + minor(r.credit) - minor(r.restocking), 0);
    const again = (p.back ?? []).reduce((n, b) => n + minor(b.again?.charge), 0);
    return sum + p.goods + p.shipping - back + again;
  }, 0);
  return left - fees - labels - tax - spent;
}

const ledgerOf = async (order: Order) => (await v.work.db.ledger.get(order.id))!;
const profitOf = async (order: Order) => accountOf((await ledgerOf(order)).entries, 'GBP')!.profit;

async function lossIn(order: Order): Promise<number> {
  const { entries, terms } = await ledgerOf(order);
  const sold = { ...order };
  const paid = order.lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0) + order.shipping;
  return order.cases
    .filter(isReturn)
    .reduce(
      (sum, c) =>
        sum + lossOf(c, sold, { paid, tax: terms!.tax, rateOf: rateAmong(entries), books: 'GBP' }).total!,
      0,
    );
}

test('a return from request to settled loss: the sum of its parts is what the account lost', async () => {
  const order = await delivered(2);
  const before = await profitOf(order);
  expect(before).toBe(booksOf(order));
  let o = await asked(order, { reason: 'changed mind', units: 1 });
  const c = returnOf(o);
  expect(c).toMatchObject({ what: 'return', reason: 'changed mind', state: 'open', goods: 'with buyer' });
  expect(returnStep(c)).toBe('answer');
  expect(o.open).toBe(1);
  expect(await toSee(v.work, o)).toContain('waits for your answer');
  const give = { answer: 'accept', minor: 0, label: 'seller', says: '' } as const;
  expect(await answerReturn(v.work, o.id, c.id, give)).toEqual({ ok: true });
  // Pressed twice it is answered once.
  expect((await answerReturn(v.work, o.id, c.id, give)).ok).toBe(false);
  await v.settle(150_000);
  expect(there(order).returns![0]).toMatchObject({ state: 'accepted', label: '3.20' });
  // The desk takes what nobody did wrong, and keeps 15 %.
  const [p] = o.purchases;
  const of = { supplier: p!.supplier, reference: p!.reference };
  expect(await claimReturn(v.work, o.id, c.id, of, 'refund', 'The buyer did not want it.', [])).toEqual({
    ok: true,
  });
  await v.settle(150_000);
  expect(returnOf(await now(o)).claim).toMatchObject({ state: 'granted', credit: 0 });
  market.moveReturns(v.outside.market, v.work.clock());
  await v.settle(150_000);
  expect(returnOf(await now(o)).goods).toBe('on the way');
  market.moveReturns(v.outside.market, v.work.clock());
  desk.settleReturns(v.outside.warehouse);
  await v.settle(150_000);
  o = await now(o);
  expect(returnStep(returnOf(o))).toBe('refund');
  const price = o.lines[0]!.unitPrice;
  // More than was paid is not given back.
  expect((await answerReturn(v.work, o.id, c.id, { ...give, answer: 'refund', minor: price * 9 })).ok).toBe(
    false,
  );
  expect(await answerReturn(v.work, o.id, c.id, { ...give, answer: 'refund', minor: price })).toEqual({
    ok: true,
  });
  await v.settle(150_000);
  o = await now(o);
  const done = returnOf(o);
  const { goods: charged } = (p as { charged: { goods: number } }).charged;
  const worth = charged / 2;
  expect(done).toMatchObject({
    ...{ state: 'closed', refunded: price, label: 320, goods: 'at the supplier' },
    claim: { state: 'settled', credit: worth, restocking: Math.round(worth * 0.15) },
  });
  expect(done.fees).toBeGreaterThan(0);
  expect(await profitOf(o)).toBe(booksOf(o));
  expect(await lossIn(o)).toBe((await profitOf(o)) - before);
  // It waits to be closed, and is over then; told again it changes nothing.
  expect(returnStep(done)).toBe('close');
  await closeReturn(v.work, o.id, done.id, true);
  await v.settle(150_000);
  expect((await now(o)).open).toBe(0);
  // Laid away and heard of again, the same sums stand there.
  await archiveOrders(v.work, -1);
  expect(await v.work.db.orders.get(o.id)).toBeUndefined();
  v.outside.market.feed.push(order.number);
  await v.settle(150_000);
  await openReturn(
    v.work,
    o.id,
    { what: 'refund', units: [{ line: o.lines[0]!.id, units: 1 }], reason: 'other' },
    '',
  );
  expect(await profitOf(await now(o))).toBe(booksOf(o));
});

test('what is small is refunded by itself where the seller said so, and nothing else; the supplier credits what was faulty', async () => {
  const order = await delivered();
  const paid = order.lines[0]!.unitPrice;
  await setReturnRules(v.work, { ...USUAL_RETURN_RULES, keepUpTo: { GBP: paid - 1 }, byItself: true });
  const over = await asked(await delivered(), { kind: 'refund', reason: 'faulty' });
  const small = await settingsOf(v.work.db);
  expect(small.returns!.byItself).toBe(true);
  if (over.lines[0]!.unitPrice >= paid) expect(there(over).returns![0]!.state).toBe('open');
  const bank = await asked(await delivered(), { kind: 'chargeback', reason: 'faulty' });
  expect(returnOf(bank).sent).toBeNull();
  await setReturnRules(v.work, { ...USUAL_RETURN_RULES, keepUpTo: { GBP: paid }, byItself: true });
  const before = await profitOf(order);
  let o = await asked(order, { kind: 'return', reason: 'faulty' });
  await v.settle(150_000);
  o = await now(order);
  expect(returnOf(o)).toMatchObject({ state: 'closed', refunded: paid, goods: 'kept' });
  const [p] = o.purchases;
  const of = { supplier: p!.supplier, reference: p!.reference };
  // Without a photograph the desk refuses; it is asked again with one.
  await claimReturn(v.work, o.id, returnOf(o).id, of, 'refund', 'It flickers.', []);
  await v.settle(150_000);
  o = await now(o);
  expect(returnOf(o).claim).toMatchObject({ state: 'refused' });
  expect(await toSee(v.work, o)).toContain('photograph');
  await claimReturn(v.work, o.id, returnOf(o).id, of, 'refund', 'It flickers a lot.', [photo]);
  await v.settle(150_000);
  o = await now(o);
  expect(returnOf(o).claim).toMatchObject({ state: 'settled', restocking: 0 });
  expect(await profitOf(o)).toBe(booksOf(o));
  expect(await lossIn(o)).toBe((await profitOf(o)) - before);
  await closeReturn(v.work, o.id, returnOf(o).id, true);
  const [evidence] = returnOf(o).claim!.photos;
  expect(await v.work.db.assets.get(evidence!)).toBeDefined();
  await eraseBuyers(v.work, [o.id]);
  expect(await v.work.db.assets.get(evidence!)).toBeUndefined();
});

test('a bank takes the payment back, the seller contests and wins: only its charge is lost', async () => {
  const order = await delivered();
  const before = await profitOf(order);
  let o = await asked(order, { kind: 'chargeback', reason: 'not received' });
  expect(o.refunded).toBe(order.lines[0]!.unitPrice);
  expect(await profitOf(o)).toBe(booksOf(o));
  const c = returnOf(o);
  const no = { answer: 'decline', minor: 0, label: 'buyer', says: '' } as const;
  expect((await answerReturn(v.work, o.id, c.id, no)).ok).toBe(false);
  await answerReturn(v.work, o.id, c.id, { ...no, says: 'It was delivered, the carrier says where.' });
  await v.settle(150_000);
  expect(returnOf(await now(o)).state).toBe('declined');
  expect(market.winChargebacks(v.outside.market)).toBe(1);
  await v.settle(150_000);
  o = await now(o);
  expect(o.refunded).toBe(0);
  expect(await profitOf(o)).toBe(before - 1500);
  expect(await lossIn(o)).toBe(-1500);
});

test('an undeliverable parcel is held, sent again to a mended address at a cost, once; too late it is refused', async () => {
  const order = await sellOne(v, seed++);
  const bought = v.outside.warehouse.purchases.at(-1)!;
  advance(v.outside.warehouse, bought.number, v.work.clock(), 24 * HOUR);
  await v.settle(150_000);
  await v.settle(150_000);
  const before = await profitOf(order);
  const tracking = desk.bringBack(v.outside.warehouse, v.work.clock())!;
  await v.settle(150_000);
  let o = await now(order);
  expect(returnOf(o)).toMatchObject({ what: 'undeliverable', parcel: { tracking } });
  expect(returnStep(returnOf(o))).toBe('held');
  const buyer = (await v.work.db.buyers.get(o.id))!;
  const mended = { ...buyer.addresses[o.address]!, line1: '7 Mended Row' };
  expect(await sendParcelAgain(v.work, o.id, returnOf(o).id, mended)).toEqual({ ok: true });
  expect((await sendParcelAgain(v.work, o.id, returnOf(o).id, mended)).ok).toBe(false);
  await v.settle(150_000);
  o = await now(o);
  expect(bought.shipTo.line1).toBe('7 Mended Row');
  expect(o.cases.some(isOpenReturn)).toBe(false);
  const charge = minor(bought.back![0]!.again!.charge);
  expect(charge).toBeGreaterThan(0);
  expect(await profitOf(o)).toBe(before - charge);
  expect(await profitOf(o)).toBe(booksOf(o));

  const second = await sellOne(v, seed++, { sku: order.lines[0]!.sku });
  expect(await toSee(v.work, second)).toBe('');
  expect([second.checks.filter((c) => !c.passed), second.purchases.length]).toEqual([[], 1]);
  const late = v.outside.warehouse.purchases.at(-1)!;
  advance(v.outside.warehouse, late.number, v.work.clock(), 24 * HOUR);
  await v.settle(150_000);
  desk.bringBack(v.outside.warehouse, v.work.clock());
  await v.settle(20 * 60_000);
  await v.settle(11 * 24 * HOUR);
  const gone = await now(second);
  await sendParcelAgain(v.work, gone.id, returnOf(gone).id, null);
  await v.settle(150_000);
  expect(await toSee(v.work, await now(gone))).toContain('is gone');
});

test('a return that the seller opens is refunded once, by units that were sold; a random course keeps the books of both sides', async () => {
  const order = await delivered(2);
  const line = order.lines[0]!.id;
  const about = (units: number) => ({ what: 'refund' as const, units: [{ line, units }], reason: 'damaged' });
  expect((await openReturn(v.work, order.id, about(3), '')).ok).toBe(false);
  expect(await openReturn(v.work, order.id, about(1), 'The corner is bent.')).toEqual({ ok: true });
  // The other unit is left, and no third.
  expect((await openReturn(v.work, order.id, about(2), '')).ok).toBe(false);
  let o = await now(order);
  await answerReturn(v.work, o.id, returnOf(o).id, {
    answer: 'refund',
    minor: 301,
    label: 'buyer',
    says: 'Sorry.',
  });
  await v.settle(150_000);
  await runRound(v.work);
  o = await now(o);
  expect(there(o).refunded).toBe('3.01');
  expect([o.refunded, returnOf(o).refunded]).toEqual([301, 301]);
  await noteReturn(v.work, o.id, returnOf(o).id, { goods: 'written off', reason: 'faulty' });
  expect(returnOf(await now(o))).toMatchObject({ goods: 'written off', reason: 'faulty' });
  expect(standingOf(o)).toBe('delivered');

  const luck = chance(4711);
  const some = [order, await delivered(3), await delivered(2)];
  for (let step = 0; step < 60; step++) {
    const one = await now(luck.pick(some));
    const open = one.cases.filter(isOpenReturn).filter((c) => !c.sent);
    const c = open.length ? luck.pick(open) : null;
    const [p] = one.purchases;
    switch (luck.whole(0, 7)) {
      case 0:
      case 1:
        market.openReturn(v.outside.market, there(one), luck, v.work.clock(), {
          kind: luck.pick(['return', 'refund', 'not received', 'chargeback']),
        });
        break;
      case 2:
        if (c)
          await answerReturn(v.work, one.id, c.id, { answer: 'accept', minor: 0, label: 'seller', says: '' });
        break;
      case 3:
        if (c)
          await answerReturn(v.work, one.id, c.id, {
            answer: 'refund',
            minor: luck.whole(1, 2500),
            label: 'buyer',
            says: 'x',
          });
        break;
      case 4:
        if (c)
          await answerReturn(v.work, one.id, c.id, {
            answer: 'decline',
            minor: 0,
            label: 'buyer',
            says: 'No.',
          });
        break;
      case 5:
        if (c)
          await claimReturn(
            v.work,
            one.id,
            c.id,
            { supplier: p!.supplier, reference: p!.reference },
            luck.pick(['refund', 'replacement']),
            'Wrong.',
            [photo],
          );
        break;
      case 6:
        market.moveReturns(v.outside.market, v.work.clock());
        desk.settleReturns(v.outside.warehouse);
        break;
      default:
        market.winChargebacks(v.outside.market);
    }
    if (luck.next() < 0.5) await v.settle(150_000);
    // The feed says everything again, in another order.
    if (luck.next() < 0.2) v.outside.market.feed.push(luck.pick(some).number);
  }
  await v.settle(150_000);
  await v.settle(150_000);
  let cases = 0;
  for (const { id } of some) {
    const one = await now({ id });
    cases += one.cases.filter(isReturn).length;
    expect([one.number, await profitOf(one)]).toEqual([one.number, booksOf(one)]);
  }
  expect(cases).toBeGreaterThan(5);
});
