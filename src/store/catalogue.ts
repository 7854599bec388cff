import {
  Catalogue,
  type ColdPiece,
  detailAt,
  hashOf,
  type ItemDetail,
  type Laid,
  type Moved,
  type Piece,
} from '../core/catalogue';
import { cleanHtml } from '../core/copy';
import { coldOf, firstPictureIn, storedCold } from './cold';
import type { SampanDatabase } from './database';
import type { CatalogueNote, HistoryRow, StoredPiece } from './rows';

const DAY = 86_400_000;
/** A supplier's history is kept in this many shares, so that one item's is read without the others'. */
const BUCKETS = 64;

export async function catalogueNote(db: SampanDatabase, supplier: string): Promise<CatalogueNote | null> {
  return ((await db.notes.get(`catalogue:${supplier}`))?.value as CatalogueNote | undefined) ?? null;
}

const range = (supplier: string, generation: number, from: number, to: number) =>
  [
    [supplier, generation, from],
    [supplier, generation, to],
  ] as const;

/**
 * Pieces read from storage at once: enough to be quick, few enough that their copies do not fill the memory.
 */
const AT_ONCE = 40;

/**
 * Pieces `from` to `pieces` − 1 of a supplier in order, some at a time; the next ones come from storage while
 * these are used.
 */
export async function* readPieces(
  db: SampanDatabase,
  supplier: string,
  generation: number,
  from: number,
  pieces: number,
): AsyncGenerator<Piece[]> {
  const fetch = (at: number) => {
    const [low, high] = range(supplier, generation, at, Math.min(at + AT_ONCE, pieces) - 1);
    return db.pieces.where('[supplier+generation+seq]').between(low, high, true, true).toArray();
  };
  let next = from < pieces ? fetch(from) : null;
  for (let at = from; at < pieces; at += AT_ONCE) {
    const stored = await next!;
    next = at + AT_ONCE < pieces ? fetch(at + AT_ONCE) : null;
    // A failure shows when its turn comes.
    next?.catch(() => {});
    if (stored.length !== Math.min(AT_ONCE, pieces - at))
      throw new Error(`The catalogue of ${supplier} is not whole: read it again.`);
    yield stored.map((s) => s.piece);
  }
}

/** Reads a catalogue's hot columns into memory: pieces `0` to `pieces − 1`. Cost: about 2 µs an item. */
export async function readCatalogue(
  db: SampanDatabase,
  supplier: string,
  generation: number,
  pieces: number,
  items: number,
): Promise<Catalogue> {
  const catalogue = new Catalogue(items);
  for await (const some of readPieces(db, supplier, generation, 0, pieces))
    for (const piece of some) catalogue.apply(piece);
  return catalogue;
}

/**
 * Cold parts of some pieces by their number, as they were stored. Not inside a transaction: their files are
 * read.
 */
export async function readCold(
  db: SampanDatabase,
  supplier: string,
  generation: number,
  pieces: readonly number[],
): Promise<Map<number, ColdPiece>> {
  const stored = await db.cold.bulkGet(
    pieces.map((seq) => [supplier, generation, seq] as [string, number, number]),
  );
  return new Map(
    await Promise.all(
      stored.flatMap((one) => (one ? [coldOf(one).then((cold) => [one.seq, cold] as const)] : [])),
    ),
  );
}

/** Descriptions and pictures of some rows, cleaned. Reads only the pieces they lie in. */
export async function readDetails(
  db: SampanDatabase,
  supplier: string,
  generation: number,
  catalogue: Catalogue,
  rows: readonly number[],
): Promise<Map<string, ItemDetail>> {
  const byPiece = new Map<number, number[]>();
  for (const row of rows) {
    const { piece } = catalogue.coldPlace(row);
    const own = byPiece.get(piece);
    if (own) own.push(row);
    else byPiece.set(piece, [row]);
  }
  const found = new Map<string, ItemDetail>();
  const numbers = [...byPiece.keys()];
  for (let from = 0; from < numbers.length; from += AT_ONCE) {
    const some = numbers.slice(from, from + AT_ONCE);
    const cold = await readCold(db, supplier, generation, some);
    for (const seq of some) {
      for (const row of byPiece.get(seq)!) {
        const sku = catalogue.skuAt(row);
        const own = cold.get(seq);
        const detail = own
          ? detailAt(sku, own, catalogue.coldPlace(row).place)
          : { sku, description: '', pictures: [] };
        found.set(sku, { ...detail, description: cleanHtml(detail.description) });
      }
    }
  }
  return found;
}

