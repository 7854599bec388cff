'use client';
import { formatCount } from '../../core/units';
import { type Groups, SHOWS, type Show } from './rows';

const WORDS: Record<Show, string> = {
  sure: 'Sure',
  doubtful: 'Doubtful',
  none: 'Nothing found',
  linked: 'Linked',
};
const MEANS: Record<Show, string> = {
  sure: 'SKU, barcode or all details match, and nothing contradicts it. They can be linked in bulk.',
  doubtful:
    'There are candidates, but something contradicts each, or several are alike. Enter opens one, a digit links it, S skips.',
  none: 'No supplier offers a match. They keep selling; their orders are held, because there is no supplier to forward them to.',
  linked: 'Cost and stock follow the supplier; the price stays until you let a plan move it.',
};

/** Which listings are shown: by how surely their supplier item was found. */
export function Kinds({
  groups,
  show,
  onShow,
}: {
  groups: Groups;
  show: Show;
  onShow: (show: Show) => void;
}) {
  return (
    <fieldset
      aria-label="Which listings are shown"
      className="flex flex-wrap items-center gap-1.5 px-4 pb-1.5"
    >
      {SHOWS.map((s) => (
        <button
          key={s}
          type="button"
          aria-pressed={s === show}
          onClick={() => onShow(s)}
          className={`rounded-sm border px-2 py-0.5 text-[13px] ${s === show ? 'border-river bg-river-soft font-semibold' : 'border-rule bg-surface hover:border-river'}`}
        >
          {WORDS[s]} <span className="text-muted">{formatCount(groups[s].length)}</span>
        </button>
      ))}
      <span className="ml-1 text-[13px] text-muted">{MEANS[show]}</span>
    </fieldset>
  );
}
