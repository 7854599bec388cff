'use client';
import { useState } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { formatMinor, formatMoney, formatRate, parseRate } from '../../core/money';
import { countOf, dayName, formatCount } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { AXIS, MARGIN, TIP } from '../../ui/chart-looks';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { runRehearsal, theShop } from '../../work/desk/client';
import type { RulesDraft } from '../../work/pricing/draft';
import type { RehearsalAnswer, TrialName } from '../../work/pricing/rehearsed';

const NAMES: Readonly<Record<TrialName, string>> = {
  happened: 'What happened',
  saved: 'Plans as saved',
  draft: 'Plans as changed',
};
const COLOURS: Readonly<Record<TrialName, string>> = {
  happened: 'var(--muted)',
  saved: 'var(--river)',
  draft: 'var(--lamp)',
};
const DAYS = [7, 14, 30, 60] as const;

/** Tries the plans on recorded days: cost and stock of then, the sales that were. */
export function Rehearse({ draft, changed }: { draft: RulesDraft; changed: boolean }) {
  const [days, setDays] = useState(30);
  const [fewer, setFewer] = useState(0);
  const [done, setDone] = useState<number | null>(null);
  const [answer, setAnswer] = useState<RehearsalAnswer | null>(null);
  const [day, setDay] = useState<string | null>(null);
  const shown: TrialName[] = changed ? ['happened', 'saved', 'draft'] : ['happened', 'saved'];
  const run = async () => {
    setDone(0);
    setDay(null);
    try {
      const got = await runRehearsal({ draft, days, fewer }, (n, of) => setDone(n / of));
      if (got) setAnswer(got);
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setDone(null);
  };
  return (
    <div className="flex min-h-0 grow flex-col gap-2 overflow-y-auto px-4 py-3 text-[13.5px]">
      <div className="flex flex-wrap items-end gap-3">
        <label className="text-xs text-muted">
          Rehearse on the last
          <select
            value={days}
            onChange={(e) => setDays(Number(e.target.value))}
            className="mx-1.5 rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px] text-ink"
          >
            {DAYS.map((n) => (
              <option key={n} value={n}>
                {n} days
              </option>
            ))}
          </select>
        </label>
        <AmountField
          label="Fewer sold for each percent dearer"
          value={fewer}
          write={formatRate}
          parse={(text) => {
            const rate = parseRate(text);
            return !rate.ok || (rate.value >= 0 && rate.value <= 10_000_000)
              ? rate
              : { ok: false, reason: 'From 0 % to 1,000 %' };
          }}
          onChange={(n) => setFewer(n ?? 0)}
        />
        {done === null ? (
          <Button kind="main" onClick={run}>
            Rehearse
          </Button>
        ) : (
          <>
            <progress max={1} value={done} aria-label="Rehearsing" className="w-40" />
            <Button onClick={() => theShop().stopRehearsal()}>Stop</Button>
          </>
        )}
      </div>
      <p className="text-xs text-muted">
        Each day is priced at the cost, stock, market prices, fees and rates of then and sells what was sold.{' '}
        {fewer
          ? `That ${formatRate(fewer)} fewer sell for each percent dearer is an assumption of yours, no measurement.`
          : 'As many are taken to sell at any price: say how many fewer, if you have a guess.'}
      </p>
      {answer && (
        <>
          <table className="max-w-3xl text-right" aria-label="Rehearsal">
            <thead className="text-xs text-muted">
              <tr>
                <th scope="col" className="text-left font-normal">
                  {dayName(answer.from)} to {dayName(answer.to)}, {countOf(answer.orders, 'order')}
                </th>
                <th scope="col" className="font-normal">
                  Profit
                </th>
                <th scope="col" className="font-normal">
                  Units
                </th>
                <th scope="col" className="font-normal">
                  Below cost
                </th>
                <th scope="col" className="font-normal">
                  Oversold
                </th>
                <th scope="col" className="font-normal">
                  Price changes
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((name) => {
                const t = answer.totals[name];
                return (
                  <tr key={name} className="border-t border-rule-soft">
                    <th scope="row" className="text-left font-semibold" style={{ color: COLOURS[name] }}>
                      {NAMES[name]}
                    </th>
                    <td>{formatMoney({ minor: t.profit, currency: answer.currency })}</td>
                    <td>{formatCount(Math.round(t.milli / 1000))}</td>
                    <td className={t.below ? 'text-loss' : ''}>{formatCount(t.below)}</td>
                    <td className={t.oversold ? 'text-loss' : ''}>
                      {name === 'happened' ? '–' : formatCount(t.oversold)}
                    </td>
                    <td>{name === 'happened' ? '–' : formatCount(t.changes)}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {answer.knownFrom.map(({ what, day }) => (
            <p key={what} className="text-xs text-muted">
              {what} {what.startsWith('The') ? 'is' : 'are'} on record from {dayName(day)} on; for the days
              before the first on record stands in.
            </p>
          ))}
          {answer.left > 0 && (
            <p className="text-xs text-muted">
              {countOf(answer.left, 'sale')} of what is not listed any more {answer.left === 1 ? 'is' : 'are'}{' '}
              in none of the sums.
            </p>
          )}
          <div className="h-44 max-w-3xl shrink-0">
            <ResponsiveContainer>
              <LineChart
                data={[...answer.days]}
                margin={MARGIN}
                onClick={(at) => at.activeLabel && setDay(String(at.activeLabel))}
              >
                <CartesianGrid stroke="var(--rule-soft)" vertical={false} />
                <XAxis dataKey="day" tickFormatter={dayName} {...AXIS} />
                <YAxis width={56} tickFormatter={(n) => formatMinor(Number(n), answer.currency)} {...AXIS} />
                <Tooltip
                  {...TIP}
                  labelFormatter={(d) => dayName(String(d))}
                  formatter={(n) => formatMinor(Number(n), answer.currency)}
                />
                <Legend wrapperStyle={{ fontSize: 12 }} />
                {shown.map((name) => (
                  <Line
                    key={name}
                    dataKey={name}
                    name={NAMES[name]}
                    stroke={COLOURS[name]}
                    strokeWidth={1.6}
                    dot={false}
                    isAnimationActive={false}
                  />
                ))}
              </LineChart>
            </ResponsiveContainer>
          </div>
          <label className="text-xs text-muted">
            Sales of a day
            <select
              value={day ?? ''}
              onChange={(e) => setDay(e.target.value || null)}
              className="ml-1.5 rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px] text-ink"
            >
              <option value="">none</option>
              {answer.days.map((d) => (
                <option key={d.day} value={d.day}>
                  {dayName(d.day)}
                </option>
              ))}
            </select>
          </label>
          {day && <Day day={day} answer={answer} shown={shown} />}
        </>
      )}
    </div>
  );
}

function Day({ day, answer, shown }: { day: string; answer: RehearsalAnswer; shown: readonly TrialName[] }) {
  const sales = useAnswer(() => theShop().rehearsedDay(day), [day, answer]);
  if (!sales) return null;
  if (!sales.length) return <p>Nothing was sold on {dayName(day)}.</p>;
  return (
    <table className="max-w-4xl text-right text-[13px]" aria-label={`Sales of ${dayName(day)}`}>
      <thead className="text-xs text-muted">
        <tr>
          <th scope="col" className="text-left font-normal">
            {countOf(sales.length, 'sale')}
          </th>
          <th scope="col" className="font-normal">
            Units
          </th>
          {shown.map((name) => (
            <th key={name} scope="col" className="font-normal">
              {NAMES[name]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sales.slice(0, 200).map((s) => (
          <tr key={s.key} className="border-t border-rule-soft">
            <th scope="row" className="max-w-80 truncate text-left font-normal">
              <a href={`/listings?row=${encodeURIComponent(s.listing)}`} className="text-river underline">
                {s.title}
              </a>
            </th>
            <td>{s.units}</td>
            {shown.map((name) => (
              <td key={name}>
                {formatMoney({ minor: s.prices[name], currency: s.currency })}{' '}
                <span className={s.profits[name] < 0 ? 'text-loss' : 'text-muted'}>
                  {formatMinor(s.profits[name], answer.currency, true)}
                </span>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
