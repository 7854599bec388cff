'use client';
import Link from 'next/link';
import { useCallback } from 'react';
import type { DayTotal } from '../../core/ledger';
import { writeDelimited } from '../../core/lists';
import { decimalOf, formatMinor, formatShare, signOf } from '../../core/money';
import { addDays, countOf, dayOf, formatCount, isDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { DateRangeField } from '../../ui/date-field';
import { download } from '../../ui/download';
import { Empty, Head } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { useOrdersVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { DayOrder } from '../../work/order-book/sums';
import { AccountTable } from './account-table';
import { MoneyChart } from './money-chart';
import { periodName } from './period-name';

/** Orders of a day told one by one. */
const MOST_SHOWN = 200;
const RANGES = [
  ['7', '7 days'],
  ['30', '30 days'],
  ['60', '60 days'],
  ['365', '12 months'],
] as const;

export function Money() {
  const shop = useShop();
  const now = useNow(60_000);
  const version = useOrdersVersion();
  const { get, set } = useAddress();
  const zone = shop?.settings.zone ?? 'UTC';
  const today = now ? dayOf(now, zone) : '';
  const to = isDay(get('to')) ? get('to') : today;
  const from = isDay(get('from')) && get('from') <= to ? get('from') : to && addDays(to, -29);
  const day = isDay(get('day')) || /^\d{4}-\d{2}$/.test(get('day')) ? get('day') : '';
  const sums = useAnswer(
    () => (version && from && to ? theShop().sums(from, to) : undefined),
    [version, from, to],
  );
  const shown = useAnswer(
    () => (version && day ? theShop().ordersOf(day, MOST_SHOWN) : undefined),
    [version, day],
  );
  const onDay = useCallback((d: string) => set({ day: d }), [set]);
  if (!shop || !sums) return <Loading name="Money" />;
  const { currency } = shop.settings;
  const m = (minor: number, plus = false) => formatMinor(minor, currency, plus);
  const { sum, totals, unpriced, settled } = sums;

  const exportDays = () =>
    download(
      `sampan-days-${from}-${to}.csv`,
      writeDelimited([
        ['day', 'orders', 'currency', ...Object.keys(totals[0]?.best ?? {}), 'expectedProfit'],
        ...totals.map((t) => [
          t.day,
          t.orders,
          currency,
          ...Object.values(t.best).map((v) => decimalOf(v, currency)),
          decimalOf(t.expectedProfit, currency),
        ]),
      ]),
    );
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Money"
        state={`${countOf(sums.orders, 'order')}, revenue ${m(sum.revenue)}, profit ${m(sum.profit, true)}, ${formatShare(sum.profit, sum.revenue)} of it${unpriced ? `; ${unpriced} not bought yet have no account` : ''}.`}
      >
        {RANGES.map(([n, words]) => (
          <Button
            key={n}
            aria-pressed={from === addDays(today, 1 - Number(n)) && to === today}
            kind="text"
            className="aria-pressed:underline"
            onClick={() => set({ from: addDays(today, 1 - Number(n)), to: today, day: '' })}
          >
            {words}
          </Button>
        ))}
        <DateRangeField
          {...{ from, to }}
          max={today}
          onChange={(first, last) => set({ from: first, to: last, day: '' })}
        />
        <Button onClick={exportDays}>Save as CSV</Button>
      </Head>
      {sums.orders === 0 ? (
        <Empty title="No orders in these days">
          <p>
            Each order has its account: revenue, fees, tax, cost and profit, as expected when it was bought
            and as it was really charged. Choose other days, or wait for the first order.
          </p>
        </Empty>
      ) : (
        <>
          <MoneyChart by={sums.by} totals={totals} currency={currency} onDay={onDay} />
          <div className="grid gap-4 px-4 pb-6 xl:grid-cols-[1fr_400px]">
            <DayTable
              by={sums.by}
              totals={totals}
              day={day}
              currency={currency}
              onDay={(d) => set({ day: d === day ? '' : d })}
            />
            <div className="space-y-4">
              <div className="rounded-sm border border-rule bg-surface p-3">
                <h2 className="text-sm font-semibold">Expected beside actual</h2>
                <p className="mb-1 text-xs text-muted">
                  {countOf(settled, 'order')} that supplier and marketplace have settled.
                </p>
                <AccountTable expected={sums.expected} actual={sums.actual} currency={currency} />
              </div>
              {day && shown && <DayOrders day={day} {...shown} currency={currency} />}
            </div>
          </div>
        </>
      )}
    </section>
  );
}

function DayTable({
  by,
  totals,
  day,
  currency,
  onDay,
}: {
  by: 'day' | 'month';
  totals: readonly DayTotal[];
  day: string;
  currency: string;
  onDay: (day: string) => void;
}) {
  const sign = signOf(currency);
  const heads = [
    by === 'day' ? 'Day' : 'Month',
    'Orders',
    `Revenue ${sign}`,
    `Goods and shipping ${sign}`,
    `Fees ${sign}`,
    `VAT ${sign}`,
    `Profit ${sign}`,
    `Expected ${sign}`,
  ];
  const m = (minor: number) => formatMinor(minor, currency);
  return (
    <table className="w-full self-start border border-rule bg-surface text-right text-[13.5px]">
      <caption className="sr-only">Totals by {by}</caption>
      <thead className="bg-raised text-xs text-muted">
        <tr>
          {heads.map((h, i) => (
            <th key={h} scope="col" className={`px-2 py-1.5 font-semibold ${i === 0 ? 'text-left' : ''}`}>
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {[...totals].reverse().map((t) => (
          <tr key={t.day} className={`border-t border-rule-soft ${t.day === day ? 'bg-chosen' : ''}`}>
            <th scope="row" className="px-2 py-1 text-left font-normal">
              <button
                type="button"
                aria-pressed={t.day === day}
                disabled={!t.orders}
                className="text-river enabled:hover:underline disabled:text-muted"
                onClick={() => onDay(t.day)}
              >
                {periodName(t.day)}
              </button>
            </th>
            <td className="px-2">{formatCount(t.orders)}</td>
            <td className="px-2">{m(t.best.revenue)}</td>
            <td className="px-2">{m(t.best.goods + t.best.shipping)}</td>
            <td className="px-2">{m(t.best.fee + t.best.payment)}</td>
            <td className="px-2">{m(t.best.tax)}</td>
            <td className={`px-2 font-semibold ${t.best.profit < 0 ? 'text-loss' : 'text-river'}`}>
              {formatMinor(t.best.profit, currency, true)}
            </td>
            <td className="px-2 text-muted">{formatMinor(t.expectedProfit, currency, true)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function DayOrders({
  day,
  all,
  orders,
  currency,
}: {
  day: string;
  all: number;
  orders: readonly DayOrder[];
  currency: string;
}) {
  return (
    <div className="rounded-sm border border-rule bg-surface p-3">
      <h2 className="text-sm font-semibold">
        {periodName(day)}: {countOf(all, 'order')}
      </h2>
      <table className="mt-1 w-full text-[13.5px]">
        <tbody>
          {orders.map((o) => (
            <tr key={o.id}>
              <th scope="row" className="py-0.5 text-left font-normal">
                <Link
                  href={`/orders?row=${encodeURIComponent(o.id)}`}
                  className="font-mono text-river hover:underline"
                >
                  {o.number}
                </Link>
              </th>
              <td className="text-right">{o.revenue === null ? '–' : formatMinor(o.revenue, currency)}</td>
              <td className={`text-right ${o.profit !== null && o.profit < 0 ? 'text-loss' : 'text-river'}`}>
                {o.profit === null ? 'no account yet' : formatMinor(o.profit, currency, true)}
              </td>
              <td className="pl-2 text-right text-xs text-muted">
                {o.actual ? 'actual' : o.profit === null ? '' : 'expected'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {all > orders.length && (
        <p className="mt-1 text-xs text-muted">
          The newest {formatCount(orders.length)}. All of them are found under Orders.
        </p>
      )}
    </div>
  );
}
