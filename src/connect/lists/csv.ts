import Papa from 'papaparse';
import { marksOfBytes } from '../../core/catalogue';
import type { Encoding } from '../../core/lists';
import { type Batch, type ListSource, type Opened, refuse } from './source';

/** Bytes read at once: small enough that their rows are gone again before they would be kept for long by the collector of garbage. */
const SLICE = 1_000_000;
/** A record longer than this has a quote that is never closed. */
const LONGEST_RECORD = 400_000;

const QUOTE = 34;
const LF = 10;
const CR = 13;

/** Where signs stand in a piece of a file: its bytes, or its text where each character is one byte, in which they are found several times as quickly. */
export interface Signs {
  readonly length: number;
  find(sign: number, from: number): number;
  at(i: number): number | undefined;
}

export const inBytes = (b: Uint8Array): Signs => ({ length: b.length, find: (sign, from) => b.indexOf(sign, from), at: (i) => b[i] });

const inText = (text: string): Signs => ({
  length: text.length,
  find: (sign, from) => text.indexOf(sign === LF ? '\n' : sign === CR ? '\r' : '"', from),
  at: (i) => (i < text.length ? text.charCodeAt(i) : undefined),
});

/** Records of a piece of bytes: begin and end of each, the line it begins at, and which were cut short because a quote stays open. */
interface Records {
  readonly starts: number[];
  readonly ends: number[];
  readonly lines: number[];
  readonly broken: boolean[];
  /** Where the first record that is not whole begins; the length of the bytes where all are. */
  readonly rest: number;
  readonly line: number;
  /** The one line ending used, '' where they are mixed. */
  readonly newline: '\n' | '\r\n' | '\r' | '';
}

/**
 * Finds the records of delimited text (RFC 4180, with what files really do: lone CR, mixed endings, quotes in the middle of a field) without decoding it, so
 * that a record can be marked, and known ones passed over, before anything is made of it. A quote opens only at the begin of a field and closes only before a
 * delimiter or the end of a line, as the parser reads it, too.
 */
export function findRecords(b: Signs, delimiter: number, last: boolean, firstLine: number): Records {
  const n = b.length;
  const starts: number[] = [];
  const ends: number[] = [];
  const lines: number[] = [];
  const broken: boolean[] = [];
  let newline: Records['newline'] | null = null;
  let line = firstLine;
  let start = 0;
  // The next place of each sign at or behind `pos`, looked for only once it is passed.
  const next = (sign: number, from: number) => {
    const at = b.find(sign, from);
    return at < 0 ? n : at;
  };
  let [lf, cr, quote] = [-1, -1, -1];
  const add = (end: number, wasBroken: boolean) => {
    starts.push(start);
    ends.push(end);
    lines.push(line);
    broken.push(wasBroken);
  };
  while (start < n) {
    let pos = start;
    /** Lines that end inside quotes of this record. */
    let inside = 0;
    let unclosed = false;
    for (;;) {
      if (lf < pos) lf = next(LF, pos);
      if (cr < pos) cr = next(CR, pos);
      if (quote < pos) quote = next(QUOTE, pos);
      if (quote >= Math.min(lf, cr)) break;
      if (quote !== start && b.at(quote - 1) !== delimiter) {
        // In the middle of a field it is a sign like any other.
        quote = next(QUOTE, quote + 1);
        continue;
      }
      let at = quote + 1;
      let closed = false;
      for (;;) {
        const q = next(QUOTE, at);
        for (let nl = b.find(LF, at); nl >= 0 && nl < q; nl = b.find(LF, nl + 1)) inside++;
        if (q === n) break;
        const after = b.at(q + 1);
        at = q + 1;
        if (after === QUOTE) at = q + 2;
        else if (after === delimiter || after === LF || after === CR || (after === undefined && last)) {
          closed = true;
          break;
        } else if (after === undefined) break;
        if (at - start > LONGEST_RECORD) break;
      }
      if (!closed || at - start > LONGEST_RECORD) {
        unclosed = true;
        break;
      }
      pos = at;
    }
    if (unclosed) {
      if (!last && n - start <= LONGEST_RECORD) break;
      // Never closed: the record is taken to end with its first line, and reading goes on below it.
      const end = Math.min(next(LF, start), next(CR, start));
      add(end, true);
      start = end + (b.at(end) === CR && b.at(end + 1) === LF ? 2 : 1);
      line++;
      [lf, cr, quote] = [-1, -1, -1];
      continue;
    }
    const end = Math.min(lf, cr);
    if (end === n) {
      if (!last) break;
      add(n, false);
      start = n;
      break;
    }
    // A CR at the very end may be the half of a pair.
    if (end === cr && cr + 1 === n && !last) break;
    const kind = end === lf ? '\n' : lf === cr + 1 || b.at(cr + 1) === LF ? '\r\n' : '\r';
    newline = newline === null || newline === kind ? kind : '';
    if (end > start) add(end, false);
    line += 1 + inside;
    start = end + (kind === '\r\n' ? 2 : 1);
  }
  return { starts, ends, lines, broken, rest: Math.min(start, n), line, newline: newline ?? '\n' };
}

const cellsOf = (text: string, delimiter: string, newline: '\n' | '\r\n' | '\r'): string[][] =>
  Papa.parse<string[]>(text, { delimiter, newline, quoteChar: '"', skipEmptyLines: false }).data;

