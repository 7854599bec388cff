import { openList, rowsOf } from '../../connect/lists';
import type { ListingFilter } from '../../connect/marketplace';
import type { Catalogue } from '../../core/catalogue';
import { linkAll, type Proposal, type Wanted } from '../../core/linking';
import {
  type CellProblem,
  type ListingRow,
  listingReader,
  type Match,
  matchProblems,
} from '../../core/lists';
import { countOf } from '../../core/units';
import {
  addAll,
  applyChange,
  fileOf,
  type Job,
  type LinkProposal,
  type Listing,
  type MarketConnection,
  type Product,
  type RowChange,
  type SampanDatabase,
  type SupplierConnection,
} from '../../store';
import { nowOf, type Work } from '../context';
import { NEVER, newJob } from '../jobs/job';
import { dropFiles } from '../readings/dropped-lists';

/**
 * How a shop is brought in: which listings, and whether those that were taken out of Sampan before come
 * again.
 */
export interface BringIn extends ListingFilter {
  readonly removed: boolean;
}

const wishId = (market: string) => `bring-in:${market}`;

/** Begins to bring in a marketplace's listings; the runner reads them page by page. */
export async function startBringIn(work: Work, market: string, wish: BringIn): Promise<void> {
  const { db } = work;
  await db.transaction('rw', [db.notes, db.jobs], async () => {
    await db.notes.put({ id: wishId(market), value: wish });
    const at = work.clock();
    await db.jobs.put({ ...newJob(market, 'listings', at), every: NEVER });
  });
}

export async function wishOf(db: SampanDatabase, market: string): Promise<BringIn> {
  return (
    ((await db.notes.get(wishId(market)))?.value as BringIn | undefined) ?? {
      state: 'live',
      category: '',
      removed: false,
    }
  );
}

export interface BroughtIn {
  readonly added: number;
  /** Known already. */
  readonly known: number;
  /** Taken out of Sampan before and left out now. */
  readonly removed: number;
}

const BATCH = 200;

/**
 * Adds listings that the shop has on a marketplace, each as it is: nothing is told to the marketplace, the
 * price stays until a plan is allowed to move it.
 */
export async function addListings(
  work: Work,
  market: MarketConnection,
  rows: readonly ListingRow[],
  again: boolean,
): Promise<BroughtIn> {
  const { db } = work;
  return db.transaction('rw', [db.products, db.listings, db.changes, db.edits, db.removed], async () => {
    const at = work.clock();
    const idOf = (row: ListingRow) => `${market.id}:${row.sku}`;
    const ids = rows.map(idOf);
    const known = new Set((await db.listings.bulkGet(ids)).flatMap((l) => (l ? [l.id] : [])));
    const before = new Set((await db.removed.bulkGet(ids)).flatMap((r) => (r ? [r.id] : [])));
    const seen = new Set<string>();
    const fresh = rows.filter((row) => {
      const id = idOf(row);
      if (known.has(id) || seen.has(id) || (before.has(id) && !again)) return false;
      seen.add(id);
      return true;
    });
    const productOf = (row: ListingRow) => `shop:${market.id}:${row.group ?? row.sku}`;
    const products = new Map<string, Product>();
    const there = new Set(
      (await db.products.bulkGet([...new Set(fresh.map(productOf))])).flatMap((p) => (p ? [p.id] : [])),
    );
    for (const row of fresh) {
      const id = productOf(row);
      if (there.has(id) || products.has(id)) continue;
      products.set(id, {
        id,
        supplier: '',
        group: row.group,
        marketplace: market.id,
        taken: {
          title: row.title,
          description: row.description,
          category: row.category,
          brand: row.brand,
          pictures: row.pictures,
          at,
        },
        theirs: null,
        // What stands in the shop is our own text from the first moment on.
        title: row.title,
        description: row.description || null,
        category: market.site.categories.some((c) => c.id === row.category) ? row.category : null,
        plan: null,
        approvedAt: at,
      });
    }
    const listings = fresh.map(
      (row): Listing => ({
        id: idOf(row),
        product: productOf(row),
        marketplace: market.id,
        supplier: '',
        item: '',
        sku: row.sku,
        options: row.options,
        gtin: row.gtin,
        facts: { cost: 0, stock: 0, map: null, msrp: null, grams: 0, at },
        backup: null,
        state: row.state,
        ownPrice: row.price,
        told: { price: row.price, quantity: row.quantity, at },
        problem: null,
        last: { at, says: `Brought in from ${market.name}.` },
      }),
    );
    await db.removed.bulkDelete(fresh.map(idOf));
    await addAll(
      db,
      { by: 'person', name: `Bring in ${countOf(listings.length, 'listing')} of ${market.name}` },
      [
        { table: 'products', rows: [...products.values()] },
        { table: 'listings', rows: listings },
      ],
      nowOf(work),
      BATCH,
    );
    return {
      added: fresh.length,
      known: rows.filter((r) => known.has(idOf(r))).length,
      removed: rows.filter((r) => before.has(idOf(r)) && !again).length,
    };
  });
}

