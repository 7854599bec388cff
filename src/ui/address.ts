'use client';
import { usePathname, useSearchParams } from 'next/navigation';
import { useCallback } from 'react';

/**
 * State held in the page's address, so that back, reload and a second tab do what one expects. An empty value leaves the address.
 * Values come from outside: every reader must treat them as text of unknown content.
 */
export function useAddress(): {
  get: (name: string) => string;
  set: (values: Readonly<Record<string, string>>, step?: boolean) => void;
} {
  const params = useSearchParams();
  const path = usePathname();
  const get = useCallback((name: string) => (params.get(name) ?? '').slice(0, 2000), [params]);
  const set = useCallback(
    (values: Readonly<Record<string, string>>, step = false) => {
      const next = new URLSearchParams(window.location.search);
      for (const [name, value] of Object.entries(values)) {
        if (value) next.set(name, value);
        else next.delete(name);
      }
      const text = next.toString();
      window.history[step ? 'pushState' : 'replaceState'](null, '', text ? `${path}?${text}` : path);
    },
    [path],
  );
  return { get, set };
}
