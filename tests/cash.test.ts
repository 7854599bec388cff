import type { Answer, Result } from '@/connect/reach';
import { statementService } from '@/connect/statements';
import type { ReadStatement, StatementLine } from '@/core/statements';
import { addDays } from '@/core/units';
import { type Order, settingsOf } from '@/store';
import { undo } from '@/work/listings/undo';
import { ledgerFile } from '@/work/order-book/ledger-file';
import { OrderBook } from '@/work/order-book/order-book';
import { cashOf } from '@/work/statements/cash';
import { costsOf, keepCost, removeCost } from '@/work/statements/costs';
import { statementInFull, statementsIn } from '@/work/statements/list';
import { decideAbsent, noteStatementPaid, settleLoose } from '@/work/statements/settle';
import { placeUnknown, takeStatementIn } from '@/work/statements/take';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, type Voyage } from './voyage';

const DAY = 86_400_000;
let v: Voyage;
let seed = 1_900;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const today = () => new Date(v.work.clock()).toISOString().slice(0, 10);

const line = (
  kind: StatementLine['kind'],
  amount: number,
  part: Partial<StatementLine> = {},
): StatementLine => ({
  ...{ line: 1, day: today(), order: '', document: '', text: '', currency: 'GBP' },
  ...{ kind, amount },
  ...part,
});

const statement = (
  number: string,
  lines: readonly StatementLine[],
  part: Partial<ReadStatement> = {},
): ReadStatement & { file: string | null } => ({
  ...{ number, firstDay: addDays(today(), -6), lastDay: today(), totals: [], closing: null, due: null },
  lines: lines.map((l, k) => ({ ...l, line: k + 1 })),
  ...{ refused: [], file: 'a.csv' },
  ...part,
});

async function settled(): Promise<Order> {
  let order = await sellOne(v, seed++, { quantity: 1 });
  for (let k = 0; k < 6 && order.settledAt === null; k++) {
    for (const p of v.outside.warehouse.purchases)
      if (p.status === 'accepted' || p.status === 'part shipped')
        advance(v.outside.warehouse, p.number, v.work.clock(), DAY);
    await v.settle(20 * 60_000);
    order = (await v.work.db.orders.get(order.id))!;
  }
  expect(order.settledAt).not.toBeNull();
  return order;
}

async function bookNow(): Promise<OrderBook> {
  const book = new OrderBook(v.work);
  await book.catchUp();
  return book;
}

/** What the record of a sale comes to with the marketplace, added up from its rows. */
const withMarket = async (order: Order) =>
  (await v.work.db.ledger.get(order.id))!.entries.reduce(
    (n, e) => (e.purchase === null && e.kind !== 'tax' ? n + e.amount : n),
    0,
  );

test('cash: what is left on the account, what is settled since, bills and costs by their days', async () => {
  const [a, b] = [await settled(), await settled()];
  const paid = a.lines.reduce((n, l) => n + l.unitPrice * l.quantity, 0) + a.shipping;
  const owed = await withMarket(a);
  // A week ago nothing; then one order is stated and paid out but for 5.00; the other is not stated yet.
  const weekAgo = { firstDay: addDays(today(), -13), lastDay: addDays(today(), -7) };
  await takeStatementIn(
    v.work,
    'pennywharf',
    statement('W1', [line('charge', -100, { text: 'Fee' })], weekAgo),
  );
  const taken = await takeStatementIn(
    v.work,
    'pennywharf',
    statement(
      'W2',
      [
        line('sale', paid, { order: a.number }),
        line('fees', owed - paid, { order: a.number }),
        line('payout', -(owed - 500)),
      ],
      { closing: { currency: 'GBP', minor: 500 } },
    ),
  );
  expect(taken).toMatchObject({ ok: true, differing: 0, loose: 0 });
  await takeStatementIn(
    v.work,
    'brackwater',
    statement('B1', [line('goods', -4_000, { order: 'nobody', text: '' })], { due: addDays(today(), 10) }),
  );
  await keepCost(v.work, null, {
    ...{ name: 'Storage', day: addDays(today(), 3), minor: 6_200, currency: 'GBP' },
    ...{ monthly: true, until: null },
  });
  const cash = await cashOf(await bookNow());
  const market = cash.markets.find((m) => m.id === 'pennywharf')!;
  expect(market).toMatchObject({ closing: 500, settled: await withMarket(b), open: 0 });
  expect(market.nextPayout).toBe(addDays(today(), 8));
  const flows = cash.flows.map((f) => [f.day, f.kind, f.minor]);
  expect(flows).toContainEqual([addDays(today(), 8), 'payout', 500 + (await withMarket(b))]);
  expect(flows).toContainEqual([addDays(today(), 10), 'bill', -4_000]);
  expect(flows).toContainEqual([addDays(today(), 3), 'cost', -6_200]);
  expect(cash.days.at(-1)!.sum).toBe(cash.flows.reduce((n, f) => n + f.minor, 0));
  expect(cash.days).toHaveLength(30);
  // Once it is paid it is expected no more.
  expect(await noteStatementPaid(v.work, 'brackwater:B1', 'tomorrow')).toMatchObject({ ok: false });
  expect(await noteStatementPaid(v.work, 'brackwater:B1', today())).toEqual({ ok: true });
  expect((await cashOf(await bookNow())).flows.some((f) => f.kind === 'bill')).toBe(false);
});

