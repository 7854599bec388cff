'use client';
import { usePathname, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';

const LONGEST = 2000;
const cut = (value: string | null) => (value ?? '').slice(0, LONGEST);

const readAddress = (name: string) => cut(new URLSearchParams(window.location.search).get(name));

/**
 * State held in the page's address, so that back, reload and a second tab do what one expects. An empty value
 * leaves the address. Values come from outside: every reader must treat them as text of unknown content.
 */
export function useAddress(): {
  get: (name: string) => string;
  set: (values: Readonly<Record<string, string>>, step?: boolean) => void;
} {
  const params = useSearchParams();
  const path = usePathname();
  const get = useCallback((name: string) => cut(params.get(name)), [params]);
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

const TYPED = 250;

/**
 * A value of the address that is typed: it moves with each key, the address follows when the typing rests.
 * Back and links move it, too.
 */
export function useTyped(name: string): [string, (value: string) => void] {
  const { get, set } = useAddress();
  const there = get(name);
  const [value, setValue] = useState(there);
  const told = useRef(there);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => {
    // The parameters follow the address late on a busy machine: what counts is what stands there now. If that
    // is what was told, `there` is an echo of it or of an earlier key; anything else was changed from outside.
    const now = there === told.current ? there : readAddress(name);
    if (now !== told.current) {
      clearTimeout(timer.current);
      told.current = now;
      setValue(now);
    }
  }, [name, there]);
  useEffect(() => () => clearTimeout(timer.current), []);
  const change = useCallback(
    (next: string) => {
      setValue(next);
      clearTimeout(timer.current);
      timer.current = setTimeout(() => {
        told.current = cut(next);
        set({ [name]: next });
      }, TYPED);
    },
    [name, set],
  );
  return [value, change];
}
