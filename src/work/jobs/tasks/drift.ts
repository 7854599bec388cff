import { countOf } from '../../../core/units';
import type { Job, MarketConnection } from '../../../store';
import { marketAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { noteDrift } from '../../listings/drift';
import { noteWell } from '../../outbox/circuit';
import { finish, interrupt } from '../run';
import { IN_A_CIRCLE } from './listings';

/** Looks through one page of a shop's listings for what was edited there. */
export async function driftStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = job.progress?.startedAt ?? work.clock();
  const cursor = job.progress?.cursor ?? null;
  const answer = await (await marketAdapter(work, c)).listings({ state: 'all', category: '' }, cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const { listings, next, total } = answer.value;
  if (next !== null && next <= (job.progress?.cursor ?? '')) return interrupt(work, job, c.id, IN_A_CIRCLE);
  const found = (job.progress?.done ?? 0) + (await noteDrift(work, c, listings, startedAt));
  if (next === null)
    return finish(
      work,
      job,
      true,
      found ? `${countOf(found, 'listing')} edited there.` : 'Nothing was edited there.',
      startedAt,
    );
  const read = (job.running?.done ?? 0) + listings.length;
  await work.db.jobs.update(job.id, {
    running: { startedAt, done: read, total },
    progress: { cursor: next, done: found, seen: [], startedAt },
  });
}
