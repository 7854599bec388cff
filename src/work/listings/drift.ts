import { cleanHtml, plainText } from '../../core/copy';
import type { ListingRow } from '../../core/lists';
import { formatMinor } from '../../core/money';
import { countOf } from '../../core/units';
import {
  applyChange,
  connectionById,
  type DocumentRow,
  DRIFT_FIELDS,
  type Drift,
  type DriftField,
  type Listing,
  type MarketConnection,
  type OutboxRow,
  type RowChange,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { listingRowId, offerRow, publishRow } from '../outbox/row';
import type { FullListing } from '../quoting/full-listing';
import { markOfDocument } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { agreedOf } from '../quoting/own-price';
import { marketOf } from '../quoting/worth';

/** Fields whose value there is not what the marketplace was told. */
function driftOf(listing: Listing, { document }: DocumentRow, there: ListingRow, at: number): Drift | null {
  const { published } = listing;
  if (!published) return null;
  const told: Readonly<Record<DriftField, string>> = {
    title: plainText(document.title),
    description: cleanHtml(document.description),
    category: document.category,
    price: String(published.price),
    state: published.state === 'ended' ? 'ended' : 'there',
  };
  const theirs: Readonly<Record<DriftField, string>> = {
    title: there.title,
    description: there.description,
    category: there.category,
    price: String(there.price),
    state: there.state === 'ended' ? 'ended' : 'there',
  };
  const edited = DRIFT_FIELDS.filter((field) => theirs[field] !== told[field]);
  return edited.length ? { at, theirs: Object.fromEntries(edited.map((f) => [f, theirs[f]])) } : null;
}

/**
 * Notes what was edited on a marketplace itself since Sampan told it, of some of its listings, and does by the
 * connection's rule what is to be done about it.
 * @param startedAt what was told since the reading began is not looked at: the page may be older
 * @returns listings that were edited there
 */
export async function noteDrift(
  work: Work,
  c: MarketConnection,
  rows: readonly ListingRow[],
  startedAt: number,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const ids = rows.map((row) => `${c.id}:${row.sku}`);
    const documents = await db.documents.bulkGet(ids);
    const waiting = await db.outbox.bulkGet(
      ids.flatMap((id) => [listingRowId('publish', id), listingRowId('offer', id)]),
    );
    const changes: RowChange[] = [];
    const found: string[] = [];
    for (const [i, row] of rows.entries()) {
      const listing = assortment.get(ids[i]!)?.listing;
      const document = documents[i];
      if (!listing || !document || !follows(listing) || listing.published?.mark == null) continue;
      const onItsWay = [waiting[2 * i], waiting[2 * i + 1]].some((o) => o?.state === 'waiting');
      if (onItsWay || listing.published.at >= startedAt || document.at >= startedAt) continue;
      const drift = driftOf(listing, document, row, work.clock());
      const known = listing.drift ?? null;
      if (drift) found.push(listing.id);
      if (JSON.stringify(drift?.theirs) === JSON.stringify(known?.theirs)) continue;
      changes.push({
        table: 'listings',
        id: listing.id,
        set: { drift },
        says: drift
          ? `Edited on ${c.name}: ${Object.keys(drift.theirs).join(', ')}.`
          : `As told on ${c.name} again.`,
      });
    }
    const name = `${countOf(changes.length, 'listing')} edited on ${c.name}`;
    await applyChange(db, { by: 'rule', name }, changes, nowOf(work));
    const rule = c.drift ?? 'ask';
    if (found.length && rule !== 'ask') await settle(work, found, rule, 'rule');
    return found.length;
  });
}

/**
 * Ends drift: keeps what stands on the marketplace as our own text and price, or puts ours back there; as one change.
 * What was ended there stays ended, or is published anew.
 */
export const settleDrift = (work: Work, ids: readonly string[], keep: 'theirs' | 'ours'): Promise<number> =>
  work.db.transaction('rw', work.db.shopTables, () => settle(work, ids, keep, 'person'));

