'use client';
import { useId } from 'react';
import type { Prospect } from '../../work/shop/what-if';

const WIDTH = 900;
const HEIGHT = 150;
const STEP = 2;
/** Columns of dots from −20 % to +40 %, the ends holding all beyond. */
const FROM = -20;
const TO = 40;
/** Dots side by side within one column. */
const ABREAST = 4;

/** One dot per listing over its change in price; columns too tall are squeezed so that all are seen. */
export function Swarm({ prospects }: { prospects: readonly Prospect[] }) {
  const id = useId();
  const columns = new Map<number, { up: number; held: number }>();
  for (const p of prospects) {
    const change = p.to === null ? 0 : ((p.to - p.from) * 100) / p.from;
    const at =
      p.to === null || p.to === p.from
        ? 0
        : Math.min(
            TO,
            Math.max(FROM, Math.sign(change) * Math.max(1, Math.ceil(Math.abs(change) / STEP)) * STEP),
          );
    const column = columns.get(at) ?? { up: 0, held: 0 };
    if (p.to === null) column.held++;
    else column.up++;
    columns.set(at, column);
  }
  const tallest = Math.max(1, ...[...columns.values()].map((c) => Math.ceil((c.up + c.held) / ABREAST)));
  const pitch = Math.min(6.6, (HEIGHT - 12) / tallest);
  const x = (percent: number) => ((percent - FROM + 2) / (TO - FROM + 4)) * WIDTH;
  const place = (percent: number, k: number) => ({
    cx: x(percent) + ((k % ABREAST) - (ABREAST - 1) / 2) * 6.4,
    cy: HEIGHT - 5 - Math.floor(k / ABREAST) * pitch,
  });
  const rise = prospects.filter((p) => p.to !== null && p.to > p.from).length;
  const fall = prospects.filter((p) => p.to !== null && p.to < p.from).length;
  return (
    <svg
      role="img"
      aria-labelledby={id}
      viewBox={`0 0 ${WIDTH} ${HEIGHT + 24}`}
      className="w-full max-w-[900px]"
    >
      <title id={id}>{`Change in price of ${prospects.length} listings: ${rise} rise, ${fall} fall.`}</title>
      <path d={`M${x(0)} 0V${HEIGHT}`} stroke="var(--ink)" strokeDasharray="2 3" />
      <path d={`M0 ${HEIGHT}H${WIDTH}`} stroke="var(--rule)" />
      {[...columns].flatMap(([percent, { up, held }]) =>
        Array.from({ length: up + held }, (_, k) => {
          const { cx, cy } = place(percent, k);
          const key = `${percent}-${k}`;
          if (k >= up) return <path key={key} d={`M${cx} ${cy - 4}l4 4-4 4-4-4z`} fill="var(--lamp)" />;
          return (
            <circle
              key={key}
              cx={cx}
              cy={cy}
              r={Math.min(2.8, pitch * 0.42 + 0.6)}
              fill={percent === 0 ? 'var(--edge)' : percent < 0 ? 'var(--muted)' : 'var(--river)'}
            />
          );
        }),
      )}
      {[-20, -10, 0, 10, 20, 30, 40].map((percent) => (
        <text
          key={percent}
          x={x(percent)}
          y={HEIGHT + 17}
          fontSize="12"
          textAnchor="middle"
          fill="var(--muted)"
        >
          {percent > 0 ? '+' : percent < 0 ? '−' : ''}
          {Math.abs(percent)} %{percent === TO ? '+' : ''}
        </text>
      ))}
    </svg>
  );
}
