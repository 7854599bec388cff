import { formatCount } from '../core/units';
import { Button } from './button';
import type { Marked } from './marks';

/** `11 of 159`: how many an act means where a search leaves some out. */
export const countAmong = (some: number, all: number): string =>
  some === all ? formatCount(all) : `${formatCount(some)} of ${formatCount(all)}`;

/** Why acts on all matches wait. */
export const MISREAD = 'Mend the search first: a term of it is not understood';

/** How many rows are selected of the matches of a search, told at their true size, and the way to clear them. */
export function MarkedCount({ marks, matches = 0 }: { marks: Marked; matches?: number }) {
  return (
    <>
      <span className="text-[13.5px]">
        {marks.all && !marks.except.size ? `all ${formatCount(marks.size)} matches` : formatCount(marks.size)}{' '}
        selected
      </span>
      <Button kind="text" onClick={marks.clear}>
        Clear
      </Button>
      {!marks.all && matches > marks.size && (
        <Button kind="text" onClick={marks.markAll}>
          Select all {formatCount(matches)}
        </Button>
      )}
    </>
  );
}
