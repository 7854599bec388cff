import { Catalogue, type Moved, Reading } from '../../core/catalogue';
import {
  addHistory,
  catalogueNote,
  dropPieces,
  type Job,
  putPieces,
  readCatalogue,
  type SampanDatabase,
} from '../../store';
import type { Work } from '../context/work';
import { dropReading, held, type Session } from './session';

/** Readings that are kept whatever they brought, and how long those are that brought something. */
export const NEWEST = 50;

export const KEPT = 60 * 86_400_000;

/**
 * Pieces after which a catalogue is laid out anew, so that a long row of small refreshes does not slow down
 * every restart.
 */
export const MANY_PIECES = 80;

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
export function takeReady(work: Work, s: Session): () => Promise<void> {
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