/** Reads a shop's listings out of a file and adds them. */
export async function bringInFile(
  work: Work,
  market: MarketConnection,
  file: string,
  match: Match,
  again: boolean,
): Promise<
  | { ok: true; value: BroughtIn & { refused: readonly { line: number; problem: CellProblem }[] } }
  | { ok: false; reason: string }
> {
  const { db } = work;
  const wrong = matchProblems(match);
  if (wrong.length) return { ok: false, reason: wrong.join(' ') };
  const row = await db.bytes.get(file);
  if (!row) return { ok: false, reason: 'This file is not kept any more. Drop it again.' };
  const opened = await openList(fileOf(row.file), match.format, match.decimal);
  if (!opened.ok) return opened;
  const read = listingReader({ ...match, currency: market.site.currency });
  const refused: { line: number; problem: CellProblem }[] = [];
  const sum = { added: 0, known: 0, removed: 0 };
  for (let place: string | null = null; ; ) {
    const batch = await opened.value.next(place);
    const rows: ListingRow[] = [];
    for (const [k, cells] of rowsOf(batch).entries()) {
      const one = read(cells);
      if (one.ok) rows.push(one.listing);
      else refused.push({ line: batch.lines[k]!, problem: one.problem });
    }
    for (let from = 0; from < rows.length; from += BATCH) {
      const part = await addListings(work, market, rows.slice(from, from + BATCH), again);
      sum.added += part.added;
      sum.known += part.known;
      sum.removed += part.removed;
    }
    place = batch.next;
    if (place === null) break;
  }
  await dropFiles(db, [{ id: file }]);
  return { ok: true, value: { ...sum, refused } };
}

/** Listings that no supplier item is linked to. */
export const unlinkedOf = (db: SampanDatabase) =>
  db.listings.where('[supplier+item]').equals(['', '']).toArray();

/**
 * Finds what each unlinked listing may sell, and keeps it to be confirmed.
 * Cost: one pass over all catalogues, then about a millisecond a listing without SKU or barcode.
 */
export async function findLinks(
  work: Work,
  catalogues: readonly { readonly supplier: SupplierConnection; readonly catalogue: Catalogue }[],
): Promise<{ looked: number; sure: number; took: number }> {
  const { db } = work;
  const [listings, products, markets] = await Promise.all([
    unlinkedOf(db),
    db.products.where('id').startsWith('shop:').toArray(),
    db.connections.toArray(),
  ]);
  const byId = new Map(products.map((p) => [p.id, p]));
  const currency = new Map(markets.map((m) => [m.id, m.role === 'marketplace' ? m.site.currency : '']));
  const wanted = listings.map((l): Wanted => {
    const product = byId.get(l.product);
    return {
      id: l.id,
      sku: l.sku,
      group: product?.group ? l.product : null,
      gtin: l.gtin,
      title: product?.title ?? '',
      brand: product?.taken.brand ?? '',
      options: l.options,
      price: l.told?.price ?? 0,
      currency: currency.get(l.marketplace) ?? '',
    };
  });
  const begun = performance.now();
  const proposals = linkAll(
    wanted,
    catalogues.map((c) => ({
      supplier: c.supplier.id,
      currency: c.supplier.currency,
      catalogue: c.catalogue,
    })),
  );
  const took = performance.now() - begun;
  const at = work.clock();
  await db.transaction('rw', [db.proposals], async () => {
    await db.proposals.clear();
    await db.proposals.bulkPut(proposals.map((p: Proposal): LinkProposal => ({ ...p, id: p.listing, at })));
  });
  return { looked: proposals.length, sure: proposals.filter((p) => p.sure).length, took };
}

/** A link to be made: which listing sells which item. An item of '' takes the link away. */
export interface Link {
  readonly listing: string;
  readonly supplier: string;
  readonly item: string;
}

/**
 * Links listings to supplier items as one change. Cost and stock follow from the supplier's next reading on;
 * the price stays what it is, as an own price.
 * @param factsOf what is known of an item now; null where the supplier has none of it
 */
