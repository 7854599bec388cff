'use client';
import { usePathname, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import { type Timing, TypedText } from './typed-text';

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

const TIMING: Timing = {
  now: () => Date.now(),
  later: (milliseconds, run) => {
    const timer = setTimeout(run, milliseconds);
    return () => clearTimeout(timer);
  },
};

/** A value of the address that is typed: it moves with each key, the address follows when the typing rests. */
export function useTyped(name: string): [string, (value: string) => void] {
  const { get, set } = useAddress();
  const there = get(name);
  const [value, setValue] = useState(there);
  const setNow = useRef(set);
  setNow.current = set;
  const [text] = useState(
    () =>
      new TypedText(
        there,
        { read: () => readAddress(name), write: (typed) => setNow.current({ [name]: typed }) },
        TIMING,
        setValue,
      ),
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: it says that the address moved
  useEffect(() => text.moved(), [text, there]);
  useEffect(() => () => text.end(), [text]);
  const change = useCallback((next: string) => text.type(cut(next)), [text]);
  return [value, change];
}
