'use client';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { formatMinor } from '../core/money';
import { dayName, dayOf } from '../core/units';
import type { HistoryPoint } from '../work/model';

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
        <LineChart data={data} margin={{ top: 4, right: 6, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule-soft)" vertical={false} />
          <XAxis
            dataKey="at"
            type="number"
            domain={['dataMin', 'dataMax']}
            tickFormatter={day}
            tick={{ fontSize: 11, fill: 'var(--muted)' }}
            tickCount={4}
            axisLine={false}
            tickLine={false}
            hide={name === 'cost'}
          />
          <YAxis
            width={46}
            tickFormatter={write}
            tick={{ fontSize: 11, fill: 'var(--muted)' }}
            tickCount={3}
            axisLine={false}
            tickLine={false}
            domain={name === 'cost' ? ['auto', 'auto'] : [0, 'auto']}
          />
          <Tooltip
            isAnimationActive={false}
            labelFormatter={(at) => day(Number(at))}
            formatter={(n) => [write(Number(n)), words]}
            contentStyle={{ fontSize: 12, background: 'var(--surface)', border: '1px solid var(--rule)' }}
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
