import {
  ASK_FROM,
  Catalogue,
  detailAt,
  doubtOf,
  isNothing,
  type Laid,
  Layout,
  type Moved,
  PIECE,
  Reading,
  type Tally,
} from '../../core/catalogue';
import {
  addHistory,
  type CatalogueNote,
  catalogueNote,
  type DoubtRow,
  dropPieces,
  type Job,
  type PageRow,
  putPieces,
  type ReadingRow,
  type Refused,
  readCatalogue,
  readCold,
  type SampanDatabase,
  supplierById,
} from '../../store';
import type { Work } from '../context/work';

/** Readings that are kept whatever they brought, and how long those are that brought something. */
const NEWEST = 50;
const KEPT = 60 * 86_400_000;

/**
 * Pieces after which a catalogue is laid out anew, so that a long row of small refreshes does not slow down
 * every restart.
 */
const MANY_PIECES = 80;

/**
 * A reading under way, held by the runner between its steps. Can be lost at any moment: the stage in the
 * database says where to go on.
 */
export interface Session {
  readonly id: string;
  readonly supplier: string;
  readonly source: string;
  readonly note: CatalogueNote | null;
  readonly generation: number;
  readonly catalogue: Catalogue;
  readonly reading: Reading;
  seq: number;
  /** Pieces that are made and not yet stored. */
  pieces: Laid[];
  refused: Refused[];
  refusedBefore: number;
  header: readonly string[] | null;
  pages: PageRow[];
  /** Where the reader stands; what it means is the reader's. */
  cursor: string | null;
  /**
   * Places it came by, stored with the one it reached: kept further than that, a reading that lost its
   * session would take the way it goes again for a circle.
   */
  places: string[];
  done: number;
  steps: number;
  /** Whether a cost that leaps is asked about. */
  asksOfLeaps: boolean;
  /** Writing of the step before, still under way. */
  writing: Promise<unknown>;
}

/** Refused records that are kept to be looked at; beyond that they are only counted. */
const MOST_REFUSED = 5_000;

/** Whether one more refused record would be kept. */
export const hasRoom = (s: Session) => s.refusedBefore + s.refused.length < MOST_REFUSED;

/** Notes a record that was not taken, or not whole. */
export function noteRefused(s: Session, refused: Refused): void {
  if (hasRoom(s)) s.refused.push(refused);
  else s.refusedBefore++;
}

/** What the reading found and where it stood is its own per database: tests have several. */
const sessions = new WeakMap<SampanDatabase, Map<string, Session>>();
const held = (db: SampanDatabase) => {
  let own = sessions.get(db);
  if (!own) {
    own = new Map();
    sessions.set(db, own);
  }
  return own;
};

/** Lets go of what is held of a reading, so that the next step starts from what is stored. */
export const forget = (work: Work, supplier: string) => held(work.db).delete(supplier);

/** The refused records of a reading leave with it. */
async function dropReading(db: SampanDatabase, reading: string): Promise<void> {
  await db.refused.where('[reading+seq]').between([reading, 0], [reading, Number.MAX_SAFE_INTEGER]).delete();
}

/**
 * The reading of a supplier's list that is under way, or a new one.
 * @param source what is read and how: only a stage of the same source is gone on with, only marks of the
 *   same source are trusted
 * @param place where the job says it stands; null begins anew and drops what an earlier reading left behind
 */
