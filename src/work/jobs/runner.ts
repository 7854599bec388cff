import type { Job } from '../../store';
import type { Work } from '../context';
import { mayAsk } from '../outbox/circuit';
import { pumpOutbox } from '../outbox/send';
import { SHOP } from './job';
import { isDue, noteThrown, stepJob, stepShopJob } from './steps';

/**
 * Moves everything that is due on by one step: the outbox first, then one step of each due job, connection by
 * connection side by side. Nothing is held in memory between rounds, so that the runner can be killed at any
 * moment and another goes on. A round ends when all of it has ended, so that rounds never overlap; what threw is
 * thrown then.
 * @returns whether anything was done
 */
export async function runRound(work: Work): Promise<boolean> {
  const connections = (await work.db.connections.toCollection().primaryKeys()) as string[];
  const ended = await Promise.allSettled([...connections.map((id) => roundOf(work, id)), shopRound(work)]);
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
