import { formatCount } from '../core/units';
import { Button } from './button';
import type { Marked } from './marks';

/** How many rows are marked, told at their true size, and the way to clear them. */
export function MarkedCount({ marks }: { marks: Marked }) {
  return (
    <>
      <span className="text-[13.5px]">
        {marks.all && !marks.except.size ? `all ${formatCount(marks.size)} matches` : formatCount(marks.size)}{' '}
        marked
      </span>
      <Button kind="text" onClick={marks.clear}>
        Clear
      </Button>
    </>
  );
}
