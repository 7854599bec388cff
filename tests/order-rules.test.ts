import { type ForwardingRule, type OrderRules, USUAL_RULES } from '@/core/forwarding';
import { numberOf, standingOf, unseenOf } from '@/core/orders';
import { EVERYTHING, readCondition } from '@/core/query';
import { type Order, orderRules } from '@/store';
import { keepListSupplier } from '@/work/connections/connections';
import { setBackup } from '@/work/listings/link';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { accountsOf } from '@/work/orders/accounts';
import {
  chooseLineSource,
  editOrder,
  forwardOrder,
  keepBack,
  noteOrder,
  releaseOrder,
  setOrderAside,
  splitLine,
} from '@/work/orders/actions';
import { comingPurchases, releaseAhead, sourcesAhead } from '@/work/orders/ahead';
import { BUYING_FIELDS } from '@/work/orders/buying';
import { enterOrder, sendAgain } from '@/work/orders/own-orders';
import { rulesAhead, setOrderRules } from '@/work/orders/rules';
import { newJob } from '@/work/schedule/job';
import type { SaleWish } from '../stand-ins/marketplace/market';
import { advance, itemsOf, move } from '../stand-ins/supplier/warehouse';
import { itemOf, sellOne, setOut, type Voyage } from './voyage';

const HOUR = 3_600_000;

let v: Voyage;
let n = 0;
beforeEach(async () => {
  v = await setOut({ second: true });
  await v.work.db.jobs.put(newJob('shop', 'forwarding', v.work.clock()));
  await v.settle();
  await v.stockUp(12);
});
afterEach(() => v.end());

const sold = (wish: SaleWish = {}) => sellOne(v, ++n + 90, wish);
const now = async ({ id }: Pick<Order, 'id'>) => (await v.work.db.orders.get(id))!;
const rule = (when: string, going: ForwardingRule['going'], name = 'Rule'): ForwardingRule => ({
  id: name,
  ...{ name, on: true, when: when ? readCondition(when, BUYING_FIELDS) : EVERYTHING, going },
});
const keep = (rules: Partial<OrderRules>) =>
  setOrderRules(v.work, { orders: { ...USUAL_RULES, ...rules } }, 'Rules');
const bought = () => v.outside.warehouse.purchases;

test('in a wait buyer and seller can still change an order; then it is bought once, as it is by then', async () => {
  await keep({ forwarding: [rule('country:GB', { kind: 'wait', minutes: 60 }, 'Second thoughts')] });
  const order = await sold();
  expect(standingOf(order)).toBe('ready');
  expect(order.due).toEqual({ at: order.checkedAt! + HOUR, rule: 'Second thoughts' });
  const address = (await v.work.db.buyers.get(order.id))!.addresses[0]!;
  await v.settle(30 * 60_000);
  expect(await editOrder(v.work, order.id, { address: { ...address, line2: 'Flat 2' } })).toEqual({
    ok: true,
  });
  // The wait goes on from when it passed first, and nothing is bought in it.
  expect((await now(order)).due).toEqual(order.due);
  await v.settle(20 * 60_000);
  expect(bought()).toHaveLength(0);
  for (let k = 0; k < 3; k++) await v.settle(15 * 60_000);
  expect(bought()).toMatchObject([{ reference: order.id, shipTo: { line2: 'Flat 2' } }]);
  expect((await now(order)).due).toBeNull();
});

test('set hours go by the clock of their zone; what is kept back goes by no rule, and by a person’s word at once', async () => {
  const hours = { kind: 'hours', zone: 'America/New_York', days: [1, 2, 3, 4, 5], times: ['06:00'] } as const;
  await keep({ forwarding: [rule('', hours, 'Mornings')] });
  const [first, kept] = [await sold(), await sold()];
  // Six in New York on that Monday in November is eleven in London.
  expect(first.due!.at).toBe(Date.parse('2026-11-02T11:00:00Z'));
  expect(await keepBack(v.work, kept.id, true)).toEqual({ ok: true });
  await v.settle(3 * HOUR);
  expect(bought().map((p) => p.reference)).toEqual([first.id]);
  expect(await comingPurchases(v.work)).toMatchObject([{ order: kept.id, kept: true, at: null }]);
  await forwardOrder(v.work, kept.id);
  await v.settle();
  expect(bought().map((p) => p.reference)).toEqual([first.id, kept.id]);
});

