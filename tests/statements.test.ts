import { type Entry, isReturnEntry } from '@/core/ledger';
import { differencesOf, slotOf, undecided } from '@/core/statements';
import { type LedgerRow, type Order, settingsOf } from '@/store';
import { runRound } from '@/work/jobs/runner';
import { archiveOrders } from '@/work/order-book/archive';
import { jobId, newJob } from '@/work/schedule/job';
import { runNow } from '@/work/schedule/schedule';
import { lookAtStatement, setTakenUnder, takeStatementFile } from '@/work/statements/file';
import { decideDifferences, settleLoose, takeStatementOut } from '@/work/statements/settle';
import { touch } from '../stand-ins/marketplace/market';
import * as market from '../stand-ins/marketplace/returns';
import { closeNow } from '../stand-ins/marketplace/statements';
import { chance } from '../stand-ins/random';
import * as supplier from '../stand-ins/supplier/statements';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, type Voyage } from './voyage';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
let v: Voyage;
let seed = 900;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

const minor = (amount: string | undefined) => Math.round(Number(amount ?? 0) * 100);

/** An order that was sold, bought, sent and settled. */
async function settled(quantity = 1): Promise<Order> {
  const order = await sellOne(v, seed++, { quantity });
  const [p] = order.purchases;
  const bought = v.outside.warehouse.purchases.find((one) => one.reference === p!.reference)!;
  advance(v.outside.warehouse, bought.number, v.work.clock(), DAY);
  // The supplier's news, then the marketplace's answer to the parcel.
  let now = order;
  for (let k = 0; k < 6 && now.settledAt === null; k++) {
    // Two lines may leave in two parcels.
    if (bought.status === 'part shipped') advance(v.outside.warehouse, bought.number, v.work.clock(), DAY);
    await v.settle(20 * 60_000);
    now = (await v.work.db.orders.get(order.id))!;
  }
  expect(now.settledAt).not.toBeNull();
  return now;
}

/** Reads the statements that services have now. */
async function readStatements(): Promise<void> {
  for (const c of ['pennywharf', 'brackwater']) {
    const job = newJob(c, 'statements', v.work.clock());
    if (!(await v.work.db.jobs.get(job.id))) await v.work.db.jobs.add(job);
    await runNow(v.work, job.id);
  }
  await v.settle(150_000);
}

const ledgerOf = async (id: string): Promise<LedgerRow> => (await v.work.db.ledger.get(id))!;
const openOf = ({ entries, stated = [], kept = [] }: LedgerRow) =>
  undecided(differencesOf(entries, stated), kept);

/** What the marketplace's own books owe the seller for an order, in minor units: nothing of it is Sampan's sum. */
function owedFor(order: Order): number {
  const o = v.outside.market.orders.find((one) => one.number === order.number)!;
  const paid = o.lines.reduce((sum, l) => sum + minor(l.unitPrice) * l.quantity, 0) + minor(o.shipping);
  const fees = (o.charges ?? []).reduce((sum, c) => sum + minor(c.amount), 0);
  const labels = (o.returns ?? []).reduce((sum, r) => sum + minor(r.label), 0);
  return paid - minor(o.refunded) - fees - labels;
}

/** What the shop's own record says that the marketplace owes for an order. */
const recordedFor = (entries: readonly Entry[]): number =>
  entries.reduce((n, e) => (e.purchase === null && e.kind !== 'tax' ? n + e.amount : n), 0);

