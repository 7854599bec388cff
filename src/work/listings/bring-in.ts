import { openList, rowsOf } from '../../connect/lists';
import type { ListingFilter } from '../../connect/marketplace';
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
  fileOf,
  type Job,
  type Listing,
  type MarketConnection,
  type Product,
  type SampanDatabase,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { dropFiles } from '../readings/dropped-lists';
import { NEVER, newJob } from '../schedule/job';

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

const BATCH = 5_000;

/**
 * Adds listings that the shop has on a marketplace, each as it is: nothing is told to the marketplace, the price stays
 * until a plan is allowed to move it.
 */
export async function addListings(
  work: Work,
  market: MarketConnection,
  rows: readonly ListingRow[],
  again: boolean,
): Promise<BroughtIn> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
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
      if (!there.has(id) && !products.has(id)) products.set(id, broughtProduct(id, row, at));
    }
    const variantOf = (row: ListingRow) => `shop:${idOf(row)}`;
    const listings = fresh.map(
      (row): Listing => ({
        id: idOf(row),
        product: productOf(row),
        variant: variantOf(row),
        marketplace: market.id,
        sku: row.sku,
        state: row.state,
        title: null,
        description: null,
        category: market.site.categories.some((c) => c.id === row.category) ? row.category : null,
        attributes: {},
        tags: [],
        plan: null,
        approvedAt: at,
        ownPrice: row.price,
        published: { price: row.price, quantity: row.quantity, at, mark: null },
        problem: null,
        last: { at, says: `Brought in from ${market.name}.` },
      }),
    );
    const variants = fresh.map(
      (row): Variant => ({
        id: variantOf(row),
        product: productOf(row),
        sku: row.sku,
        options: row.options,
        gtin: row.gtin,
        grams: null,
        size: null,
        sources: [],
      }),
    );
    await db.removed.bulkDelete(fresh.map(idOf));
    await addAll(
      db,
      { by: 'person', name: `Bring in ${countOf(listings.length, 'listing')} of ${market.name}` },
      [
        { table: 'products', rows: [...products.values()] },
        { table: 'variants', rows: variants },
        { table: 'listings', rows: listings },
      ],
      nowOf(work),
    );
    return {
      added: fresh.length,
      known: rows.filter((r) => known.has(idOf(r))).length,
      removed: rows.filter((r) => before.has(idOf(r)) && !again).length,
    };
  });
}

/** Texts of the shop count as our own from the start. */
const broughtProduct = (id: string, row: ListingRow, at: number): Product => ({
  id,
  supplier: '',
  group: row.group,
  taken: {
    title: row.title,
    description: row.description,
    category: row.category,
    brand: row.brand,
    pictures: row.pictures,
    at,
  },
  theirs: null,
  title: row.title,
  description: row.description || null,
  brand: null,
  pictures: null,
  keywords: {},
});

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
  if (!row) return { ok: false, reason: 'This file is no longer stored. Drop it again.' };
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