test('what a change of the rules would do is told before, and is what it does; undo takes it back', async () => {
  await keep({ forwarding: [rule('', { kind: 'by hand' })] });
  for (let k = 0; k < 3; k++) await sold();
  const draft = { orders: { ...USUAL_RULES, forwarding: [rule('paid:>1', { kind: 'at once' })] } };
  const ahead = await rulesAhead(v.work, draft);
  expect([ahead.before.ready, ahead.after.goes]).toEqual([3, 3]);
  await expect(
    setOrderRules(
      v.work,
      { orders: { ...USUAL_RULES, forwarding: [rule('colour:red', { kind: 'at once' })] } },
      'x',
    ),
  ).rejects.toThrow();
  await setOrderRules(v.work, draft, 'At once');
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(orderRules((await v.work.db.settings.get('shop'))!).forwarding[0]!.going.kind).toBe('by hand');
  await v.settle();
  // Summed from what the supplier charged, pound by pound.
  expect(bought().reduce((sum, p) => sum + p.goods + p.shipping, 0)).toBe(ahead.after.spends);
});

test('a note, the same goods again, a watched buyer and a stopped supplier hold an order; a rule lets pass', async () => {
  const noted = await sold({ note: 'By Friday, please' });
  expect(standingOf(noted)).toBe('held');
  const buyer = (await v.work.db.buyers.get(noted.id))!;
  expect(buyer.texts[noted.buyerNote!]).toBe('By Friday, please');
  // What is kept of the order itself says nothing of what the buyer wrote.
  expect(JSON.stringify(noted)).not.toContain('Friday');
  await keep({
    checks: [{ id: 'n', check: 'note', weight: 'warn', when: readCondition('country:GB', BUYING_FIELDS) }],
    watched: [{ email: 'odd@mail.example', why: 'Never paid the first' }],
  });
  await v.settle();
  expect(standingOf(await now(noted))).toBe('with supplier');

  const once = await sold();
  const as = v.outside.market.orders.find((o) => o.number === once.number)!;
  const again = await sold({ as, lines: [{ sku: once.lines[0]!.sku, quantity: 1 }] });
  expect(again.checks.find((c) => c.kind === 'repeat')).toMatchObject({
    passed: false,
    others: [once.number],
  });
  expect([standingOf(once), standingOf(again)]).toEqual(['with supplier', 'held']);

  const odd = { ...as, buyer: { ...as.buyer, email: 'Odd@mail.example' } };
  const watched = await sold({ as: odd, sku: v.outside.market.orders[0]!.lines[0]!.sku });
  expect(watched.checks.find((c) => c.kind === 'watched')).toMatchObject({ why: 'Never paid the first' });

  const before = bought().length;
  await keep({ stopped: ['brackwater'] });
  const stopped = await sold();
  // Nobody's word buys where the seller said that nothing is bought.
  await releaseOrder(v.work, stopped.id, ['stopped'], true);
  await v.settle(HOUR);
  expect(standingOf(await now(stopped))).toBe('held');
  expect(bought()).toHaveLength(before);
  await keep({});
  await v.settle();
  expect(standingOf(await now(stopped))).toBe('with supplier');
});

/** A listing whose variant can be bought of both suppliers. */
async function withBackup(): Promise<{ sku: string; own: string; other: string }> {
  const listing = (await v.work.db.listings.toArray())[0]!;
  const own = await itemOf(v.work, listing);
  const item = (await v.work.db.items.get(`brackwater:${own}`))!;
  const [other] = [...itemsOf(v.quillmere!.warehouse).keys()];
  const facts = { ...item, id: `quillmere:${other}`, supplier: 'quillmere', item: other!, stock: 50 };
  move(v.quillmere!.warehouse, other!, { stock: 50 });
  await setBackup(v.work, listing.variant, { supplier: 'quillmere', item: other! }, facts);
  await v.settle();
  return { sku: listing.sku, own, other: other! };
}

