'use client';
import { type DependencyList, startTransition, useEffect, useRef, useState } from 'react';
import { noteFailure } from '../work/failure';

/**
 * The answer to a question, asked again whenever what it depends on changes; the one before stays until then.
 * @param rest milliseconds for which what it depends on stays the same before it is asked: while one types
 */
export function useAnswer<T>(ask: () => Promise<T> | T, on: DependencyList, rest = 0): T | undefined {
  const [answer, setAnswer] = useState<T>();
  useEffect(() => {
    let old = false;
    const now = () =>
      Promise.resolve(ask()).then((got) => !old && startTransition(() => setAnswer(() => got)), noteFailure);
    const timer = rest ? setTimeout(now, rest) : null;
    if (!rest) now();
    return () => {
      old = true;
      if (timer !== null) clearTimeout(timer);
    };
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the question depends on
  }, on);
  return answer;
}

/**
 * As `useAnswer`, for what follows a hand that does not pause: each answer is shown at once though what it depends on has
 * moved on, and one question runs at a time, the newest next.
 * @param rest milliseconds for which what it depends on stays the same before it is asked
 */
export function useFollowing<T>(ask: () => Promise<T>, on: DependencyList, rest = 0): T | undefined {
  const [answer, setAnswer] = useState<T>();
  const line = useRef({ ask, running: false, again: false, gone: false });
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
          setAnswer(() => got);
        } catch (error) {
          noteFailure(error);
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
