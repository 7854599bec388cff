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
/** For how long after a key the router may write an earlier value into the address, on a busy machine. */
const LATE = 3_000;

/**
 * A value of the address that is typed: it moves with each key, the address follows when the typing rests.
 * Back and links move it, too, but for the moment after a key.
 */
export function useTyped(name: string): [string, (value: string) => void] {
  const { get, set } = useAddress();
  const there = get(name);
  const [value, setValue] = useState(there);
  /** As it was typed, or came from the address. */
  const newest = useRef(there);
  const typedAt = useRef(0);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  /** Brings the address to what was typed, and looks once more for as long as the router may be late. */
  const tell = useCallback(() => {
    clearTimeout(timer.current);
    if (readAddress(name) !== newest.current) set({ [name]: newest.current });
    if (Date.now() - typedAt.current < LATE) timer.current = setTimeout(tell, LATE / 3);
  }, [name, set]);
  useEffect(() => {
    if (Date.now() - typedAt.current < LATE) return;
    const now = readAddress(name);
    if (there !== now || now === newest.current) return;
    newest.current = now;
    setValue(now);
  }, [name, there]);
  useEffect(() => () => clearTimeout(timer.current), []);
  const change = useCallback(
    (next: string) => {
      setValue(next);
      newest.current = cut(next);
      typedAt.current = Date.now();
      clearTimeout(timer.current);
      timer.current = setTimeout(tell, TYPED);
    },
    [tell],
  );
  return [value, change];
}
