import { countOf, dayOf } from '../../../core/units';
import { type Job, settingsOf, trimJournal } from '../../../store';
import { dropUnownedAssets } from '../../assets/owners';
import type { Work } from '../../context/work';
import { archiveOrders, dropOldOrders } from '../../order-book/archive';
import { readAllAgain } from '../../orders/unread';
import { learnTransit } from '../../quoting/transit';

import { finish } from '../run';

const DAY = 86_400_000;
/** Changes deleted in one transaction. */
const AT_ONCE = 2_000;

/**
 * Deletes changes with their edits, messages that were answered, and the history of cost and stock, once they are older
 * than the settings say, and of the journal what nobody reads any more. What belongs to orders stays: it is evidence.
 * @returns what was done, in words
 */
export async function tidy(work: Work): Promise<string> {
  const { db } = work;
  const { keepDays, zone } = await settingsOf(db);
  const before = work.clock() - keepDays * DAY;
  let gone = 0;
  for (;;) {
    const n = await db.transaction('rw', [db.changes, db.edits], async () => {
      const old = await db.changes.where('at').below(before).limit(AT_ONCE).primaryKeys();
      const edits = await db.edits.where('change').anyOf(old).toArray();
      // Orders keep theirs, without a place among the changes.
      await db.edits.bulkDelete(edits.flatMap((e) => (e.table === 'orders' ? [] : [e.id])));
      await db.changes.bulkDelete(old);
      return old.length;
    });
    gone += n;
    if (n < AT_ONCE) break;
  }
  const sent = await db.outbox
    .filter((r) => r.state !== 'waiting' && r.at < before && r.order === null)
    .delete();
  // Each point of the history says what was before it: what stays is whole without older days.
  const days = await db.history.toCollection().primaryKeys();
  await db.history.bulkDelete(days.filter(([, , day]) => (day + 1) * DAY <= before));
  await db.earlier.where('at').below(before).delete();
  await trimJournal(db.journal);
  // Whatever could not be read may be by a newer version of Sampan, or because its connection was put right.
  const read = await readAllAgain(work);
  const files = await dropUnownedAssets(work);
  await learnTransit(work);
  const archived = await archiveOrders(work);
  await dropOldOrders(work);
  const again = read ? `${countOf(read, 'order')} could be read now. ` : '';
  const unused = files ? `${countOf(files, 'file')} that nothing uses deleted. ` : '';
  return `${again}${archived}${archived ? ' ' : ''}${unused}${countOf(gone, 'change')} and ${countOf(sent, 'message')} from before ${dayOf(before, zone)} deleted.`;
}

/** Tidies up, as the shop's own job. */
export async function tidyStep(work: Work, job: Job): Promise<void> {
  const startedAt = work.clock();
  await finish(work, job, true, await tidy(work), startedAt);
}