test('costs of the shop are kept, changed, removed and undone; what they stood on is asked about again', async () => {
  const good = {
    name: 'Software',
    day: '2026-10-15',
    minor: 1_800,
    currency: 'GBP',
    monthly: true,
    until: null,
  };
  for (const bad of [
    { ...good, name: '  ' },
    { ...good, minor: 0 },
    { ...good, minor: 12.5 },
    { ...good, day: '2026-02-30' },
    { ...good, currency: 'XXL' },
    { ...good, until: '2026-10-01' },
  ])
    expect(await keepCost(v.work, null, bad)).toMatchObject({ ok: false });
  expect(await v.work.db.costs.count()).toBe(0);
  await keepCost(v.work, null, good);
  const [cost] = await v.work.db.costs.toArray();
  const first = new Set((await v.work.db.changes.toArray()).map((c) => c.id));
  await keepCost(v.work, cost!.id, { ...good, minor: 3_000 });
  expect((await costsOf(v.work, '2026-11-01', '2026-11-30')).sum).toBe(3_000);
  expect((await costsOf(v.work, '2026-11-01', '2026-11-10')).sum).toBe(1_000);
  // Of the two changes the second is undone: the cost is there as it was typed first.
  const change = (await v.work.db.changes.toArray()).find((c) => !first.has(c.id))!;
  expect(await undo(v.work, change.id)).toMatchObject({ ok: true });
  expect((await v.work.db.costs.toArray()).map((c) => c.minor)).toEqual([1_800]);
  await takeStatementIn(
    v.work,
    'pennywharf',
    statement('C1', [line('charge', -900, { text: 'Shop fee' }), line('sale', 500, { order: 'PW-1' })]),
  );
  const id = 'pennywharf:C1';
  // What was pressed with other lines changes nothing.
  expect(await settleLoose(v.work, id, [7], 'cost')).toMatchObject({ ok: false });
  await settleLoose(v.work, id, [1], 'cost');
  await settleLoose(v.work, id, [2], 'set aside');
  const fee = (await v.work.db.costs.toArray()).find((c) => c.stated)!;
  expect(fee).toMatchObject({ minor: 900, day: today(), stated: { statement: id, line: 1 } });
  expect((await v.work.db.statements.get(id))!.loose.map((l) => l.done?.how)).toEqual(['cost', 'set aside']);
  await removeCost(v.work, fee.id);
  expect((await v.work.db.statements.get(id))!.loose.map((l) => l.done?.how)).toEqual([
    undefined,
    'set aside',
  ]);
});

test('the ledger has costs and payouts, and balances', async () => {
  const order = await settled();
  const owed = await withMarket(order);
  await takeStatementIn(
    v.work,
    'pennywharf',
    statement('L1', [line('charge', -700, { text: 'Shop fee' }), line('payout', -(owed - 700))]),
  );
  await settleLoose(v.work, 'pennywharf:L1', [1], 'cost');
  const made = (await ledgerFile(v.work, { from: addDays(today(), -30), to: today() }, () => true))!;
  expect(made.balance).toBe(0);
  const rows = (await made.file.text())
    .split(/\r?\n/)
    .filter(Boolean)
    .map((r) => r.split(','));
  const sumOf = (account: string) =>
    rows.reduce((n, r) => (r[2] === account ? n + Number(r[7] || 0) * 100 - Number(r[8] || 0) * 100 : n), 0);
  expect(Math.round(sumOf('bank'))).toBe(owed - 700);
  expect(Math.round(sumOf('fixed costs'))).toBe(700);
  // All that was with the marketplace is in the bank by now, or was taken by it.
  expect(Math.round(sumOf('clearing: Pennywharf UK'))).toBe(0);
});

