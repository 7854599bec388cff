'use client';
import { type DependencyList, useEffect, useState } from 'react';

/** The answer to a question, asked again whenever what it depends on changes; the one before stays until then. */
export function useAnswer<T>(ask: () => Promise<T> | T, on: DependencyList): T | undefined {
  const [answer, setAnswer] = useState<T>();
  useEffect(() => {
    let old = false;
    Promise.resolve(ask()).then(
      (got) => !old && setAnswer(() => got),
      (error) => console.error(error),
    );
    return () => {
      old = true;
    };
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the question depends on
  }, on);
  return answer;
}
