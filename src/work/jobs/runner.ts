import type { Job } from '../../store';
import type { Work } from '../context';
import { mayAsk } from '../outbox/circuit';
import { pumpOutbox } from '../outbox/send';
import { SHOP } from './job';
import { isDue, noteThrown, stepJob, stepShopJob } from './steps';

/** Whose work is moved on by itself: each connection's, and the shop's own. */
export async function subjectsOf(work: Work): Promise<string[]> {
  return [...((await work.db.connections.toCollection().primaryKeys()) as string[]), SHOP];
}

/**
 * Moves what is due for one subject on by one step: a connection's outbox first, then one step of each of its jobs.
 * Nothing is held in memory between steps, so that the runner can be killed at any moment and another goes on. Steps of
 * one subject must not overlap; those of different ones may.
 * @returns whether anything was done
 */
export const stepOf = (work: Work, subject: string): Promise<boolean> =>
  subject === SHOP ? shopRound(work) : roundOf(work, subject);

/**
 * One step of every subject, side by side; it ends when all of them have ended, and what threw is thrown then.
 * @returns whether anything was done
 */
export async function runRound(work: Work): Promise<boolean> {
  const ended = await Promise.allSettled((await subjectsOf(work)).map((one) => stepOf(work, one)));
  const thrown = ended.find((e) => e.status === 'rejected');
  if (thrown) throw thrown.reason;
  return ended.some((e) => e.status === 'fulfilled' && e.value);
}

/** One connection's part of a round. */
async function roundOf(work: Work, id: string): Promise<boolean> {
  let c = await work.db.connections.get(id);
  if (!c || !mayAsk(c, work.clock())) return false;
  // What waits for a connection without a service leaves by files.
  const { sent, stopped } = c.service ? await pumpOutbox(work, c) : { sent: 0, stopped: false };
  let any = sent > 0;
  if (stopped) return any;
  for (const job of await work.db.jobs.where('subject').equals(id).toArray()) {
    c = await work.db.connections.get(id);
    if (!c || !mayAsk(c, work.clock()) || !isDue(job, work.clock())) continue;
    const at = c;
    await guarded(work, job, () => stepJob(work, at, job));
    any = true;
  }
  return any;
}

async function shopRound(work: Work): Promise<boolean> {
  const due = (await work.db.jobs.where('subject').equals(SHOP).toArray()).filter((j) =>
    isDue(j, work.clock()),
  );
  for (const job of due) await guarded(work, job, () => stepShopJob(work, job));
  return due.length > 0;
}

async function guarded(work: Work, job: Job, step: () => Promise<void>): Promise<void> {
  try {
    await step();
  } catch (error) {
    await noteThrown(work, job, error);
    throw error;
  }
}
