import type { Job, MarketConnection } from '../../../store';
import { noteSite } from '../../connections/connection-terms';
import { marketAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { noteWell } from '../../outbox/circuit';
import { finish, interrupt } from '../run';

/** Reads again what a marketplace asks and takes. What changed waits until the seller has looked at what it does. */
export async function siteStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await (await marketAdapter(work, c)).site();
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const changed = await noteSite(work, c.id, answer.value);
  await finish(
    work,
    job,
    true,
    changed ? 'Its fees or rules changed: look at what that does.' : 'Nothing changed.',
    startedAt,
  );
}
