import Papa from 'papaparse';
import { marksOfBytes } from '../../core/catalogue';
import type { Encoding } from '../../core/lists';
import { Blocks } from './blocks';
import { type Batch, type FoundText, type ListSource, type Opened, type Part, refuse, type TextList } from './source';

/** Bytes turned from UTF-16 at once. */
const SLICE = 2_000_000;
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
}

/** The same byte four times. */
const four = (byte: number) => Math.imul(byte, 0x01010101);
const ONES = 0x01010101;
const HIGHS = 0x80808080 | 0;
const QUOTES = four(QUOTE);
/** Line feed and carriage return are both among 8 to 15: without their last three bits they are 8. */
const UPPER = four(0xf8);
const EIGHTS = four(8);

/** Finds signs among bytes four at a time: a word with one of them has a byte that is 0 once the sign is taken off (after Mycroft's test for a zero byte). */
class Signs {
  private readonly length: number;
  private readonly words: Int32Array;
  private readonly shift: number;

  constructor(private readonly bytes: Uint8Array) {
    this.length = bytes.length;
    this.words = new Int32Array(bytes.buffer, 0, bytes.buffer.byteLength >> 2);
    this.shift = bytes.byteOffset;
  }

  /** The next line feed, carriage return or quote; the length where there is none. */
  next(from: number): number {
    const { bytes, words, shift, length } = this;
    let i = from;
    const is = (c: number) => c === LF || c === CR || c === QUOTE;
    for (; i < length && (i + shift) & 3; i++) if (is(bytes[i]!)) return i;
    for (let w = (i + shift) >> 2, end = (length + shift) >> 2; w < end; w++, i += 4) {
      const x = words[w]!;
      const l = (x & UPPER) ^ EIGHTS;
      const q = x ^ QUOTES;
      if ((((l - ONES) & ~l) | ((q - ONES) & ~q)) & HIGHS) for (let k = i; k < i + 4; k++) if (is(bytes[k]!)) return k;
    }
    while (i < length && !is(bytes[i]!)) i++;
    return i;
  }
}

/** Where a quoted field that opens at `open` closes: behind its last quote; -1 where it does not. Line feeds inside are counted. */
function closing(b: Uint8Array, signs: Signs, open: number, delimiter: number, last: boolean, start: number): { at: number; feeds: number } {
  const n = b.length;
  let feeds = 0;
  for (let at = open + 1; ; ) {
    at = signs.next(at);
    if (at >= n || at - start > LONGEST_RECORD) return { at: -1, feeds };
    const after = b[at + 1];
    if (b[at] !== QUOTE) {
      if (b[at] === LF) feeds++;
      at++;
    } else if (after === QUOTE) at += 2;
    else if (after === delimiter || after === LF || after === CR || (after === undefined && last)) return { at: at + 1, feeds };
    else at++;
  }
}

/**
 * Finds the records of delimited text (RFC 4180, with what files really do: lone CR, mixed endings, quotes in the middle of a field) without decoding it, so
 * that a record can be marked, and known ones passed over, before anything is made of it. A quote opens only at the begin of a field and closes only before a
 * delimiter or the end of a line, as the parser reads it, too. Cost: about 2 ns a byte.
 * @param last whether the file ends with these bytes
 */
export function findRecords(b: Uint8Array, delimiter: number, last: boolean, firstLine: number): Records {
  const n = b.length;
  const starts: number[] = [];
  const ends: number[] = [];
  const lines: number[] = [];
  const broken: boolean[] = [];
  let line = firstLine;
  let start = 0;
  const signs = new Signs(b);
  const add = (end: number, wasBroken: boolean) => {
    starts.push(start);
    ends.push(end);
    lines.push(line);
    broken.push(wasBroken);
  };
  while (start < n) {
    let end = start;
    /** Lines that end inside quotes of this record. */
    let inside = 0;
    for (;;) {
      end = signs.next(end);
      if (end === n || b[end] !== QUOTE) break;
      if (end !== start && b[end - 1] !== delimiter) {
        // In the middle of a field it is a sign like any other.
        end++;
        continue;
      }
      const quoted = closing(b, signs, end, delimiter, last, start);
      inside += quoted.feeds;
      end = quoted.at;
      if (end < 0) break;
    }
    if (end < 0) {
      if (!last && n - start <= LONGEST_RECORD) break;
      // Never closed: the record is taken to end with its first line, and reading goes on below it.
      end = start;
      while (end < n && b[end] !== LF && b[end] !== CR) end++;
      add(end, true);
      start = end + (b[end] === CR && b[end + 1] === LF ? 2 : 1);
      line++;
      continue;
    }
    if (end === n) {
      if (!last) break;
      add(n, false);
      start = n;
      break;
    }
    // A CR at the very end may be the half of a pair.
    if (b[end] === CR && end + 1 === n && !last) break;
    if (end > start) add(end, false);
    line += 1 + inside;
    start = end + (b[end] === CR && b[end + 1] === LF ? 2 : 1);
  }
  return { starts, ends, lines, broken, rest: Math.min(start, n), line };
}

