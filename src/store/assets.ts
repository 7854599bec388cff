import { hashOfFile } from './bytes';
import type { SampanDatabase } from './database';
import type { AssetKind, AssetRow } from './goods';

/** The details of a file to keep. */
export interface NewAsset {
  readonly kind: AssetKind;
  readonly name: string;
  readonly at: number;
  /** The file that it was made of. */
  readonly madeOf?: string;
}

/**
 * Keeps a file, once however often it comes. Not inside a transaction: it is read and written in pieces. Whoever refers to
 * it owns it; one that nobody refers to is deleted after a day, so that there is time to.
 * @returns the hash of what it holds, its id
 * @throws where the disk is full
 */
export async function keepAsset(db: SampanDatabase, file: Blob, about: NewAsset): Promise<string> {
  const id = await hashOfFile(file);
  const { kind, name, at, madeOf } = about;
  await db.transaction('rw', db.assets, async () => {
    const known = await db.assets.get(id);
    if (known) await db.assets.update(id, { at });
    else
      await db.assets.put({
        ...{ id, kind, name: name.slice(0, 120), type: file.type, size: file.size, at },
        ...(madeOf !== undefined && { madeOf }),
      });
  });
  // After the row: bytes without one would never be found again.
  const there = await db.bytesStore.read(id);
  if (there?.size !== file.size) await db.bytesStore.write(id, file);
  return id;
}

/** A file that is kept; null where it, or all of its bytes, are not in this browser. */
export async function readAsset(
  db: SampanDatabase,
  id: string,
): Promise<{ readonly row: AssetRow; readonly file: Blob } | null> {
  const row = await db.assets.get(id);
  const bytes = row && (await db.bytesStore.read(id));
  if (!row || bytes?.size !== row.size) return null;
  return { row, file: bytes.type === row.type ? bytes : bytes.slice(0, bytes.size, row.type) };
}

/** How long a file may be kept that nobody owns. */
const UNOWNED = 86_400_000;

/**
 * Deletes files that nobody owns. One that another was made of stays as long as that one.
 * @param owned ids of files that somebody refers to
 * @returns how many
 */
export async function dropUnowned(
  db: SampanDatabase,
  owned: ReadonlySet<string>,
  now: number,
): Promise<number> {
  const rows = await db.assets.toArray();
  const byId = new Map(rows.map((r) => [r.id, r]));
  const isYoung = (row: AssetRow) => row.at > now - UNOWNED;
  const kept = new Set<string>();
  for (const row of rows)
    if (owned.has(row.id) || isYoung(row))
      for (let one: AssetRow | undefined = row; one && !kept.has(one.id); one = byId.get(one.madeOf ?? ''))
        kept.add(one.id);
  const gone = rows.filter((r) => !kept.has(r.id)).map((r) => r.id);
  const dropped = await db.transaction('rw', db.assets, async () => {
    // One that was added again meanwhile is as young as that.
    const still = (await db.assets.bulkGet(gone)).flatMap((r) => (r && !isYoung(r) ? [r.id] : []));
    await db.assets.bulkDelete(still);
    return still;
  });
  await db.bytesStore.remove(dropped);
  return dropped.length;
}
