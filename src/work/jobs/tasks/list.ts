import { askAddress } from '../../../connect/address';
import { tallyInWords } from '../../../core/catalogue';
import { catalogueNote, healthOf, type Job, readCatalogue, type SupplierConnection } from '../../../store';
import type { Work } from '../../context/work';
import { waitsToFollow } from '../../listings/follow';
import { noteHealth, noteWell } from '../../outbox/circuit';
import { dropFiles, inspect, nextToRead } from '../../readings/dropped-lists';
import { takeGone } from '../../readings/ending';
import { readListStep } from '../../readings/read-list';
import { finish, interrupt } from '../run';
import { followReading } from './followed';

/** Reads the next piece of the list that waits for a supplier, by the match that was made or remembered. */
export async function listStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const file = await nextToRead(db, c.id);
  const startedAt = job.progress?.startedAt ?? job.running?.startedAt ?? work.clock();
  if (!file && job.task === 'list') {
    const taken = await takeGone(work, c.id);
    if (taken)
      return followReading(work, c, job, taken.session.catalogue, tallyInWords(taken.tally), startedAt);
  }
  // A reading ended, and the work was cut off before what is sold followed it.
  if (!file && (await waitsToFollow(work, c.id))) {
    const { generation, pieces, items } = (await catalogueNote(db, c.id))!;
    const catalogue = await readCatalogue(db, c.id, generation, pieces, items);
    return followReading(work, c, job, catalogue, 'What was read before is followed', startedAt);
  }
  if (!file)
    return c.list?.kind === 'address' && job.task === 'catalogue'
      ? fetchList(work, c, job)
      : finish(work, job, true, 'No list waits to be read.', startedAt);
  const step = await readListStep(work, c, job, file);
  if (step.state === 'failed') {
    await dropFiles(db, [file]);
    // What could not be read is fetched again, changed or not.
    await noteFetched(work, c, null);
    await finish(work, job, false, step.says, startedAt);
  } else if (step.state === 'done')
    await followReading(work, c, job, step.session.catalogue, step.says, startedAt);
  else return;
  // Another list that was dropped meanwhile is read next.
  if (job.task === 'list' && (await nextToRead(db, c.id)))
    await db.jobs.update(job.id, { nextAt: work.clock() });
}

/**
 * Notes in which state a list was fetched, of the address that it was fetched from; null for a list that is to be fetched
 * again whatever its state.
 */
const noteFetched = async (
  work: Work,
  { id, list }: SupplierConnection,
  state: { readonly etag: string | null; readonly modified: string | null } | null,
): Promise<void> =>
  list?.kind === 'address'
    ? noteHealth(work, id, { fetched: state && { url: list.url, ...state } })
    : undefined;

/**
 * Fetches the list at a supplier's address, if it changed since; it is read by the match remembered for its
 * columns.
 */
async function fetchList(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const startedAt = job.running?.startedAt ?? work.clock();
  if (c.list?.kind !== 'address') return;
  if (!(await db.matches.where('supplier').equals(c.id).count()))
    return finish(
      work,
      job,
      true,
      'Its list waits to be matched: fetch it under Source, Price lists.',
      startedAt,
    );
  const { fetched } = await healthOf(db, c.id);
  const known = fetched?.url === c.list.url ? fetched : null;
  const answer = await askAddress(
    work.fetchAddress,
    c.list.url,
    known?.etag ?? null,
    known?.modified ?? null,
  );
  if (!answer.ok) {
    await interrupt(work, job, c.id, answer.trouble);
    if (answer.trouble.kind === 'refused') await finish(work, job, false, answer.trouble.says, startedAt);
    return;
  }
  await noteWell(work, c.id);
  if (answer.value === 'unchanged')
    return finish(work, job, true, 'The list at the address did not change.', startedAt, true);
  const { blob, name, etag, modified } = answer.value;
  const seen = await inspect(work, c, blob, name);
  if (!seen.ok) return finish(work, job, false, seen.reason, startedAt);
  if (!seen.value.remembered)
    return finish(
      work,
      job,
      false,
      'The columns of the list are new: match them under Source, Price lists.',
      startedAt,
    );
  await db.transaction('rw', [db.files, db.connections, db.health, db.jobs], async () => {
    await db.files.update(seen.value.file, { match: seen.value.sample.match });
    await noteFetched(work, c, { etag, modified });
    await db.jobs.update(job.id, { running: { startedAt, done: 0, total: blob.size } });
  });
}
