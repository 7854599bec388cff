'use client';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { formatMinor } from '../core/money';
import { dayName, dayOf } from '../core/units';
import type { HistoryPoint } from '../work/model';
import { AXIS, MARGIN, TIP } from './chart-looks';

interface Props {
  readonly points: readonly HistoryPoint[];
  readonly currency: string;
  readonly now: number;
  readonly zone: string;
}

/**
 * Cost and stock of an item over time, as steps, one drawing above the other over the same days. The figures
 * stand in a table for those who cannot see it.
 */
export function HistoryChart({ points, currency, now, zone }: Props) {
  if (points.length < 2)
    return <p className="text-[13px] text-muted">Cost and stock have not changed on record.</p>;
  const last = points.at(-1)!;
  const data = [...points, { ...last, at: Math.max(now, last.at) }];
  const day = (at: number) => dayName(dayOf(at, zone));
  const money = (minor: number) => formatMinor(minor, currency);
  const part = (name: 'cost' | 'stock', words: string, colour: string, write: (n: number) => string) => (
    <div className="h-[84px]">
      <ResponsiveContainer>
        <LineChart data={data} margin={MARGIN} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule-soft)" vertical={false} />
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={day}
            {...AXIS}
            tickCount={4}
            hide={name === 'cost'}
          />
          <YAxis
            width={46}
            tickFormatter={write}
            {...AXIS}
            tickCount={3}
            domain={name === 'cost' ? ['auto', 'auto'] : [0, 'auto']}
          />
          <Tooltip
            {...TIP}
            labelFormatter={(at) => day(Number(at))}
            formatter={(n) => [write(Number(n)), words]}
          />
          <Line
            dataKey={name}
            type="stepAfter"
            stroke={colour}
            strokeWidth={1.6}
            dot={false}
            isAnimationActive={false}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
  return (
    <figure aria-label={`Cost and stock since ${day(points[0]!.at)}`}>
      <p className="text-xs text-muted">Cost {currency}</p>
      {part('cost', 'Cost', 'var(--lamp)', money)}
      <p className="text-xs text-muted">Stock</p>
      {part('stock', 'Stock', 'var(--river)', String)}
      <details className="mt-1 text-xs text-muted">
        <summary>{points.length} points as figures</summary>
        <table className="w-full">
          <tbody>
            {[...points]
              .reverse()
              .slice(0, 60)
              .map((p, i) => (
                <tr key={`${p.at}-${i}`}>
                  <th scope="row" className="text-left font-normal">
                    {day(p.at)}
                  </th>
                  <td className="text-right">{money(p.cost)}</td>
                  <td className="text-right">{p.stock} in stock</td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
