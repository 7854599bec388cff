import { countOf } from '../../core/units';
import { applyChange, type Listing } from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { listingRowId, offerRow } from '../outbox/row';
import { withdraw } from '../outbox/waiting';
import { follows } from '../quoting/offer';
import { repriceAfter } from './rules';

const listingsOf = (assortment: Assortment, ids: readonly string[]): Listing[] =>
  ids.flatMap((id) => assortment.get(id)?.listing ?? []);

/**
 * Ends listings on their marketplaces, as one change: nobody can buy them, and nothing follows the supplier until they are
 * brought back. @returns how many
 */
export async function endListings(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const ending = listingsOf(await caughtUp(work), ids).filter((l) => follows(l) && l.published);
    await withdraw(
      db,
      ending.map((l) => listingRowId('publish', l.id)),
    );
    await db.outbox.bulkPut(
      ending.map((l) => offerRow(l, { price: l.published!.price, quantity: 0, state: 'ended' }, at)),
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
