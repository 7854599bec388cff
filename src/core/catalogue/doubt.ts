import { type Ppm, WHOLE } from '../money';

/**
 * Why it is asked before what a list does not name is taken for gone: it breaks off in the middle of a record
 * (`cut`), it tells fewer items than it says it has (`short`), rows of it cannot be told whose they are
 * (`unknown`), or a large share of the items would go (`share`).
 */
export type Doubt = 'cut' | 'short' | 'unknown' | 'share';

/** Fewer items than this go without a question, whatever their share. */
const FEW = 3;
/** Share from which it is asked, until a seller says otherwise. */
export const ASK_FROM: Ppm = 200_000;

/**
 * @param missing items that did not come; offered: items there were; askFrom: the share of them from which it
 * is asked, in millionths; more than 1,000,000 is never
 */
export function doubtOf(of: {
  missing: number;
  offered: number;
  cut: boolean;
  short: boolean;
  unknown: number;
  askFrom: Ppm;
}): Doubt | null {
  if (of.missing === 0) return null;
  if (of.cut) return 'cut';
  if (of.short) return 'short';
  if (of.unknown > 0) return 'unknown';
  return of.missing >= FEW && of.missing * WHOLE >= of.offered * of.askFrom ? 'share' : null;
}
