import { countOf } from '../../core/units';
import { applyChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { nextChange, planFor } from '../quoting/plan-choice';
import { restingListings } from './demand';
import { queueChanges } from './publish';
import { movingListings, reprice } from './reprice';

/**
 * Lets prices and quantities follow what time alone changes: plans and sales that begin or end, goods that do not sell, stock
 * that grew old.
 * @returns what was done, in words, and when something changes next; null where nothing does
 */
export async function followCalendar(work: Work): Promise<{ says: string; next: number | null }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const resting = restingListings(assortment, work.clock());
    await applyChange(
      db,
      { by: 'rule', name: 'Prices follow demand', quiet: true },
      resting,
      nowOf(work),
      assortment.stored,
    );
    if (resting.length) await caughtUp(work);
    const { shop } = assortment;
    const moving = await movingListings(work, assortment, null);
    const { rows, told } = await reprice(work, moving, shop, () => ({ by: 'calendar' }), 'calendar');
    await applyChange(db, { by: 'rule', name: 'Prices follow the calendar' }, rows, nowOf(work));
    // During a sale the price without it is told too.
    const onSale = [...assortment.all()].flatMap(([, f]) => (planFor(shop, f)?.sale ? [f.listing.id] : []));
    await queueChanges(work, onSale);
    return { says: `${countOf(told, 'offer')} told.`, next: nextChange(shop) };
  });
}
