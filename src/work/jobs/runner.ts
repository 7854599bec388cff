import type { Work } from '../context';
import { mayAsk } from '../outbox/circuit';
import { pumpOutbox } from '../outbox/send';
import { isDue, stepJob } from './steps';

/**
 * Moves everything that is due on by one step: the outbox first, then one step of each due job, connection by
 * connection side by side. Nothing is held in memory between rounds, so that the runner can be killed at any
 * moment and another goes on.
 * @returns whether anything was done
 */
export async function runRound(work: Work): Promise<boolean> {
  const connections = await work.db.connections.toArray();
  const did = await Promise.all(
    connections.map(async ({ id }) => {
      let c = await work.db.connections.get(id);
      if (!c || !mayAsk(c, work.clock())) return false;
      const { sent, stopped } = await pumpOutbox(work, c);
      let any = sent > 0;
      if (stopped) return any;
      const jobs = await work.db.jobs.filter((j) => j.connection === id).toArray();
      for (const job of jobs) {
        c = await work.db.connections.get(id);
        if (!c || !mayAsk(c, work.clock()) || !isDue(job, work.clock())) continue;
        await stepJob(work, c, job);
        any = true;
      }
      return any;
    }),
  );
  return did.some(Boolean);
}
