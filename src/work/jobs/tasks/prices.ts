import type { Job } from '../../../store';
import type { Work } from '../../context/work';
import { followCalendar } from '../../listings/calendar';
import { bringForward } from '../../schedule/schedule';
import { finish } from '../run';

/** Lets prices follow the calendar of the plans, and is due again at its next date. */
export async function pricesStep(work: Work, job: Job): Promise<void> {
  const startedAt = work.clock();
  const { says, next } = await followCalendar(work);
  await finish(work, job, true, says, startedAt);
  if (next !== null) await bringForward(work, job.id, next);
}
