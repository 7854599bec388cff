import { WHOLE } from '../money';
import type { Fee } from './fee';

/**
 * A stretch of prices on which everything taken of them, were nothing rounded, grows evenly: what is left of a price p up to `upTo` is
 * `slope × p + base`. Floating point, as it only says where a search begins.
 */
export interface Piece {
  readonly upTo: number;
  readonly slope: number;
  readonly base: number;
}

/** How the base of a fee grows with the price. */
const growth = (fee: Fee) =>
  fee.plusTax ? 1 + fee.plusTax / WHOLE : fee.lessTax ? WHOLE / (WHOLE + fee.lessTax) : 1;

/** The percentage of a fee on a base, not rounded and without its limits. */
function shareOf(fee: Fee, base: number): number {
  let sum = 0;
  let from = 0;
  for (const { upTo, rate } of fee.bands) {
    const to = upTo === null ? base : Math.min(base, upTo);
    if (to > from) sum += ((to - from) * rate) / WHOLE;
    if (upTo === null || base <= upTo) break;
    from = upTo;
  }
  return sum;
}

const unrounded = (fee: Fee, price: number) =>
  Math.min(Math.max(shareOf(fee, price * growth(fee)), fee.least), fee.most) + fee.fixed;

/** Prices at which a fee begins to grow otherwise: ends of bands, and where it leaves its least or reaches its most. */
function bends(fee: Fee): number[] {
  const g = growth(fee);
  const at: number[] = [];
  let from = 0;
  let below = 0;
  for (const { upTo, rate } of fee.bands) {
    const end = upTo ?? Number.POSITIVE_INFINITY;
    for (const limit of [fee.least, fee.most]) {
      const reached = rate > 0 ? from + ((limit - below) * WHOLE) / rate : -1;
      if (reached > from && reached < end) at.push(reached / g);
    }
    if (upTo !== null) at.push(upTo / g);
    below += ((end - from) * rate) / WHOLE;
    from = end;
  }
  return at;
}

/** Everything taken of a price, as straight pieces by growing price; the last has no end. */
export function piecesOf(fees: readonly Fee[], taxInside: number): Piece[] {
  const left = (price: number) =>
    price - (price * taxInside) / (WHOLE + taxInside) - fees.reduce((sum, f) => sum + unrounded(f, price), 0);
  const ends = [...new Set(fees.flatMap(bends))].filter((p) => p > 0).sort((a, b) => a - b);
  let from = 0;
  return [...ends, Number.POSITIVE_INFINITY].map((upTo) => {
    const to = upTo === Number.POSITIVE_INFINITY ? from + 1_000_000 : upTo;
    const slope = (left(to) - left(from)) / (to - from);
    const base = left(from) - slope * from;
    from = to;
    return { upTo, slope, base };
  });
}
