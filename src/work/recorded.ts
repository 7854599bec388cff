import type { SampanDatabase } from '../store';

/** JSON has no typed arrays: the demo's past writes them as `{ int32: […] }`. */
const revive = (_: string, value: unknown) => {
  const list = (value as { int32?: unknown } | null)?.int32;
  return Array.isArray(list) ? Int32Array.from(list as number[]) : value;
};

/**
 * Loads the demo's recorded past into an empty database, in one transaction, once. Tables that this version does not know are refused.
 * @returns whether it was loaded
 */
export async function loadRecorded(db: SampanDatabase, text: string): Promise<boolean> {
  const { tables } = JSON.parse(text, revive) as { tables: Record<string, unknown[]> };
  const unknown = Object.keys(tables).filter((name) => !db.tables.some((t) => t.name === name));
  if (unknown.length) throw new Error(`The recorded past has tables that this version does not know: ${unknown.join(', ')}.`);
  return db.transaction('rw', db.tables, async () => {
    if (await db.connections.count()) return false;
    for (const [name, rows] of Object.entries(tables)) await db.table(name).bulkPut(rows);
    return true;
  });
}
