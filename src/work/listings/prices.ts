import { countOf } from '../../core/units';
import { applyChange, type Listing } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { isOnBench } from '../quoting/listing-standing';
import { agreedOf } from '../quoting/own-price';
import { repriceAfter } from './rules';

/**
 * An own price for one listing, or null to follow the plan again. A live listing is told at once. @param agreed whether it
 *   is offered even where it breaks guards, for as long as nothing gets worse @throws RangeError where the price is not
 *   more than nothing
 */
export async function setOwnPrice(
  work: Work,
  id: string,
  price: number | null,
  agreed = false,
): Promise<void> {
  if (price !== null && !(Number.isSafeInteger(price) && price > 0))
    throw new RangeError(`${price} is no price`);
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const listing = await db.listings.get(id);
    if (!listing) return;
    const name = price === null ? `${listing.sku} follows its plan again` : `Own price for ${listing.sku}`;
    const full = (await caughtUp(work)).get(id);
    const set = {
      ownPrice: price,
      ownAgreed: agreed && full ? agreedOf(full, (await caughtUp(work)).shop) : null,
      ...(isOnBench(listing) && { approvedAt: null }),
    };
    await applyChange(
      db,
      { by: 'person', name },
      [{ table: 'listings', id: listing.id, set, says: `${name}.` }],
      nowOf(work),
    );
    await repriceAfter(work, [listing.id], name);
  });
}

/**
 * Lets prices go the step that waits for a person, as one change; or keeps them as own prices.
 * @returns how many
 */
export async function settleSteps(work: Work, ids: readonly string[], go: boolean): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const waiting = ids.flatMap((id) => assortment.get(id) ?? []).filter((f) => f.listing.held);
    const count = countOf(waiting.length, 'price step');
    const set = (l: Listing) => ({
      held: null,
      problem: null,
      ...(!go && {
        ownPrice: l.published?.price ?? l.ownPrice,
        ownAgreed: agreedOf(assortment.get(l.id)!, assortment.shop),
      }),
    });
    await applyChange(
      db,
      { by: 'person', name: go ? `${count} approved` : `${count} not taken` },
      waiting.map(({ listing }) => ({ table: 'listings', id: listing.id, set: set(listing) })),
      nowOf(work),
    );
    await repriceAfter(
      work,
      waiting.map((f) => f.listing.id),
      go ? 'Step approved' : 'Its price is kept',
    );
    return waiting.length;
  });
}

/** Takes the costs that leapt of the items that some listings are bought as, as one change; prices follow. @returns how many items */
export async function takeLeaps(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const items = new Map(
      ids.flatMap((id) => {
        const item = assortment.get(id)?.item;
        return item?.leap ? [[item.id, item] as const] : [];
      }),
    );
    const at = work.clock();
    const name = `${countOf(items.size, 'cost')} that leapt taken`;
    await applyChange(
      db,
      { by: 'person', name },
      [...items.values()].map((item) => ({
        table: 'items',
        id: item.id,
        set: { cost: item.leap!.cost, leap: null, times: { ...item.times, cost: at } },
        moves: { item: { currency: item.currency, cost: [item.cost, item.leap!.cost] } },
      })),
      nowOf(work),
    );
    const touched = assortment.ofItems(items.keys()).map((f) => f.listing.id);
    await repriceAfter(work, touched, name);
    return items.size;
  });
}
