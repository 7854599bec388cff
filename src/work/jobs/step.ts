import { formatCount } from '../../core/units';
import { type Connection, healthOf, type Job } from '../../store';
import type { Work } from '../context/work';
import { isOpenAt } from '../outbox/circuit';
import { forget } from '../readings/session';
import { dueAfter, jobId, listJob, zoneOf } from '../schedule/job';
import { STEPS } from './tasks';

/** Keeps a stop that was asked for: what was read stays, the place reached too. */
async function stop(work: Work, job: Job): Promise<void> {
  forget(work, job.subject);
  const done = job.running?.rows ?? job.running?.done ?? 0;
  await work.db.jobs.update(job.id, {
    running: null,
    askedFor: undefined,
    stop: false,
    stopped: true,
    lastSays: done
      ? `Stopped after ${formatCount(done)}; goes on from there`
      : 'Stopped before its first row',
    lastOk: false,
    nextAt: dueAfter(job, work.clock(), await zoneOf(work, job.subject)),
  });
}

/** Moves one job on by one step. @param c its connection; null for one of the shop itself */
export async function stepJob(work: Work, c: Connection | null, job: Job): Promise<void> {
  if (job.stop) return stop(work, job);
  if (c && isOpenAt(await healthOf(work.db, c.id), work.clock())) return;
  // One list of a supplier is read at a time.
  const other =
    job.task === 'catalogue'
      ? listJob(job.subject)
      : job.task === 'list'
        ? jobId(job.subject, 'catalogue')
        : null;
  if (other && !job.running && (await work.db.jobs.get(other))?.running) return;
  if (!job.running)
    await work.db.jobs.update(job.id, {
      running: { startedAt: work.clock(), done: job.progress?.done ?? 0, total: 0 },
    });
  const task = STEPS[job.task];
  if (task.of === 'shop') await task.step(work, job);
  else if (task.of === 'connection') {
    if (c) await task.step(work, c, job);
  } else if (task.of === 'supplier' && c?.role === 'supplier') await task.step(work, c, job);
  else if (task.of === 'marketplace' && c?.role === 'marketplace') await task.step(work, c, job);
}
