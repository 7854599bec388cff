import { countOf, formatCount } from '../../core/units';
import type { DoubtRow } from '../../store';

/** Why what a list does not name is not taken for gone by itself. */
export function doubtInWords({
  why,
  rows,
  offered,
  unknown,
}: Pick<DoubtRow, 'why' | 'rows' | 'offered' | 'unknown'>): string {
  const missing = `${formatCount(rows.length)} of ${countOf(offered, 'item')} did not come`;
  switch (why) {
    case 'cut':
      return `${missing}, and the list ends in the middle of a row`;
    case 'short':
      return `${missing}, and the service sent fewer than it says it has`;
    case 'unknown':
      return `${missing}, and it cannot be told whose ${countOf(unknown, 'row')} ${unknown === 1 ? 'is' : 'are'}`;
    case 'share':
      return missing;
  }
}
