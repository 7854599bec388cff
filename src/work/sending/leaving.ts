import { countOf } from '../../core/units';
import { applyChange, type MarketConnection, type OutboxRow } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { documentOf, waitingState } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { quoteListing } from '../quoting/quote';
import { close, type Told } from './answered';

/** Listings as they are told now. What cannot be told any more goes back to the Bench with the reason. */
export async function drafted(
  work: Work,
  c: MarketConnection,
  rows: readonly OutboxRow<'publish'>[],
): Promise<Told[]> {
  const assortment = await caughtUp(work);
  const leaving: Told[] = [];
  const stays: OutboxRow<'publish'>[] = [];
  for (const row of rows) {
    const full = assortment.get(row.body.listing);
    const quote = full && quoteListing(full, assortment.shop);
    // A listing that is on sale keeps the price it was last told: prices move by offers.
    const { price, quantity } = (full && follows(full.listing) && full.listing.published) || {
      price: quote?.price ?? null,
      quantity: quote?.quantity,
    };
    if (!full || !quote?.category || price === null || quantity === undefined) stays.push(row);
    else
      leaving.push({
        row,
        document: documentOf(full, { ...quote, category: quote.category }, c, assortment.shop),
        price,
        quantity,
      });
  }
  if (stays.length) await putBackToBench(work, c, stays);
  return leaving;
}

/** Takes back listings that lack something by now. */
async function putBackToBench(
  work: Work,
  c: MarketConnection,
  rows: readonly OutboxRow<'publish'>[],
): Promise<void> {
  const { db } = work;
  const says = `It lacks a price or a category by now and was not sent to ${c.name}.`;
  await db.transaction('rw', db.shopTables, async () => {
    for (const row of rows) await close(work, row, 'withdrawn', says);
    const listings = await db.listings.bulkGet(rows.map((r) => r.body.listing));
    await applyChange(
      db,
      { by: 'rule', name: `${countOf(rows.length, 'listing')} could not be sent` },
      listings.flatMap((l) =>
        l?.state === 'publishing'
          ? [
              {
                table: 'listings',
                id: l.id,
                set: { state: waitingState(l), approvedAt: null },
                says,
              } as const,
            ]
          : [],
      ),
      nowOf(work),
    );
  });
}
