'use client';
import { KINDS } from '../core/fields';
import { type Condition, lineOf, problemInWords, problemsOf } from '../core/query';
import { countOf } from '../core/units';
import { theShop } from '../work/desk/client';
import { useAnswer } from './answer';

/** Milliseconds of rest after which what is typed is counted. */
const REST = 150;

const ALL = null;

/**
 * The goods that a condition matches, shown while it is typed: their number, some of them, and the words that were not understood.
 * @param marketplaces of which listings are counted; null for all
 */
export function GoodsCaught({
  filter,
  marketplaces = ALL,
}: {
  filter: Condition;
  marketplaces?: readonly string[] | null;
}) {
  const unread = problemsOf(filter, KINDS.goods);
  const caught = useAnswer(
    () => (unread.length ? null : theShop().goodsCaught(filter, marketplaces)),
    [lineOf(filter, KINDS.goods), unread.length, marketplaces],
    REST,
  );
  const problems = unread.length ? unread : (caught?.problems ?? []);
  if (problems.length)
    return (
      <ul role="alert" className="mt-1 text-xs text-loss">
        {problems.map((problem) => (
          <li key={problem.raw}>{problemInWords(problem)}</li>
        ))}
      </ul>
    );
  if (!caught) return <p className="mt-1 min-h-4 text-xs text-muted">Counting …</p>;
  return (
    <p role="status" className="mt-1 min-h-4 text-xs text-muted">
      {caught.listings
        ? `Catches ${countOf(caught.listings, 'listing')}: ${caught.examples.join('; ')}${caught.listings > caught.examples.length ? ' …' : ''}`
        : 'It catches nothing that is listed now.'}
    </p>
  );
}
