import Papa from 'papaparse';
import { markOfBytes } from '../../core/catalogue';
import type { Encoding } from '../../core/lists';
import { type Batch, type ListSource, type Opened, refuse } from './source';

/** Bytes read at once: large enough that few slices are asked for, small enough that a step is short. */
const SLICE = 4_000_000;
/** A record longer than this has a quote that is never closed. */
const LONGEST_RECORD = 400_000;

const QUOTE = 34;
const LF = 10;
const CR = 13;

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
export function findRecords(b: Uint8Array, delimiter: number, last: boolean, firstLine: number): Records {
  const n = b.length;
  const starts: number[] = [];
  const ends: number[] = [];
  const lines: number[] = [];
  const broken: boolean[] = [];
  let line = firstLine;
  let start = 0;
  let startLine = line;
  let fieldStart = true;
  let newline: Records['newline'] | null = null;
  let i = 0;
  const end = (at: number, wasBroken = false) => {
    starts.push(start);
    ends.push(at);
    lines.push(startLine);
    broken.push(wasBroken);
  };
  while (i < n) {
    const c = b[i]!;
    if (c === QUOTE && fieldStart) {
      // Inside quotes: on to the quote that closes.
      let at = i + 1;
      let inside = line;
      let closed = false;
      for (;;) {
        const q = b.indexOf(QUOTE, at);
        const stop = q < 0 ? n : q;
        for (let nl = b.indexOf(LF, at); nl >= 0 && nl < stop; nl = b.indexOf(LF, nl + 1)) inside++;
        if (q < 0) break;
        const next = b[q + 1];
        if (next === QUOTE) at = q + 2;
        else if (next === delimiter || next === LF || next === CR || (next === undefined && last)) {
          closed = true;
          at = q + 1;
          break;
        } else if (next === undefined) break;
        else at = q + 1;
        if (at - start > LONGEST_RECORD) break;
      }
      if (closed && at - start <= LONGEST_RECORD) {
        i = at;
        line = inside;
        fieldStart = false;
        continue;
      }
      if (!last && n - start <= LONGEST_RECORD) break;
      // Never closed: the record is taken to end with its first line, and reading goes on below it.
      let eol = start;
      while (eol < n && b[eol] !== LF && b[eol] !== CR) eol++;
      end(eol, true);
      i = eol;
      if (b[i] === CR && b[i + 1] === LF) i++;
      i++;
      line = startLine + 1;
      start = i;
      startLine = line;
      fieldStart = true;
      continue;
    }
    if (c === LF || c === CR) {
      if (c === CR && i + 1 === n && !last) break;
      const kind = c === LF ? '\n' : b[i + 1] === LF ? '\r\n' : '\r';
      newline = newline === null || newline === kind ? kind : '';
      if (i > start) end(i);
      i += kind === '\r\n' ? 2 : 1;
      line++;
      start = i;
      startLine = line;
      fieldStart = true;
      continue;
    }
    fieldStart = c === delimiter;
    i++;
  }
  if (last && i >= n && start < n) {
    end(n);
    start = n;
    startLine = line;
  }
  return { starts, ends, lines, broken, rest: Math.min(start, n), line: startLine, newline: newline ?? '\n' };
}

const cellsOf = (text: string, delimiter: string, newline: '\n' | '\r\n' | '\r'): string[][] =>
  Papa.parse<string[]>(text, { delimiter, newline, quoteChar: '"', skipEmptyLines: false }).data;

/** Reads the cells of the wanted records. Whole pieces at once where the parser finds the same records, one by one where it does not. */
function readCells(
  bytes: Uint8Array,
  r: Records,
  wanted: readonly boolean[],
  delimiter: string,
  decode: (b: Uint8Array) => string,
): (string[] | null)[] {
  const n = r.starts.length;
  const rows: (string[] | null)[] = new Array(n).fill(null);
  const one = (k: number) => {
    rows[k] = cellsOf(decode(bytes.subarray(r.starts[k], r.ends[k])), delimiter, '\n').flat();
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
      const parsed = cellsOf(decode(bytes.subarray(r.starts[from], r.ends[to])), delimiter, r.newline);
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
  const first = findRecords(begin.subarray(skip), mark, blob.size <= begin.length, 1);
  if (!first.starts.length) return refuse('There is not one whole line in this file.');
  if (headerRow !== null && headerRow >= first.starts.length) return refuse('The file ends before the names of its columns.');
  const top = readCells(
    begin.subarray(skip),
    first,
    first.starts.map((_, k) => k <= (headerRow ?? 0)),
    delimiter,
    decode,
  );
  const header = headerRow === null ? top[0]!.map((_, i) => `Column ${i + 1}`) : top[headerRow]!.map((name) => name.trim());
  const body =
    headerRow === null
      ? { offset: skip, line: 1 }
      : { offset: skip + (first.starts[headerRow + 1] ?? first.rest), line: first.lines[headerRow + 1] ?? first.line };

  return {
    ok: true,
    value: {
      header,
      total: blob.size,
      async read(place, known): Promise<Batch> {
        const [offset, line] = place ? place.split(':').map(Number) : [body.offset, body.line];
        const bytes = new Uint8Array(await blob.slice(offset!, offset! + SLICE).arrayBuffer());
        const last = offset! + bytes.length >= blob.size;
        const r = findRecords(bytes, mark, last, line!);
        const n = r.starts.length;
        const marks = new Int32Array(n * 2);
        const wanted: boolean[] = new Array(n);
        const broken: Batch['broken'][number][] = [];
        for (let k = 0; k < n; k++) {
          markOfBytes(bytes, r.starts[k]!, r.ends[k]!, marks, k * 2);
          if (r.broken[k]) {
            broken.push({
              line: r.lines[k]!,
              text: decode(bytes.subarray(r.starts[k], Math.min(r.ends[k]!, r.starts[k]! + 300))),
              reason: 'a quote is opened and never closed',
            });
            wanted[k] = false;
          } else wanted[k] = !known(marks[k * 2]!, marks[k * 2 + 1]!);
        }
        const rows = readCells(bytes, r, wanted, delimiter, decode);
        const at = offset! + r.rest;
        // Bytes without one whole record can only be the end.
        const done = last || r.rest === 0;
        return { rows, lines: r.lines, marks, broken, next: done ? null : `${at}:${r.line}`, at: done ? blob.size : at };
      },
    },
  };
}