async function settle(
  work: Work,
  ids: readonly string[],
  keep: 'theirs' | 'ours',
  by: 'person' | 'rule',
): Promise<number> {
  const { db } = work;
  const at = work.clock();
  const assortment = await caughtUp(work);
  const drifted = ids.flatMap((id) => {
    const full = assortment.get(id);
    return full?.listing.drift ? [full] : [];
  });
  const outbox: OutboxRow[] = [];
  const rows: RowChange[] = [];
  const known = await db.documents.bulkGet(drifted.map((f) => f.listing.id));
  for (const [i, full] of drifted.entries()) {
    const { listing } = full;
    const market = marketOf(assortment.shop, listing.marketplace);
    const { theirs } = listing.drift!;
    const says =
      keep === 'ours'
        ? `Put back as it was on ${market?.name}.`
        : `Kept as it was edited on ${market?.name}.`;
    if (keep === 'ours') {
      const { price, quantity } = listing.published!;
      outbox.push(publishRow(listing, at));
      outbox.push(offerRow(listing, { price, quantity, state: quantity > 0 ? 'live' : 'paused' }, at));
      rows.push({ table: 'listings', id: listing.id, set: { drift: null }, says });
      continue;
    }
    const told = known[i]?.document;
    const document = told && { ...told, ...textsOf(theirs) };
    if (document) rows.push({ table: 'documents', id: listing.id, set: { document, at } });
    rows.push({
      table: 'listings',
      id: listing.id,
      set: {
        ...asTheirs(full, theirs, document ? markOfDocument(document) : null, at),
        // A person who keeps their price keeps it whatever guards say; a rule does not.
        ...(by === 'person' && theirs.price !== undefined && { ownAgreed: agreedOf(full, assortment.shop) }),
      },
      says,
    });
  }
  await db.outbox.bulkPut(outbox);
  const name = `${keep === 'ours' ? 'Put back' : 'Kept'} what was edited of ${countOf(drifted.length, 'listing')}`;
  await applyChange(db, { by, name, undoable: keep === 'theirs' }, rows, nowOf(work));
  return drifted.length;
}

const textsOf = ({ title, description, category }: Drift['theirs']) => ({
  ...(title !== undefined && { title }),
  ...(description !== undefined && { description }),
  ...(category !== undefined && { category }),
});

/** The fields of a listing that takes over the marketplace’s version. */
function asTheirs(
  { listing }: FullListing,
  theirs: Drift['theirs'],
  mark: number | null,
  at: number,
): Partial<Listing> {
  const price = theirs.price === undefined ? null : Number(theirs.price);
  const published = listing.published!;
  return {
    drift: null,
    ...textsOf(theirs),
    ...(price !== null && { ownPrice: price }),
    ...(theirs.state === 'ended' && { state: 'ended' }),
    published: { ...published, price: price ?? published.price, mark, at },
  };
}

/** Sets the act on edits that are made on a marketplace itself. */
export async function setDriftRule(work: Work, id: string, drift: 'ask' | 'theirs' | 'ours'): Promise<void> {
  const words = { ask: 'asked about', theirs: 'kept', ours: 'put back' }[drift];
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const c = await connectionById(db, id);
    const name = `Edits on ${c?.name} are ${words}`;
    await applyChange(
      db,
      { by: 'person', name },
      [{ table: 'connections', id, set: { drift }, says: `${name}.` }],
      nowOf(work),
    );
  });
}

/** Drift in words: each field as it was told and as it stands there. */
export function driftInWords(
  { drift, published }: Listing,
  told: { readonly title: string; readonly category: string },
  currency: string,
): { field: string; ours: string; theirs: string }[] {
  const { title, description, category, price, state } = drift?.theirs ?? {};
  return [
    ...(title !== undefined ? [{ field: 'Title', ours: told.title, theirs: title }] : []),
    ...(category !== undefined ? [{ field: 'Category', ours: told.category, theirs: category }] : []),
    ...(price !== undefined && published
      ? [
          {
            field: 'Price',
            ours: formatMinor(published.price, currency),
            theirs: formatMinor(Number(price), currency),
          },
        ]
      : []),
    ...(description !== undefined
      ? [{ field: 'Description', ours: 'as we told it', theirs: description }]
      : []),
    ...(state !== undefined ? [{ field: 'State', ours: 'on sale', theirs: 'ended' }] : []),
  ];
}
