import { countOf } from '../../../core/units';
import type { Job } from '../../../store';
import type { Work } from '../../context/work';
import { forwardDue } from '../../orders/due';
import { writeOfDelays } from '../../orders/messages';
import { finish } from '../run';

/** Buys the orders whose rule says that they go by now, and writes to buyers who wait for longer than was said. */
export async function forwardingStep(work: Work, job: Job): Promise<void> {
  const startedAt = work.clock();
  const gone = await forwardDue(work);
  await writeOfDelays(work);
  await finish(work, job, true, `${countOf(gone, 'order')} forwarded.`, startedAt);
}
