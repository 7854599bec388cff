'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { type Account, rangeBeside } from '../../core/ledger';
import { writeDelimited } from '../../core/lists';
import { type Currency, decimalOf, formatMinor, formatShare } from '../../core/money';
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
import {
  BREAKDOWNS,
  type Breakdown,
  type BrokenDown,
  isPeriod,
  type OrderShare,
} from '../../work/order-book/breakdown';
import { AccountTable } from './account-table';
import { BreakdownTable } from './breakdown-table';
import { LedgerExport } from './ledger-export';
import { MoneyChart } from './money-chart';
import { periodName } from './period-name';
import { RankedChart } from './ranked-chart';
import { type Step, Waterfall } from './waterfall';

/** Orders behind a row that are told one by one. */
const MOST_SHOWN = 200;
const RANGES = [
  ['7', '7 days'],
  ['30', '30 days'],
  ['60', '60 days'],
  ['365', '12 months'],
] as const;
/** Days up to which each has a row of its own, where nothing else is wished. */
const MOST_DAYS = 120;

const NAME: Readonly<Record<Breakdown, string>> = {
  day: 'Day',
  week: 'Week',
  month: 'Month',
  quarter: 'Quarter',
  year: 'Year',
  marketplace: 'Marketplace',
  country: 'Country',
  label: 'Label',
  mark: 'Feed mark',
  supplier: 'Supplier',
  product: 'Product',
  listing: 'Listing',
  category: 'Category',
  brand: 'Brand',
};

const BESIDE = { before: 'Against the days before', year: 'Against a year ago' } as const;

const isBreakdown = (text: string): text is Breakdown => (BREAKDOWNS as readonly string[]).includes(text);

