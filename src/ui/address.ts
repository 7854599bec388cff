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
/** For how long the router may still write an earlier value into the address, on a busy machine. */
const ECHO = 3_000;
/** When the address is looked at once more: the router may have written an earlier value over it. */
const SETTLED = 1_000;

/**
 * A value of the address that is typed: it moves with each key, the address follows when the typing rests.
 * Back and links move it, too.
 */
export function useTyped(name: string): [string, (value: string) => void] {
  const { get, set } = useAddress();
  const there = get(name);
  const [value, setValue] = useState(there);
  /** What was told to the address, the newest last. */
  const told = useRef([{ value: there, at: 0 }]);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const check = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const tell = useCallback(
    (next: string) => {
      const at = Date.now();
      told.current = [...told.current.filter((t) => at - t.at < ECHO), { value: cut(next), at }];
      set({ [name]: next });
      clearTimeout(check.current);
      check.current = setTimeout(() => {
        const newest = told.current.at(-1)!.value;
        if (readAddress(name) !== newest) set({ [name]: newest });
      }, SETTLED);
    },
    [name, set],
  );
  useEffect(() => {
    const newest = told.current.at(-1)!.value;
    const now = there === newest ? there : readAddress(name);
    if (now === newest) return;
    // What was told a moment ago and comes back late is no change from outside.
    if (told.current.some((t) => t.value === now && Date.now() - t.at < ECHO)) {
      tell(newest);
      return;
    }
    clearTimeout(timer.current);
    told.current = [{ value: now, at: 0 }];
    setValue(now);
  }, [name, there, tell]);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      clearTimeout(check.current);
    },
    [],
  );
  const change = useCallback(
    (next: string) => {
      setValue(next);
      clearTimeout(timer.current);
      timer.current = setTimeout(() => tell(next), TYPED);
    },
    [tell],
  );
  return [value, change];
}