/** One parser for each delimiter, kept: the machine code that a browser makes of a parser goes with it, and making it takes as long as parsing some megabytes. */
const parsers = new Map<string, Papa.Parser>();

function cellsOf(text: string, delimiter: string): string[][] {
  let parser = parsers.get(delimiter);
  if (!parser) {
    parser = new Papa.Parser({ delimiter, newline: '\n', quoteChar: '"' });
    parsers.set(delimiter, parser);
  }
  return (parser.parse(text, 0, false) as Papa.ParseResult<string[]>).data;
}

/** Text read at once: small enough that it and its cells are gone again before they would be kept for long by the collector of garbage. */
const RUN = 250_000;

/** Reads the cells of records as they come from {@link openCsv}, some hundred at a time where the parser finds the same records, one by one where it does not. */
export function* readText(part: Part & { readonly kind: 'text' }): Generator<string[][]> {
  const { bytes, ends, delimiter } = part;
  const decoder = new TextDecoder(part.encoding);
  const startOf = (k: number) => (k === 0 ? 0 : ends[k - 1]! + 1);
  for (let from = 0; from < ends.length; ) {
    let to = from;
    while (to + 1 < ends.length && ends[to + 1]! - startOf(from) < RUN) to++;
    const rows = cellsOf(decoder.decode(bytes.subarray(startOf(from), ends[to])), delimiter);
    if (rows.length === to - from + 1) yield rows;
    else
      yield Array.from({ length: to - from + 1 }, (_, k) =>
        cellsOf(decoder.decode(bytes.subarray(startOf(from + k), ends[from + k])), delimiter).flat(),
      );
    from = to + 1;
  }
}

/** Whether records follow each other with one line feed between. */
const standTogether = (bytes: Uint8Array, starts: Int32Array, ends: Int32Array): boolean => {
  for (let k = 1; k < starts.length; k++) if (starts[k] !== ends[k - 1]! + 1 || bytes[ends[k - 1]!] !== LF) return false;
  return true;
};

/** Records that follow each other, a line feed behind each. */
type Standing = Pick<Extract<Part, { readonly kind: 'text' }>, 'bytes' | 'ends'>;

/** All records as they stand, their bytes and all: whoever sends them away takes them from here. */
function lend(bytes: Uint8Array<ArrayBuffer>, starts: Int32Array, endsAt: Int32Array): Standing {
  const first = starts[0] ?? 0;
  const ends = Int32Array.from(endsAt);
  for (let k = 0; k < ends.length; k++) ends[k]! -= first;
  return { bytes: bytes.subarray(first, endsAt.at(-1) ?? 0), ends };
}