export function Money() {
  const shop = useShop();
  const now = useNow(60_000);
  const version = useOrdersVersion();
  const { get, set } = useAddress();
  const zone = shop?.settings.zone ?? 'UTC';
  const today = now ? dayOf(now, zone) : '';
  const to = isDay(get('to')) ? get('to') : today;
  const from = isDay(get('from')) && get('from') <= to ? get('from') : to && addDays(to, -29);
  const usual: Breakdown =
    from && Date.parse(to) - Date.parse(from) >= MOST_DAYS * 86_400_000 ? 'month' : 'day';
  const by = isBreakdown(get('by')) ? (get('by') as Breakdown) : usual;
  const compared = get('beside');
  const beside = compared === 'before' || compared === 'year' ? compared : null;
  // `-` before an id: what cannot be told apart has an empty one.
  const part = get('part').startsWith('-') ? get('part').slice(1) : null;
  const sums = useAnswer(
    () => (version && from && to ? theShop().sums(from, to) : undefined),
    [version, from, to],
  );
  const rows = useAnswer(
    () => (version && from && to ? theShop().breakdown({ by, from, to }) : undefined),
    [version, by, from, to],
  );
  const other = useAnswer(
    () =>
      version && from && to && beside ? theShop().breakdown({ by, ...rangeBeside(from, to, beside) }) : null,
    [version, by, from, to, beside],
  );
  const behind = useAnswer(
    () =>
      version && from && to && part !== null
        ? theShop().ordersBehind({ by, from, to }, part, MOST_SHOWN)
        : null,
    [version, by, from, to, part],
  );
  const costs = useAnswer(
    () => (version && from && to ? theShop().costsOf(from, to) : undefined),
    [version, from, to],
  );
  const [booking, setBooking] = useState(false);
  const onRow = useCallback((id: string) => set({ part: `-${id}` }), [set]);
  const others = useMemo(() => (other ? new Map(other.map((r) => [r.id, r])) : null), [other]);
  if (!shop || !sums || !rows) return <Loading name="Money" />;
  const { currency } = shop.settings;
  const m = (minor: number, plus = false) => formatMinor(minor, currency, plus);
  const { sum, unpriced, settled } = sums;
  const nameOf = (r: BrokenDown) => (isPeriod(by) ? periodName(r.id) : r.name);
  const profitBefore = other?.reduce((n, r) => n + r.best.profit, 0);
  const chosen = part === null ? undefined : rows.find((r) => r.id === part);

  const exportRows = () =>
    download(
      `sampan-${by}-${from}-${to}.csv`,
      writeDelimited([
        [by, 'orders', 'units', 'currency', ...Object.keys(sum), 'settled', 'expectedProfit', 'actualProfit'],
        ...rows.map((r) => [
          nameOf(r),
          r.orders,
          r.units,
          currency,
          ...Object.values(r.best).map((v) => decimalOf(v, currency)),
          r.settled,
          decimalOf(r.expected.profit, currency),
          decimalOf(r.actual.profit, currency),
        ]),
      ]),
    );
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Money"
        state={`${countOf(sums.orders, 'order')}, revenue ${m(sum.revenue)}, profit ${m(sum.profit, true)}, ${formatShare(sum.profit, sum.revenue)} of it${
          profitBefore === undefined
            ? ''
            : ` (${m(sum.profit - profitBefore, true)} ${BESIDE[beside!].toLowerCase()})`
        }${costs?.sum ? `, ${m(sum.profit - costs.sum, true)} after ${m(costs.sum)} of the shop’s own costs` : ''}${unpriced ? `; ${unpriced} not bought yet have no account` : ''}.`}
      >
        {RANGES.map(([n, words]) => (
          <Button
            key={n}
            aria-pressed={from === addDays(today, 1 - Number(n)) && to === today}
            kind="text"
            className="aria-pressed:underline"
            onClick={() => set({ from: addDays(today, 1 - Number(n)), to: today, part: '' })}
          >
            {words}
          </Button>
        ))}
        <DateRangeField
          {...{ from, to }}
          max={today}
          onChange={(first, last) => set({ from: first, to: last, part: '' })}
        />
      </Head>
      <div className="flex flex-wrap items-center gap-3 px-4 pb-2 text-[13.5px]">
        <label className="flex items-center gap-1.5 text-muted">
          By
          <select
            value={by}
            onChange={(e) => set({ by: e.target.value === usual ? '' : e.target.value, part: '' })}
            className="rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-ink"
          >
            {BREAKDOWNS.map((one) => (
              <option key={one} value={one}>
                {NAME[one].toLowerCase()}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5 text-muted">
          Beside
          <select
            value={beside ?? ''}
            onChange={(e) => set({ beside: e.target.value })}
            className="rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-ink"
          >
            <option value="">nothing</option>
            <option value="before">the days before</option>
            <option value="year">a year ago</option>
          </select>
        </label>
        <Button kind="text" onClick={exportRows}>
          Save as CSV
        </Button>
        <Button kind="text" aria-pressed={booking} onClick={() => setBooking(!booking)}>
          Ledger
        </Button>
        <Link href="/orders/returns?show=reasons" className="text-river underline">
          Returns
        </Link>
        <Link href="/money/statements" className="text-river underline">
          Statements
        </Link>
        <Link href="/money/statements?show=cash" className="text-river underline">
          Cash
        </Link>
        <Link href="/money/estimates" className="text-river underline">
          Estimates
        </Link>
      </div>
      {booking && <LedgerExport {...{ shop, from, to }} onDone={() => setBooking(false)} />}
      {sums.orders === 0 ? (
        <Empty title="No orders in these days">
          <p>
            Each order has its account: revenue, fees, tax, cost and profit, as expected when it was bought
            and as it was really charged. Choose other days, or wait for the first order.
          </p>
        </Empty>
      ) : (
        <>
          {isPeriod(by) ? (
            <MoneyChart by={by} totals={rows} currency={currency} onRow={onRow} />
          ) : (
            <RankedChart rows={rows} currency={currency} onRow={onRow} />
          )}
          <div className="grid gap-4 px-4 pb-6 xl:grid-cols-[minmax(0,1fr)_400px]">
            <BreakdownTable
              key={by}
              title={NAME[by]}
              caption={`Totals by ${by}`}
              rows={isPeriod(by) ? [...rows].reverse() : rows}
              // What a range beside is told by its own periods cannot stand beside these.
              beside={isPeriod(by) ? null : others}
              besideName={beside ? BESIDE[beside] : ''}
              currency={currency}
              chosen={part}
              nameOf={nameOf}
              onRow={(id) => set({ part: id === part ? '' : `-${id}` })}
            />
            <div className="space-y-4">
              {chosen && behind && (
                <Behind name={nameOf(chosen)} all={behind.all} orders={behind.orders} currency={currency} />
              )}
              <div className="rounded-sm border border-rule bg-surface p-3">
                <h2 className="text-sm font-semibold">From revenue to profit</h2>
                <Waterfall
                  steps={madeOf(chosen?.best ?? sum, chosen ? 0 : (costs?.sum ?? 0))}
                  currency={currency}
                  label={chosen ? `${nameOf(chosen)}, from revenue to profit` : 'From revenue to profit'}
                />
              </div>
              <div className="rounded-sm border border-rule bg-surface p-3">
                <h2 className="text-sm font-semibold">Expected beside actual</h2>
                <p className="mb-1 text-xs text-muted">
                  {countOf(settled, 'order')} that supplier and marketplace have settled
                  {sums.orders > 0 && `, ${formatShare(settled, sums.orders)} of them`}.
                </p>
                <Waterfall
                  steps={leaksOf(sums.expected, sums.actual)}
                  currency={currency}
                  label="From the expected profit to the actual one"
                />
                <AccountTable expected={sums.expected} actual={sums.actual} currency={currency} />
              </div>
            </div>
          </div>
        </>
      )}
    </section>
  );
}

/** What a sum is made of. */
const madeOf = (a: Account, costs: number): Step[] => [
  { name: 'Revenue', minor: a.revenue, total: true },
  { name: 'Goods', minor: -a.goods },
  { name: 'Ship', minor: -a.shipping },
  { name: 'Fees', minor: -a.fee },
  { name: 'Pay', minor: -a.payment },
  { name: 'VAT', minor: -a.tax },
  { name: 'Profit', minor: a.profit, total: true },
  ...(costs
    ? [
        { name: 'Costs', minor: -costs },
        { name: 'Left', minor: a.profit - costs, total: true as const },
      ]
    : []),
];

/** From what was expected to what came of it, by what was otherwise. */
const leaksOf = (expected: Account, actual: Account): Step[] =>
  [
    { name: 'Expected', minor: expected.profit, total: true as const },
    { name: 'Rev.', minor: actual.revenue - expected.revenue },
    { name: 'Goods', minor: expected.goods - actual.goods },
    { name: 'Ship', minor: expected.shipping - actual.shipping },
    { name: 'Fees', minor: expected.fee - actual.fee },
    { name: 'Pay', minor: expected.payment - actual.payment },
    { name: 'VAT', minor: expected.tax - actual.tax },
    { name: 'Actual', minor: actual.profit, total: true as const },
  ].filter((step) => step.minor || 'total' in step);

/** The orders behind one row. */
function Behind({
  name,
  all,
  orders,
  currency,
}: {
  name: string;
  all: number;
  orders: readonly OrderShare[];
  currency: Currency;
}) {
  return (
    <div className="rounded-sm border border-rule bg-surface p-3">
      <h2 className="text-sm font-semibold">
        {name}: {countOf(all, 'order')}
      </h2>
      <table className="mt-1 w-full text-[13.5px]">
        <caption className="sr-only">Orders of {name}</caption>
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