test('a statement of a marketplace: what agrees is quiet; what differs, is missing or comes twice is told with its amount', async () => {
  const orders = [await settled(2), await settled(), await settled(), await settled()];
  expect(closeNow(v.outside.market, v.work.clock() + 1_000, 3)).toBeGreaterThan(0);
  await v.settle(2_000);
  await readStatements();
  const [row] = await v.work.db.statements.where('from').equals('pennywharf').toArray();
  expect(row).toMatchObject({ whole: true, orders: 3, wrongTotals: [] });
  // The first was left out, the fee of the second is 35 too high, the lines of the third come twice.
  expect(row!.missing).toEqual([{ order: orders[0]!.id, purchase: null }]);
  expect(openOf(await ledgerOf(orders[1]!.id)).map((d) => [d.groups, d.minor])).toEqual([[['fees'], -35]]);
  expect(openOf(await ledgerOf(orders[2]!.id))).toEqual([]);
  const twice = row!.loose.filter((l) => l.why === 'twice');
  expect(new Set(twice.map((l) => l.order))).toEqual(new Set([orders[2]!.number]));
  expect(openOf(await ledgerOf(orders[3]!.id))).toEqual([]);
  // Its shop fee belongs to no order; as a cost it is booked once however often it is pressed.
  const fee = row!.loose.find((l) => l.why === 'charge')!;
  expect(fee).toMatchObject({ amount: -2_500, order: '' });
  expect(await settleLoose(v.work, row!.id, [fee.line], 'cost')).toEqual({ ok: true });
  expect((await settleLoose(v.work, row!.id, [fee.line], 'cost')).ok).toBe(false);
  expect((await v.work.db.costs.toArray()).map((c) => c.minor)).toEqual([2_500]);
  // Taken as stated the record gets an entry, and nothing of before is changed.
  const before = await ledgerOf(orders[1]!.id);
  const [d] = openOf(before);
  const which = [{ order: orders[1]!.id, slot: slotOf(d!), minor: d!.minor }];
  expect(await decideDifferences(v.work, which, 'as stated')).toMatchObject({ ok: true, decided: 1 });
  expect((await decideDifferences(v.work, which, 'as stated')).ok).toBe(false);
  const after = await ledgerOf(orders[1]!.id);
  expect(after.entries.slice(0, -1)).toEqual(before.entries);
  expect(after.entries.at(-1)).toMatchObject({ amount: -35, kind: 'sale fee', statement: row!.id });
  // The left-out one stands in the next; then nothing is missing, and all sums are the marketplace's own.
  closeNow(v.outside.market, v.work.clock() + 1_000);
  await v.settle(2_000);
  await readStatements();
  for (const o of orders) {
    const { entries } = await ledgerOf(o.id);
    expect(openOf(await ledgerOf(o.id))).toEqual([]);
    expect(recordedFor(entries)).toBe(owedFor(o) - (o === orders[1] ? 35 : 0));
  }
  // What it paid out is what its lines add up to.
  for (const s of await v.work.db.statements.where('from').equals('pennywharf').toArray())
    expect(s.payouts.reduce((n, p) => n + p.minor, 0)).toBe(
      -s.sums.reduce((n, k) => (k.kind === 'payout' ? n : n + k.minor), 0),
    );
});

test('sales, refunds and late fees in any order: once all is stated the record is what both sides’ books say', async () => {
  const luck = chance(17);
  const orders: Order[] = [];
  for (let step = 0; step < 14; step++) {
    const what = luck.next();
    if (what < 0.45 || orders.length < 2) orders.push(await settled(luck.whole(1, 2)));
    else if (what < 0.65) {
      const o = v.outside.market.orders.find((one) => one.number === luck.pick(orders).number)!;
      market.openReturn(v.outside.market, o, luck, v.work.clock(), { kind: 'refund', units: 1 });
    } else if (what < 0.85) closeNow(v.outside.market, v.work.clock());
    else supplier.closeNow(v.outside.warehouse, v.work.clock());
    if (luck.next() < 0.5) await v.settle(150_000);
    if (luck.next() < 0.5) await readStatements();
  }
  await v.settle(20 * 60_000);
  closeNow(v.outside.market, v.work.clock());
  supplier.closeNow(v.outside.warehouse, v.work.clock());
  await v.settle(1_000);
  await readStatements();
  expect(await v.work.db.statements.count()).toBeGreaterThan(1);
  for (const o of orders) {
    const ledger = await ledgerOf(o.id);
    expect(openOf(ledger)).toEqual([]);
    expect(recordedFor(ledger.entries)).toBe(owedFor(o));
    const stated = (ledger.stated ?? []).filter((s) => s.from === 'pennywharf').flatMap((s) => s.amounts);
    expect(stated.reduce((n, a) => n + a.amount, 0)).toBe(owedFor(o));
    for (const p of v.outside.warehouse.purchases.filter((one) => one.reference.startsWith(o.id))) {
      const paid = ledger.entries.filter(
        (e) => e.purchase === p.reference && (e.kind === 'goods' || e.kind === 'shipping'),
      );
      expect(paid.reduce((n, e) => n + e.amount, 0)).toBe(-p.goods - p.shipping);
    }
  }
});

/** A statement file as a German tax adviser would have it: fees above nothing, a total below. */
const fileOf = (rows: readonly string[], name = 'Abrechnung.csv') =>
  new File([['Datum;Bestellnummer;Art;Betrag;Beleg', ...rows].join('\r\n')], name, { type: 'text/csv' });

