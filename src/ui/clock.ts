'use client';
import { useEffect, useState } from 'react';

/** The time on the page, moved on every few seconds; 0 while the server renders. */
export function useNow(every = 5_000): number {
  const [now, setNow] = useState(0);
  useEffect(() => {
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), every);
    return () => clearInterval(timer);
  }, [every]);
  return now;
}