/** The first picture of some rows, by SKU. Cost: the heads of the pieces they lie in, and a slice of a file for each row. */
export async function firstPictures(
  db: SampanDatabase,
  supplier: string,
  generation: number,
  catalogue: Catalogue,
  rows: readonly number[],
): Promise<Map<string, string>> {
  const places = rows.map((row) => ({ sku: catalogue.skuAt(row), ...catalogue.coldPlace(row) }));
  const numbers = [...new Set(places.map((p) => p.piece))];
  const stored = await db.cold.bulkGet(
    numbers.map((seq) => [supplier, generation, seq] as [string, number, number]),
  );
  const byPiece = new Map(stored.flatMap((one) => (one ? [[one.seq, one] as const] : [])));
  const found = await Promise.all(
    places.map(async ({ sku, piece, place }) => {
      const cold = byPiece.get(piece);
      return [sku, cold ? await firstPictureIn(cold, place) : ''] as const;
    }),
  );
  return new Map(found);
}

/** Deletes the pieces of a supplier from number `from` on in one generation, or all that it ever had. */
export async function dropPieces(
  db: SampanDatabase,
  supplier: string,
  generation?: number,
  from = 0,
): Promise<void> {
  const [low, high] =
    generation === undefined
      ? [
          [supplier, 0, 0],
          [supplier, Number.MAX_SAFE_INTEGER, Number.MAX_SAFE_INTEGER],
        ]
      : range(supplier, generation, from, Number.MAX_SAFE_INTEGER);
  for (const table of [db.pieces, db.cold])
    await table.where('[supplier+generation+seq]').between(low, high, true, true).delete();
}

export async function putPieces(db: SampanDatabase, stored: readonly (StoredPiece & Laid)[]): Promise<void> {
  await db.pieces.bulkPut(
    stored.map(({ supplier, generation, seq, piece }) => ({ supplier, generation, seq, piece })),
  );
  await db.cold.bulkPut(stored.flatMap((s) => (s.cold ? [storedCold(s, s.cold, db.keepsFiles)] : [])));
}

/** The share of a supplier's history that an item lies in. */
export const historyShareOf = (sku: string) => hashOf(sku) & (BUCKETS - 1);

/**
 * Adds moves to the history. Runs inside the caller's transaction; cost: one record for each share touched.
 */
export async function addHistory(
  db: SampanDatabase,
  supplier: string,
  moves: readonly Moved[],
  at: number,
): Promise<void> {
  if (!moves.length) return;
  const day = Math.floor(at / DAY);
  const byBucket = new Map<number, Moved[]>();
  for (const move of moves) {
    const own = byBucket.get(historyShareOf(move.sku));
    if (own) own.push(move);
    else byBucket.set(historyShareOf(move.sku), [move]);
  }
  const keys = [...byBucket.keys()].map((bucket) => [supplier, bucket, day] as [string, number, number]);
  const known = await db.history.bulkGet(keys);
  await db.history.bulkPut(
    keys.map(([, bucket], k): HistoryRow => {
      const before = known[k];
      const own = byBucket.get(bucket)!;
      return {
        supplier,
        bucket,
        day,
        sku: [...(before?.sku ?? []), ...own.map((m) => m.sku)],
        at: [...(before?.at ?? []), ...own.map(() => at)],
        cost: [...(before?.cost ?? []), ...own.map((m) => m.cost)],
        stock: [...(before?.stock ?? []), ...own.map((m) => m.stock)],
        costBefore: [...(before?.costBefore ?? []), ...own.map((m) => m.costBefore)],
        stockBefore: [...(before?.stockBefore ?? []), ...own.map((m) => m.stockBefore)],
      };
    }),
  );
}

/** One point of an item's history: what cost and stock were from then on. */
export interface HistoryPoint {
  readonly at: number;
  readonly cost: number;
  readonly stock: number;
}

/**
 * Cost and stock of one item over time, oldest first; the first point says what they were before the first
 * move. Empty where nothing ever moved.
 */
export async function historyOf(db: SampanDatabase, supplier: string, sku: string): Promise<HistoryPoint[]> {
  const days = await db.history
    .where('[supplier+bucket+day]')
    .between([supplier, historyShareOf(sku), 0], [supplier, historyShareOf(sku), Number.MAX_SAFE_INTEGER])
    .toArray();
  const points: HistoryPoint[] = [];
  for (const d of days) {
    for (let k = 0; k < d.sku.length; k++) {
      if (d.sku[k] !== sku) continue;
      if (!points.length) points.push({ at: d.day * DAY, cost: d.costBefore[k]!, stock: d.stockBefore[k]! });
      points.push({ at: d.at[k]!, cost: d.cost[k]!, stock: d.stock[k]! });
    }
  }
  return points;
}
