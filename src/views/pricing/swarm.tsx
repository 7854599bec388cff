'use client';
import { useId } from 'react';
import { countOf } from '../../core/units';
import { type Column, FROM, TO } from '../../work/pricing/prospects';

const WIDTH = 560;
const HEIGHT = 150;
/** Dots side by side within one column. */
const ABREAST = 3;
/** From dot to dot. */
const PITCH = 5;
/** Dots drawn at most; of more listings one dot stands for several. */
const MOST = 600;

/** Dots over the change in price, one for each listing or for some; columns too tall are squeezed so that all are seen. */
export function Swarm({
  spread,
  listings,
  rise,
  fall,
  what,
}: {
  spread: readonly Column[];
  listings: number;
  rise: number;
  fall: number;
  /** What one dot is. */
  what: 'listing' | 'item';
}) {
  const id = useId();
  const each = Math.ceil(listings / MOST);
  const dots = (n: number) => Math.ceil(n / each);
  const columns = spread.map(({ percent, moved, held }) => ({ percent, up: dots(moved), held: dots(held) }));
  const tallest = Math.max(1, ...columns.map((c) => Math.ceil((c.up + c.held) / ABREAST)));
  const pitch = Math.min(PITCH, (HEIGHT - 12) / tallest);
  const x = (percent: number) => ((percent - FROM + 2) / (TO - FROM + 4)) * WIDTH;
  const r = Math.min(2.1, pitch * 0.42 + 0.5);
  /** All dots of a colour are one path: hundreds of elements would hold the page up. */
  const paths = new Map<string, string>();
  for (const { percent, up, held } of columns) {
    const colour = percent === 0 ? 'var(--edge)' : percent < 0 ? 'var(--muted)' : 'var(--river)';
    for (let k = 0; k < up + held; k++) {
      const cx = x(percent) + ((k % ABREAST) - (ABREAST - 1) / 2) * PITCH;
      const cy = HEIGHT - 5 - Math.floor(k / ABREAST) * pitch;
      const fill = k < up ? colour : 'var(--lamp)';
      const shape =
        k < up
          ? `M${cx - r} ${cy}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`
          : `M${cx} ${cy - 3}l3 3-3 3-3-3z`;
      paths.set(fill, (paths.get(fill) ?? '') + shape);
    }
  }
  return (
    <svg
      role="img"
      aria-labelledby={id}
      viewBox={`0 0 ${WIDTH} ${HEIGHT + 24}`}
      className="mt-1 w-full max-w-[640px]"
    >
      <title id={id}>{`Change in price of ${countOf(listings, what)}: ${rise} rise, ${fall} fall.`}</title>
      <path d={`M${x(0)} 0V${HEIGHT}`} stroke="var(--ink)" strokeDasharray="2 3" />
      <path d={`M0 ${HEIGHT}H${WIDTH}`} stroke="var(--rule)" />
      {[...paths].map(([fill, d]) => (
        <path key={fill} d={d} fill={fill} />
      ))}
      {[-20, -10, 0, 10, 20, 30, 40].map((percent) => (
        <text
          key={percent}
          x={percent === TO ? WIDTH : x(percent)}
          y={HEIGHT + 17}
          fontSize="12"
          textAnchor={percent === TO ? 'end' : 'middle'}
          fill="var(--muted)"
        >
          {percent > 0 ? '+' : percent < 0 ? '−' : ''}
          {Math.abs(percent)} %{percent === TO ? '+' : ''}
        </text>
      ))}
      {each > 1 && (
        <text x={0} y={12} fontSize="12" fill="var(--muted)">
          {`one dot for ${each} ${what}s`}
        </text>
      )}
    </svg>
  );
}
