'use client';
import { memo } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  Cell,
  LabelList,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import { type Currency, digitsOf, formatMinor } from '../../core/money';
import { AfterPaint } from '../../ui/after-paint';
import { AXIS, MARGIN } from '../../ui/chart-looks';

/** One step from the first amount to the last. `total` for those two; minor units. */
export interface Step {
  readonly name: string;
  readonly minor: number;
  readonly total?: true;
}

/** What has room above a bar. */
const WHOLE = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const SHORT = new Intl.NumberFormat('en-GB', { notation: 'compact' });

/** From one sum to another, step by step: what is taken hangs from what was left, what comes stands on it. */
export const Waterfall = memo(
  ({ steps, currency, label }: { steps: readonly Step[]; currency: Currency; label: string }) => {
    const major = 10 ** digitsOf(currency);
    let left = 0;
    const data = steps.map(({ name, minor, total }) => {
      const from = total ? 0 : left;
      left = total ? minor : left + minor;
      return {
        name,
        minor,
        total,
        span: [Math.min(from, left) / major, Math.max(from, left) / major] as [number, number],
        figure: `${!total && minor > 0 ? '+' : ''}${WHOLE.format(minor / major)}`,
        exact: formatMinor(minor, currency, !total),
      };
    });
    return (
      <div
        className="h-44"
        role="img"
        aria-label={`${label}: ${data.map((d) => `${d.name} ${d.exact}`).join(', ')}.`}
      >
        <AfterPaint>
          <ResponsiveContainer width="100%" height="100%">
            <BarChart data={data} margin={{ ...MARGIN, top: 16 }} accessibilityLayer={false}>
              <CartesianGrid vertical={false} stroke="var(--rule-soft)" />
              <XAxis dataKey="name" interval={0} {...AXIS} tick={{ ...AXIS.tick, fontSize: 10 }} />
              <YAxis tickFormatter={(n) => SHORT.format(Number(n))} width={40} {...AXIS} />
              <ReferenceLine y={0} stroke="var(--ink)" />
              <Bar dataKey="span" isAnimationActive={false}>
                {data.map((d) => (
                  <Cell
                    key={d.name}
                    fill={
                      d.total
                        ? d.minor < 0
                          ? 'var(--loss)'
                          : 'var(--river)'
                        : d.minor < 0
                          ? 'var(--goods)'
                          : 'var(--payment)'
                    }
                  />
                ))}
                <LabelList dataKey="figure" position="top" fontSize={10} fill="var(--ink)" />
              </Bar>
            </BarChart>
          </ResponsiveContainer>
        </AfterPaint>
      </div>
    );
  },
);
