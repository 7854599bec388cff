import { type Catalogue, ITEM_FIELDS, Searcher } from '../../core/catalogue';
import { digitsOf } from '../../core/money';
import { problemInWords, problemsOf } from '../../core/query';
import { countOf } from '../../core/units';
import { applyChange, catalogueNote, readDetails, type SavedSearch } from '../../store';
import { nowOf, type Work } from '../context/work';
import { approve } from '../listings/approve';
import { takeItems } from '../listings/take';
import { matchHash } from '../listings/watched';
import { caughtUp } from '../memory/assortment';
import { readAgedTerms } from '../memory/read-shop';
import { supplierOf } from '../quoting/worth';
import { expectedPrices } from './expected-prices';

/** More new matches at once than this are only told: a mistyped search must not fill the Bench by itself. */
export const MOST_TAKEN = 500;

/** Rows of a supplier that the shop has taken. */
export async function takenRows(work: Work, supplier: string, catalogue: Catalogue): Promise<Uint8Array> {
  const rows = new Uint8Array(catalogue.length);
  for (const item of (await caughtUp(work)).takenOf(supplier)) {
    const row = catalogue.rowOf(item);
    if (row >= 0) rows[row] = 1;
  }
  return rows;
}

/**
 * Looks for new matches of watched searches after a supplier's list was read: reports them, or puts them on
 * the Bench where the seller said so. A match is new once; one that left and came back is not. Cost: one
 * search a watched search.
 */
export async function lookForNew(work: Work, supplier: string, catalogue: Catalogue): Promise<void> {
  const { db } = work;
  const watched = (await db.searches.toArray()).filter(
    (s) => s.watch !== 'off' && !problemsOf(s.query, ITEM_FIELDS).length,
  );
  if (!watched.length) return;
  const shop = await readAgedTerms(db, work.clock());
  const source = supplierOf(shop, supplier);
  const note = await catalogueNote(db, supplier);
  if (!source || !note) return;
  const taken = await takenRows(work, supplier, catalogue);
  for (const search of watched) {
    const shelf = {
      supplier,
      name: source.name,
      scale: 10 ** digitsOf(source.currency),
      catalogue,
      prices: expectedPrices(catalogue, shop, supplier, search.market),
      taken,
    };
    const known = new Set(search.known);
    const searcher = new Searcher([shelf]);
    const matches = searcher.ids(searcher.find(search.query));
    const fresh = [...matches].filter((row) => !known.has(matchHash(supplier, catalogue.skuAt(row))));
    if (!fresh.length) continue;
    const rows = fresh.filter((row) => !taken[row]);
    const puts = search.watch === 'take' || search.watch === 'approve';
    const takes = puts && search.market && rows.length <= MOST_TAKEN;
    if (takes) {
      const details = await readDetails(db, supplier, note.generation, catalogue, rows);
      const items = rows.map((row) => ({
        supplier,
        item: catalogue.itemAt(row),
        detail: details.get(catalogue.skuAt(row)) ?? null,
        mark: catalogue.cold[row],
      }));
      await takeItems(work, search.market!, items, {
        by: 'rule',
        name: `“${search.name}” put ${countOf(items.length, 'new match', 'new matches')} on the Bench`,
        undoable: true,
      });
      for (const row of rows) taken[row] = 1;
      // Only where the seller has said so; what lacks something waits for a person.
      if (search.watch === 'approve') {
        const keys = new Set(rows.map((row) => catalogue.skuAt(row)));
        const ids = [...(await caughtUp(work)).all()].flatMap(([, { listing, source }]) =>
          listing.marketplace === search.market && source?.supplier === supplier && keys.has(source.item)
            ? [listing.id]
            : [],
        );
        await approve(work, ids, { by: 'rule', name: `“${search.name}” approved what lacks nothing` });
      }
    }
    const change: Partial<SavedSearch> = {
      known: Int32Array.from([...known, ...fresh.map((row) => matchHash(supplier, catalogue.skuAt(row)))]),
      fresh: search.fresh + fresh.length,
      freshAt: work.clock(),
    };
    await db.searches.update(search.id, change);
  }
}

/** The search that is watched from the first supplier on: variants that a supplier adds to what is sold. */
export async function watchVariants({ db, clock }: Pick<Work, 'db' | 'clock'>): Promise<void> {
  if (await db.searches.get('variants')) return;
  await db.searches.put({
    id: 'variants',
    name: 'New variants of what you sell',
    query: { all: [{ field: 'is', is: 'variant' }] },
    sort: '',
    market: null,
    watch: 'report',
    known: new Int32Array(),
    fresh: 0,
    freshAt: null,
    at: clock(),
  });
}

/** Keeps a search under a name; what matches now is not new. One that is not wholly understood is refused: it would find all. */
export async function saveSearch(
  work: Work,
  search: Pick<SavedSearch, 'name' | 'query' | 'sort' | 'market' | 'watch'> & { readonly id?: string },
  known: Int32Array,
): Promise<{ readonly ok: true; readonly id: string } | { readonly ok: false; readonly reason: string }> {
  const [problem] = problemsOf(search.query, ITEM_FIELDS);
  if (problem) return { ok: false, reason: problemInWords(problem) };
  const id = search.id ?? work.newId();
  await work.db.searches.put({ ...search, id, known, fresh: 0, freshAt: null, at: work.clock() });
  return { ok: true, id };
}

/** Forgets a kept search; it can be taken back. */
export async function forgetSearch(work: Work, search: Pick<SavedSearch, 'id' | 'name'>): Promise<void> {
  const { db } = work;
  await db.transaction('rw', [db.searches, db.changes, db.edits], () =>
    applyChange(
      db,
      { by: 'person', name: `Delete the search “${search.name}”` },
      [{ table: 'searches', remove: search.id }],
      nowOf(work),
    ),
  );
}

type Stored = Pick<Work, 'db'>;

export const savedSearches = ({ db }: Stored): Promise<SavedSearch[]> => db.searches.toArray();

/** A kept search, opened: its new matches count as seen. */
export async function openSearch({ db }: Stored, id: string): Promise<SavedSearch | undefined> {
  await db.searches.update(id, { fresh: 0 });
  return db.searches.get(id);
}

export async function updateSearch(
  { db }: Stored,
  id: string,
  update: Partial<Pick<SavedSearch, 'name' | 'query' | 'sort' | 'market' | 'watch' | 'known' | 'fresh'>>,
): Promise<void> {
  await db.searches.update(id, update);
}
