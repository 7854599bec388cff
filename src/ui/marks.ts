'use client';
import { useMemo, useState } from 'react';
import type { Marks } from './table';

export interface Marked extends Marks {
  readonly size: number;
  /** Every match of the search, seen or not. */
  readonly all: boolean;
  readonly keys: () => string[];
  readonly markAll: () => void;
  readonly clear: () => void;
}

/**
 * Which rows are marked; survives scrolling and sorting. `matches` is how many rows there are when all are
 * meant.
 */
export function useMarks(matches: number): Marked {
  const [keys, setKeys] = useState<ReadonlySet<string>>(new Set());
  const [all, setAll] = useState(false);
  return useMemo(
    () => ({
      size: all ? matches : keys.size,
      all,
      has: (key) => all || keys.has(key),
      toggle: (key) => {
        setAll(false);
        setKeys((before) => {
          const next = new Set(all ? [] : before);
          if (!next.delete(key)) next.add(key);
          return next;
        });
      },
      add: (more) => {
        setAll(false);
        setKeys((before) => new Set([...before, ...more]));
      },
      keys: () => [...keys],
      markAll: () => setAll(true),
      clear: () => {
        setAll(false);
        setKeys(new Set());
      },
    }),
    [keys, all, matches],
  );
}