test('candidates are told with what speaks against them; another is chosen by hand, and by rule the cheaper one', async () => {
  await keep({ forwarding: [rule('', { kind: 'by hand' })] });
  const { sku, other } = await withBackup();
  const order = await sold({ lines: [{ sku, quantity: 1 }] });
  const line = order.lines[0]!.id;
  const [found] = await sourcesAhead(v.work, order.id);
  expect(found!.candidates.map((c) => [c.supplier, c.units])).toEqual([
    ['brackwater', 1],
    ['quillmere', 0],
  ]);
  await chooseLineSource(v.work, order.id, line, { supplier: 'quillmere', item: other });
  const [chosen] = await sourcesAhead(v.work, order.id);
  expect([chosen!.chosen, chosen!.candidates[0]!.supplier]).toEqual([true, 'quillmere']);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect([bought().length, v.quillmere!.warehouse.purchases.length]).toEqual([0, 1]);

  // By the rule of the cheapest the order of what they cost decides, whoever is preferred.
  await keep({ sourcing: { by: 'cheapest', upTo: 0 }, forwarding: [rule('', { kind: 'by hand' })] });
  const cheap = await sold({ lines: [{ sku, quantity: 1 }] });
  const [ranked] = await sourcesAhead(v.work, cheap.id);
  const costs = ranked!.candidates.map((c) => c.goods! + c.shipping!);
  expect(costs).toEqual([...costs].sort((a, b) => a - b));
  expect(ranked!.candidates[0]!.units).toBe(1);
});

test('a person splits a line over sources, each unit bought where it was said and nothing twice; the rule holds again after it', async () => {
  await keep({ forwarding: [rule('', { kind: 'by hand' })] });
  const { sku, own, other } = await withBackup();
  v.outside.market.listings[sku]!.quantity = 9;
  const order = await sold({ lines: [{ sku, quantity: 3 }] });
  const line = order.lines[0]!.id;
  const split = (a: number, b: number) =>
    splitLine(v.work, order.id, line, [
      { supplier: 'brackwater', item: own, units: a },
      { supplier: 'quillmere', item: other, units: b },
    ]);
  const units = async () => (await sourcesAhead(v.work, order.id))[0]!.candidates.map((c) => c.units).sort();
  expect(await split(1, 1.5)).toMatchObject({ ok: false });
  await split(1, 1);
  // Two of three: that is no split of what is open.
  expect(await units()).toEqual([0, 3]);
  await split(1, 2);
  expect(await units()).toEqual([1, 2]);
  await splitLine(v.work, order.id, line, null);
  expect(await units()).toEqual([0, 3]);
  await split(1, 2);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect(bought()).toMatchObject([{ lines: [{ sku: own, quantity: 1 }] }]);
  expect(v.quillmere!.warehouse.purchases).toMatchObject([{ lines: [{ sku: other, quantity: 2 }] }]);
});

test('other goods are bought in their place by a person’s word alone, and count in no stock', async () => {
  await keep({ forwarding: [rule('', { kind: 'by hand' })], refused: 'next source' });
  const { sku, own, other } = await withBackup();
  const variant = (await v.work.db.variants.toArray()).find((one) =>
    one.sources.some((s) => s.item === own),
  )!;
  const shown = async () => (await v.work.db.listings.get(`pennywharf:${sku}`))!.published!.quantity;
  await setBackup(v.work, variant.id, { supplier: 'quillmere', item: other, role: 'substitute' });
  await v.settle();
  expect((await v.work.db.variants.get(variant.id))!.sources.map((s) => s.role)).toEqual([
    'preferred',
    'substitute',
  ]);
  await v.work.db.items.update(`brackwater:${own}`, { stock: 0 });
  const order = await sold({ lines: [{ sku, quantity: 1 }] });
  const [found] = await sourcesAhead(v.work, order.id);
  expect(found!.candidates.map((c) => [c.item, c.units, c.substitute])).toEqual([
    [own, 1, false],
    [other, 0, true],
  ]);
  expect(order.checks.find((c) => c.kind === 'stock')!.passed).toBe(false);
  await chooseLineSource(v.work, order.id, order.lines[0]!.id, { supplier: 'quillmere', item: other });
  const changed = await now(order);
  expect(changed.checks.find((c) => c.kind === 'stock')!.passed).toBe(true);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect(v.quillmere!.warehouse.purchases).toMatchObject([{ lines: [{ sku: other, quantity: 1 }] }]);
  expect(await shown()).toBeLessThanOrEqual(0);
});

