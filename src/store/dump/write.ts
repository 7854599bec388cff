import type { Table } from 'dexie';
import { BUCKETED } from '../buckets';
import type { SampanDatabase } from '../database';
import { toBase64, toPlain } from './values';

/** Which dumps this is; another number means that lines are read in another way. */
export const FORMAT = 1;

/** The first line of a dump. */
export interface DumpHead {
  readonly sampan: 'dump';
  readonly format: number;
  /** Version of the schema that the rows have. */
  readonly schema: number;
  /** When it was made, ISO 8601. */
  readonly at: string;
}

/** The last line: without it a dump was cut off. */
export interface DumpEnd {
  /** Rows of each table. */
  readonly end: Readonly<Record<string, number>>;
}

/** A piece of a file, before the rows that hold it. */
export interface DumpedPiece {
  readonly file: number;
  readonly base64: string;
}

export interface DumpedRows {
  readonly table: string;
  readonly rows: readonly object[];
}

/** Characters of a line at most, but for a single row that is longer: what a browser takes in at once. */
const LINE = 2_000_000;
/** Bytes of a piece of a file: a multiple of three, so that base64 of pieces needs no filling in between. */
const PIECE = 1_500_000;
/** Rows read at once. */
const ROWS = 2_000;

/** Tables that belong to the browser, not to the shop. */
const LEFT_OUT: ReadonlySet<string> = new Set(['journal', 'assetBytes']);
const isOfBrowser = (table: string, row: object) =>
  table === 'notes' && (row as { id: string }).id === 'keeps-files';

/** Rows as lines; files that they hold are put by. */
class Lines {
  readonly files: Blob[] = [];
  readonly counts: Record<string, number> = {};
  private readonly fileNumber = (file: Blob) => this.files.push(file) - 1;

  *of(table: string, rows: Iterable<object>): Generator<string> {
    let texts: string[] = [];
    let size = 0;
    const line = () => `{"table":${JSON.stringify(table)},"rows":[${texts.join(',')}]}\n`;
    for (const row of rows) {
      if (isOfBrowser(table, row)) continue;
      const text = JSON.stringify(toPlain(row, this.fileNumber));
      if (size + text.length > LINE && texts.length) {
        yield line();
        texts = [];
        size = 0;
      }
      texts.push(text);
      size += text.length;
      this.counts[table] = (this.counts[table] ?? 0) + 1;
    }
    if (texts.length) yield line();
  }
}

const lineOf = (v: DumpHead | DumpEnd | DumpedPiece) => `${JSON.stringify(v)}\n`;

/** Files piece by piece. @param first number of the first */
async function* filesOf(files: readonly Blob[], first = 0): AsyncGenerator<string> {
  for (const [k, blob] of files.entries())
    for (let from = 0; from === 0 || from < blob.size; from += PIECE) {
      const bytes = new Uint8Array(await blob.slice(from, from + PIECE).arrayBuffer());
      yield lineOf({ file: first + k, base64: toBase64(bytes) });
    }
}

/** The bytes of a file of our own: its pieces, and a row of the table that holds them in browsers without files. */
async function* bytesLines(db: SampanDatabase, id: string, lines: Lines): AsyncGenerator<string> {
  const file = await db.bytesStore.read(id);
  if (!file) return;
  const rows = [...lines.of('assetBytes', [{ id, file }])];
  yield* filesOf([file], lines.files.length - 1);
  yield* rows;
}

/** Options of a dump. */
export interface DumpOptions {
  /** When it is made. */
  readonly at: number;
  /** Tables that are left out. */
  readonly without?: readonly string[];
  /** Rows that are not in the database. */
  readonly further?: AsyncIterable<DumpedRows>;
}

/**
 * The whole database, as JSON Lines; `docs/dump.md` has the form. All rows are of one moment: they are read in one
 * transaction, and kept as text until it is over. Files are read after it, piece by piece.
 */
export async function* dumpOf(db: SampanDatabase, options: DumpOptions): AsyncGenerator<string> {
  const { at, without = [], further } = options;
  yield lineOf({ sampan: 'dump', format: FORMAT, schema: db.verno, at: new Date(at).toISOString() });
  const lines = new Lines();
  // Rows that come from elsewhere bring no files and need not be kept.
  if (further) for await (const { table, rows } of further) yield* lines.of(table, rows);
  const kept: Blob[] = [];
  let assets: readonly string[] = [];
  await db.transaction('r', db.tables, async () => {
    // Connections come last: with them a shop counts as whole.
    const last = ({ name }: Table) => Number(name === 'connections');
    for (const table of [...db.tables].sort((a, b) => last(a) - last(b))) {
      if (LEFT_OUT.has(table.name) || without.includes(table.name)) continue;
      for await (const some of pagesOf(table)) {
        const texts = [...lines.of(table.name, some)];
        if (texts.length) kept.push(new Blob(texts));
      }
    }
    if (!without.includes('assets')) assets = await db.assets.toCollection().primaryKeys();
  });
  yield* filesOf(lines.files);
  for (const id of assets) yield* bytesLines(db, id, lines);
  for (const some of kept) yield await some.text();
  yield lineOf({ end: lines.counts });
}

/** All rows of a table, in the order of their keys. */
async function* pagesOf(table: Table<object>): AsyncGenerator<object[]> {
  // Reading a part of what lies in buckets takes as long as reading all of it.
  if (BUCKETED.includes(table.name)) {
    yield await table.toArray();
    return;
  }
  let some = await table.orderBy(':id').limit(ROWS).toArray();
  for (;;) {
    yield some;
    if (some.length < ROWS) return;
    some = await table
      .where(':id')
      .above(keyOf(table, some.at(-1)!))
      .limit(ROWS)
      .toArray();
  }
}

/** The primary key of a row. */
function keyOf({ schema }: Table<object>, row: object): unknown {
  const { keyPath } = schema.primKey;
  const at = (name: string) => (row as Record<string, unknown>)[name];
  return typeof keyPath === 'string' ? at(keyPath) : keyPath?.map(at);
}
