import { countOf, type Instant } from '../../core/units';
import {
  addedIn,
  applyChange,
  type ChangedTable,
  type ChangeHead,
  type Edit,
  type Listing,
  type MarketRow,
  type OutboxRow,
  type RowChange,
  type Undone,
  undoChange,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { NONE } from '../memory/columns';
import { publishRow } from '../outbox/row';
import { waitingFor } from '../outbox/waiting';
import type { FullListing } from '../quoting/full-listing';
import { follows } from '../quoting/offer';
import { agreedOf } from '../quoting/own-price';
import { missingOf, quoteListing } from '../quoting/quote';
import { differs, groupOf, inGroups, isOnBench, waitingState } from '../quoting/standing';
import { marketOf } from '../quoting/worth';
import { orphansOf } from './link';
import { movingListings, reprice } from './reprice';
import { noteLeftOut } from './watched';

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
async function tellFullPrices(work: Work): Promise<void> {
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

const listedOn = (assortment: Assortment, markets: readonly string[]): string[] =>
  [...assortment.all()].flatMap(([, { listing }]) =>
    markets.includes(listing.marketplace) ? [listing.id] : [],
  );

/** Takes a change back; listings that went live meanwhile stay, and live prices follow what was brought back. */
export async function undo(work: Work, id: string): Promise<Undone> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const sold = soldOf(assortment, await addedIn(db, id));
    const kept = {
      listings: new Set(sold.map((l) => l.id)),
      variants: new Set(sold.map((l) => l.variant)),
      products: new Set(sold.map((l) => l.product)),
    } as const;
    const isKept = (e: Edit) =>
      e.before === null &&
      e.table in kept &&
      kept[e.table as keyof typeof kept].has(e.subject.slice(e.subject.indexOf(':') + 1));
    // An address that a supplier has, or may have, by now is what it was sent with.
    const isSent = (e: Edit, row: unknown) =>
      e.table === 'orders' &&
      (row as { purchases?: readonly unknown[] } | undefined)?.purchases?.length !== 0;
    const undone = await undoChange(
      db,
      id,
      nowOf(work),
      (e, row) => !isKept(e) && !isSent(e, row),
      (table, rowId) => assortment.has(table, rowId),
    );
    if (undone.ok) await followUndo(work, undone);
    return undone;
  });
}

/** Listings past the Bench that are among added rows, or are made of them. */
function soldOf(assortment: Assortment, added: ReadonlyMap<ChangedTable, readonly string[]>): Listing[] {
  const idsOf = (table: ChangedTable) => added.get(table) ?? [];
  const places = [
    ...idsOf('listings').map((id) => assortment.placeOf(id)),
    ...assortment.ofVariants(idsOf('variants')),
    ...assortment.ofProducts(idsOf('products')),
  ];
  return assortment.rowsAt(places).flatMap(({ listing }) => (listing.state === 'bench' ? [] : [listing]));
}

/** What follows a change that was taken back: the listings it touched; all of them where it was a rule or a connection. */
async function followUndo(work: Work, { name, redone, touched }: Undone & { ok: true }): Promise<void> {
  const idsOf = (table: ChangedTable) => touched.flatMap((t) => (t.table === table ? [t.id] : []));
  const all = (['plans', 'settings', 'connections', 'rates'] as const).some((t) => idsOf(t).length);
  const assortment = await caughtUp(work);
  const of = assortment.rowsAt([
    ...assortment.ofProducts(idsOf('products')),
    ...assortment.ofVariants(idsOf('variants')),
  ]);
  const ids = [...new Set([...idsOf('listings'), ...of.map((f) => f.listing.id)])];
  if (all || ids.length) await repriceAfter(work, all ? null : ids, `${redone ? 'Redo' : 'Undo'}: ${name}`);
  if (touched.some((t) => t.table === 'plans' && t.fields.includes('sale'))) await tellFullPrices(work);
  // What was told of texts is told anew.
  const markets = touched.flatMap((t) =>
    t.table === 'connections' && t.fields.some((field) => TOLD_OF_ALL.has(field)) ? [t.id] : [],
  );
  const told = touched.some((t) => t.fields.some((field) => TOLD.has(field)));
  if (told || markets.length) await queueChanges(work, [...ids, ...listedOn(assortment, markets)]);
}

/** Fields that a marketplace is told of besides price and quantity. */
const TOLD: ReadonlySet<string> = new Set([
  'title',
  'description',
  'brand',
  'category',
  'attributes',
  'tags',
  'copy',
  'pictures',
  'alts',
  'gtin',
  'grams',
  'size',
  'apart',
]);

/** What is told of all listings of a marketplace where it changes. */
const TOLD_OF_ALL: ReadonlySet<string> = new Set(['categories', 'presets', 'site', 'agreed', 'fees']);

/** The groups that some listings on the Bench belong to, each whole. */
function benchGroups(assortment: Assortment, ids: readonly string[]): FullListing[][] {
  const some = ids.flatMap((id) => assortment.get(id)?.listing ?? []);
  const wanted = new Set(some.map(groupOf));
  const all = assortment.rowsAt(assortment.ofProducts(new Set(some.map((l) => l.product))));
  const waiting = all.filter((f) => wanted.has(groupOf(f.listing)) && isOnBench(f.listing));
  return [...inGroups(waiting).values()];
}

/** Whether a listing on the Bench is fit to be sold as it stands. */
function lacksNothing(assortment: Assortment, { listing }: FullListing): boolean {
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

/** What became of listings whose text or pictures differ from what their marketplace was told. */
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

/** What waits to be published and was not sent yet. @param only listings; null for all */
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
