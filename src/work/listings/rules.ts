import { applyChange, type MarketRow, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { type Queued, queueChanges } from './publish';
import { movingListings, reprice } from './reprice';

/**
 * Lets live listings follow what was just changed; all of them for null. Runs inside the caller's transaction.
 * @param change its name
 */
export async function repriceAfter(
  work: Work,
  ids: readonly string[] | null,
  change: string,
): Promise<number> {
  const assortment = await caughtUp(work);
  const places = ids ? ids.map((id) => assortment.placeOf(id)) : null;
  const moving = await movingListings(work, assortment, places);
  const { rows, told } = await reprice(
    work,
    moving,
    assortment.shop,
    () => ({ by: 'change', name: change }),
    'person',
  );
  await applyChange(work.db, { by: 'rule', name: `Prices follow: ${change}.` }, rows, nowOf(work));
  return told;
}

/** Changes what all prices depend on, as one change, and lets the whole shop follow. Undo brings back the old prices too. */
export async function saveRules(work: Work, rows: readonly RowChange[], name: string): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const hadSale = await hasSale(work);
    await applyChange(
      db,
      { by: 'person', name },
      rows.map((r) => ({ says: name, ...r })),
      nowOf(work),
    );
    const told = await repriceAfter(work, null, name);
    if (rows.some((r) => r.table === 'plans') && (hadSale || (await hasSale(work))))
      await tellFullPrices(work);
    return told;
  });
}

const hasSale = async ({ db }: Work): Promise<boolean> =>
  (await db.plans.toArray()).some((plan) => plan.on && plan.sale);

/** Tells the price without the sale where a sale began or ended by a change, to marketplaces that take one. */
export async function tellFullPrices(work: Work): Promise<void> {
  const assortment = await caughtUp(work);
  const takes = [...assortment.shop.connections.values()].filter(
    (c) => c.role === 'marketplace' && c.site.attributes.some((a) => a.isBefore),
  );
  await queueChanges(
    work,
    listedOn(
      assortment,
      takes.map((c) => c.id),
    ),
  );
}

/**
 * Changes what is told of the listings of one marketplace, as one change: prices follow where they depend on it, what is on
 * sale is told. @param rows besides what is set on the marketplace @returns with how many prices are told
 */
export async function saveMarketRules(
  work: Work,
  market: string,
  set: Partial<MarketRow>,
  rows: readonly RowChange[],
  name: string,
): Promise<Queued & { readonly prices: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const prices = await saveRules(work, [{ table: 'connections', id: market, set }, ...rows], name);
    return { prices, ...(await queueChanges(work, listedOn(await caughtUp(work), [market]))) };
  });
}

export const listedOn = (assortment: Assortment, markets: readonly string[]): string[] =>
  [...assortment.all()].flatMap(([, { listing }]) =>
    markets.includes(listing.marketplace) ? [listing.id] : [],
  );
