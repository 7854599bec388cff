import { onWrites } from '../../store';
import { work } from '../browser/browser';
import { type Routine, routinesOf } from './runner';

/**
 * Runs the jobs, in one tab at a time: every tab has this worker, the lock decides which one works. When its
 * tab closes, the lock passes on. Woken by changes in jobs and outbox, else once a second, so that it catches
 * up by itself after sleep.
 */
const PAUSE = 1_000;
/** Between two rounds at least: what is written in bursts, by the runner too, wakes it once. */
const REST = 300;

let wake = () => {};
onWrites(work.db, ['jobs', 'outbox'], () => wake());

/** Those of which a step is under way. */
const busy = new Set<string>();

/** A step that failed left its work in the database; the next one takes it up again. The page shows the error. */
const noteError = (error: unknown) =>
  work.db.notes.put({ id: 'runner-error', value: { at: work.clock(), says: String(error) } });

/** Steps one until nothing of it is due: none waits for what another one takes its time with. */
async function drive({ id, step }: Routine): Promise<void> {
  if (busy.has(id)) return;
  busy.add(id);
  try {
    while (await step());
  } catch (error) {
    await noteError(error);
  } finally {
    busy.delete(id);
  }
}

navigator.locks.request('sampan-runner', async () => {
  for (;;) {
    const paused = new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, PAUSE);
      wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
    try {
      for (const one of await routinesOf(work)) drive(one);
    } catch (error) {
      await noteError(error);
    }
    await Promise.all([paused, new Promise((rested) => setTimeout(rested, REST))]);
  }
});
// Whoever loaded it knows from now on that it is there.
postMessage({ ready: true });
