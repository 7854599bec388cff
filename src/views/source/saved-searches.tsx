'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Bookmark, X } from 'lucide-react';
import { memo, useState } from 'react';
import { ITEM_FIELDS, readItems } from '../../core/catalogue';
import { type Condition, lineOf } from '../../core/query';
import { countOf } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { MOST_TAKEN } from '../../work/catalogue/watch';
import { theShop } from '../../work/desk/client';
import type { SavedSearch } from '../../work/model';

const WATCH: Record<SavedSearch['watch'], string> = {
  off: 'just save it',
  report: 'show new matches on Today',
  take: 'put new matches on the Bench',
  approve: 'put them there and approve what lacks nothing',
};

interface Props {
  /** The search as it stands when it is to be kept. */
  readonly queryNow: () => string;
  readonly sort: string;
  readonly market: string | null;
  readonly onOpen: (search: SavedSearch) => void;
}

/** Searches kept under a name, and what is done with their new matches. */
function PlainSavedSearches({ queryNow, sort, market, onOpen }: Props) {
  const saved = useFeed('savedSearches');
  const [name, setName] = useState('');
  const [watch, setWatch] = useState<SavedSearch['watch']>('report');
  const known = async (q: Condition) => (await theShop().matchesOf(q, market)).hashes;
  const keep = async () => {
    const query = readItems(queryNow());
    const same = saved?.find((s) => s.name === name.trim());
    const kept = await theShop().saveSearch(
      { id: same?.id, name: name.trim().slice(0, 60), query, sort, market, watch },
      await known(query),
    );
    if (!kept.ok) return say(`The search was not saved: ${kept.reason}`, { wrong: true });
    setName('');
    await say(
      `“${name.trim()}” is saved${watch === 'off' ? '' : `: after each refresh it will ${WATCH[watch]}`}.`,
    );
  };
  const change = async (s: SavedSearch, to: SavedSearch['watch']) => {
    const update: Partial<SavedSearch> = {
      watch: to,
      ...(s.watch === 'off' && { known: await known(s.query) }),
    };
    await theShop().updateSearch(s.id, update);
  };
  const forget = async (s: SavedSearch) => {
    await theShop().forgetSearch(s);
    await say(`“${s.name}” is forgotten.`, { undo: true });
  };
  const fresh = saved?.reduce((n, s) => n + s.fresh, 0) ?? 0;
  return (
    <Popover className="relative shrink-0">
      <PopoverButton className="flex items-center gap-1.5 rounded-sm border border-edge px-2 py-1 text-[13px] font-semibold text-river hover:bg-river-soft">
        <Bookmark aria-hidden size={14} />
        Saved{saved?.length ? ` ${saved.length}` : ''}
        {fresh > 0 && <span className="text-lamp">, {fresh} new</span>}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 w-[400px] rounded-sm border border-rule bg-surface p-3 text-[13.5px] shadow-md"
      >
        {({ close }) => (
          <>
            {saved?.length ? (
              <ul>
                {saved.map((s) => (
                  <li key={s.id} className="flex items-center gap-2 border-b border-rule-soft py-1.5">
                    <button
                      type="button"
                      className="min-w-0 grow text-left hover:underline"
                      onClick={() => {
                        onOpen(s);
                        close();
                      }}
                    >
                      <span className="block truncate font-semibold text-river">{s.name}</span>
                      <span className="block truncate font-mono text-xs text-muted">
                        {lineOf(s.query, ITEM_FIELDS) || 'everything'}
                      </span>
                      {s.fresh > 0 && (
                        <span className="text-xs font-semibold text-lamp">
                          {countOf(s.fresh, 'new match', 'new matches')}
                        </span>
                      )}
                    </button>
                    <select
                      aria-label={`What “${s.name}” does with new matches`}
                      value={s.watch}
                      onChange={(e) => change(s, e.target.value as SavedSearch['watch'])}
                      className="w-40 rounded-sm border border-edge bg-surface text-xs"
                    >
                      {Object.entries(WATCH).map(([value, words]) => (
                        <option
                          key={value}
                          value={value}
                          disabled={(value === 'take' || value === 'approve') && !s.market}
                        >
                          {words}
                        </option>
                      ))}
                    </select>
                    <button
                      type="button"
                      aria-label={`Forget “${s.name}”`}
                      className="p-1 text-muted hover:text-ink"
                      onClick={() => forget(s)}
                    >
                      <X aria-hidden size={14} />
                    </button>
                  </li>
                ))}
              </ul>
            ) : (
              <p className="text-muted">
                No saved searches yet. A saved search can watch for new matches after each refresh.
              </p>
            )}
            <form
              className="mt-3 space-y-2"
              onSubmit={(e) => {
                e.preventDefault();
                if (name.trim()) keep();
              }}
            >
              <label className="block text-xs text-muted">
                Save this search as
                <input
                  value={name}
                  onChange={(e) => setName(e.target.value)}
                  className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
                />
              </label>
              <label className="block text-xs text-muted">
                and
                <select
                  value={watch}
                  onChange={(e) => setWatch(e.target.value as SavedSearch['watch'])}
                  className="ml-1 rounded-sm border border-edge bg-surface px-1 py-0.5 text-sm text-ink"
                >
                  {Object.entries(WATCH).map(([value, words]) => (
                    <option
                      key={value}
                      value={value}
                      disabled={(value === 'take' || value === 'approve') && !market}
                    >
                      {words}
                    </option>
                  ))}
                </select>
              </label>
              {(watch === 'take' || watch === 'approve') && (
                <p className="text-xs text-muted">More than {MOST_TAKEN} at once are only shown.</p>
              )}
              <Button type="submit" kind="main" disabled={!name.trim()}>
                Save the search
              </Button>
            </form>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** Not drawn again with each key that is typed into the search. */
export const SavedSearches = memo(PlainSavedSearches);
