import type { Catalogue, Laid, Reading } from '../../core/catalogue';
import type { CatalogueNote, PageRow, Refused, SampanDatabase } from '../../store';
import type { Work } from '../context/work';

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

export const held = (db: SampanDatabase) => {
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
export async function dropReading(db: SampanDatabase, reading: string): Promise<void> {
  await db.refused.where('[reading+seq]').between([reading, 0], [reading, Number.MAX_SAFE_INTEGER]).delete();
}
