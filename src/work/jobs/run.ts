import type { Job } from '../../store';
import { failureInWords } from '../context/failure';
import type { Work } from '../context/work';
import { noteTrouble } from '../outbox/circuit';
import { dueAfter, NEVER, zoneOf } from '../schedule/job';

/**
 * Ends a run. When the next is due follows the interval as it stands now, and what was asked for meanwhile.
 * @param read whether all that it reads was read: from then on nothing of it is older than the run's beginning
 */
export async function finish(
  work: Work,
  job: Job,
  ok: boolean,
  says: string,
  startedAt: number,
  read = false,
): Promise<void> {
  const at = work.clock();
  const zone = await zoneOf(work, job.subject);
  await work.db.jobs
    .where('id')
    .equals(job.id)
    .modify((j: { -readonly [K in keyof Job]: Job[K] }) => {
      Object.assign(j, {
        running: null,
        progress: null,
        stop: false,
        stopped: false,
        lastSays: says,
        lastOk: ok,
        nextAt: Math.min(dueAfter(j, at, zone), j.askedFor ?? NEVER),
        askedFor: undefined,
      });
      if (ok) j.lastAt = startedAt;
      if (read) j.readAt = startedAt;
    });
}

/**
 * Trouble in the middle: what was read stays, and it goes on from there when the connection answers again.
 */
export async function interrupt(
  work: Work,
  job: Job,
  connection: string,
  trouble: Parameters<typeof noteTrouble>[2],
): Promise<void> {
  const until = await noteTrouble(work, connection, trouble);
  await work.db.jobs.update(job.id, {
    lastSays: trouble.says,
    lastOk: false,
    nextAt: Math.max(until, work.clock() + 1000),
  });
}

/**
 * A job whose step threw is told so, and comes again after a while: neither each second, nor in the way of the others.
 */
export async function noteThrown(work: Work, job: Job, error: unknown): Promise<void> {
  const at = work.clock();
  await work.db.jobs.update(job.id, {
    running: null,
    askedFor: undefined,
    lastOk: false,
    stopped: false,
    lastSays: `It failed: ${failureInWords(error)}`.slice(0, 300),
    nextAt: at + Math.min(job.every, 10 * 60_000),
  });
}
