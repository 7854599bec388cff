import { type SourceOffer, splitUnits } from './choose';

/** How a source is chosen of several. */
export type Strategy = 'preferred' | 'cheapest' | 'fastest' | 'nearest';

/** What speaks against buying of a source. */
export type Against =
  /** It has no unit, or fewer than are wanted. */
  | { readonly why: 'stock'; readonly has: number }
  | { readonly why: 'destination' }
  /** Its carrier does not take this address. */
  | { readonly why: 'address' }
  | { readonly why: 'stopped' }
  | { readonly why: 'refused' }
  /** Other goods in its place: bought by a person's word alone. */
  | { readonly why: 'substitute' }
  /** Its cost, shipping or an exchange rate is not known. */
  | { readonly why: 'cost' }
  | { readonly why: 'not connected' };

/** A source that units of a line can be bought of. */
export interface Candidate extends SourceOffer {
  readonly supplier: string;
  readonly item: string;
  /** Goods and shipping of all units of the line bought of it alone, in the currency of the books; null where unknown. */
  readonly landed: number | null;
  /** Promised days to the buyer; null where none are promised. */
  readonly days: number | null;
  /** Whether it ships from the buyer's country. */
  readonly near: boolean;
  readonly against: readonly Against[];
}

/** Whether nothing can be bought of it, whatever it has. */
const isOut = ({ against }: Candidate): boolean =>
  against.some(({ why }) => why !== 'stock' && why !== 'cost');

/** What is not known comes last. */
const upwards = (a: number | null, b: number | null): number =>
  (a ?? Number.POSITIVE_INFINITY) === (b ?? Number.POSITIVE_INFINITY)
    ? 0
    : (a ?? Number.POSITIVE_INFINITY) - (b ?? Number.POSITIVE_INFINITY);

/**
 * Candidates in the order in which they are bought of. Those that nothing can be bought of stand last; where two are alike
 * the one that the seller prefers goes first.
 * @param some in the seller's order
 * @param upTo what nearness may cost more than the cheapest, in the currency of the books
 * @param chosen the place of the one that a person chose
 * @returns places
 */
export function rankCandidates(
  some: readonly Candidate[],
  by: Strategy,
  upTo: number,
  chosen: number | null = null,
): number[] {
  const least = Math.min(...some.filter((c) => !isOut(c)).map((c) => c.landed ?? Number.POSITIVE_INFINITY));
  const isNear = (c: Candidate) => c.near && c.landed !== null && c.landed <= least + upTo;
  const better = (a: Candidate, b: Candidate): number => {
    switch (by) {
      case 'preferred':
        return 0;
      case 'cheapest':
        return upwards(a.landed, b.landed);
      case 'fastest':
        return upwards(a.days, b.days) || upwards(a.landed, b.landed);
      case 'nearest':
        return Number(isNear(b)) - Number(isNear(a)) || upwards(a.landed, b.landed);
    }
  };
  return some
    .map((_, k) => k)
    .sort((a, b) => {
      const [x, y] = [some[a]!, some[b]!];
      return (
        Number(isOut(x)) - Number(isOut(y)) ||
        Number(b === chosen) - Number(a === chosen) ||
        better(x, y) ||
        a - b
      );
    });
}

/**
 * Shares units of a line over its candidates in their rank: as many as the first has, the rest of the next that has them;
 * nothing is bought of one that is out. What none has stays with the first, where the checks say what is wrong.
 * @returns units by place in `some`
 */
export function shareUnits(units: number, some: readonly Candidate[], rank: readonly number[]): number[] {
  const shares = some.map(() => 0);
  const able = rank.filter((k) => !isOut(some[k]!));
  const open = able.length ? able : rank.slice(0, 1);
  const split = splitUnits(
    units,
    open.map((k) => some[k]!),
  );
  for (const [n, k] of open.entries()) shares[k] = split[n]!;
  return shares;
}
