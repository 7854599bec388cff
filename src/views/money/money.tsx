'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { unparse } from 'papaparse';
import { useMemo } from 'react';
import {
  Bar,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { addAccounts, type DayTotal, daysOf, NOTHING, totalsByDay } from '../../core/ledger';
import { decimalOf, digitsOf, formatMinor, formatShare, signOf } from '../../core/money';
import { addDays, countOf, dayName, dayOf, formatCount, isDay } from '../../core/units';
import { db, type Order } from '../../store';
import { useAddress } from '../../ui/address';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { download } from '../../ui/download';
import { Empty, Head } from '../../ui/head';
import { useShop } from '../../ui/shop';
import { accountsOf, isCounted, ledgersOf } from '../../work/orders/accounts';
import { AccountTable } from './account-table';

const DAY = 86_400_000;
const RANGES = [
  ['7', '7 days'],
  ['30', '30 days'],
  ['60', '60 days'],
] as const;

/** An order with its accounts, in the currency of the books. */
interface Accounted extends ReturnType<typeof accountsOf> {
  readonly order: Order;
}

export function Money() {
  const shop = useShop();
  const now = useNow(60_000);
  const { get, set } = useAddress();
  const zone = shop?.settings.zone ?? 'UTC';
  const today = now ? dayOf(now, zone) : '';
  const to = isDay(get('to')) ? get('to') : today;
  const from = isDay(get('from')) && get('from') <= to ? get('from') : to && addDays(to, -29);
  const day = isDay(get('day')) ? get('day') : '';
  const read = useLiveQuery(async () => {
    if (!from || !to) return undefined;
    // A day of slack on both sides: days are cut in the shop's zone, not in UTC.
    const rows = await db.orders
      .where('paidAt')
      .between(Date.parse(from) - DAY, Date.parse(to) + 2 * DAY)
      .toArray();
    const counted = rows.filter(isCounted);
    return { orders: counted, ledgers: await ledgersOf({ db }, counted) };
  }, [from, to]);
  const currency = shop?.settings.currency ?? 'GBP';
  const orders = useMemo(
    () =>
      read?.orders.map(
        (order): Accounted => ({ order, ...accountsOf(order, read.ledgers.get(order.id), currency) }),
      ),
    [read, currency],
  );
  const totals = useMemo(
    () => (orders && from && to ? totalsByDay(orders, daysOf(from, to, orders, zone), zone) : null),
    [orders, from, to, zone],
  );
  if (!shop || !totals || !orders) return null;
  const m = (minor: number, plus = false) => formatMinor(minor, currency, plus);
  const inRange = orders.filter((o) => {
    const d = dayOf(o.placedAt, zone);
    return d >= from && d <= to;
  });
  const sum = totals.reduce((a, t) => addAccounts(a, t.best), NOTHING);
  const expectedBoth = inRange.filter((o) => o.actual && o.expected);
  const expected = expectedBoth.reduce((a, o) => addAccounts(a, o.expected!), NOTHING);
  const actual = expectedBoth.reduce((a, o) => addAccounts(a, o.actual!), NOTHING);
  const shown = day ? inRange.filter((o) => dayOf(o.placedAt, zone) === day) : [];
  const unpriced = inRange.filter((o) => !o.expected && !o.actual).length;

  const exportDays = () =>
    download(
      `sampan-days-${from}-${to}.csv`,
      unparse(
        totals.map((t) => ({
          day: t.day,
          orders: t.orders,
          currency,
          ...Object.fromEntries(Object.entries(t.best).map(([k, v]) => [k, decimalOf(v, currency)])),
          expectedProfit: decimalOf(t.expectedProfit, currency),
        })),
      ),
    );
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Money"
        state={`${countOf(inRange.length, 'order')}, revenue ${m(sum.revenue)}, profit ${m(sum.profit, true)}, ${formatShare(sum.profit, sum.revenue)} of it${unpriced ? `; ${unpriced} not bought yet have no account` : ''}.`}
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
        <label className="text-xs text-muted">
          From{' '}
          <input
            type="date"
            value={from}
            max={to}
            onChange={(e) => isDay(e.target.value) && set({ from: e.target.value, day: '' })}
            className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink"
          />
        </label>
        <label className="text-xs text-muted">
          to{' '}
          <input
            type="date"
            value={to}
            min={from}
            max={today}
            onChange={(e) => isDay(e.target.value) && set({ to: e.target.value, day: '' })}
            className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink"
          />
        </label>
        <Button onClick={exportDays}>Save as CSV</Button>
      </Head>
      {inRange.length === 0 ? (
        <Empty title="No orders in these days">
          <p>
            Each order has its account: revenue, fees, tax, cost and profit, as expected when it was bought
            and as it was really charged. Choose other days, or wait for the first order.
          </p>
        </Empty>
      ) : (
        <>
          <Chart totals={totals} currency={currency} onDay={(d) => set({ day: d })} />
          <div className="grid gap-4 px-4 pb-6 xl:grid-cols-[1fr_400px]">
            <DayTable
              totals={totals}
              day={day}
              currency={currency}
              onDay={(d) => set({ day: d === day ? '' : d })}
            />
            <div className="space-y-4">
              <div className="rounded-sm border border-rule bg-surface p-3">
                <h2 className="text-sm font-semibold">Expected beside actual</h2>
                <p className="mb-1 text-xs text-muted">
                  {countOf(expectedBoth.length, 'order')} that supplier and marketplace have settled.
                </p>
                <AccountTable expected={expected} actual={actual} currency={currency} />
              </div>
              {day && <DayOrders day={day} orders={shown} currency={currency} />}
            </div>
          </div>
        </>
      )}
    </section>
  );
}

