'use client';
import { useMemo, useState } from 'react';
import type { Meant } from '../work/memory/listing-list';
import type { Marks } from './table/table';

export interface Marked extends Marks {
  readonly size: number;
  /** Every match of the search, seen or not, but for those in `except`. */
  readonly all: boolean;
  readonly except: ReadonlySet<string>;
  /** Of what is marked one by one; empty while all are. */
  readonly keys: () => string[];
  readonly markAll: () => void;
  readonly clear: () => void;
}

const NONE: ReadonlySet<string> = new Set();

/** What is marked of the matches of a search, in the words of the worker; null for nothing. */
export function meantBy(marks: Marked, query: string): Meant | null {
  if (marks.all) return { query, except: [...marks.except] };
  return marks.size ? { keys: marks.keys() } : null;
}

/**
 * Which rows are marked; survives scrolling and sorting. `matches` is how many rows there are when all are
 * meant.
 */
export function useMarks(matches: number): Marked {
  const [{ all, keys }, set] = useState({ all: false, keys: NONE });
  return useMemo(() => {
    const turned = (key: string) => {
      const next = new Set(keys);
      if (!next.delete(key)) next.add(key);
      return next;
    };
    return {
      size: all ? Math.max(0, matches - keys.size) : keys.size,
      all,
      except: all ? keys : NONE,
      has: (key) => keys.has(key) !== all,
      toggle: (key) => set({ all, keys: turned(key) }),
      add: (more) =>
        set({
          all,
          keys: all ? new Set([...keys].filter((k) => !more.includes(k))) : new Set([...keys, ...more]),
        }),
      keys: () => (all ? [] : [...keys]),
      markAll: () => set({ all: true, keys: NONE }),
      clear: () => set({ all: false, keys: NONE }),
    };
  }, [all, keys, matches]);
}
