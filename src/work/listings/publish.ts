import { countOf, type Instant } from '../../core/units';
import { applyChange, type Listing, type OutboxRow, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { publishRow } from '../outbox/row';
import { waitingFor } from '../outbox/waiting';
import { differs, waitingState } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { missingOf, quoteListing } from '../quoting/quote';
import { marketOf } from '../quoting/worth';
import { benchGroups, lacksNothing } from './approve';

/**
 * Writes a publish row for each approved listing on the Bench, and marks them. What is told of each is made when it leaves.
 * What lacks something by now is left where it is. @param publishAt not before this time; null for at once
 * @param asDraft it stays a draft there, on marketplaces that have drafts; the others are left
 */
export async function publish(
  work: Work,
  ids: readonly string[],
  publishAt: Instant | null = null,
  asDraft = false,
): Promise<{ queued: number; left: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const at = work.clock();
    const rows: RowChange[] = [];
    const outbox: OutboxRow[] = [];
    let left = 0;
    for (const full of benchGroups(assortment, ids).flat()) {
      const { listing } = full;
      const hasDrafts = marketOf(assortment.shop, listing.marketplace)?.site.drafts ?? false;
      if (listing.approvedAt === null || !lacksNothing(assortment, full) || (asDraft && !hasDrafts)) {
        left++;
        continue;
      }
      const row = publishRow(listing, at, asDraft);
      outbox.push({ ...row, nextAt: Math.max(at, publishAt ?? at) });
      rows.push({
        table: 'listings',
        id: listing.id,
        set: { state: 'publishing', problem: null, publishAt },
        says: publishAt === null ? 'Sent to be published.' : 'Waits to be published.',
      });
    }
    await db.outbox.bulkPut(outbox);
    const name = `${asDraft ? 'Draft' : 'Publish'} ${countOf(outbox.length, 'listing')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work), assortment.stored);
    return { queued: outbox.length, left };
  });
}

/** The result of queueing listings whose text or pictures differ from the published ones. */
export interface Queued {
  readonly sent: number;
  /** They lack something that the marketplace would refuse them for, and are not sent. */
  readonly lacking: number;
}

/** Sends live listings again whose text or pictures differ from what their marketplace was told. */
export const sendChanges = (work: Work, ids: readonly string[]): Promise<Queued> =>
  work.db.transaction('rw', work.db.shopTables, () => queueChanges(work, ids));

/** As {@link sendChanges}, inside the caller's transaction. */
export async function queueChanges(work: Work, ids: readonly string[]): Promise<Queued> {
  const assortment = await caughtUp(work);
  const { shop } = assortment;
  const outbox: OutboxRow[] = [];
  let lacking = 0;
  for (const full of ids.flatMap((id) => assortment.get(id) ?? [])) {
    if (!follows(full.listing) || !full.listing.published) continue;
    const market = marketOf(shop, full.listing.marketplace);
    const quote = quoteListing(full, shop);
    if (!market || !quote?.category || !differs(full, quote, market, shop)) continue;
    // A price that is held is told by offers, and keeps no text.
    if (missingOf(full, quote, market, shop).some((m) => m.field !== 'price')) lacking++;
    else outbox.push(publishRow(full.listing, work.clock()));
  }
  await work.db.outbox.bulkPut(outbox);
  return { sent: outbox.length, lacking };
}

/** Listings that wait to be published and were not sent yet. @param only listings; null for all */
async function waitingToPublish(work: Work, only: readonly string[] | null) {
  const { connections } = (await caughtUp(work)).shop;
  const rowsOf = [...connections.keys()].map((id) => waitingFor(work.db, id, ['publish']));
  const wanted = only && new Set(only);
  return (await Promise.all(rowsOf))
    .flat()
    .filter((r) => r.attempts === 0 && (!wanted || wanted.has(r.body.listing)));
}

/** The listings of outbox rows that are being published, changed alike. */
async function setPublishing(
  { db }: Work,
  outbox: readonly { readonly body: { readonly listing: string } }[],
  changeOf: (listing: Listing) => { readonly set: Partial<Listing>; readonly says: string },
): Promise<RowChange[]> {
  const listings = await db.listings.bulkGet([...new Set(outbox.map((r) => r.body.listing))]);
  return listings.flatMap((l) =>
    l?.state === 'publishing' ? [{ table: 'listings', id: l.id, ...changeOf(l) } as const] : [],
  );
}

/** Calls back what was not sent yet. @param only listings; null for all */
export async function stopPublishing(work: Work, only: readonly string[] | null = null): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const waiting = await waitingToPublish(work, only);
    await db.outbox.bulkDelete(waiting.map((r) => r.id));
    const rows = await setPublishing(work, waiting, (l) => ({
      set: { state: waitingState(l), publishAt: null },
      says: 'Stopped before it was sent.',
    }));
    const name = `Stop publishing ${countOf(waiting.length, 'listing')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    return waiting.length;
  });
}

/** Moves when listings that were not sent yet are published. @param to null for at once @returns how many */
export async function movePublishing(
  work: Work,
  ids: readonly string[],
  to: Instant | null,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const waiting = await waitingToPublish(work, ids);
    const at = work.clock();
    await db.outbox.bulkPut(waiting.map((r) => ({ ...r, nextAt: Math.max(at, to ?? at) })));
    const rows = await setPublishing(work, waiting, () => ({
      set: { publishAt: to },
      says: to === null ? 'To be published at once.' : 'Its time to be published was moved.',
    }));
    const name = `${countOf(waiting.length, 'listing')} published at another time`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    return waiting.length;
  });
}