test('what a supplier refuses is bought of the next source by rule, once, and the refusal is told', async () => {
  const { sku, own } = await withBackup();
  await keep({ refused: 'next source' });
  // It says that it has some, and has none when it is asked.
  move(v.outside.warehouse, own, { stock: 0 });
  const order = await sold({ lines: [{ sku, quantity: 1 }] });
  await v.settle(HOUR);
  const moved = await now(order);
  expect(moved.purchases.map((p) => [p.supplier, p.state])).toEqual([
    ['brackwater', 'refused'],
    ['quillmere', 'accepted'],
  ]);
  expect(unseenOf(moved)).toEqual([]);
  expect(numberOf(moved.purchases[1]!)).toBe(v.quillmere!.warehouse.purchases[0]!.number);
  expect(v.quillmere!.warehouse.purchases).toHaveLength(1);
});

test('many are released at once after a look at what that buys; notes, labels and setting aside reach nobody outside', async () => {
  const held = [await sold({ note: 'Hello' }), await sold({ note: 'Hello again' })];
  const unknown = await sold({ note: 'x' });
  await noteOrder(v.work, unknown.id, { note: 'Rang her, Ida Roe', labels: ['gift', 'gift ', ''] });
  const labelled = await now(unknown);
  expect(labelled.labels).toEqual(['gift']);
  expect((await v.work.db.buyers.get(unknown.id))!.texts[labelled.note!]).toBe('Rang her, Ida Roe');
  expect(await setOrderAside(v.work, unknown.id, true)).toEqual({ ok: true });
  expect([standingOf(await now(unknown)), (await now(unknown)).open]).toEqual(['set aside', 0]);
  const ahead = await releaseAhead(
    v.work,
    [...held, unknown].map((o) => o.id),
  );
  expect(ahead).toMatchObject({ passes: 2, kinds: [{ kind: 'note', orders: 2 }], stays: 0, losing: 0 });
  for (const { id } of held) await releaseOrder(v.work, id, ['note'], true);
  await v.settle();
  expect(bought().reduce((sum, p) => sum + p.goods + p.shipping, 0)).toBe(ahead.spends);
  expect(
    bought()
      .map((p) => p.reference)
      .sort(),
  ).toEqual(held.map((o) => o.id).sort());
});

test('a replacement and a typed order are bought once and told to no marketplace; their account has no fees', async () => {
  const order = await sold();
  const [line] = order.lines;
  const again = await sendAgain(v.work, order.id, [{ line: line!.id, units: 1 }]);
  if (!again.ok) throw new Error(again.reason);
  const address = (await v.work.db.buyers.get(order.id))!.addresses[0]!;
  const typed = { kind: 'telephone', marketplace: 'pennywharf', address, email: '', shipping: 250 } as const;
  const lines = [{ sku: line!.sku, units: 2, unitPrice: 3000 }];
  const entered = await enterOrder(v.work, { ...typed, lines });
  if (!entered.ok) throw new Error(entered.reason);
  expect(await enterOrder(v.work, { ...typed, lines: [{ ...lines[0]!, sku: 'NONE-1' }] })).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/NONE-1/),
  });
  await v.settle(HOUR);
  // Nothing is bought before a person says so.
  expect(bought().map((p) => p.reference)).toEqual([order.id]);
  const spied = jest.spyOn(v.work, 'reach');
  for (const { id } of [again, entered]) {
    expect(await forwardOrder(v.work, id)).toEqual({ ok: true });
    expect(await forwardOrder(v.work, id)).toMatchObject({ ok: false });
  }
  await v.settle();
  for (const p of bought()) advance(v.outside.warehouse, p.number, v.work.clock(), 1000);
  await v.settle(HOUR);
  const own = [order.id, entered.id, again.id];
  expect(
    bought()
      .map((p) => p.reference)
      .sort(),
  ).toEqual(own.sort());
  const costOf = (id: string) => {
    const { goods, shipping } = bought().find((p) => p.reference === id)!;
    return goods + shipping;
  };
  const told = spied.mock.calls.filter(
    ([service, , init]) => service === 'pennywharf' && init?.method === 'POST',
  );
  expect(told.map(([, path]) => path)).toEqual([`/v1/orders/${order.number}/dispatch`]);
  const sale = await now(entered);
  expect(standingOf(sale)).toBe('told');
  // 2 × 30.00 and 2.50 for shipping, 20 % tax inside: 62.50 × 20 / 120 = 10.42; no fee.
  const { ledger } = v.work.db;
  const { actual } = accountsOf(sale, await ledger.get(sale.id), 'GBP');
  expect(actual).toMatchObject({ revenue: 6250, profit: 6250 - 1042 - costOf(entered.id) });
  const free = await now(again);
  expect(accountsOf(free, await ledger.get(free.id), 'GBP').actual).toMatchObject({
    revenue: 0,
    profit: -costOf(again.id),
  });
});

