import { BUCKETED } from '../buckets';
import { SampanDatabase, SCHEMA } from '../database';
import { fileOf } from '../files';
import type { AssetBytes } from '../goods';
import { fromBase64, fromPlain } from './values';
import { type DumpEnd, type DumpedPiece, type DumpedRows, type DumpHead, FORMAT } from './write';

/** A dump that cannot be loaded, and why. */
export class DumpError extends Error {
  override readonly name = 'DumpError';
}

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

/** Says that a dump is not loaded whole: it is loaded anew then. */
const LOADING = { id: 'loading', value: true } as const;

/** Empties every table. How this browser stores files stays known. */
async function empty(db: SampanDatabase): Promise<void> {
  await db.transaction('rw', db.tables, async () => {
    for (const table of db.tables) if (table.name !== 'notes') await table.clear();
    await db.notes.where('id').notEqual('keeps-files').delete();
  });
}

type Line = DumpHead | DumpEnd | DumpedPiece | DumpedRows;

function parsed(text: string, number: number): Line {
  try {
    const line: unknown = JSON.parse(text);
    const isObject = typeof line === 'object' && line !== null && !Array.isArray(line);
    if (isObject && !text.includes('"__proto__"')) return line as Line;
  } catch {
    // Said below.
  }
  throw new DumpError(`Line ${number} of the dump is not an object in JSON that can be stored.`);
}

function headOf(line: Line): DumpHead {
  if (!('sampan' in line) || line.sampan !== 'dump') throw new DumpError('This is not a dump of a shop.');
  const { format, schema } = line;
  if (format !== FORMAT || !Number.isInteger(schema) || schema > SCHEMA)
    throw new DumpError(
      `The dump was made by a newer version of Sampan (format ${format}, schema ${schema}).`,
    );
  return line;
}

/** Options of loading. */
export interface LoadOptions {
  /** Hears how many characters are read. */
  readonly tell?: (characters: number) => void;
}

/**
 * Loads a dump into an empty database, once. One that was cut off, here or in the dump, leaves a database that counts as
 * empty. A dump of an earlier version is stored as it was, and carried over as this browser's own database would be.
 * @param lines of the dump
 * @returns whether it was loaded; not where a shop is there already
 * @throws {DumpError} where it cannot be understood, or ends early
 */
export async function loadDump(
  db: SampanDatabase,
  lines: AsyncIterable<string>,
  { tell }: LoadOptions = {},
): Promise<boolean> {
  await db.open();
  const begun = await db.notes.get(LOADING.id);
  if (!begun && (await db.connections.count())) return false;
  if (begun) await empty(db);
  const each = lines[Symbol.asyncIterator]();
  const first = await each.next();
  if (first.done) throw new DumpError('The dump is empty.');
  const { schema } = headOf(parsed(first.value, 1));
  await db.notes.put(LOADING);
  const rest = { [Symbol.asyncIterator]: () => each };
  const read = first.value.length + 1;
  if (schema === SCHEMA) {
    await fill(db, rest, read, tell);
    await db.notes.delete(LOADING.id);
    return true;
  }
  const { name } = db;
  db.close();
  await db.delete();
  const older = new SampanDatabase(name, schema);
  await older.open();
  await older.notes.put(LOADING);
  try {
    await fill(older, rest, read, tell);
    await older.notes.delete(LOADING.id);
    older.close();
  } catch (error) {
    // A part of a shop cannot be carried over: what is left is a new database.
    await older.delete();
    await db.open();
    throw error;
  }
  await db.open();
  return true;
}

/** Writes rows while the next are read; those of one table in buckets together, as each bucket is written once then. */
class Writing {
  private last: Promise<unknown> = Promise.resolve();
  private together: { table: string; rows: object[] } | null = null;

  constructor(private readonly db: SampanDatabase) {}

