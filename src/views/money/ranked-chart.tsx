'use client';
import { memo } from 'react';
import {
  Bar,
  BarChart,
  CartesianGrid,
  Cell,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { type Currency, digitsOf, formatMinor, signOf } from '../../core/money';
import { countOf } from '../../core/units';
import { AfterPaint } from '../../ui/after-paint';
import { AXIS, MARGIN, TIP } from '../../ui/chart-looks';
import type { BrokenDown } from '../../work/order-book/breakdown';

/** Bars; the tail is told in words: together it would dwarf them. */
const SHOWN = 10;

const short = (name: string) => (name.length > 30 ? `${name.slice(0, 29)}…` : name);

/** Who brings the profit: the largest first, the tail folded. A click on one opens it. */
export const RankedChart = memo(
  ({
    rows,
    currency,
    onRow,
  }: {
    rows: readonly BrokenDown[];
    currency: Currency;
    onRow: (id: string) => void;
  }) => {
    const major = 10 ** digitsOf(currency);
    const tail = rows.slice(SHOWN);
    const rest = tail.reduce((sum, r) => sum + r.best.profit, 0);
    const data = rows
      .slice(0, SHOWN)
      .map((r) => ({ id: r.id, name: short(r.name), profit: r.best.profit / major }));
    return (
      <figure className="px-4 pb-2">
        <figcaption className="pb-1 text-xs text-muted">
          <span aria-hidden className="mr-1.5 inline-block size-2.5 bg-river" />
          Profit {signOf(currency)}, largest first
          {tail.length > 0 &&
            ` · ${countOf(tail.length, 'other')}: ${formatMinor(rest, currency, true)} together`}
        </figcaption>
        <div
          style={{ height: 28 + data.length * 20 }}
          role="img"
          aria-label={`Profit of the ${Math.min(SHOWN, rows.length)} largest; the table below has the figures.`}
        >
          <AfterPaint>
            <ResponsiveContainer width="100%" height="100%">
              <BarChart
                layout="vertical"
                data={data}
                margin={{ ...MARGIN, right: 24 }}
                accessibilityLayer={false}
                onClick={(state) => {
                  const one = data[Number(state.activeTooltipIndex)];
                  if (one) onRow(one.id);
                }}
              >
                <CartesianGrid horizontal={false} stroke="var(--rule-soft)" />
                <XAxis type="number" {...AXIS} />
                <YAxis type="category" dataKey="name" width={210} interval={0} {...AXIS} />
                <ReferenceLine x={0} stroke="var(--ink)" />
                <Tooltip
                  {...TIP}
                  formatter={(value) => [
                    formatMinor(Math.round(Number(value) * major), currency, true),
                    'Profit',
                  ]}
                />
                <Bar dataKey="profit" isAnimationActive={false}>
                  {data.map((d) => (
                    <Cell key={d.id} fill={d.profit < 0 ? 'var(--loss)' : 'var(--river)'} />
                  ))}
                </Bar>
              </BarChart>
            </ResponsiveContainer>
          </AfterPaint>
        </div>
      </figure>
    );
  },
);
