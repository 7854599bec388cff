'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Bookmark, X } from 'lucide-react';
import { useState } from 'react';
import { formatCount } from '../core/units';
import { Button } from './button';

/** A search that stands ready above its list. */
export interface ReadyView {
  readonly name: string;
  /** As it would be typed. */
  readonly query: string;
  /** '' for the list's own order. */
  readonly sort: string;
  /** Kept by the seller; others are always there. */
  readonly own: boolean;
}

interface Props {
  readonly label: string;
  readonly views: readonly ReadyView[];
  /** Matches by place among the views; null while they are counted. */
  readonly counts: readonly number[] | null;
  readonly query: string;
  readonly sort: string;
  readonly onOpen: (view: ReadyView) => void;
  readonly onKeep: (name: string) => Promise<boolean>;
  readonly onForget: (name: string) => Promise<void>;
}

/** Searches that stand ready above a list, each with how many it finds; what is searched now can be kept as one more. */
export function ViewsStrip({ label, views, counts, query, sort, onOpen, onKeep, onForget }: Props) {
  const [name, setName] = useState('');
  const shown = views.findIndex((v) => v.query === query.trim() && (!v.own || v.sort === sort));
  const own = views.filter((v) => v.own);
  return (
    <nav aria-label={label} className="flex flex-wrap items-center gap-1 px-5 pt-2 pb-1.5">
      {views.map((view, k) => (
        <button
          key={`${view.own} ${view.name}`}
          type="button"
          aria-current={k === shown || undefined}
          onClick={() => onOpen(view)}
          className={`rounded-sm border px-2 py-0.5 text-[13px] whitespace-nowrap ${k === shown ? 'border-river bg-river-soft font-semibold' : 'border-transparent hover:border-edge'}`}
        >
          {view.name}{' '}
          <span className={`tabular-nums ${counts?.[k] ? 'text-muted' : 'text-muted opacity-70'}`}>
            {counts?.[k] === undefined ? '…' : formatCount(counts[k])}
          </span>
        </button>
      ))}
      <Popover className="relative">
        <PopoverButton className="flex items-center gap-1 rounded-sm px-2 py-0.5 text-[13px] font-semibold text-river hover:bg-river-soft">
          <Bookmark aria-hidden size={13} />
          Views
        </PopoverButton>
        <PopoverPanel
          anchor="bottom start"
          className="z-40 w-[320px] rounded-sm border border-rule bg-surface p-3 text-[13.5px] shadow-md"
        >
          {({ close }) => (
            <>
              {own.length ? (
                <ul className="mb-3">
                  {own.map((v) => (
                    <li key={v.name} className="flex items-center gap-2 border-b border-rule-soft py-1">
                      <span className="min-w-0 grow">
                        <span className="block truncate font-semibold">{v.name}</span>
                        <span className="block truncate font-mono text-xs text-muted">
                          {v.query || 'everything'}
                        </span>
                      </span>
                      <button
                        type="button"
                        aria-label={`Forget “${v.name}”`}
                        className="p-1 text-muted hover:text-ink"
                        onClick={() => onForget(v.name)}
                      >
                        <X aria-hidden size={14} />
                      </button>
                    </li>
                  ))}
                </ul>
              ) : (
                <p className="mb-3 text-muted">No views of your own yet.</p>
              )}
              <form
                className="space-y-2"
                onSubmit={async (e) => {
                  e.preventDefault();
                  if (!name.trim() || !(await onKeep(name.trim()))) return;
                  setName('');
                  close();
                }}
              >
                <label className="block text-xs text-muted">
                  Keep this search and its order as
                  <input
                    value={name}
                    maxLength={40}
                    onChange={(e) => setName(e.target.value)}
                    className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
                  />
                </label>
                <Button type="submit" kind="main" disabled={!name.trim()}>
                  {own.some((v) => v.name === name.trim()) ? 'Replace the view' : 'Keep the view'}
                </Button>
              </form>
            </>
          )}
        </PopoverPanel>
      </Popover>
    </nav>
  );
}
