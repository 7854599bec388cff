'use client';
import { memo, useMemo } from 'react';
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
import type { Period } from '../../core/ledger';
import { digitsOf, formatMinor, signOf } from '../../core/money';
import { AfterPaint } from '../../ui/after-paint';
import { AXIS, MARGIN, TIP } from '../../ui/chart-looks';
import type { BrokenDown } from '../../work/order-book/breakdown';
import { periodName } from './period-name';

/** `75K`: what stands beside a chart. */
const SHORT = new Intl.NumberFormat('en-GB', { notation: 'compact' });
/** Periods named below the chart. */
const NAMED = 12;

interface Props {
  readonly by: Period;
  readonly totals: readonly BrokenDown[];
  readonly currency: string;
  readonly onRow: (id: string) => void;
}

/** Revenue and profit of each period. A click on one opens it. Drawn again only when its figures changed. */
export const MoneyChart = memo(({ by, totals, currency, onRow }: Props) => {
  const major = 10 ** digitsOf(currency);
  const data = useMemo(
    () =>
      totals.map((t) => ({
        day: t.id,
        revenue: t.best.revenue / major,
        profit: t.best.profit / major,
      })),
    [totals, major],
  );
  return (
    <figure className="px-4 pb-2">
      <figcaption className="flex gap-4 pb-1 text-xs text-muted">
        <span>
          <span aria-hidden className="mr-1.5 inline-block size-2.5 bg-payment" />
          Revenue {signOf(currency)} by {by}
        </span>
        <span>
          <span aria-hidden className="mr-1.5 inline-block h-0.5 w-4 bg-river align-middle" />
          Profit {signOf(currency)} by {by}
        </span>
      </figcaption>
      <div
        className="h-52"
        role="img"
        aria-label={`Revenue and profit by ${by}, ${totals.length} of them; the table below has the figures.`}
      >
        <AfterPaint>
          <ResponsiveContainer width="100%" height="100%">
            <ComposedChart
              data={data}
              margin={MARGIN}
              accessibilityLayer={false}
              onClick={(state) => state.activeLabel && onRow(String(state.activeLabel))}
            >
              <CartesianGrid vertical={false} stroke="var(--rule-soft)" />
              <XAxis
                dataKey="day"
                tickFormatter={(d) => periodName(String(d))}
                interval={Math.ceil(data.length / NAMED) - 1}
                {...AXIS}
              />
              <YAxis tickFormatter={(n) => SHORT.format(Number(n))} width={48} {...AXIS} />
              <ReferenceLine y={0} stroke="var(--ink)" />
              <Tooltip
                {...TIP}
                labelFormatter={(d) => periodName(String(d))}
                formatter={(value, name) => [formatMinor(Math.round(Number(value) * major), currency), name]}
              />
              <Bar dataKey="revenue" name="Revenue" fill="var(--payment)" isAnimationActive={false} />
              <Line
                dataKey="profit"
                name="Profit"
                stroke="var(--river)"
                strokeWidth={2}
                dot={false}
                isAnimationActive={false}
              />
            </ComposedChart>
          </ResponsiveContainer>
        </AfterPaint>
      </div>
    </figure>
  );
});
