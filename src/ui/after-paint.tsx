'use client';
import { type ReactNode, startTransition, useEffect, useState } from 'react';

/** What is drawn one frame after the rest, in slices: a view stands sooner, and no task of the page grows long. */
export function AfterPaint({ children }: { children: ReactNode }) {
  const [there, setThere] = useState(false);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      timer = setTimeout(() => startTransition(() => setThere(true)));
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, []);
  return there ? children : null;
}