test('cut off in the middle it is told, and made whole by the same one again; an order that comes later finds its lines', async () => {
  const order = await settled();
  const paid = order.lines.reduce((n, l) => n + l.unitPrice * l.quantity, 0) + order.shipping;
  const owed = await withMarket(order);
  const number = `PW-${Number(order.number.slice(3)) + 1}`;
  const read = statement('S1', [
    line('sale', paid, { order: order.number, document: 'D1' }),
    line('fees', owed - paid, { order: order.number, document: 'D2' }),
    line('sale', 1_234, { order: number, document: 'D3' }),
    line('sale', 999, { order: order.number, document: 'D4', currency: 'USD' }),
  ]);
  expect(await takeStatementIn(v.work, 'pennywharf', read, () => false)).toMatchObject({ ok: false });
  expect(await v.work.db.statements.get('pennywharf:S1')).toMatchObject({ whole: false });
  expect(await takeStatementIn(v.work, 'pennywharf', read)).toMatchObject({
    ok: true,
    differing: 0,
    loose: 2,
  });
  expect(await takeStatementIn(v.work, 'pennywharf', read)).toMatchObject({ ok: false });
  const stated = (await v.work.db.ledger.get(order.id))!.stated!;
  expect(stated).toHaveLength(1);
  expect(stated[0]!.amounts).toHaveLength(2);
  const whys = async () => (await v.work.db.statements.get('pennywharf:S1'))!.loose.map((l) => l.why);
  expect(await whys()).toEqual(['unknown', 'currency']);
  expect(await placeUnknown(v.work, 'pennywharf:S1')).toBe(0);
  // The marketplace’s feed brings the order after its statement did.
  const late = await settled();
  expect(late.number).toBe(number);
  expect(await placeUnknown(v.work, 'pennywharf:S1')).toBe(1);
  expect(await whys()).toEqual(['currency']);
  const book = await bookNow();
  expect(await statementsIn(book)).toMatchObject([{ differing: 1, loose: 1 }]);
  const full = (await statementInFull(book, 'pennywharf:S1'))!;
  expect(full.differences.every((d) => d.order === late.id)).toBe(true);
  expect(full.differences.reduce((n, d) => n + d.stated, 0)).toBe(1_234);
  expect(await statementInFull(book, 'pennywharf:S9')).toBeNull();
});

test('a supplier’s bill by its own numbers: purchases are found, those that it leaves out are told until a person says no', async () => {
  const [a, b] = [await settled(), await settled()];
  const bought = (o: Order) => v.outside.warehouse.purchases.find((p) => p.reference.startsWith(o.id))!;
  const p = bought(a);
  const taken = await takeStatementIn(
    v.work,
    'brackwater',
    statement('R1', [
      line('goods', -p.goods, { order: p.number }),
      line('shipping', -p.shipping - 25, { order: p.number }),
    ]),
  );
  expect(taken).toMatchObject({ ok: true, orders: 1, differing: 1, loose: 0 });
  const book = await bookNow();
  const full = (await statementInFull(book, 'brackwater:R1'))!;
  expect(full.differences.map((d) => [d.order, d.groups, d.minor])).toEqual([[a.id, ['shipping'], -25]]);
  expect(full.absent.map((one) => one.order)).toEqual([b.id]);
  expect(await decideAbsent(v.work, 'brackwater:R1', [b.id])).toEqual({ ok: true });
  await book.catchUp();
  expect((await statementInFull(book, 'brackwater:R1'))!.absent).toEqual([]);
  expect((await settingsOf(v.work.db)).statements).toBeUndefined();
});

describe('what a service says of its statements', () => {
  const head = {
    ...{ number: 'S-1', currency: 'GBP', from: '2026-11-01', to: '2026-11-07' },
    ...{ closedAt: '2026-11-08T00:00:00Z', lines: 2, total: '-3.50', closing: '0.00' },
  };
  const one = {
    id: 'L1',
    day: '2026-11-02',
    order: 'A-1',
    kind: 'shipping',
    amount: '-3.50',
    text: 'To Ada Lovelace',
  };
  const asked = (answers: Record<string, unknown>, side: 'marketplace' | 'supplier' = 'supplier') =>
    statementService(
      (path): Promise<Result<Answer>> =>
        Promise.resolve({ ok: true, value: { status: 200, etag: null, body: answers[path] ?? null } }),
      side,
    );
  const of = { number: 'S-1', currency: 'GBP' };
  const path = '/v1/statements/S-1/lines';

  test('it is read, with what shipping means on each side, and without words that may name a buyer', async () => {
    const answers = { '/v1/statements': { statements: [head] }, [path]: { lines: [one], next: null } };
    expect(await asked(answers).list()).toMatchObject({
      value: [{ number: 'S-1', totals: [{ minor: -350 }], count: 2, due: null }],
    });
    const lines = async (side: 'marketplace' | 'supplier') => asked(answers, side).lines(of, () => true);
    expect(await lines('supplier')).toMatchObject({ value: [{ kind: 'shipping', amount: -350, text: '' }] });
    expect(await lines('marketplace')).toMatchObject({ value: [{ kind: 'buyer shipping' }] });
    expect(await asked(answers).lines(of, () => false)).toEqual({ ok: true, value: null });
  });

  test.each([
    ['an amount in words', { lines: [{ ...one, amount: 'three' }], next: null }],
    ['a kind that there is none of', { lines: [{ ...one, kind: 'magic' }], next: null }],
    ['more decimals than the currency has', { lines: [{ ...one, amount: '1.005' }], next: null }],
    ['a day that is none', { lines: [{ ...one, day: 'Monday' }], next: null }],
    ['no list', { lines: 'none', next: null }],
    ['pages without end', { lines: [one], next: '' }],
  ])('%s is refused whole', async (_, body) => {
    expect(await asked({ [path]: body }).lines(of, () => true)).toMatchObject({
      ok: false,
      trouble: { kind: 'nonsense' },
    });
  });
});
