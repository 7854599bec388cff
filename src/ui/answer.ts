'use client';
import { type DependencyList, startTransition, useEffect, useState } from 'react';

/**
 * The answer to a question, asked again whenever what it depends on changes; the one before stays until then.
 * @param rest milliseconds for which what it depends on stays the same before it is asked: while one types
 */
export function useAnswer<T>(ask: () => Promise<T> | T, on: DependencyList, rest = 0): T | undefined {
  const [answer, setAnswer] = useState<T>();
  useEffect(() => {
    let old = false;
    const now = () =>
      Promise.resolve(ask()).then(
        (got) => !old && startTransition(() => setAnswer(() => got)),
        (error) => console.error(error),
      );
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
