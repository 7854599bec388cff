import type { SampanDatabase } from '../store';

/** JSON has neither typed arrays nor files: the demo's past writes them as `{ int32: […] }` and so on. */
const revive = (_: string, value: unknown) => {
  const typed = value as { int32?: unknown; float64?: unknown; base64?: unknown; file?: unknown } | null;
  if (typed?.file instanceof Uint8Array) return new Packed(typed.file as Uint8Array<ArrayBuffer>);
  if (Array.isArray(typed?.int32)) return Int32Array.from(typed.int32 as number[]);
  if (Array.isArray(typed?.float64)) return Float64Array.from(typed.float64 as number[]);
  return typeof typed?.base64 === 'string'
    ? Uint8Array.from(atob(typed.base64), (c) => c.charCodeAt(0))
    : value;
};

/** A file of the recorded past, before it is known how this browser stores files. */
class Packed {
  constructor(readonly bytes: Uint8Array<ArrayBuffer>) {}
}

/** A row with its files as they are stored here. */
const unpack = (row: Record<string, unknown>, asFiles: boolean) =>
  Object.fromEntries(
    Object.entries(row).map(([k, v]) => [
      k,
      v instanceof Packed ? (asFiles ? new Blob([v.bytes]) : v.bytes) : v,
    ]),
  );

/**
 * Loads the demo's recorded past into an empty database, in one transaction, once. Tables that this version
 * does not know are refused.
 * @returns whether it was loaded
 */
export async function loadRecorded(db: SampanDatabase, text: string): Promise<boolean> {
  const { tables } = JSON.parse(text, revive) as { tables: Record<string, unknown[]> };
  const unknown = Object.keys(tables).filter((name) => !db.tables.some((t) => t.name === name));
  if (unknown.length)
    throw new Error(`The recorded past has tables that this version does not know: ${unknown.join(', ')}.`);
  await db.open();
  return db.transaction('rw', db.tables, async () => {
    if (await db.connections.count()) return false;
    const asStored = (row: unknown) => unpack(row as Record<string, unknown>, db.keepsFiles);
    for (const [name, rows] of Object.entries(tables))
      await db
        .table(name)
        .bulkPut(rows.filter((row) => (row as { id?: unknown }).id !== 'keeps-files').map(asStored));
    return true;
  });
}
