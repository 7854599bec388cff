'use client';
import { useMemo } from 'react';
import {
  Area,
  Bar,
  CartesianGrid,
  ComposedChart,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { digitsOf, formatMinor, formatMoney, signOf } from '../../core/money';
import type { CashDay, Flow } from '../../core/statements';
import { countOf, writtenDay } from '../../core/units';
import { AfterPaint } from '../../ui/after-paint';
import { useAnswer } from '../../ui/answer';
import { AXIS, MARGIN, TIP } from '../../ui/chart-looks';
import { theShop } from '../../work/desk/client';
import type { Cash } from '../../work/statements/cash';

const SHORT = new Intl.NumberFormat('en-GB', { notation: 'compact' });

const WHAT: Readonly<Record<Flow['kind'], string>> = {
  payout: 'pays out',
  bill: 'is to be paid',
  'top-up': 'needs more prepaid for what is to be bought',
  purchase: 'is paid for what is to be bought',
  cost: 'is to be paid',
};

/** What is with marketplaces and suppliers, and what is expected to come and go within 30 days. */
export function CashView({ version, onStatement }: { version: number; onStatement: (id: string) => void }) {
  const cash = useAnswer(() => (version ? theShop().cash() : undefined), [version]);
  if (!cash) return <p className="text-[13.5px] text-muted">Counting …</p>;
  const m = (minor: number, currency: string) => formatMoney({ minor, currency });
  const inBooks = (minor: number) => formatMinor(minor, cash.currency, true);
  return (
    <div className="grid gap-x-8 gap-y-4 xl:grid-cols-2">
      <div>
        <h2 className="text-sm font-semibold">With marketplaces</h2>
        <table className="w-full text-right text-[13.5px]">
          <caption className="sr-only">What is with marketplaces</caption>
          <thead className="text-xs text-muted">
            <tr>
              {['', 'On the account', 'Settled since', 'To be sent yet', 'Pays out next'].map((name, k) => (
                <th key={name} scope="col" className={`py-1 pr-3 font-normal ${k ? '' : 'text-left'}`}>
                  {name || <span className="sr-only">Marketplace</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {cash.markets.map((w) => (
              <tr key={w.id} className="border-t border-rule-soft">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {w.name}
                  {w.lastDay === null && <span className="text-xs text-muted"> no statement yet</span>}
                </th>
                <td className="pr-3">{w.closing === null ? '–' : m(w.closing, w.currency)}</td>
                <td className="pr-3">{w.lastDay === null ? '–' : m(w.settled, w.currency)}</td>
                <td className="pr-3">{w.lastDay === null ? '–' : m(w.open, w.currency)}</td>
                <td className="pr-3 whitespace-nowrap">{w.nextPayout ? writtenDay(w.nextPayout) : '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h2 className="mt-4 text-sm font-semibold">With suppliers</h2>
        <table className="w-full text-right text-[13.5px]">
          <caption className="sr-only">What is with suppliers</caption>
          <thead className="text-xs text-muted">
            <tr>
              {['', 'Prepaid', 'To be bought', 'Left', 'Bills'].map((name, k) => (
                <th key={name} scope="col" className={`py-1 pr-3 font-normal ${k ? '' : 'text-left'}`}>
                  {name || <span className="sr-only">Supplier</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {cash.suppliers.map((w) => (
              <tr key={w.id} className="border-t border-rule-soft">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {w.name}
                </th>
                <td className="pr-3">{w.balance === null ? '–' : m(w.balance, w.currency)}</td>
                <td className="pr-3">{m(w.promised, w.currency)}</td>
                <td
                  className={`pr-3 ${w.balance !== null && w.balance < w.promised ? 'font-semibold text-loss' : ''}`}
                >
                  {w.balance === null ? '–' : m(w.balance - w.promised, w.currency)}
                </td>
                <td className="pr-3">
                  {w.bills.length === 0
                    ? '–'
                    : w.bills.map((b) => (
                        <button
                          key={b.id}
                          type="button"
                          className="block text-river hover:underline"
                          onClick={() => onStatement(b.id)}
                        >
                          {m(b.minor, w.currency)} by {writtenDay(b.due)}
                        </button>
                      ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-2 max-w-prose text-xs text-muted">
          On the account: left after the last statement. Settled since: recorded of orders that are settled
          and stand in no statement. To be sent yet: of open orders, by what is recorded of them so far.
        </p>
      </div>
      <div>
        <h2 className="text-sm font-semibold">
          Expected within 30 days: {inBooks(cash.days.at(-1)?.sum ?? 0)}
        </h2>
        <CashChart days={cash.days} currency={cash.currency} />
        <table className="w-full text-[13.5px]">
          <caption className="sr-only">What is expected to come and go</caption>
          <tbody>
            {cash.flows.map((f, k) => (
              <tr key={k} className="border-t border-rule-soft">
                <td className="py-1 pr-3 whitespace-nowrap">{writtenDay(f.day)}</td>
                <th scope="row" className="pr-3 text-left font-normal">
                  {f.of} <span className="text-muted">{WHAT[f.kind]}</span>
                </th>
                <td className={`text-right ${f.minor < 0 ? 'text-loss' : 'text-river'}`}>
                  {inBooks(f.minor)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {cash.flows.length === 0 && (
          <p className="text-[13.5px] text-muted">
            Nothing is known yet: payouts are told from a marketplace’s statements, costs of the shop are
            typed.
          </p>
        )}
        {cash.unrated > 0 && (
          <p className="text-xs text-muted">
            {countOf(cash.unrated, 'amount')} without an exchange rate are left out.
          </p>
        )}
      </div>
    </div>
  );
}

/** What comes and goes day by day, and all of it together. */
function CashChart({ days, currency }: { days: Cash['days']; currency: string }) {
  const major = 10 ** digitsOf(currency);
  const data = useMemo(
    () =>
      days.map((d: CashDay) => ({ day: d.day, in: d.in / major, out: d.out / major, sum: d.sum / major })),
    [days, major],
  );
  const short = (day: string) => writtenDay(day).slice(0, -5);
  return (
    <div
      className="h-52"
      role="img"
      aria-label={`What comes and goes within ${days.length} days, in ${signOf(currency)}; the table below has the figures.`}
    >
      <AfterPaint>
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={data} margin={MARGIN} accessibilityLayer={false} stackOffset="sign">
            <CartesianGrid vertical={false} stroke="var(--rule-soft)" />
            <XAxis dataKey="day" tickFormatter={(d) => short(String(d))} interval={4} {...AXIS} />
            <YAxis tickFormatter={(n) => SHORT.format(Number(n))} width={48} {...AXIS} />
            <ReferenceLine y={0} stroke="var(--ink)" />
            <Tooltip
              {...TIP}
              labelFormatter={(d) => writtenDay(String(d))}
              formatter={(value, name) => [
                formatMinor(Math.round(Number(value) * major), currency, true),
                name,
              ]}
            />
            <Area
              type="stepAfter"
              dataKey="sum"
              name="All together"
              stroke="var(--river)"
              fill="var(--river-soft)"
              isAnimationActive={false}
            />
            <Bar dataKey="in" stackId="flow" name="In" fill="var(--payment)" isAnimationActive={false} />
            <Bar dataKey="out" stackId="flow" name="Out" fill="var(--loss)" isAnimationActive={false} />
          </ComposedChart>
        </ResponsiveContainer>
      </AfterPaint>
    </div>
  );
}
