import { ALIKE, designsIn, differenceOf } from '../../core/print';
import { countOf } from '../../core/units';
import { addAll, applyChange, type DesignRow, hashOfFile, keepAsset, type RowChange } from '../../store';
import type { Draw } from '../context/draw';
import { nowOf, type Work } from '../context/work';
import { designFiles, type NamedFile, namedBy } from './design-files';

/** What came of files that should become designs. */
export interface AddedDesigns {
  readonly added: readonly string[];
  /** Files with the same bytes as a design that is there, by the name of the file. */
  readonly twins: readonly string[];
  /** New designs that look like another one. */
  readonly alike: readonly { readonly name: string; readonly like: string }[];
  /** In sentences. */
  readonly refused: readonly string[];
  readonly stopped: boolean;
}

/** Designs that are opened at the same time: as many as workers. */
const AT_ONCE = 3;
/** New designs that are written as one change. */
const TOGETHER = 200;

const noDraw = (): never => {
  throw new Error('Nothing can be drawn here.');
};

export const drawOf = ({ draw }: Pick<Work, 'draw'>): Draw => draw ?? noDraw();

async function keepDesign(work: Work, { name, file }: NamedFile, id: string): Promise<DesignRow | string> {
  const { db } = work;
  const opened = await drawOf(work).openDesign(file, name);
  if (!opened.ok) return opened.reason;
  const at = work.clock();
  const { type, small, large, ...facts } = opened;
  await keepAsset(db, new Blob([file], { type }), { kind: 'design', name, at });
  const preview = (picture: Blob) => keepAsset(db, picture, { kind: 'preview', name, at, madeOf: id });
  const { width, height, drawing, dpi, notes, look } = facts;
  return {
    ...{ id, ...namedBy(name), type, bytes: file.size, width, height, drawing, dpi, notes, look },
    ...{ small: await preview(small), large: await preview(large) },
    ...{ set: '', rights: '', at },
  };
}

/**
 * Takes files in as designs: kept as they came, looked through, pictured; archives unpacked. One that cannot be one does
 * not keep the others out.
 * @param tell hears how many files are done @returns whether to stop
 */
export async function addDesigns(
  work: Work,
  files: readonly NamedFile[],
  set: string,
  tell: (done: number) => boolean | Promise<boolean> = () => false,
): Promise<AddedDesigns> {
  const { db } = work;
  const known = new Map((await db.designs.toArray()).map((d) => [d.id, d]));
  const refused: string[] = [];
  const twins: string[] = [];
  const alike: { name: string; like: string }[] = [];
  const added: string[] = [];
  let waiting: DesignRow[] = [];
  let [done, stopped] = [0, false];
  const write = async () => {
    const rows = waiting;
    waiting = [];
    if (!rows.length) return;
    const name = `Add ${countOf(rows.length, 'design')}`;
    await db.transaction('rw', [db.designs, db.changes, db.edits], () =>
      addAll(db, { by: 'person', name }, [{ table: 'designs', rows }], nowOf(work)),
    );
    added.push(...rows.map((r) => r.id));
  };
  const taken = new Set<string>();
  const take = async (one: NamedFile) => {
    try {
      const id = await hashOfFile(one.file);
      if (known.has(id) || taken.has(id)) {
        twins.push(one.name);
        return;
      }
      taken.add(id);
      const design = await keepDesign(work, one, id);
      if (typeof design === 'string') refused.push(design);
      else {
        const like = [...known.values()].find((d) => differenceOf(d.look.hash, design.look.hash) <= ALIKE);
        if (like) alike.push({ name: design.name, like: like.name });
        known.set(id, design);
        waiting.push({ ...design, set });
      }
    } catch (error) {
      if (error instanceof DOMException && error.name === 'QuotaExceededError') throw error;
      refused.push(`${one.name.slice(0, 80)}: it could not be opened (${String(error).slice(0, 120)}).`);
    } finally {
      done++;
    }
  };
  const coming = designFiles(files, (reason) => refused.push(reason));
  const next = async (): Promise<void> => {
    for (;;) {
      const { value, done: over } = await coming.next();
      if (over || stopped) return;
      await take(value);
      stopped ||= await tell(done);
      if (waiting.length >= TOGETHER) await write();
    }
  };
  try {
    await Promise.all(Array.from({ length: AT_ONCE }, next));
  } catch (error) {
    await write();
    if (error instanceof DOMException && error.name === 'QuotaExceededError')
      refused.push('The disk of this browser is full: the rest was not taken. Make room and add them again.');
    else throw error;
  }
  await write();
  return { added, twins, alike, refused, stopped };
}

/** Fields of a design that the seller sets. */
export type DesignEdit = Partial<Pick<DesignRow, 'name' | 'keywords' | 'set' | 'rights'>>;

/** Sets fields of designs as one change. */
export async function editDesigns(work: Work, ids: readonly string[], set: DesignEdit): Promise<void> {
  const { db } = work;
  const name = ids.length === 1 ? 'Design edited' : `${countOf(ids.length, 'design')} edited`;
  await db.transaction('rw', [db.designs, db.changes, db.edits, db.earlier], () =>
    applyChange(
      db,
      { by: 'person', name },
      ids.map((id): RowChange => ({ table: 'designs', id, set, says: 'Edited.' })),
      nowOf(work),
    ),
  );
}

/**
 * Takes designs out, as one change, but for those on a sheet. What is printed with them keeps their files.
 * @returns how many are gone, and how many stay because a sheet has them
 */
export async function removeDesigns(
  work: Work,
  ids: readonly string[],
): Promise<{ readonly gone: number; readonly kept: number }> {
  const { db } = work;
  return db.transaction('rw', [db.designs, db.sheets, db.changes, db.edits, db.earlier], async () => {
    const used = new Set<string>();
    await db.sheets.each(({ designs, plan, mended }) => {
      for (const id of designs) used.add(id);
      for (const one of [plan, ...Object.values(mended)]) for (const id of designsIn(one)) used.add(id);
    });
    const going = ids.filter((id) => !used.has(id));
    await applyChange(
      db,
      { by: 'person', name: `${countOf(going.length, 'design')} taken out` },
      going.map((id): RowChange => ({ table: 'designs', remove: id })),
      nowOf(work),
    );
    return { gone: going.length, kept: ids.length - going.length };
  });
}
