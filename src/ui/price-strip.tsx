import { useId } from 'react';
import { type Currency, formatMinor, formatShare } from '../core/money';
import { type Sum, totalOf } from '../core/pricing';

interface Props {
  readonly sum: Sum;
  readonly breakEven: number | null;
  readonly currency: Currency;
  readonly map?: number | null;
  readonly msrp?: number | null;
  /** Full width with its numbers, for the docket. */
  readonly large?: boolean;
}

/** In a row the price always stands at the same place, so that profit shares compare down the column. */
const PRICE_AT = 0.8;

/** What is drawn of a sum: landed cost, the marketplace's fees, the payment fee, tax. */
const partsOf = (sum: Sum) => ({
  landed: sum.landed,
  fee: totalOf(sum, 'sale', 'listing', 'advertising'),
  payment: totalOf(sum, 'payment'),
  tax: totalOf(sum, 'tax'),
});

function inWords({ sum, breakEven, currency, map, msrp }: Props): string {
  const m = (n: number) => formatMinor(n, currency);
  const part = partsOf(sum);
  const end =
    sum.profit < 0
      ? `loss ${m(-sum.profit)}`
      : `profit ${m(sum.profit)}, ${formatShare(sum.profit, sum.price)}`;
  const guards = [map ? `MAP ${m(map)}` : '', msrp ? `MSRP ${m(msrp)}` : ''].filter(Boolean).join(', ');
  return `Price ${m(sum.price)}: landed cost ${m(sum.landed)}, marketplace fees ${m(part.fee)}, payment fee ${m(part.payment)}${part.tax ? `, VAT ${m(part.tax)}` : ''}, ${end}. Break-even ${breakEven === null ? 'none' : m(breakEven)}.${guards ? ` ${guards}.` : ''}`;
}

/** Room that “price 159.99” and “break-even 159.99” take. */
const PRICE_LABEL = 80;
const BREAK_EVEN_LABEL = 100;

/**
 * Where the two labels above the strip stand so that they never cover each other: the price ends at its mark,
 * break-even stays clear of it.
 */
function labelsAt(
  price: number,
  breakEven: number | null,
  width: number,
): { price: number; breakEven: number; breakEvenAnchor: 'start' | 'end' } {
  const loses = breakEven !== null && breakEven > price;
  if (loses)
    return {
      price: Math.min(price - 6, width - BREAK_EVEN_LABEL - 6),
      breakEven: Math.min(breakEven + 4, width - BREAK_EVEN_LABEL),
      breakEvenAnchor: 'start',
    };
  const end = Math.min(Math.max(price + PRICE_LABEL, PRICE_LABEL), width);
  return {
    price: end,
    breakEven: Math.max(Math.min((breakEven ?? 0) - 4, end - PRICE_LABEL), BREAK_EVEN_LABEL),
    breakEvenAnchor: 'end',
  };
}

/**
 * A price from nothing upwards: what leaves it, the tick at break-even, the profit beyond, a shortfall
 * hatched, a bracket for MAP and MSRP.
 */
export function PriceStrip(props: Props) {
  const { sum, breakEven, currency, map, msrp, large } = props;
  const hatch = useId();
  const width = large ? 356 : 124;
  const top = large ? 16 : 4;
  const bar = large ? 16 : 9;
  const part = partsOf(sum);
  const costs = part.landed + part.fee + part.payment + part.tax;
  const end = large ? Math.max(sum.price, costs, msrp ?? 0) * 1.03 : sum.price / PRICE_AT;
  const x = (minor: number) => (Math.min(Math.max(minor, 0), end) / end) * width;
  const parts = [
    ['var(--goods)', part.landed],
    ['var(--fee)', part.fee],
    ['var(--payment)', part.payment],
    ['var(--tax)', part.tax],
  ] as const;
  const labels = labelsAt(x(sum.price), breakEven === null ? null : x(breakEven), width);
  let at = 0;
  const text = inWords(props);
  const low = Math.min(sum.price, costs);
  const high = Math.max(sum.price, costs);
  return (
    <svg
      role="img"
      aria-label={text}
      width={large ? '100%' : width}
      viewBox={`0 0 ${width} ${large ? 50 : 18}`}
      className="block overflow-visible"
    >
      <title>{text}</title>
      {sum.profit < 0 && (
        <pattern id={hatch} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--loss-soft)" />
          <rect width="2" height="5" fill="var(--loss)" />
        </pattern>
      )}
      {parts.map(([fill, minor]) => {
        const from = x(at);
        at += minor;
        return (
          <rect key={fill} x={from} y={top} width={Math.max(0, x(at) - from)} height={bar} fill={fill} />
        );
      })}
      <rect
        x={x(low)}
        y={top}
        width={Math.max(0, x(high) - x(low))}
        height={bar}
        fill={sum.profit < 0 ? `url(#${hatch})` : 'var(--river)'}
      />
      {breakEven !== null && breakEven <= end && (
        <rect x={x(breakEven) - 0.75} y={top - 3} width="1.5" height={bar + 6} fill="var(--ink)" />
      )}
      <path d={`M${x(sum.price) - 4} ${top - 4}h8l-4 5z`} fill="var(--ink)" />
      {map ? <path d={`M${x(map) + 3} ${top + bar + 4}h-3v-4`} fill="none" stroke="var(--muted)" /> : null}
      {msrp && msrp <= end ? (
        <path d={`M${x(msrp) - 3} ${top + bar + 4}h3v-4`} fill="none" stroke="var(--muted)" />
      ) : null}
      {large && (
        <g fontSize="11" fill="var(--muted)">
          {breakEven !== null && (
            <text x={labels.breakEven} y="9" textAnchor={labels.breakEvenAnchor}>
              break-even {formatMinor(breakEven, currency)}
            </text>
          )}
          <text x={labels.price} y="9" textAnchor="end" fontWeight="600" fill="var(--ink)">
            price {formatMinor(sum.price, currency)}
          </text>
          {map ? (
            // Its text ends before that of MSRP begins.
            <text
              x={Math.min(x(map) + 34, msrp && msrp <= end ? x(msrp) - 78 : width)}
              y={top + bar + 16}
              textAnchor="end"
            >
              MAP {formatMinor(map, currency)}
            </text>
          ) : null}
          {msrp && msrp <= end ? (
            <text x={x(msrp)} y={top + bar + 16} textAnchor="end">
              MSRP {formatMinor(msrp, currency)}
            </text>
          ) : null}
        </g>
      )}
    </svg>
  );
}