export async function linkListings(
  work: Work,
  links: readonly Link[],
  factsOf: (link: Link) => Listing['facts'] | null,
  name?: string,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', [db.listings, db.products, db.changes, db.edits, db.proposals], async () => {
    const known = new Map(
      (await db.listings.bulkGet(links.map((l) => l.listing))).flatMap((l) =>
        l ? [[l.id, l] as const] : [],
      ),
    );
    const at = work.clock();
    const rows: RowChange[] = [];
    let n = 0;
    for (const link of links) {
      const listing = known.get(link.listing);
      const facts = link.item ? factsOf(link) : { cost: 0, stock: 0, map: null, msrp: null, grams: 0, at };
      if (!listing || !facts) continue;
      n++;
      const says = link.item
        ? `Linked to ${link.item} of ${link.supplier}.`
        : 'Its link was taken away: orders for it are held.';
      // A backup that becomes the source is no backup any more.
      const backup =
        listing.backup?.supplier === link.supplier && listing.backup.item === link.item
          ? null
          : listing.backup;
      rows.push({
        table: 'listings',
        id: listing.id,
        set: { supplier: link.supplier, item: link.item, facts, backup },
        says,
      });
      rows.push({ table: 'products', id: listing.product, set: { supplier: link.supplier } });
    }
    const called =
      name ?? (n === 1 ? `Link ${known.get(links[0]!.listing)?.sku ?? ''}` : `Link ${countOf(n, 'listing')}`);
    await applyChange(db, { by: 'person', name: called }, rows, nowOf(work));
    return n;
  });
}

/** Names a second supplier's item for a listing, or none. */
export async function setBackup(work: Work, listing: string, backup: Listing['backup']): Promise<void> {
  const { db } = work;
  await db.transaction('rw', [db.listings, db.changes, db.edits], async () => {
    const row = await db.listings.get(listing);
    const says = backup ? `Backup: ${backup.item} of ${backup.supplier}.` : 'No backup any more.';
    await applyChange(
      db,
      { by: 'person', name: `Backup of ${row?.sku ?? ''}` },
      [{ table: 'listings', id: listing, set: { backup }, says }],
      nowOf(work),
    );
  });
}

/**
 * Takes listings out of Sampan as one change: they go on selling as they are, and do not come in again unless
 * asked for.
 */
export async function removeListings(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction(
    'rw',
    [db.listings, db.products, db.removed, db.changes, db.edits, db.proposals],
    async () => {
      const listings = (await db.listings.bulkGet([...ids])).filter((l) => l !== undefined);
      const rows: RowChange[] = [];
      const at = work.clock();
      for (const l of listings)
        rows.push(
          { table: 'listings', remove: l.id },
          { table: 'removed', add: { id: l.id, at } as { id: string } },
        );
      const leaving = new Set(listings.map((l) => l.id));
      for (const product of new Set(listings.map((l) => l.product))) {
        const all = await db.listings.where('product').equals(product).primaryKeys();
        if (all.every((id) => leaving.has(id))) rows.push({ table: 'products', remove: product });
      }
      await db.proposals.bulkDelete([...leaving]);
      await applyChange(
        db,
        { by: 'person', name: `Take ${countOf(listings.length, 'listing')} out of Sampan` },
        rows,
        nowOf(work),
      );
      return listings.length;
    },
  );
}

/** One step of bringing in: the next page of the marketplace's listings. */
export async function bringInStep(
  work: Work,
  market: MarketConnection,
  job: Job,
  page: {
    readonly total: number;
    readonly listings: readonly ListingRow[];
    readonly refused: readonly string[];
    readonly next: string | null;
  },
): Promise<{ done: boolean; says: string }> {
  const { db } = work;
  const wish = await wishOf(db, market.id);
  const sum = (job.progress?.seen ?? []).map((s) => s.split(' ').map(Number));
  const brought = await addListings(work, market, page.listings, wish.removed);
  const all = [...sum, [brought.added, brought.known, brought.removed, page.refused.length]];
  const at = (k: number) => all.reduce((n, s) => n + s[k]!, 0);
  const done = (job.progress?.done ?? 0) + page.listings.length + page.refused.length;
  if (page.next !== null)
    await db.jobs.update(job.id, {
      progress: {
        cursor: page.next,
        done,
        seen: all.map((s) => s.join(' ')),
        startedAt: job.progress?.startedAt ?? work.clock(),
      },
      running: { startedAt: job.running?.startedAt ?? work.clock(), done, total: page.total },
    });
  const parts = [
    `${countOf(at(0), 'listing')} brought in`,
    at(1) && `${at(1)} known already`,
    at(2) && `${at(2)} taken out before and left`,
    at(3) && `${at(3)} could not be read`,
  ].filter(Boolean);
  return { done: page.next === null, says: parts.join(', ') };
}
