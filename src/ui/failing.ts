'use client';
import { useCallback, useState } from 'react';
import { failureInWords, isGone, noteFailure } from '../work/context/failure';
import { WorkerLost } from '../work/desk/client';
import { ask } from './said';

/** Milliseconds after which a worker that takes the place of one that was lost is asked. */
const PAUSE = 1_000;

/** @param shown whether something stands there from before @param again asks once more */
type Fail = (error: unknown, shown: boolean, again: () => void) => void;

/**
 * What becomes of a question that failed: where nothing is shown yet the reason stands in its place, with a way to try
 * again; else what is shown stays, and the reason is said beside it.
 */
export function useFailing(): Fail {
  const [failed, setFailed] = useState<{ readonly error: unknown } | null>(null);
  if (failed) throw failed.error;
  return useCallback<Fail>((error, shown, again) => {
    // That storage was taken away is told for the whole tab.
    if (isGone(error)) return;
    // Another worker takes its place. One that cannot be loaded is not asked for without a pause.
    if (error instanceof WorkerLost) return void setTimeout(again, PAUSE);
    noteFailure(error);
    if (!shown) return setFailed({ error });
    ask(`What you asked for could not be read. ${failureInWords(error)}`, 'Try again', again);
  }, []);
}
