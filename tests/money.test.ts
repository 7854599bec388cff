import Papa from 'papaparse';
import { type Account, accountOf, NOTHING, periodOf, rangeBeside, shareAccount } from '@/core/ledger';
import { caughtUp } from '@/work/memory/assortment';
import { archiveOrders } from '@/work/order-book/archive';
import { BREAKDOWNS, breakdownOf, ordersBehind } from '@/work/order-book/breakdown';
import { ledgerFile } from '@/work/order-book/ledger-file';
import { OrderBook } from '@/work/order-book/order-book';
import { ratesIn } from '@/work/order-book/returns';
import { sumsOf } from '@/work/order-book/sums';
import { openReturn } from '../stand-ins/marketplace/returns';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { sellOne, setOut, type Voyage } from './voyage';

const HOUR = 3_600_000;

test('an account shared out over lines loses no minor unit, in any part, below nothing too', () => {
  const luck = chance(88);
  for (let k = 0; k < 500; k++) {
    const [revenue, goods, shipping, fee, payment, tax] = Array.from({ length: 6 }, () =>
      luck.whole(-900, 90_000),
    );
    const account = {
      ...{ revenue, goods, shipping, fee, payment, tax },
      profit: revenue! - goods! - shipping! - fee! - payment! - tax!,
    } as Account;
    const paid = Array.from({ length: luck.whole(1, 6) }, () =>
      luck.next() < 0.2 ? 0 : luck.whole(0, 9_999),
    );
    const shares = shareAccount(account, paid);
    for (const part of Object.keys(NOTHING) as (keyof Account)[])
      expect(shares.reduce((sum, s) => sum + s[part], 0)).toBe(account[part]);
  }
});

test('days are in the weeks of ISO 8601 and in quarters; ranges stand beside others', () => {
  // The standard's own examples: https://www.iso.org/iso-8601-date-and-time-format.html, week 1 holds the first Thursday.
  const weeks = [
    ['2027-01-03', '2026-W53'],
    ['2027-01-04', '2027-W01'],
    ['2024-12-30', '2025-W01'],
    ['2026-11-30', '2026-W49'],
  ] as const;
  for (const [day, week] of weeks) expect(periodOf(day, 'week')).toBe(week);
  expect([periodOf('2026-03-31', 'quarter'), periodOf('2026-04-01', 'quarter')]).toEqual([
    '2026-Q1',
    '2026-Q2',
  ]);
  expect(rangeBeside('2026-03-01', '2026-03-31', 'before')).toEqual({ from: '2026-01-29', to: '2026-02-28' });
  expect(rangeBeside('2024-02-29', '2024-03-01', 'year')).toEqual({ from: '2023-02-28', to: '2023-03-01' });
});

describe('the book of a shop', () => {
  let v: Voyage;
  afterAll(() => v.end());

  test('every breakdown adds up to the entries as they are stored; a row opens the orders it is made of; returns are rated', async () => {
    v = await setOut();
    await v.settle();
    await v.stockUp(6);
    const skus = Object.keys(v.outside.market.listings);
    for (let k = 0; k < 6; k++)
      await sellOne(v, 500 + k, {
        lines: [
          { sku: skus[k % skus.length]!, quantity: 1 + (k % 2) },
          { sku: skus[(k + 1) % skus.length]!, quantity: 1 },
        ],
      });
    for (const p of v.outside.warehouse.purchases)
      advance(v.outside.warehouse, p.number, v.work.clock(), 24 * HOUR);
    await v.settle(150_000);
    for (const p of v.outside.warehouse.purchases)
      advance(v.outside.warehouse, p.number, v.work.clock(), 24 * HOUR);
    await v.settle(20 * 60_000);
    const sent = v.outside.market.orders.find((o) => o.status === 'shipped')!;
    expect(
      openReturn(v.outside.market, sent, chance(1), v.work.clock(), { kind: 'chargeback', reason: 'faulty' }),
    ).not.toBeNull();
    await v.settle(150_000);
    const book = new OrderBook(v.work);
    await book.catchUp();
    const assortment = await caughtUp(v.work);
    const range = { from: '2026-10-01', to: '2026-12-31' };
    const { sum, orders } = sumsOf(book, range.from, range.to);
    expect(orders).toBe(6);
    // The sum made another way: from rows as they are stored, those that both sides settled.
    let stored = 0;
    let settled = 0;
    for (const o of await v.work.db.orders.toArray()) {
      const whole = o.settledAt !== null && o.purchases.every((p) => p.state === 'accepted' && p.charged);
      if (!whole) continue;
      settled++;
      stored += accountOf((await v.work.db.ledger.get(o.id))!.entries, 'GBP')!.profit;
    }
    expect(settled).toBeGreaterThan(3);
    for (const by of BREAKDOWNS) {
      const rows = breakdownOf(book, assortment, { by, ...range });
      const whole = (of: (r: (typeof rows)[number]) => number) => rows.reduce((n, r) => n + of(r), 0);
      expect([
        by,
        whole((r) => r.best.profit),
        whole((r) => r.best.revenue),
        whole((r) => r.actual.profit),
      ]).toEqual([by, sum.profit, sum.revenue, stored]);
      for (const r of rows.filter((one) => one.orders)) {
        const behind = ordersBehind(book, assortment, { by, ...range }, r.id, 99);
        expect(behind.all).toBe(r.orders);
        expect(behind.orders.reduce((n, o) => n + (o.profit ?? 0), 0)).toBe(r.best.profit);
      }
    }
    // The ledger read back: balanced for each order, and what is left on the accounts of income and cost is the profit.
    await archiveOrders(v.work, -1);
    expect(await v.work.db.orders.count()).toBeLessThan(6);
    const made = (await ledgerFile(v.work, range, () => true))!;
    const { data } = Papa.parse<Record<string, string>>(
      (await made.file.text()).trim().replace(/^\uFEFF/, ''),
      { header: true },
    );
    const value = (r: Record<string, string>) => Math.round((Number(r.debit) - Number(r.credit)) * 100);
    const balances = new Map<string, number>();
    let income = 0;
    for (const r of data) {
      balances.set(r.document!, (balances.get(r.document!) ?? 0) + value(r));
      // What is owed to and by others is no income, nor is the tax that is due.
      if (!r.account!.startsWith('clearing') && r.account !== 'tax due') income -= value(r);
    }
    expect([made.balance, made.unrated, made.orders]).toEqual([0, 0, 6]);
    expect([...balances.values()]).toEqual([0, 0, 0, 0, 0, 0]);
    await book.catchUp();
    let entered = 0;
    for (const o of v.outside.market.orders) {
      const { ledger } = (await book.full(`pennywharf:${o.number}`))!;
      entered += accountOf(ledger!.entries, 'GBP')!.profit;
    }
    expect(income).toBe(entered);
    expect(await ledgerFile(v.work, range, () => false)).toBeNull();
    const products = breakdownOf(book, assortment, { by: 'product', ...range });
    expect(products.length).toBeGreaterThan(2);
    const [faulty] = ratesIn(
      book,
      assortment,
      'reason',
      Date.parse(range.from) / 864e5,
      Date.parse(range.to) / 864e5,
      (id) => id,
    );
    expect(faulty).toMatchObject({
      id: 'faulty',
      returned: 1,
      sold: products.reduce((n, r) => n + r.units, 0),
    });
    expect(faulty!.lost).toBeLessThan(-1500);
  });
});