  async add(table: string, rows: object[]): Promise<void> {
    if (this.together?.table === table) {
      for (const row of rows) this.together.rows.push(row);
      return;
    }
    await this.flush();
    if (BUCKETED.includes(table)) this.together = { table, rows };
    else await this.write(table, rows);
  }

  async flush(): Promise<void> {
    const { together } = this;
    this.together = null;
    if (together) await this.write(together.table, together.rows);
  }

  private async write(table: string, rows: readonly object[]): Promise<void> {
    await this.last;
    this.last = this.db.table(table).bulkPut(rows);
    // Heard of where it is waited for.
    this.last.catch(() => {});
  }

  async end(): Promise<void> {
    await this.flush();
    await this.last;
  }
}

async function fill(
  db: SampanDatabase,
  lines: AsyncIterable<string>,
  already: number,
  tell: LoadOptions['tell'],
): Promise<void> {
  const names = new Set(db.tables.map((t) => t.name));
  const files = new Map<number, Blob>();
  const writing = new Writing(db);
  const counts: Record<string, number> = {};
  let [read, number] = [already, 1];
  let end: DumpEnd | null = null;
  for await (const text of lines) {
    number++;
    const line = parsed(text, number);
    if (end) throw new DumpError(`Line ${number} comes after the end of the dump.`);
    if ('end' in line) end = line;
    else if ('file' in line) {
      const before = files.get(line.file);
      files.set(line.file, new Blob([...(before ? [before] : []), piece(line, number)]));
    } else if ('table' in line && Array.isArray(line.rows)) {
      const { table, rows } = line;
      if (!names.has(table))
        throw new DumpError(
          `The dump has a table that this version does not know: ${String(table).slice(0, 60)}.`,
        );
      const whole = text.includes('"$":') ? await untaggedRows(db, rows, files) : [...rows];
      if (table === 'assetBytes') await keepBytes(db, whole as AssetBytes[]);
      else await writing.add(table, whole);
      counts[table] = (counts[table] ?? 0) + rows.length;
    } else throw new DumpError(`Line ${number} of the dump is of no kind that this version knows.`);
    read += text.length + 1;
    tell?.(read);
  }
  await writing.end();
  if (!end) throw new DumpError('The dump was cut off: its last line is missing.');
  for (const [table, count] of Object.entries(end.end))
    if (counts[table] !== count)
      throw new DumpError(
        `The dump has ${counts[table] ?? 0} rows of ${table} and says that they are ${count}.`,
      );
}

/** Bytes of our own files lie where this browser keeps them. */
async function keepBytes(db: SampanDatabase, rows: readonly AssetBytes[]): Promise<void> {
  for (const { id, file } of rows) {
    if (!/^[0-9a-f]{64}$/.test(id)) throw new DumpError('The dump holds bytes without a hash.');
    await db.bytesStore.write(id, fileOf(file));
  }
}

function piece({ base64 }: DumpedPiece, number: number): Uint8Array<ArrayBuffer> {
  try {
    return fromBase64(base64);
  } catch {
    throw new DumpError(`Line ${number} of the dump holds a piece of a file that is not base64.`);
  }
}

/** Rows with what JSON does not hold; their files as this browser stores them. */
async function untaggedRows(
  db: SampanDatabase,
  rows: readonly object[],
  files: Map<number, Blob>,
): Promise<object[]> {
  const bytes = new Map<number, Uint8Array<ArrayBuffer>>();
  const used = new Set<number>();
  const collect = (number: number, type: string) => {
    const file = files.get(number);
    if (!file) throw new DumpError(`The dump names file ${number} and does not hold it.`);
    used.add(number);
    return bytes.get(number) ?? (type === file.type ? file : file.slice(0, file.size, type));
  };
  if (!db.keepsFiles)
    for (const [number, file] of files) bytes.set(number, new Uint8Array(await file.arrayBuffer()));
  const plain = rows.map((row) => fromPlain(row, collect) as object);
  for (const number of used) files.delete(number);
  return plain;
}
