import { MARKS } from '../core/orders';
import { type Instant, spanOf, whenOf } from '../core/units';

interface Props {
  /** Times of the six marks, null for those not reached. */
  readonly marks: readonly (Instant | null)[];
  /** The leg on which it is held (0 lies between paid and checked), or null. */
  readonly heldAt: number | null;
  readonly late: boolean;
  readonly cancelled: boolean;
  readonly shipBy: Instant;
  readonly now: Instant;
  readonly zone: string;
  readonly large?: boolean;
}

function inWords({ marks, heldAt, late, cancelled, shipBy, now, zone }: Props): string {
  const reached = MARKS.flatMap((name, i) => (marks[i] ? [`${name} ${whenOf(marks[i]!, now, zone)}`] : []));
  const left = marks[3]
    ? ''
    : shipBy > now
      ? `, ${spanOf(shipBy - now)} left to ship`
      : `, ${spanOf(now - shipBy)} past ship-by`;
  return `${reached.join(', ')}${cancelled ? ', cancelled' : heldAt !== null ? `, held after ${MARKS[heldAt]}` : ''}${late ? ', late' : ''}${cancelled ? '' : left}`;
}

/**
 * An order's way in six marks: filled where it has been, a break with a diamond where it is held, a ring in
 * the colour of loss where it is late.
 */
export function Passage(props: Props) {
  const { marks, heldAt, late, cancelled, large } = props;
  const width = large ? 356 : 144;
  const step = (width - 12) / (MARKS.length - 1);
  const x = (i: number) => 6 + i * step;
  const next = marks.indexOf(null);
  const text = inWords(props);
  const legs = (wanted: boolean) =>
    MARKS.slice(1)
      .map((_, i) => i)
      .filter((i) => heldAt !== i && (marks[i + 1] !== null && marks[i] !== null) === wanted)
      .map((i) => `M${x(i)} 10H${x(i + 1)}`)
      .join('');
  const lines = [
    { legs: legs(true), stroke: 'var(--river)' },
    { legs: legs(false), stroke: 'var(--rule)', strokeDasharray: cancelled ? '2 4' : undefined },
  ].filter((line) => line.legs);
  const held =
    heldAt === null || heldAt >= MARKS.length - 1
      ? null
      : {
          ends: `M${x(heldAt)} 10h${step / 2 - 6}M${x(heldAt + 1)} 10h${-(step / 2 - 6)}`,
          diamond: `M${x(heldAt) + step / 2} 3.5l5.5 6.5-5.5 6.5-5.5-6.5z`,
        };
  /** A line of no length with round ends is a dot. */
  const points = (wanted: (i: number) => boolean) =>
    MARKS.map((_, i) => (wanted(i) ? `M${x(i)} 10h0` : '')).join('');
  const open = points((i) => !marks[i] && !(late && i === next));
  const ring = points((i) => !marks[i] && late && i === next);
  const dots = [
    { at: points((i) => Boolean(marks[i])), stroke: 'var(--river)', strokeWidth: 8.4 },
    { at: open, stroke: 'var(--edge)', strokeWidth: 8.5 },
    { at: open, stroke: 'var(--surface)', strokeWidth: 5.9 },
    { at: ring, stroke: 'var(--loss)', strokeWidth: 9.8 },
    { at: ring, stroke: 'var(--surface)', strokeWidth: 4.6 },
  ].filter((dot) => dot.at);
  return (
    <svg
      role="img"
      aria-label={text}
      width={large ? '100%' : width}
      viewBox={`0 0 ${width} ${large ? 34 : 20}`}
      className="block overflow-visible"
    >
      <title>{text}</title>
      {/* Few elements, as a list draws many of these: legs and marks of one look are one path. */}
      {lines.map(({ legs, ...look }) => (
        <path key={look.stroke} d={legs} fill="none" strokeWidth="2" {...look} />
      ))}
      {held && (
        <>
          <path d={held.ends} stroke="var(--edge)" strokeWidth="2" />
          <path d={held.diamond} fill="var(--lamp)" />
        </>
      )}
      {dots.map(({ at, ...look }) => (
        <path key={`${look.stroke} ${look.strokeWidth}`} d={at} strokeLinecap="round" {...look} />
      ))}
      {large &&
        MARKS.map((name, i) => (
          <text
            key={name}
            x={x(i)}
            y="30"
            fontSize="10.5"
            fill="var(--muted)"
            textAnchor={i === 0 ? 'start' : i === MARKS.length - 1 ? 'end' : 'middle'}
            dx={i === 0 ? -6 : i === MARKS.length - 1 ? 6 : 0}
          >
            {name === 'marketplace told' ? 'told' : name}
          </text>
        ))}
    </svg>
  );
}
