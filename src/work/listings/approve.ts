import { countOf } from '../../core/units';
import { applyChange, type ChangeHead, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { NONE } from '../memory/columns';
import type { FullListing } from '../quoting/full-listing';
import { groupOf, inGroups, isOnBench } from '../quoting/listing-standing';
import { orphansOf } from './link';
import { noteLeftOut } from './watched';

/** The groups that some listings on the Bench belong to, each whole. */
export function benchGroups(assortment: Assortment, ids: readonly string[]): FullListing[][] {
  const some = ids.flatMap((id) => assortment.get(id)?.listing ?? []);
  const wanted = new Set(some.map(groupOf));
  const all = assortment.rowsAt(assortment.ofProducts(new Set(some.map((l) => l.product))));
  const waiting = all.filter((f) => wanted.has(groupOf(f.listing)) && isOnBench(f.listing));
  return [...inGroups(waiting).values()];
}

/** Whether a listing on the Bench is fit to be sold as it stands. */
export function lacksNothing(assortment: Assortment, { listing }: FullListing): boolean {
  const { missing, numbers } = assortment.columns;
  const place = assortment.placeOf(listing.id);
  return missing[place]?.length === 0 && numbers.price[place] !== NONE;
}

/**
 * Approves products for their marketplaces where they lack nothing, as one change.
 * @param ids listings of them
 * @param head who does it and why, where it is not a person
 */
export async function approve(
  work: Work,
  ids: readonly string[],
  head?: ChangeHead,
): Promise<{ approved: number; lacking: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const at = work.clock();
    const rows: RowChange[] = [];
    let approved = 0;
    let lacking = 0;
    for (const group of benchGroups(assortment, ids)) {
      if (group.every((f) => f.listing.approvedAt !== null)) continue;
      if (!group.every((f) => lacksNothing(assortment, f))) {
        lacking++;
        continue;
      }
      approved++;
      for (const { listing } of group)
        rows.push({ table: 'listings', id: listing.id, set: { approvedAt: at }, says: 'Approved.' });
    }
    await applyChange(
      db,
      head ?? { by: 'person', name: `Approve ${countOf(approved, 'product')}` },
      rows,
      nowOf(work),
      assortment.stored,
    );
    return { approved, lacking };
  });
}

/** Takes listings off the Bench again, with what nothing else is listed of. @returns products that left */
export async function putBack(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const groups = benchGroups(assortment, ids);
    // A draft is on its marketplace: it is put on sale or ended there.
    const leaving = groups.flat().flatMap((f) => (f.listing.state === 'draft' ? [] : [f.listing]));
    const rows: RowChange[] = [
      ...leaving.map((l) => ({ table: 'listings', remove: l.id }) as const),
      ...orphansOf(assortment, leaving),
    ];
    const count = new Set(leaving.map(groupOf)).size;
    await applyChange(db, { by: 'person', name: `Put ${countOf(count, 'product')} back` }, rows, nowOf(work));
    return count;
  });
}

/**
 * Leaves variants that wait on the Bench out of their marketplace, as one change. One of each product stays; taken again at
 * Source they come back. @returns how many were left out
 */
export async function leaveOut(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const out = new Set(ids);
    const leaving = benchGroups(assortment, ids).flatMap((group) => {
      const going = group.filter((f) => out.has(f.listing.id));
      return going.length < group.length ? going.map((f) => f.listing) : [];
    });
    await noteLeftOut(
      work,
      leaving.flatMap((l) => assortment.get(l.id)?.source ?? []),
    );
    const rows: RowChange[] = [
      ...leaving.map((l) => ({ table: 'listings', remove: l.id, says: 'Left out.' }) as const),
      ...orphansOf(assortment, leaving),
    ];
    await applyChange(
      db,
      { by: 'person', name: `Leave out ${countOf(leaving.length, 'variant')}` },
      rows,
      nowOf(work),
    );
    return leaving.length;
  });
}
