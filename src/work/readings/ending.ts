import {
  ASK_FROM,
  Catalogue,
  detailAt,
  doubtOf,
  isNothing,
  Layout,
  PIECE,
  type Tally,
} from '../../core/catalogue';
import {
  type CatalogueNote,
  catalogueNote,
  type DoubtRow,
  dropPieces,
  putPieces,
  type ReadingRow,
  readCold,
  supplierById,
} from '../../store';
import type { Work } from '../context/work';
import { KEPT, MANY_PIECES, NEWEST, openReading, readingTables, takeReady } from './reading';
import { dropReading, forget, type Session } from './session';

/** Items named where it is asked whether they are gone. */
const SHOWN = 6;

/** The inputs of the end of a reading. */
interface End {
  /** Whether what did not come is gone. */
  readonly whole: boolean;
  /** Name of the file, '' for a service. */
  readonly from: string;
  /** It breaks off in the middle of a record. */
  readonly cut?: boolean;
  /** It told fewer items than it says it has. */
  readonly short?: boolean;
  /** Rows that are gone by a person's word. */
  readonly gone?: Int32Array;
}

/**
 * Ends a reading: from here on the catalogue is the new one, in one transaction. What did not come stays
 * where there is a doubt, until a person says that it is gone.
 */
export async function endReading(
  work: Work,
  s: Session,
  { whole, from, cut = false, short = false, gone: confirmed }: End,
): Promise<{ tally: Tally; refused: number; doubt: DoubtRow | null }> {
  const { db } = work;
  await s.writing;
  const at = work.clock();
  const rest = s.reading.piece(true);
  if (rest) s.pieces.push(rest);
  const missing = whole ? s.reading.missing() : new Int32Array();
  const offered = s.note?.items ?? 0;
  const supplier = await supplierById(db, s.supplier);
  const { unknown } = s.reading.tally;
  const why = doubtOf({
    missing: missing.length,
    offered,
    cut,
    short,
    unknown,
    askFrom: supplier?.askFrom ?? ASK_FROM,
  });
  const doubt: DoubtRow | null = why && {
    supplier: s.supplier,
    at,
    from,
    why,
    rows: missing,
    some: [...missing.subarray(0, SHOWN)].map((row) => s.catalogue.skuAt(row)),
    offered,
    unknown,
    confirmed: false,
  };
  const gone = confirmed ? s.reading.takeForGone(confirmed) : whole && !doubt ? s.reading.endWhole() : null;
  if (gone) s.pieces.push({ piece: gone, cold: null });
  const write = takeReady(work, s);
  const { tally } = s.reading;
  const changed = s.seq !== (s.note?.pieces ?? 0);
  const row: ReadingRow = { id: s.id, supplier: s.supplier, at, from, tally, refused: s.refusedBefore };
  await db.transaction('rw', [...readingTables(db), db.notes, db.readings, db.doubts], async () => {
    await write();
    // A part of a list says nothing of what the whole one did not name.
    if (doubt) await db.doubts.put(doubt);
    else if (whole || confirmed) await db.doubts.delete(s.supplier);
    const note: CatalogueNote = {
      generation: s.generation,
      pieces: s.seq,
      items: s.catalogue.items,
      stamp: changed ? at : (s.note?.stamp ?? at),
      source: whole ? s.source : (s.note?.source ?? s.source),
    };
    await db.notes.put({ id: `catalogue:${s.supplier}`, value: note });
    await db.stages.delete(s.supplier);
    const before = await db.readings
      .where('[supplier+at]')
      .between([s.supplier, 0], [s.supplier, Number.MAX_SAFE_INTEGER])
      .toArray();
    const over = before.slice(0, -NEWEST).filter((r) => r.at < at - KEPT || isNothing(r.tally));
    await db.readings.bulkDelete(over.map((r) => r.id));
    // What was refused is kept of the newest one alone.
    const last = before.at(-1);
    if (last?.refused) await dropReading(db, last.id);
    await db.readings.put(row);
  });
  forget(work, s.supplier);
  const small = s.seq - Math.ceil(s.catalogue.length / PIECE);
  if (small > MANY_PIECES) await layOutAnew(work, s);
  return { tally, refused: s.refusedBefore, doubt };
}

/**
 * Takes for gone what a person said is gone. Null where nobody did. Rows keep their places however a
 * catalogue is laid out.
 */
export async function takeGone(
  work: Work,
  supplier: string,
): Promise<{ session: Session; tally: Tally } | null> {
  const doubt = await work.db.doubts.get(supplier);
  const note = await catalogueNote(work.db, supplier);
  if (!doubt?.confirmed || !note) return null;
  const session = await openReading(work, supplier, note.source, null);
  const { tally } = await endReading(work, session, {
    whole: false,
    from: doubt.from,
    gone: Int32Array.from(doubt.rows),
  });
  return { session, tally };
}

/** Stops a reading for good and drops what it wrote; the catalogue before it stays as it was. */
export async function dropStage(work: Work, supplier: string): Promise<void> {
  const { db } = work;
  const note = await catalogueNote(db, supplier);
  forget(work, supplier);
  await db.transaction('rw', [db.stages, db.pieces, db.cold, db.refused, db.pages], async () => {
    const stage = await db.stages.get(supplier);
    if (!stage) return;
    await dropPieces(db, supplier, stage.generation, note?.pieces ?? 0);
    await dropReading(db, stage.reading);
    await db.pages.where('[supplier+from]').between([supplier, ''], [supplier, '￿']).delete();
    await db.stages.delete(supplier);
  });
}

/**
 * Writes a catalogue of many small pieces as whole ones under the next generation, then drops the old. What
 * is gone keeps its row.
 */
async function layOutAnew(work: Work, s: Session): Promise<void> {
  const { db } = work;
  const { catalogue: old, supplier } = s;
  const generation = s.generation + 1;
  const made = new Catalogue(old.length);
  let seq = 0;
  await dropPieces(db, supplier, generation);
  for (let from = 0; from < old.length; from += PIECE) {
    const rows = Array.from({ length: Math.min(PIECE, old.length - from) }, (_, k) => from + k);
    const cold = new Map<number, { description: string; pictures: readonly string[] }>();
    const stored = await readCold(db, supplier, s.generation, [
      ...new Set(rows.map((r) => old.coldPlace(r).piece)),
    ]);
    for (const row of rows) {
      const { piece, place } = old.coldPlace(row);
      const own = stored.get(piece);
      if (own) cold.set(row, detailAt('', own, place));
    }
    const layout = new Layout(made, rows.length);
    for (const row of rows) {
      const { description, pictures } = cold.get(row) ?? { description: '', pictures: [] };
      const [markA, markB] = [old.marks[row * 2]!, old.marks[row * 2 + 1]!];
      layout.add({
        row,
        item: old.itemAt(row),
        detail: { sku: old.skuAt(row), description, pictures },
        markA,
        markB,
      });
    }
    const { piece, cold: coldPiece } = layout.close(Int32Array.from(rows.filter((r) => old.gone[r])));
    made.apply(piece);
    await putPieces(db, [{ supplier, generation, seq: seq++, piece, cold: coldPiece }]);
  }
  await db.transaction('rw', [db.notes, db.pieces, db.cold, db.stages], async () => {
    const note = await catalogueNote(db, supplier);
    if (!note || note.generation !== s.generation || note.pieces !== s.seq)
      return dropPieces(db, supplier, generation);
    await db.notes.put({
      id: `catalogue:${supplier}`,
      value: { ...note, generation, pieces: seq, items: made.items },
    });
    await dropPieces(db, supplier, s.generation);
  });
}
