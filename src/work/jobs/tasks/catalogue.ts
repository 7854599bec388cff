import { PIECE, tallyInWords } from '../../../core/catalogue';
import { countOf } from '../../../core/units';
import type { Job, PageRow, SupplierConnection } from '../../../store';
import { noteAccount } from '../../connections/connection-terms';
import { supplierAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { noteWell } from '../../outbox/circuit';
import { readBlanks } from '../../print/blanks';
import { endReading } from '../../readings/ending';
import { openReading, storeStep } from '../../readings/reading';
import { forget, noteRefused } from '../../readings/session';
import { doubtInWords } from '../../readings/words';
import { interrupt } from '../run';
import { followReading } from './followed';

/**
 * Items asked for at once: large enough for few requests, small enough that progress moves and a reload loses
 * little.
 */
const PAGE = 500;
/** Grows when items are read in another way, so that none is passed over because it looks as before. */
const READER = 1;
/** Pages after which the place reached is stored even where nothing changed. */
const STORE_AFTER = 8;

/**
 * Reads one page of a supplier's catalogue. What is read stays unseen until the last page: until then the
 * catalogue before it is whole and in use.
 */
export async function catalogueStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const startedAt = job.progress?.startedAt ?? work.clock();
  const door = await supplierAdapter(work, c);
  if (!job.progress) {
    const account = await door.account();
    if (!account.ok) return interrupt(work, job, c.id, account.trouble);
    await noteAccount(work, c.id, account.value);
    if (account.value.prints) {
      const blanks = await readBlanks(work, c);
      if (!blanks.ok) return interrupt(work, job, c.id, blanks.trouble);
    }
  }
  const session = await openReading(work, c.id, `service:${READER}:${c.service}`, job.progress);
  const { reading } = session;
  const from = session.cursor ?? '';
  const before = await db.pages.get([c.id, from]);
  const answer = await door.page(from, before?.etag ?? null, PAGE);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  const page = answer.value;
  // Going on from there would lead to the same: the next try begins anew.
  const nonsense = async (says: string) => {
    await interrupt(work, job, c.id, { kind: 'nonsense', says });
    forget(work, c.id);
    await db.jobs.update(job.id, { progress: null });
  };
  if (page.unchanged && !before) return nonsense('It says a page is unchanged that was never read.');
  const next = page.unchanged ? before!.next : page.next;
  if (next !== null && (next === from || session.places.includes(next)))
    return nonsense('The pages of the catalogue go round in a circle.');
  const total = page.unchanged ? before!.total : page.total;
  const count = page.unchanged ? before!.rows.length : page.items.length;
  if (session.done + count > total + 2 * PAGE)
    return nonsense(`The catalogue says it has ${total} items and sends more without end.`);
  await noteWell(work, c.id);
  if (page.unchanged) reading.seeRows(before!.rows);
  else {
    const rows: number[] = [];
    for (const { mark, read } of page.items) {
      const known = reading.rowOfMark(mark.a, mark.b);
      if (known >= 0 && reading.seeRow(known)) {
        rows.push(known);
        continue;
      }
      const taken = read();
      if ('reason' in taken) {
        reading.keep(taken.sku);
        noteRefused(session, {
          line: null,
          sku: taken.sku,
          column: null,
          value: '',
          reason: taken.reason,
          taken: false,
          asks: false,
          cells: null,
        });
      } else if (reading.put(taken.item, taken.detail, mark.a, mark.b) === 'twice')
        noteRefused(session, {
          line: null,
          sku: taken.item.sku,
          column: 'sku',
          value: taken.item.sku,
          reason: 'sku: came twice',
          taken: false,
          asks: false,
          cells: null,
        });
      else rows.push(reading.itemOf(taken.item.sku)!.row);
    }
    // A page with refused items is asked for whole next time, so that they are told again.
    const spoiled = rows.length < page.items.length;
    const stored: PageRow = {
      supplier: c.id,
      from,
      etag: spoiled ? null : page.etag,
      next,
      total,
      rows: Int32Array.from(rows),
    };
    session.pages.push(stored);
  }
  session.done += count;
  session.steps++;
  if (next !== null) {
    session.cursor = next;
    session.places.push(from);
    if (session.steps % STORE_AFTER === 0 || !job.progress || reading.waiting >= PIECE)
      await storeStep(work, session, job.id, startedAt, total, true);
    else await db.jobs.update(job.id, { running: { startedAt, done: session.done, total } });
    return;
  }
  const { tally, refused, doubt } = await endReading(work, session, {
    whole: true,
    from: '',
    short: session.done < total,
  });
  const bad = `${refused ? `, ${refused} not taken` : ''}${doubt ? `, ${doubtInWords(doubt)}` : ''}`;
  await followReading(
    work,
    c,
    job,
    session.catalogue,
    `${countOf(session.catalogue.items, 'item')}${bad}: ${tallyInWords(tally)}`,
    startedAt,
  );
}
