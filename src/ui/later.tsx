'use client';
import { type ComponentType, useEffect, useState } from 'react';

/** Milliseconds that a view has stood before the parts are loaded that it may show. */
const SETTLED = 1_500;

const waiting: (() => Promise<unknown>)[] = [];

/** Loads what waits one after the other, each while the page has nothing else to do. */
async function loadNext(): Promise<void> {
  // Whoever shows it says what is wrong.
  await waiting[0]!().catch(() => undefined);
  waiting.shift();
  if (waiting.length) whenIdle();
}

const whenIdle = () => {
  if ('requestIdleCallback' in window) requestIdleCallback(loadNext);
  else setTimeout(loadNext);
};

interface Part<P> {
  loaded: ComponentType<P> | null;
  readonly load: () => Promise<void>;
}

function Later<P extends object>({ part, props }: { part: Part<P>; props: P }) {
  const [failed, setFailed] = useState<Error | null>(null);
  const [, setReady] = useState(part.loaded !== null);
  useEffect(() => {
    // Also where it was loaded since it was drawn: else nothing would draw it.
    part.load().then(
      () => setReady(true),
      (error) => {
        console.error(error);
        setFailed(new Error('A part of this view could not be loaded: Sampan’s server did not answer.'));
      },
    );
  }, [part]);
  if (failed) throw failed;
  return part.loaded && <part.loaded {...props} />;
}

/**
 * A part that a view shows only when it is asked for: the view stands sooner without it. It is loaded once the view has
 * stood for a while, or when it is shown before.
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<P> {
  const part: Part<P> = {
    loaded: null,
    load: async () => {
      part.loaded ??= await load();
    },
  };
  if (typeof window !== 'undefined' && waiting.push(part.load) === 1) setTimeout(whenIdle, SETTLED);
  return (props) => <Later part={part} props={props} />;
}