test('a file in another language with its signs turned round is asked about, corrected under a limit, and taken out again', async () => {
  const [a, b] = [await settled(), await settled()];
  const feesOf = async (o: Order) =>
    -(await ledgerOf(o.id)).entries.reduce(
      (n, e) =>
        ['sale fee', 'payment fee', 'listing fee', 'advertising'].includes(e.kind) && !isReturnEntry(e)
          ? n + e.amount
          : n,
      0,
    );
  const money = (n: number) => (n / 100).toFixed(2).replace('.', ',');
  const paid = (o: Order) => o.lines.reduce((n, l) => n + l.quantity * l.unitPrice, 0) + o.shipping;
  const [feeA, feeB] = [await feesOf(a), await feesOf(b)];
  const total = paid(a) + paid(b) - feeA - feeB - 3 - 70;
  const rows = [
    `01.12.2026;${a.number};Verkauf;${money(paid(a))};V1`,
    `01.12.2026;${a.number};Gebühr;${money(feeA + 3)};G1`,
    `01.12.2026;${b.number};Verkauf;${money(paid(b))};V2`,
    `01.12.2026;${b.number};Gebühr;${money(feeB + 70)};G2`,
    `01.12.2026;PW-1;Verkauf;12,00;V9`,
    `01.13.2026;${b.number};Gebühr;1,00;G3`,
    `01.12.2026;${b.number};Zauberei;1,00;Z1`,
    `;;Summe;${money(total)};`,
  ];
  const first = await lookAtStatement(v.work, 'pennywharf', fileOf(rows));
  if (!first.ok) throw new Error(first.reason);
  const { form, read } = first.value;
  expect(form).toMatchObject({ decimal: ',', days: 'day first', turned: [] });
  expect(read.odd).toEqual(['fees']);
  expect(read.unknown).toEqual([{ word: 'Zauberei', rows: 1 }]);
  expect(read.refused).toEqual([{ line: 7, reason: expect.stringContaining('01.13.2026') }]);
  const take = { from: 'pennywharf', file: fileOf(rows), form, number: '2026-49' };
  // What is not understood is asked, never taken.
  expect((await takeStatementFile(v.work, take, () => true)).ok).toBe(false);
  expect(await v.work.db.statements.count()).toBe(0);
  const said = { ...form, turned: ['fees'] as const, words: { ...form.words, zauberei: 'nothing' as const } };
  expect(await setTakenUnder(v.work, 5)).toEqual({ ok: true });
  const entries = async () => (await ledgerOf(a.id)).entries.reduce((n, e) => n + e.amount, 0);
  const was = await entries();
  expect(await takeStatementFile(v.work, { ...take, form: said }, () => true)).toMatchObject({
    ...{ ok: true, differing: 1, corrected: 1, loose: 1 },
  });
  const [row] = await v.work.db.statements.toArray();
  expect(row!.loose).toMatchObject([{ order: 'PW-1', why: 'unknown', amount: 1_200 }]);
  // The order of nobody here is in the total that it states, and not in what was read of ours alone.
  expect(row!.wrongTotals).toEqual([{ currency: 'GBP', stated: total, sum: total + 1_200 }]);
  expect(await entries()).toBe(was - 3);
  expect(openOf(await ledgerOf(b.id)).map((d) => d.minor)).toEqual([-70]);
  // The same lines under another number are not taken, nor is the number again.
  expect((await takeStatementFile(v.work, { ...take, form: said, number: '2026-50' }, () => true)).ok).toBe(
    false,
  );
  expect((await takeStatementFile(v.work, { ...take, form: said }, () => true)).ok).toBe(false);
  // The next file of the same columns is read as this one was.
  const next = await lookAtStatement(v.work, 'pennywharf', fileOf(rows.slice(0, 2), 'Next.csv'));
  expect(next.ok && next.value).toMatchObject({ remembered: true, form: { turned: ['fees'] } });
  // Laid away and taken out again, nothing of it is left.
  v.tick(90 * DAY);
  await archiveOrders(v.work);
  expect(await takeStatementOut(v.work, row!.id)).toEqual({ ok: true });
  expect(await entries()).toBe(was);
  expect(openOf(await ledgerOf(b.id))).toEqual([]);
  expect(await v.work.db.statements.count()).toBe(0);
  expect((await settingsOf(v.work.db)).statements?.under).toBe(5);
  await runRound(v.work);
});

test('what the feed says later is not counted beside the correction that its statement brought before', async () => {
  const order = await settled();
  const there = v.outside.market.orders.find((o) => o.number === order.number)!;
  await v.work.db.jobs.update(jobId('pennywharf', 'orders'), { paused: true });
  // The fee rises by 40, and the statement says so before the feed does.
  const charges = there.charges!.map((c, k) =>
    k ? c : { ...c, amount: ((minor(c.amount) + 40) / 100).toFixed(2) },
  );
  Object.assign(there, { charges });
  closeNow(v.outside.market, v.work.clock());
  await setTakenUnder(v.work, 100);
  await readStatements();
  expect(recordedFor((await ledgerOf(order.id)).entries)).toBe(owedFor(order));
  expect((await ledgerOf(order.id)).entries.filter((e) => e.statement).map((e) => e.amount)).toEqual([-40]);
  touch(v.outside.market, there, {});
  await v.work.db.jobs.update(jobId('pennywharf', 'orders'), { paused: false });
  await v.settle(150_000);
  const { entries } = await ledgerOf(order.id);
  expect(recordedFor(entries)).toBe(owedFor(order));
  expect(entries.filter((e) => e.statement).map((e) => e.amount)).toEqual([-40, 40]);
});