/** Reads the cells of the wanted records. Whole pieces at once where the parser finds the same records, one by one where it does not. */
function readCells(textOf: (from: number, to: number) => string, r: Records, wanted: readonly boolean[], delimiter: string): (string[] | null)[] {
  const n = r.starts.length;
  const rows: (string[] | null)[] = new Array(n).fill(null);
  const one = (k: number) => {
    rows[k] = cellsOf(textOf(r.starts[k]!, r.ends[k]!), delimiter, '\n').flat();
  };
  for (let from = 0; from < n; ) {
    if (!wanted[from]) {
      from++;
      continue;
    }
    let to = from;
    while (to + 1 < n && wanted[to + 1]) to++;
    if (r.newline === '' || to === from) for (let k = from; k <= to; k++) one(k);
    else {
      const parsed = cellsOf(textOf(r.starts[from]!, r.ends[to]!), delimiter, r.newline);
      const whole = parsed.length === to - from + 1 ? parsed : parsed.filter((row) => row.length > 1 || row[0] !== '');
      if (whole.length === to - from + 1) for (let k = from; k <= to; k++) rows[k] = whole[k - from]!;
      else for (let k = from; k <= to; k++) one(k);
    }
    from = to + 1;
  }
  return rows;
}

/** UTF-16 is turned into UTF-8 first: its line ends and quotes are not single bytes. */
async function asUtf8(blob: Blob, encoding: Encoding): Promise<Blob> {
  const decoder = new TextDecoder(encoding);
  const encoder = new TextEncoder();
  const parts: Uint8Array<ArrayBuffer>[] = [];
  for (let at = 0; at < blob.size; at += SLICE) {
    const text = decoder.decode(new Uint8Array(await blob.slice(at, at + SLICE).arrayBuffer()), { stream: at + SLICE < blob.size });
    parts.push(encoder.encode(text));
  }
  return new Blob(parts);
}

/**
 * Opens delimited text.
 * @param headerRow which record has the names of the columns, counted from 0; null where there is none
 */
export async function openCsv(file: Blob, delimiter: string, encoding: Encoding, headerRow: number | null): Promise<Opened<ListSource>> {
  const wide = encoding === 'utf-16le' || encoding === 'utf-16be';
  const blob = wide ? await asUtf8(file, encoding) : file;
  const decoder = new TextDecoder(wide ? 'utf-8' : encoding);
  const decode = (b: Uint8Array) => decoder.decode(b);
  const mark = delimiter.charCodeAt(0);
  const begin = new Uint8Array(await blob.slice(0, 2_000_000).arrayBuffer());
  // A byte order mark is not part of the first name.
  const skip = begin[0] === 0xef && begin[1] === 0xbb && begin[2] === 0xbf ? 3 : 0;
  const first = findRecords(inBytes(begin.subarray(skip)), mark, blob.size <= begin.length, 1);
  if (!first.starts.length) return refuse('There is not one whole line in this file.');
  if (headerRow !== null && headerRow >= first.starts.length) return refuse('The file ends before the names of its columns.');
  const top = readCells(
    (from, to) => decode(begin.subarray(skip + from, skip + to)),
    first,
    first.starts.map((_, k) => k <= (headerRow ?? 0)),
    delimiter,
  );
  const header = headerRow === null ? top[0]!.map((_, i) => `Column ${i + 1}`) : top[headerRow]!.map((name) => name.trim());
  const body =
    headerRow === null
      ? { offset: skip, line: 1 }
      : { offset: skip + (first.starts[headerRow + 1] ?? first.rest), line: first.lines[headerRow + 1] ?? first.line };

  const fetchAt = async (offset: number) => new Uint8Array(await blob.slice(offset, offset + SLICE).arrayBuffer());
  let ahead: { readonly offset: number; readonly bytes: Promise<Uint8Array<ArrayBuffer>> } | null = null;

  return {
    ok: true,
    value: {
      header,
      total: blob.size,
      async read(place, known): Promise<Batch> {
        const [offset, line] = place ? place.split(':').map(Number) : [body.offset, body.line];
        const bytes = ahead?.offset === offset ? await ahead.bytes : await fetchAt(offset!);
        const last = offset! + bytes.length >= blob.size;
        const text = decode(bytes);
        const plain = text.length === bytes.length;
        const r = findRecords(plain ? inText(text) : inBytes(bytes), mark, last, line!);
        const n = r.starts.length;
        const marks = marksOfBytes(bytes, r.starts, r.ends);
        const wanted: boolean[] = new Array(n);
        const broken: Batch['broken'][number][] = [];
        for (let k = 0; k < n; k++) {
          if (r.broken[k]) {
            broken.push({
              line: r.lines[k]!,
              text: decode(bytes.subarray(r.starts[k], Math.min(r.ends[k]!, r.starts[k]! + 300))),
              reason: 'a quote is opened and never closed',
            });
            wanted[k] = false;
          } else wanted[k] = !known(marks[k * 2]!, marks[k * 2 + 1]!);
        }
        const at = offset! + r.rest;
        // The next slice comes from the disk while this one is read.
        if (!last) ahead = { offset: at, bytes: fetchAt(at) };
        const rows = readCells(plain ? (from, to) => text.slice(from, to) : (from, to) => decode(bytes.subarray(from, to)), r, wanted, delimiter);
        // Bytes without one whole record can only be the end.
        const done = last || r.rest === 0;
        return { rows, lines: r.lines, marks, broken, next: done ? null : `${at}:${r.line}`, at: done ? blob.size : at };
      },
    },
  };
}
