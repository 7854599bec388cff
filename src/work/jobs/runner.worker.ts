import { liveQuery } from 'dexie';
import { work } from '../browser';
import { firstWaiting } from '../outbox/waiting';
import { runRound } from './runner';

/**
 * Runs the jobs, in one tab at a time: every tab has this worker, the lock decides which one works. When its
 * tab closes, the lock passes on. Woken by changes in jobs and outbox, else once a second, so that it catches
 * up by itself after sleep.
 */
const PAUSE = 1_000;

let wake = () => {};
liveQuery(async () => [await work.db.jobs.toArray(), await firstWaiting(work.db)]).subscribe({
  next: () => wake(),
  error: (error) => console.error(error),
});

navigator.locks.request('sampan-runner', async () => {
  for (;;) {
    let did = false;
    try {
      await work.db.notes.put({ id: 'runner', value: work.clock() });
      did = await runRound(work);
    } catch (error) {
      // A round that failed left its work in the database; the next one takes it up again. The page shows the
      // error.
      await work.db.notes.put({ id: 'runner-error', value: { at: work.clock(), says: String(error) } });
    }
    if (!did) {
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, PAUSE);
        wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
    }
  }
});
