/** An item that a variant can be bought as, with what its supplier has of it now. */
export interface SourceOffer {
  /** Pieces of the item that one unit is made of. */
  readonly pack: number;
  /** Pieces that are to be had; null where nothing is known of the item. */
  readonly pieces: number | null;
}

const unitsOf = ({ pieces, pack }: SourceOffer): number => Math.max(0, Math.floor((pieces ?? 0) / pack));

/**
 * Which of a variant's sources is bought of: the preferred one, which stands first, while it has a unit; else the next
 * that has one; else the preferred one again. @returns its place; −1 where there is none
 */
export function chooseSource(offers: readonly SourceOffer[]): number {
  if (!offers.length) return -1;
  const first = offers.findIndex((o) => unitsOf(o) > 0);
  return Math.max(0, first);
}

/**
 * Shares units of a line over its sources: as many as the preferred one has, the rest of the next that has them. What none
 * has stays with the preferred one, where the check of stock finds it.
 * @returns units by place, none for sources that are not needed
 */
export function splitUnits(units: number, offers: readonly SourceOffer[]): number[] {
  const shares = offers.map(() => 0);
  let left = units;
  for (const [k, offer] of offers.entries()) {
    shares[k] = Math.min(left, unitsOf(offer));
    left -= shares[k]!;
  }
  if (left > 0 && shares.length) shares[0]! += left;
  return shares;
}