function Chart({
  totals,
  currency,
  onDay,
}: {
  totals: readonly DayTotal[];
  currency: string;
  onDay: (day: string) => void;
}) {
  const major = 10 ** digitsOf(currency);
  const data = totals.map((t) => ({
    day: t.day,
    revenue: t.best.revenue / major,
    profit: t.best.profit / major,
  }));
  return (
    <figure className="px-4 pb-2">
      <figcaption className="flex gap-4 pb-1 text-xs text-muted">
        <span>
          <span aria-hidden className="mr-1.5 inline-block size-2.5 bg-payment" />
          Revenue {signOf(currency)} by day
        </span>
        <span>
          <span aria-hidden className="mr-1.5 inline-block h-0.5 w-4 bg-river align-middle" />
          Profit {signOf(currency)} by day
        </span>
      </figcaption>
      <div
        className="h-52"
        role="img"
        aria-label={`Revenue and profit by day, ${totals.length} days; the table below has the figures.`}
      >
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart
            data={data}
            margin={{ top: 6, right: 8, left: 0, bottom: 0 }}
            accessibilityLayer={false}
            onClick={(state) => state.activeLabel && onDay(String(state.activeLabel))}
          >
            <CartesianGrid vertical={false} stroke="var(--rule-soft)" />
            <XAxis
              dataKey="day"
              tickFormatter={(d) => dayName(String(d))}
              tick={{ fontSize: 12, fill: 'var(--muted)' }}
              stroke="var(--rule)"
              minTickGap={28}
            />
            <YAxis tick={{ fontSize: 12, fill: 'var(--muted)' }} stroke="var(--rule)" width={48} />
            <ReferenceLine y={0} stroke="var(--ink)" />
            <Tooltip
              isAnimationActive={false}
              labelFormatter={(d) => dayName(String(d))}
              formatter={(value, name) => [formatMinor(Math.round(Number(value) * major), currency), name]}
              contentStyle={{
                background: 'var(--surface)',
                border: '1px solid var(--rule)',
                borderRadius: 3,
                fontSize: 13,
              }}
            />
            <Bar dataKey="revenue" name="Revenue" fill="var(--payment)" isAnimationActive={false} />
            <Line
              dataKey="profit"
              name="Profit"
              stroke="var(--river)"
              strokeWidth={2}
              dot={{ r: 2 }}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
    </figure>
  );
}

function DayTable({
  totals,
  day,
  currency,
  onDay,
}: {
  totals: readonly DayTotal[];
  day: string;
  currency: string;
  onDay: (day: string) => void;
}) {
  const sign = signOf(currency);
  const heads = [
    'Day',
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
      <caption className="sr-only">Totals by day</caption>
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
                {dayName(t.day)}
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
  orders,
  currency,
}: {
  day: string;
  orders: readonly Accounted[];
  currency: string;
}) {
  return (
    <div className="rounded-sm border border-rule bg-surface p-3">
      <h2 className="text-sm font-semibold">
        {dayName(day)}: {countOf(orders.length, 'order')}
      </h2>
      <table className="mt-1 w-full text-[13.5px]">
        <tbody>
          {orders.map(({ order: o, actual, expected }) => {
            const best = actual ?? expected;
            return (
              <tr key={o.id}>
                <th scope="row" className="py-0.5 text-left font-normal">
                  <Link
                    href={`/orders?row=${encodeURIComponent(o.id)}`}
                    className="font-mono text-river hover:underline"
                  >
                    {o.number}
                  </Link>
                </th>
                <td className="text-right">{best ? formatMinor(best.revenue, currency) : '–'}</td>
                <td className={`text-right ${best && best.profit < 0 ? 'text-loss' : 'text-river'}`}>
                  {best ? formatMinor(best.profit, currency, true) : 'no account yet'}
                </td>
                <td className="pl-2 text-right text-xs text-muted">
                  {actual ? 'actual' : expected ? 'expected' : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
