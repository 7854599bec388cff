import { countOf } from '../../../core/units';
import { healthOf, type Job, type SupplierConnection } from '../../../store';
import { supplierAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { takeSupplierNews } from '../../orders/supplier-news';
import { noteWell } from '../../outbox/circuit';
import { finish, interrupt } from '../run';
import { unreadInWords } from './orders';

/** Hears what a supplier says of purchases since it was heard last. */
export async function shipmentsStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await (await supplierAdapter(work, c)).changes((await healthOf(work.db, c.id)).cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const moved = await takeSupplierNews(work, c, answer.value.orders, answer.value.refused, answer.value.next);
  const says = `${countOf(moved, 'order')} moved on${unreadInWords(answer.value.refused)}`;
  if (answer.value.more) await work.db.jobs.update(job.id, { running: { startedAt, done: 0, total: 0 } });
  else await finish(work, job, true, says, startedAt);
}