/** Copies records out of a piece of a file, so that they can be sent away: each closed by a line feed, whatever closed it there. */
function copyOut(bytes: Uint8Array, starts: Int32Array, endsAt: Int32Array, wanted: Int32Array): Standing {
  let size = 0;
  for (const k of wanted) size += endsAt[k]! - starts[k]! + 1;
  const out = new Uint8Array(size);
  const ends = new Int32Array(wanted.length);
  let at = 0;
  for (let j = 0; j < wanted.length; j++) {
    // Records that stand side by side, one line feed between them, go in one.
    const first = j;
    while (
      j + 1 < wanted.length &&
      wanted[j + 1] === wanted[j]! + 1 &&
      starts[wanted[j + 1]!] === endsAt[wanted[j]!]! + 1 &&
      bytes[endsAt[wanted[j]!]!] === LF
    )
      j++;
    const start = starts[wanted[first]!]!;
    out.set(bytes.subarray(start, endsAt[wanted[j]!]), at);
    for (let i = first; i <= j; i++) ends[i] = at + endsAt[wanted[i]!]! - start;
    at = ends[j]!;
    out[at++] = LF;
  }
  return { bytes: out, ends };
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

/** Finds and marks the records of a text, block by block. */
export class TextFinder {
  private readonly blocks: Blocks;

  constructor(private readonly list: TextList) {
    this.blocks = new Blocks(list.blob);
  }

  async next(place: string): Promise<FoundText> {
    const { blob, delimiter } = this.list;
    const [offset = 0, line = 1] = place.split(':').map(Number);
    let bytes = await this.blocks.from(offset);
    let last = offset + bytes.length >= blob.size;
    let r = findRecords(bytes, delimiter, last, line);
    if (r.rest === 0 && !last) {
      bytes = await this.blocks.more(offset);
      last = offset + bytes.length >= blob.size;
      r = findRecords(bytes, delimiter, last, line);
    }
    const whole = r.broken.includes(true) ? r.broken.flatMap((b, k) => (b ? [] : [k])) : null;
    const only = (list: readonly number[]) => Int32Array.from(whole ? whole.map((k) => list[k]!) : list);
    const [starts, ends] = [only(r.starts), only(r.ends)];
    // Bytes without one whole record can only be the end.
    const done = last || r.rest === 0;
    const at = offset + r.rest;
    return {
      bytes,
      offset,
      starts,
      ends,
      lines: only(r.lines),
      marks: marksOfBytes(bytes, starts, ends),
      broken: r.broken.flatMap((b, k) => (b ? [{ line: r.lines[k]!, start: r.starts[k]!, end: r.ends[k]! }] : [])),
      next: done ? null : `${at}:${r.line}`,
      at: done ? blob.size : at,
    };
  }
}

/**
 * Opens delimited text.
 * @param headerRow which record has the names of the columns, counted from 0; null where there is none
 */
export async function openCsv(file: Blob, delimiter: string, encoding: Encoding, headerRow: number | null): Promise<Opened<ListSource>> {
  const wide = encoding === 'utf-16le' || encoding === 'utf-16be';
  const blob = wide ? await asUtf8(file, encoding) : file;
  const utf = wide ? 'utf-8' : encoding;
  const decoder = new TextDecoder(utf);
  const mark = delimiter.charCodeAt(0);
  const begin = new Uint8Array(await blob.slice(0, 2_000_000).arrayBuffer());
  // A byte order mark is not part of the first name.
  const skip = begin[0] === 0xef && begin[1] === 0xbb && begin[2] === 0xbf ? 3 : 0;
  const first = findRecords(begin.subarray(skip), mark, blob.size <= begin.length, 1);
  if (!first.starts.length) return refuse('There is not one whole line in this file.');
  if (headerRow !== null && headerRow >= first.starts.length) return refuse('The file ends before the names of its columns.');
  const named = headerRow ?? 0;
  const top = cellsOf(decoder.decode(begin.subarray(skip + first.starts[named]!, skip + first.ends[named]!)), delimiter).flat();
  const header = headerRow === null ? top.map((_, i) => `Column ${i + 1}`) : top.map((name) => name.trim());
  const body =
    headerRow === null
      ? { offset: skip, line: 1 }
      : { offset: skip + (first.starts[headerRow + 1] ?? first.rest), line: first.lines[headerRow + 1] ?? first.line };

  const list: TextList = { blob, delimiter: mark, begin: `${body.offset}:${body.line}` };
  const finder = new TextFinder(list);
  const batchOf = (found: FoundText): Batch => {
    const { bytes, offset, starts, ends, lines, marks, next, at } = found;
    return {
      lines,
      marks,
      broken: found.broken.map(({ line, start, end }) => ({
        line,
        text: decoder.decode(bytes.subarray(start, Math.min(end, start + 300))),
        reason: 'a quote is opened and never closed',
      })),
      next,
      at,
      part: (wanted) => ({
        kind: 'text',
        ...(wanted.length === starts.length && standTogether(bytes, starts, ends) ? lend(bytes, starts, ends) : copyOut(bytes, starts, ends, wanted)),
        delimiter,
        encoding: utf,
      }),
      cells: async (k) => {
        const own = new Uint8Array(await blob.slice(offset + starts[k]!, offset + ends[k]!).arrayBuffer());
        return cellsOf(decoder.decode(own), delimiter).flat();
      },
    };
  };
  const next = async (place: string | null) => batchOf(await finder.next(place ?? list.begin));
  return { ok: true, value: { header, total: blob.size, next, text: { list, batchOf } } };
}
