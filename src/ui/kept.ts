'use client';
import { useCallback, useState } from 'react';

/**
 * A draft that outlives leaving the view and a reload, for this tab; it is forgotten where it says what is saved.
 * @param key under which it is kept
 * @param saved what it begins from
 * @param isOne whether what was kept is one: it was written by an earlier version, or by hand
 */
export function useKeptDraft<T>(
  key: string,
  saved: T,
  isOne: (value: unknown) => value is T,
): {
  readonly draft: T;
  readonly changed: boolean;
  readonly set: (draft: T) => void;
  readonly drop: () => void;
} {
  const place = `draft:${key}`;
  const [typed, setTyped] = useState<T | null>(() => {
    try {
      const kept: unknown = JSON.parse(sessionStorage.getItem(place) ?? 'null');
      return isOne(kept) ? kept : null;
    } catch {
      return null;
    }
  });
  const draft = typed ?? saved;
  const changed = typed !== null && JSON.stringify(typed) !== JSON.stringify(saved);
  const drop = useCallback(() => {
    sessionStorage.removeItem(place);
    setTyped(null);
  }, [place]);
  const set = useCallback(
    (next: T) => {
      sessionStorage.setItem(place, JSON.stringify(next));
      setTyped(next);
    },
    [place],
  );
  return { draft, changed, set, drop };
}
