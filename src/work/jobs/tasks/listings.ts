import type { Job, MarketConnection } from '../../../store';
import { marketAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { bringInStep, wishOf } from '../../listings/bring-in';
import { noteWell } from '../../outbox/circuit';
import { finish, interrupt } from '../run';

export const IN_A_CIRCLE = {
  kind: 'nonsense',
  says: 'The pages of its listings go round in a circle.',
} as const;

/** Brings in one page of a shop's listings. */
export async function listingsStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = job.progress?.startedAt ?? work.clock();
  const wish = await wishOf(work.db, c.id);
  const answer = await (await marketAdapter(work, c)).listings(wish, job.progress?.cursor ?? null);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const next = answer.value.next;
  if (next !== null && next <= (job.progress?.cursor ?? '')) return interrupt(work, job, c.id, IN_A_CIRCLE);
  const { done, says } = await bringInStep(work, c, job, answer.value);
  if (done) await finish(work, job, true, says, startedAt);
}