export async function openReading(
  work: Work,
  supplier: string,
  source: string,
  place: Pick<NonNullable<Job['progress']>, 'cursor' | 'done' | 'seen'> | null,
): Promise<Session> {
  const { db } = work;
  const own = held(db);
  const known = own.get(supplier);
  const stage = await db.stages.get(supplier);
  if (known && place && known.source === source && stage?.reading === known.id) return known;
  own.delete(supplier);
  const note = await catalogueNote(db, supplier);
  const generation = note?.generation ?? 1;
  const goOn = place && stage && stage.source === source && stage.generation === generation ? stage : null;
  const id = goOn?.reading ?? work.newId();
  if (!goOn) {
    await db.transaction('rw', [db.stages, db.pieces, db.cold, db.refused, db.pages], async () => {
      await dropPieces(db, supplier, generation, note?.pieces ?? 0);
      if (stage) {
        await dropReading(db, stage.reading);
        await db.pages.where('[supplier+from]').between([supplier, ''], [supplier, '￿']).delete();
      }
      const { tally, seenBits: seen } = new Reading(new Catalogue(), false);
      await db.stages.put({
        supplier,
        reading: id,
        source,
        generation,
        seq: note?.pieces ?? 0,
        seen,
        tally,
        refused: 0,
      });
    });
  }
  const catalogue = await readCatalogue(
    db,
    supplier,
    generation,
    goOn?.seq ?? note?.pieces ?? 0,
    note?.items ?? 0,
  );
  const session: Session = {
    id,
    supplier,
    source,
    note,
    generation,
    catalogue,
    reading: new Reading(catalogue, !note || note.source === source, goOn ?? undefined),
    seq: goOn?.seq ?? note?.pieces ?? 0,
    pieces: [],
    refused: [],
    refusedBefore: goOn?.refused ?? 0,
    header: null,
    pages: [],
    cursor: goOn ? place!.cursor : null,
    places: goOn ? [...place!.seen] : [],
    done: goOn ? place!.done : 0,
    steps: 0,
    asksOfLeaps: false,
    writing: Promise.resolve(),
  };
  own.set(supplier, session);
  return session;
}

/** Lays out what waits in whole pieces, so that the items themselves can go. */
export function makePieces(s: Session): void {
  for (let made = s.reading.piece(); made; made = s.reading.piece()) s.pieces.push(made);
}

/**
 * Takes what is ready out of a session and gives back how to write it; runs inside the caller's transaction
 * over {@link readingTables}.
 */
function takeReady(work: Work, s: Session): () => Promise<void> {
  for (let made = s.reading.piece(true); made; made = s.reading.piece(true)) s.pieces.push(made);
  const { pieces, refused, pages } = s;
  const moves: Moved[] = s.reading.takeMoves();
  const first = s.seq;
  s.pieces = [];
  s.refused = [];
  s.pages = [];
  s.seq += pieces.length;
  s.refusedBefore += refused.length;
  const stage = {
    supplier: s.supplier,
    reading: s.id,
    source: s.source,
    generation: s.generation,
    seq: s.seq,
    seen: s.reading.seenBits.slice(),
    tally: { ...s.reading.tally },
    refused: s.refusedBefore,
  };
  const at = work.clock();
  const { db } = work;
  return async () => {
    await putPieces(
      db,
      pieces.map(({ piece, cold }, k) => ({
        supplier: s.supplier,
        generation: s.generation,
        seq: first + k,
        piece,
        cold,
      })),
    );
    if (refused.length)
      await db.refused.put({
        reading: s.id,
        seq: stage.refused,
        supplier: s.supplier,
        header: s.header,
        refused,
      });
    await addHistory(db, s.supplier, moves, at);
    await db.pages.bulkPut(pages);
    await db.stages.put(stage);
  };
}

export const readingTables = (db: SampanDatabase) => [
  db.pieces,
  db.cold,
  db.refused,
  db.history,
  db.pages,
  db.stages,
  db.jobs,
];

/**
 * Stores what was read so far together with the place reached, in one transaction.
 * @param wait whether the writing is waited for; else the next step's writing waits for it
 */
export async function storeStep(
  work: Work,
  s: Session,
  job: string,
  startedAt: number,
  total: number,
  wait: boolean,
): Promise<void> {
  const { db } = work;
  const before = s.writing;
  const write = takeReady(work, s);
  const { cursor, done } = s;
  const seen = [...s.places];
  const rows = s.reading.tally.read;
  const writing = before.then(() =>
    db.transaction('rw', readingTables(db), async () => {
      await write();
      await db.jobs.update(job, {
        progress: { cursor, done, seen, startedAt },
        running: { startedAt, done, total, rows },
      });
    }),
  );
  s.writing = writing;
  if (wait) await writing;
  else {
    // Only one writing is under way while the next step reads; its failure shows there.
    writing.catch(() => {});
    await before;
  }
}

/** Items named where it is asked whether they are gone. */
const SHOWN = 6;

/** What was read, for its end. */
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
