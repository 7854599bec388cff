import { countOf } from '../../../core/units';
import type { Connection, Job } from '../../../store';
import { marketAdapter, supplierAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { noteWell } from '../../outbox/circuit';
import { placeUnknown, takeStatementIn } from '../../statements/take';
import { finish, interrupt } from '../run';

/** Takes in the account statements that a service has and the shop has not. */
export async function statementsStep(work: Work, c: Connection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const { db } = work;
  const { statements } =
    c.role === 'marketplace' ? await marketAdapter(work, c) : await supplierAdapter(work, c);
  const listed = await statements.list();
  if (!listed.ok) {
    // Not every service has them.
    if (listed.trouble.kind === 'refused' && listed.trouble.status === 404)
      return finish(work, job, true, 'It gives no account statements.', startedAt);
    return interrupt(work, job, c.id, listed.trouble);
  }
  await noteWell(work, c.id);
  const known = await db.statements.where('from').equals(c.id).toArray();
  const whole = new Set(known.flatMap((s) => (s.whole ? [s.number] : [])));
  let placed = 0;
  for (const s of known) placed += await placeUnknown(work, s.id);
  const goesOn = async (done: number, total: number): Promise<boolean> => {
    await db.jobs.update(job.id, { running: { startedAt, done, total } });
    return !(await db.jobs.get(job.id))?.stop;
  };
  let fresh = 0;
  for (const s of listed.value) {
    if (whole.has(s.number)) continue;
    const lines = await statements.lines(s, (n) => goesOn(n, s.count));
    if (!lines.ok) return interrupt(work, job, c.id, lines.trouble);
    if (!lines.value) return;
    const read = { ...s, lines: lines.value, refused: [], file: null };
    const taken = await takeStatementIn(work, c.id, read, (n) => goesOn(n, s.count));
    if (taken.ok) fresh++;
    else if ((await db.jobs.get(job.id))?.stop) return;
    else return finish(work, job, false, `${s.number}: ${taken.reason}`, startedAt);
  }
  const late = placed ? `; ${countOf(placed, 'line')} of earlier ones found their order` : '';
  await finish(work, job, true, `${countOf(fresh, 'new statement')}${late}`, startedAt);
}
