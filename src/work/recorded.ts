import { BUCKETED, type SampanDatabase } from '../store';
import type { Work } from './context';

/** JSON has neither typed arrays nor files: a recorded past writes them as `{ int32: […] }` and so on. */
const revive = (_: string, value: unknown) => {
  const typed = value as {
    int32?: unknown;
    uint16?: unknown;
    float64?: unknown;
    base64?: unknown;
    file?: unknown;
  } | null;
  if (typed?.file instanceof Uint8Array) return new Packed(typed.file as Uint8Array<ArrayBuffer>);
  if (Array.isArray(typed?.int32)) return Int32Array.from(typed.int32 as number[]);
  if (Array.isArray(typed?.uint16)) return Uint16Array.from(typed.uint16 as number[]);
  if (Array.isArray(typed?.float64)) return Float64Array.from(typed.float64 as number[]);
  return typeof typed?.base64 === 'string'
    ? Uint8Array.from(atob(typed.base64), (c) => c.charCodeAt(0))
    : value;
};

/** A line that needs to be revived: it takes ten times as long. */
const PACKED = /"(int32|uint16|float64|base64)":/;

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

/** The lines of a text that comes in pieces. */
export async function* linesOf(pieces: AsyncIterable<string>): AsyncGenerator<string> {
  let parts: string[] = [];
  for await (const piece of pieces) {
    const lines = piece.split('\n');
    for (const line of lines.slice(0, -1)) {
      yield parts.join('') + line;
      parts = [];
    }
    parts.push(lines.at(-1)!);
  }
  const rest = parts.join('');
  if (rest) yield rest;
}

/** Says that a past is not loaded whole: it is loaded anew then. */
const LOADING = { id: 'recorded', value: 'loading' } as const;

/** Empties every table. How this browser stores files stays known. */
async function empty(db: SampanDatabase): Promise<void> {
  await db.transaction('rw', db.tables, async () => {
    for (const table of db.tables) if (table.name !== 'notes') await table.clear();
    await db.notes.where('id').notEqual('keeps-files').delete();
  });
}

/**
 * Loads a recorded past into an empty database, once: JSON lines, each `{ table, rows }`, connections last. One that was
 * cut off is begun anew. Tables that this version does not know are refused.
 * @param tell hears how many characters are read
 * @returns whether it was loaded; not where a shop is there already
 */
export async function loadRecorded(
  db: SampanDatabase,
  lines: AsyncIterable<string>,
  tell?: (characters: number) => void,
): Promise<boolean> {
  await db.open();
  if (await db.connections.count()) return false;
  if (await db.notes.get(LOADING.id)) await empty(db);
  await db.notes.put(LOADING);
  const asStored = (row: unknown) => unpack(row as Record<string, unknown>, db.keepsFiles);
  // While some rows are written the next are read.
  let writing: Promise<unknown> = Promise.resolve();
  const write = async (table: string, rows: readonly object[]) => {
    await writing;
    writing = db.table(table).bulkPut(rows);
    writing.catch(() => {});
  };
  // Rows that are stored many to a record are written together.
  let together: { table: string; rows: object[] } | null = null;
  let read = 0;
  for await (const line of lines) {
    const { table, rows } = JSON.parse(line, PACKED.test(line) ? revive : undefined) as {
      table: string;
      rows: unknown[];
    };
    if (!db.tables.some((t) => t.name === table))
      throw new Error(`The recorded past has a table that this version does not know: ${table}.`);
    const stored = rows.filter((row) => (row as { id?: unknown }).id !== 'keeps-files').map(asStored);
    if (together && together.table !== table) {
      await write(together.table, together.rows);
      together = null;
    }
    if (!BUCKETED.includes(table)) await write(table, stored);
    else if (together) for (const row of stored) together.rows.push(row);
    else together = { table, rows: stored };
    read += line.length + 1;
    tell?.(read);
  }
  if (together) await write(together.table, together.rows);
  await writing;
  await db.notes.delete(LOADING.id);
  return true;
}

/** Whether there is a shop in this browser already, or there was one that was left for good. */
export const hasShop = async ({ db }: Pick<Work, 'db'>): Promise<boolean> =>
  (await db.connections.count()) > 0 || (await db.notes.get('left-demo')) !== undefined;
