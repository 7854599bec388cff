import { countOf } from '../../core/units';
import { applyChange, type Listing, type OutboxRow, type RowChange } from '../../store';
import { type Assortment, caughtUp } from '../assortment/assortment';
import { nowOf, type Work } from '../context';
import { outgoing } from '../outbox/row';
import { repriceAfter } from './bench';
import { orphansOf } from './link';
import { follows } from './offer';
import { offerId } from './reprice';

const listingsOf = (assortment: Assortment, ids: readonly string[]): Listing[] =>
  ids.flatMap((id) => assortment.get(id)?.listing ?? []);

/** Calls back texts of listings that are on their way to nothing. */
async function callBack({ db }: Work, listings: readonly Listing[]): Promise<void> {
  const rows = await db.outbox.bulkGet(listings.map(({ id }) => `publish:${id}`));
  await db.outbox.bulkPut(
    rows.flatMap((row) => (row?.state === 'waiting' ? [{ ...row, state: 'withdrawn' as const }] : [])),
  );
}

/**
 * Ends listings on their marketplaces, as one change: nobody can buy them, and nothing follows the supplier until they are
 * brought back. @returns how many
 */
export async function endListings(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const ending = listingsOf(await caughtUp(work), ids).filter((l) => follows(l) && l.published);
    await callBack(work, ending);
    await db.outbox.bulkPut(
      ending.map((l): OutboxRow => {
        const { price } = l.published!;
        const body = { listing: l.id, sku: l.sku, price, quantity: 0, state: 'ended' } as const;
        return outgoing(offerId(l), l.marketplace, 'offer', `listing:${l.id}`, body, at);
      }),
    );
    const says = 'Ended by you.';
    await applyChange(
      db,
      { by: 'person', name: `End ${countOf(ending.length, 'listing')}` },
      ending.map((l) => ({
        table: 'listings',
        id: l.id,
        set: { state: 'ended', problem: null, held: null, last: { at, says } },
        says,
      })),
      nowOf(work),
    );
    return ending.length;
  });
}

/** Puts ended listings on sale again at the price and quantity of now, as one change. @returns how many */
export async function bringBack(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const ended = listingsOf(await caughtUp(work), ids).filter((l) => l.state === 'ended' && l.published);
    const says = 'Brought back.';
    await applyChange(
      db,
      { by: 'person', name: `Bring back ${countOf(ended.length, 'listing')}` },
      ended.map((l) => ({
        table: 'listings',
        id: l.id,
        // Whoever ended it, the marketplace is to be told.
        set: { state: 'paused', published: { ...l.published!, state: 'ended' } },
        says,
      })),
      nowOf(work),
    );
    await repriceAfter(
      work,
      ended.map((l) => l.id),
      says,
    );
    return ended.length;
  });
}

/**
 * Takes listings out of Sampan with what nothing else is listed of, as one change: their marketplace is told nothing, and they
 * stay there as they are. Orders of them come in as not linked. What is on its way to be published stays. @returns how many
 */
export async function takeOut(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const leaving = listingsOf(assortment, ids).filter((l) => follows(l) || l.state === 'ended');
    await callBack(work, leaving);
    const offers = await db.outbox.bulkGet(leaving.map(offerId));
    await db.outbox.bulkPut(
      offers.flatMap((row) => (row?.state === 'waiting' ? [{ ...row, state: 'withdrawn' as const }] : [])),
    );
    const rows: RowChange[] = [
      ...leaving.map((l) => ({ table: 'listings', remove: l.id, says: 'Taken out of Sampan.' }) as const),
      ...orphansOf(assortment, leaving),
    ];
    await applyChange(
      db,
      { by: 'person', name: `Take ${countOf(leaving.length, 'listing')} out of Sampan` },
      rows,
      nowOf(work),
    );
    return leaving.length;
  });
}
