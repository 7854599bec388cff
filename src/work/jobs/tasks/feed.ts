import type { Job } from '../../../store';
import type { Work } from '../../context/work';
import { publishFeed } from '../../feeds/publish';
import { finish } from '../run';

/** Makes a feed and puts it live. One that was removed is made no more; taken back, it goes on. */
export async function feedStep(work: Work, job: Job): Promise<void> {
  const startedAt = work.clock();
  if (!(await work.db.feeds.get(job.subject))) {
    await finish(work, job, true, 'Its feed was removed.', startedAt);
    return;
  }
  const { ok, says } = await publishFeed(work, job.subject);
  await finish(work, job, ok, says, startedAt);
}
