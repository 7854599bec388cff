'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type DependencyList, useDeferredValue, useEffect, useId, useRef, useState } from 'react';
import { asked } from './asked';
import { useFailing } from './failing';

/** A number that is another whenever one of some values is, once they rest for some milliseconds. */
function useTurn(on: DependencyList, rest: number): number {
  const [seen, setSeen] = useState({ on, turn: 0 });
  const turn = on.every((value, k) => Object.is(value, seen.on[k])) ? seen.turn : seen.turn + 1;
  if (turn !== seen.turn) setSeen({ on, turn });
  const [rested, setRested] = useState(0);
  useEffect(() => {
    if (!rest) return;
    const timer = setTimeout(() => setRested(turn), rest);
    return () => clearTimeout(timer);
  }, [turn, rest]);
  return rest ? rested : turn;
}

/**
 * The answer to a question, asked again whenever what it depends on changes; the one before stays until then. Where it
 * fails, that is said, with a way to try again.
 * @param rest milliseconds for which what it depends on stays the same before it is asked: while one types
 */
export function useAnswer<T>(ask: () => Promise<T> | T, on: DependencyList, rest = 0): T | undefined {
  const own = useId();
  const turn = useTurn(on, rest);
  const fail = useFailing();
  const query = useQuery(
    {
      queryKey: ['answer', own, turn],
      queryFn: async () => ({ got: await ask() }),
      placeholderData: keepPreviousData,
      structuralSharing: false,
      throwOnError: false,
      gcTime: 0,
    },
    asked,
  );
  const { data, error, refetch } = query;
  const last = useRef(data);
  if (data) last.current = data;
  useEffect(() => {
    if (error) fail(error, last.current !== undefined, refetch);
  }, [error, fail, refetch]);
  return useDeferredValue(last.current)?.got;
}

/**
 * As `useAnswer`, for what follows a hand that does not pause: each answer is shown at once though what it depends on has
 * moved on, and one question runs at a time, the newest next.
 * @param rest milliseconds for which what it depends on stays the same before it is asked
 */
export function useFollowing<T>(ask: () => Promise<T>, on: DependencyList, rest = 0): T | undefined {
  const [answer, setAnswer] = useState<T>();
  const fail = useFailing();
  const line = useRef({ ask, running: false, again: false, gone: false, shown: false });
  useEffect(() => {
    const at = line.current;
    at.ask = ask;
    at.again = true;
    const run = async () => {
      at.running = true;
      while (at.again && !at.gone) {
        at.again = false;
        if (rest) await new Promise((done) => setTimeout(done, rest));
        if (rest && at.again) continue;
        try {
          const got = await at.ask();
          at.shown = true;
          setAnswer(() => got);
        } catch (error) {
          fail(error, at.shown, () => {
            at.again = true;
            if (!at.running) void run();
          });
        }
      }
      at.running = false;
    };
    if (!at.running) void run();
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the question depends on
  }, on);
  useEffect(() => {
    const at = line.current;
    at.gone = false;
    return () => {
      at.gone = true;
    };
  }, []);
  return answer;
}
