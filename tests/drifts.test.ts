import { accountOf } from '@/core/ledger';
import type { Order } from '@/store';
import { marketById } from '@/store';
import { saveFees } from '@/work/connections/connection-terms';
import { undo } from '@/work/listings/undo';
import { OrderBook } from '@/work/order-book/order-book';
import { correctDrift, driftsIn } from '@/work/pricing/drifts';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, type Voyage } from './voyage';

const DAY = 86_400_000;
let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(6);
});
afterEach(() => v.end());

test('fees that are charged higher than expected are found, corrected to what is charged, and the correction undone', async () => {
  const { db } = v.work;
  // The seller believes in half of the fees that are really charged.
  const site = (await marketById(db, 'pennywharf'))!.site;
  const half = site.fees.rules.map((r) => ({
    ...r,
    bands: Object.fromEntries(
      Object.entries(r.bands).map(([k, all]) => [
        k,
        all.map((b) => ({ ...b, rate: Math.floor(b.rate / 2) })),
      ]),
    ),
  }));
  await saveFees(v.work, 'pennywharf', half);
  await v.settle();
  const orders: Order[] = [];
  for (let k = 0; k < 22; k++) orders.push(await sellOne(v, 3_000 + k, { quantity: 1 }));
  for (let k = 0; k < 6; k++) {
    for (const p of v.outside.warehouse.purchases)
      if (p.status === 'accepted' || p.status === 'part shipped')
        advance(v.outside.warehouse, p.number, v.work.clock(), DAY);
    await v.settle(20 * 60_000);
  }
  const book = new OrderBook(v.work);
  await book.catchUp();
  const found = driftsIn(book).find((d) => d.key === 'fees:pennywharf')!;
  // The same sum from the rows as they are stored.
  let [expected, charged, n] = [0, 0, 0];
  for (const o of await db.orders.toArray()) {
    const ledger = await db.ledger.get(o.id);
    if (!o.expected || o.settledAt === null) continue;
    const [was, is] = [accountOf(o.expected, 'GBP')!, accountOf(ledger!.entries, 'GBP')!];
    expected += was.fee + was.payment;
    charged += is.fee + is.payment;
    n++;
  }
  expect(n).toBeGreaterThanOrEqual(20);
  expect(found.drift).toMatchObject({ orders: n, expected, actual: charged, sure: true });
  expect(found.correction!.says).toContain('on the sale fee of Pennywharf UK');
  // What was shown is what is changed: another sentence changes nothing.
  expect((await correctDrift(book, v.work, found.key, '+90 % on the sale fee of Pennywharf UK')).ok).toBe(
    false,
  );
  const before = (await marketById(db, 'pennywharf'))!.site.fees.rules;
  expect(before).toEqual(half);
  expect((await correctDrift(book, v.work, found.key, found.correction!.says)).ok).toBe(true);
  const after = (await marketById(db, 'pennywharf'))!.site.fees.rules;
  const rateOf = (rules: typeof after) =>
    Object.values(rules.find((r) => r.kind === 'sale')!.bands)[0]![0]!.rate;
  expect(rateOf(after)).toBeGreaterThan(rateOf(before));
  // Orders of before are no evidence any more.
  await book.catchUp();
  expect(driftsIn(book).find((d) => d.key === 'fees:pennywharf')).toBeUndefined();
  const change = (await db.changes.toArray()).find((one) => one.name.startsWith('Corrected: '))!;
  expect((await undo(v.work, change.id)).ok).toBe(true);
  expect((await marketById(db, 'pennywharf'))!.site.fees.rules).toEqual(half);
  await book.catchUp();
  expect(driftsIn(book).find((d) => d.key === 'fees:pennywharf')!.drift.sure).toBe(true);
});
