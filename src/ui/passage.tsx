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
  return (
    <svg
      role="img"
      aria-label={text}
      width={large ? '100%' : width}
      viewBox={`0 0 ${width} ${large ? 34 : 20}`}
      className="block overflow-visible"
    >
      <title>{text}</title>
      {MARKS.slice(1).map((name, i) => {
        const done = marks[i + 1] !== null && marks[i] !== null;
        if (heldAt === i)
          return (
            <g key={name}>
              <path
                d={`M${x(i)} 10h${step / 2 - 6}M${x(i + 1)} 10h${-(step / 2 - 6)}`}
                stroke="var(--edge)"
                strokeWidth="2"
              />
              <path d={`M${x(i) + step / 2} 3.5l5.5 6.5-5.5 6.5-5.5-6.5z`} fill="var(--lamp)" />
            </g>
          );
        return (
          <path
            key={name}
            d={`M${x(i)} 10H${x(i + 1)}`}
            stroke={done ? 'var(--river)' : 'var(--rule)'}
            strokeWidth="2"
            strokeDasharray={cancelled && !done ? '2 4' : undefined}
          />
        );
      })}
      {MARKS.map((name, i) => {
        if (marks[i]) return <circle key={name} cx={x(i)} cy="10" r="4.2" fill="var(--river)" />;
        const ring = late && i === next;
        return (
          <circle
            key={name}
            cx={x(i)}
            cy="10"
            r="3.6"
            fill="var(--surface)"
            stroke={ring ? 'var(--loss)' : 'var(--edge)'}
            strokeWidth={ring ? 2.6 : 1.3}
          />
        );
      })}
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
