import { closeSync, openSync, writeSync } from 'node:fs';
import type { SampanDatabase } from '../src/store';

/** Characters of a line at most, but for a single row that is longer: what a browser takes in at once. */
const LINE = 2_000_000;

/** Tables that may hold typed arrays or files. */
const PACKED = new Set([
  'pieces',
  'cold',
  'pages',
  'history',
  'stages',
  'doubts',
  'searches',
  'notes',
  'bytes',
  'assets',
  'archive',
  'archivedRows',
]);

/** Typed arrays as JSON can hold them. */
const typedArray = (_: string, v: unknown) => {
  if (v instanceof Int32Array) return { int32: [...v] };
  if (v instanceof Uint16Array) return { uint16: [...v] };
  if (v instanceof Float64Array) return { float64: [...v] };
  return v instanceof Uint8Array ? { base64: Buffer.from(v).toString('base64') } : v;
};

/** A row with its files read, so that JSON can hold them. */
async function withFiles(row: object): Promise<object> {
  const fields = Object.entries(row);
  if (!fields.some(([, v]) => v instanceof Blob)) return row;
  const read = fields.map(async ([name, v]) => [
    name,
    v instanceof Blob ? { file: new Uint8Array(await v.arrayBuffer()) } : v,
  ]);
  return Object.fromEntries(await Promise.all(read));
}

/** Writes a recorded past: JSON lines (https://jsonlines.org), each some rows of one table. */
export class RecordedFile {
  private readonly to: number;

  constructor(path: string) {
    this.to = openSync(path, 'w');
  }

  /** Adds rows of a table. */
  async add(table: string, rows: Iterable<object>): Promise<void> {
    let parts: string[] = [];
    let size = 0;
    const write = () => {
      if (parts.length)
        writeSync(this.to, `{"table":${JSON.stringify(table)},"rows":[${parts.join(',')}]}\n`);
      parts = [];
      size = 0;
    };
    for (const row of rows) {
      // A replacer takes several times as long.
      const packed = PACKED.has(table);
      const text = packed ? JSON.stringify(await withFiles(row), typedArray) : JSON.stringify(row);
      if (size + text.length > LINE) write();
      parts.push(text);
      size += text.length;
    }
    write();
  }

  /** Adds all that a database holds. Connections come last: with them a past is whole. */
  async addAll(db: SampanDatabase): Promise<void> {
    const last = (name: string) => Number(name === 'connections');
    for (const { name } of [...db.tables].sort((a, b) => last(a.name) - last(b.name)))
      await this.add(name, await db.table(name).toArray());
  }

  close(): void {
    closeSync(this.to);
  }
}
