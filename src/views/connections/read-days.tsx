'use client';
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { dayName, formatCount } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { AXIS, MARGIN, TIP } from '../../ui/chart-looks';

const PARTS = [
  ['costUp', 'Cost up', 'var(--lamp)'],
  ['costDown', 'Cost down', 'var(--river)'],
  ['fresh', 'New', 'var(--edge)'],
  ['gone', 'Gone', 'var(--loss)'],
] as const;

/** What a supplier's readings brought, day by day: items whose cost moved, new and gone ones; stock as figures. */
export function ReadDays({ supplier, zone }: { supplier: string; zone: string }) {
  const days = useFeed('readDays', supplier, zone);
  if (!days?.length)
    return <p className="mt-1 text-[13px] text-muted">No reading brought a change on record.</p>;
  return (
    <figure aria-label="Items that changed, by day" className="mt-1">
      <div className="h-32">
        <ResponsiveContainer>
          <BarChart data={days} margin={MARGIN} accessibilityLayer={false}>
            <XAxis dataKey="day" tickFormatter={dayName} {...AXIS} minTickGap={30} />
            <YAxis width={40} {...AXIS} tickCount={3} allowDecimals={false} />
            <Tooltip {...TIP} labelFormatter={(day) => dayName(String(day))} />
            {PARTS.map(([name, words, fill]) => (
              <Bar key={name} dataKey={name} name={words} stackId="a" fill={fill} isAnimationActive={false} />
            ))}
          </BarChart>
        </ResponsiveContainer>
      </div>
      <ul className="flex flex-wrap gap-x-4 text-xs text-muted">
        {PARTS.map(([name, words, fill]) => (
          <li key={name}>
            <span aria-hidden className="mr-1 inline-block size-2" style={{ background: fill }} />
            {words}
          </li>
        ))}
      </ul>
      <details className="mt-1 text-xs text-muted">
        <summary className="cursor-default">As figures</summary>
        <div className="max-h-40 overflow-auto">
          <table className="w-full text-right">
            <thead>
              <tr>
                {['Day', 'Cost up', 'Cost down', 'Stock', 'New', 'Gone'].map((head) => (
                  <th key={head} scope="col" className="font-normal first:text-left">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {[...days].reverse().map((d) => (
                <tr key={d.day}>
                  <th scope="row" className="text-left font-normal">
                    {dayName(d.day)}
                  </th>
                  {[d.costUp, d.costDown, d.stock, d.fresh, d.gone].map((n, k) => (
                    <td key={k}>{formatCount(n)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </figure>
  );
}