test('an address that the first supplier’s carrier does not take is sent to by the next one', async () => {
  const { sku } = await withBackup();
  // The second one says nothing of what its carriers take.
  await v.work.db.stated
    .where('id')
    .equals('quillmere')
    .modify((row) => {
      delete (row as { takes?: unknown }).takes;
    });
  const order = await sold({ lines: [{ sku, quantity: 1 }], box: true });
  expect(order.purchases.map((p) => p.supplier)).toEqual(['quillmere']);
  const single = (await v.work.db.listings.toArray()).find((l) => l.sku !== sku)!;
  const alone = await sold({ sku: single.sku, box: true });
  expect(alone.checks.find((c) => c.kind === 'address')).toMatchObject({ problem: { why: 'box' } });
});

test('an order is split over three sources, by service and by hand, each unit bought once', async () => {
  const { sku, own, other } = await withBackup();
  const variant = (await v.work.db.variants.toArray()).find((one) =>
    one.sources.some((s) => s.item === other),
  )!;
  const facts = (await v.work.db.items.get(`quillmere:${other}`))!;
  const [second] = [...itemsOf(v.quillmere!.warehouse).keys()].slice(1);
  const shelf = await keepListSupplier(v.work, {
    ...{ name: 'Own shelf', currency: 'GBP', shipping: [{ upToGrams: 30_000, minor: 345 }] },
    ...{ shipsTo: ['GB'], purchases: 'by hand', url: '' },
  });
  if (!shelf.ok) throw new Error(shelf.reason);
  const backup = (supplier: string, item: string, stock: number) =>
    setBackup(
      v.work,
      variant.id,
      { supplier, item },
      { ...facts, id: `${supplier}:${item}`, supplier, item, stock },
    );
  // Another item of a supplier that has a unit of the line already is not mixed with the first.
  await backup('quillmere', second!, 9);
  await backup(shelf.id!, 'SH-1', 5);
  await v.work.db.items.update(`quillmere:${other}`, { stock: 1 });
  await v.work.db.items.update(`brackwater:${own}`, { stock: 1 });
  move(v.quillmere!.warehouse, other, { stock: 9 });
  v.outside.market.listings[sku]!.quantity = 9;
  const order = await sold({ lines: [{ sku, quantity: 3 }] });
  await v.settle(HOUR);
  const taken = (await now(order)).purchases.flatMap((p) =>
    p.lines.map((l) => [p.supplier, p.lane, l.item, l.units]),
  );
  expect(taken).toEqual([
    ['brackwater', 'service', own, 1],
    ['quillmere', 'service', other, 1],
    [shelf.id, 'by hand', 'SH-1', 1],
  ]);
  expect([bought().length, v.quillmere!.warehouse.purchases.length]).toEqual([1, 1]);
  expect(bought()[0]!.lines).toMatchObject([{ sku: own, quantity: 1 }]);
});
