import type { Catalogue } from '../../core/catalogue';
import { type Match, REASON_COLUMN } from '../../core/lists';
import { decimalOf } from '../../core/money';
import type { Session } from './session';

/**
 * Times by which a cost may rise or fall between two lists before it is asked about: beyond it, cells have
 * more likely moved aside.
 */
const LEAP = 10;

export const isLeap = (was: number, cost: number) => cost >= was * LEAP || was >= cost * LEAP;

export const leapInWords = (was: number, currency: string) =>
  `the cost was ${decimalOf(was, currency)}: ${LEAP} times as much or as little is asked about, not taken`;

/** The cost of an item so far; null where it is new or was gone. */
export function costBefore(catalogue: Catalogue, sku: string): number | null {
  const row = catalogue.rowOf(sku);
  return row < 0 || catalogue.gone[row] ? null : catalogue.numbers.cost[row]!;
}

/**
 * Whether leaps of costs are asked about: not in rows that a person sent again, and not where the list is
 * read in another way than before, by which all costs may be others.
 */
export function asksOfLeaps(session: Session, match: Match): boolean {
  if (match.header.includes(REASON_COLUMN)) return false;
  const before = session.note?.source ?? '';
  return !(match.whole && before.startsWith('list:') && before !== session.source);
}
