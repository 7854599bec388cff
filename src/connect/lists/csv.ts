import Papa from 'papaparse';
import { marksOfBytes } from '../../core/catalogue';
import type { Encoding } from '../../core/lists';
import { Blocks } from './blocks';
import { asStandard, findRecords, LONGEST_RECORD, looseCells } from './records';
import {
  type Batch,
  type FoundText,
  type ListSource,
  LONGEST_NAME,
  MOST_COLUMNS,
  megabytes,
  type Opened,
  type Part,
  refuse,
  type TextList,
  tooWide,
} from './source';

/** Bytes turned from UTF-16 at once. */
const SLICE = 2_000_000;
const LF = 10;

/**
 * One parser for each delimiter, kept: the machine code that a browser makes of a parser goes with it, and
 * making it takes as long as parsing some megabytes.
 */
const parsers = new Map<string, Papa.Parser>();

function cellsOf(text: string, delimiter: string): string[][] {
  let parser = parsers.get(delimiter);
  if (!parser) {
    parser = new Papa.Parser({ delimiter, newline: '\n', quoteChar: '"' });
    parsers.set(delimiter, parser);
  }
  return (parser.parse(text, 0, false) as Papa.ParseResult<string[]>).data;
}

/**
 * Text read at once: small enough that it and its cells are gone again before they would be kept for long by
 * the collector of garbage.
 */
const RUN = 250_000;

/**
 * Reads the cells of records as they come from {@link openCsv}, some hundred at a time where the parser finds
 * the same records, one by one where it does not.
 */
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
  for (let k = 1; k < starts.length; k++)
    if (starts[k] !== ends[k - 1]! + 1 || bytes[ends[k - 1]!] !== LF) return false;
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

/**
 * Copies records out of a piece of a file, so that they can be sent away: each closed by a line feed,
 * whatever closed it there; odd ones as the parser wants them.
 */
function copyOut(
  bytes: Uint8Array,
  starts: Int32Array,
  endsAt: Int32Array,
  wanted: Int32Array,
  odd: ReadonlyMap<number, Uint8Array>,
): Standing {
  if (odd.size) {
    const parts = Array.from(wanted, (k) => odd.get(k) ?? bytes.subarray(starts[k], endsAt[k]));
    const out = new Uint8Array(parts.reduce((n, p) => n + p.length + 1, 0));
    const ends = new Int32Array(parts.length);
    let at = 0;
    for (const [j, part] of parts.entries()) {
      out.set(part, at);
      at += part.length;
      ends[j] = at;
      out[at++] = LF;
    }
    return { bytes: out, ends };
  }
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
    const text = decoder.decode(new Uint8Array(await blob.slice(at, at + SLICE).arrayBuffer()), {
      stream: at + SLICE < blob.size,
    });
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
    const { blob, delimiter, width } = this.list;
    const [offset = 0, line = 1] = place.split(':').map(Number);
    let bytes = await this.blocks.from(offset);
    let last = offset + bytes.length >= blob.size;
    let r = findRecords(bytes, delimiter, last, line, width);
    if (r.rest === 0 && !last) {
      bytes = await this.blocks.more(offset);
      last = offset + bytes.length >= blob.size;
      r = findRecords(bytes, delimiter, last, line, width);
    }
    const long = [...r.long];
    let rest = offset + r.rest;
    if (r.rest === 0 && !last && bytes.length) {
      // One line longer than all that: passed over to its end, wherever that is.
      rest = await this.blocks.afterLine(offset);
      long.push({ line, start: 0, end: bytes.length });
      r = { ...r, line: line + 1 };
    }
    const [starts, ends] = [Int32Array.from(r.starts), Int32Array.from(r.ends)];
    const done = rest >= blob.size;
    return {
      bytes,
      offset,
      starts,
      ends,
      lines: Int32Array.from(r.lines),
      marks: marksOfBytes(bytes, starts, ends),
      odd: Int32Array.from(r.odd),
      long,
      next: done ? null : `${rest}:${r.line}`,
      at: done ? blob.size : rest,
      cut: done && r.cut,
    };
  }
}

/** Rows looked at to tell how many columns there are. */
const SAMPLED = 100;
/** Bytes of a record that is too long which are looked at to say whose it is. */
const LOOKED_AT = 65_536;

/**
 * Columns of the rows below a header: more than it names where each of them has as many cells more, all
 * empty, as a delimiter at the end of every line makes.
 */
function widthOf(rows: readonly (readonly string[])[], header: number): number {
  const width = rows[0]?.length ?? header;
  return width > header && rows.every((r) => r.length === width && r.slice(header).every((c) => !c.trim()))
    ? width
    : header;
}

/** The beginning of a text: the names of its columns, and the place of its first row. */
interface Top {
  readonly header: readonly string[];
  /** Byte and line, as {@link TextFinder.next} takes them. */
  readonly begin: string;
}

/**
 * Reads the header row and looks at the rows below it.
 * @param bytes the first of the text
 * @param size bytes of the whole text
 * @param headerRow which record has the names of the columns, counted from 0; null where there is none
 */
function readTop(
  bytes: Uint8Array,
  size: number,
  delimiter: string,
  encoding: Encoding,
  headerRow: number | null,
): Opened<Top> {
  // A byte order mark is not part of the first name.
  const skip = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  const found = findRecords(bytes.subarray(skip), delimiter.charCodeAt(0), size <= bytes.length, 1);
  if (!found.starts.length)
    return refuse(
      size > LONGEST_RECORD
        ? `Its first line has more than ${megabytes(LONGEST_RECORD)}: no list has such lines. Look at the delimiter and the encoding.`
        : 'This file has no complete line.',
    );
  if (headerRow !== null && headerRow >= found.starts.length)
    return refuse('The file ends before its header row.');
  const decoder = new TextDecoder(encoding);
  const cellsAt = (k: number): string[] =>
    cellsOf(decoder.decode(bytes.subarray(skip + found.starts[k]!, skip + found.ends[k]!)), delimiter).flat();
  const top = cellsAt(headerRow ?? 0);
  if (top.length > MOST_COLUMNS) return refuse(tooWide(top.length));

  const from = headerRow === null ? 0 : headerRow + 1;
  const sampled = Array.from(found.starts.slice(from, from + SAMPLED), (_, k) => from + k);
  // Rows with odd quotes would tell of their quotes.
  const rows = sampled.filter((k) => !found.odd.includes(k)).map(cellsAt);
  const header = Array.from({ length: widthOf(rows, top.length) }, (_, i) =>
    headerRow === null ? `Column ${i + 1}` : (top[i] ?? '').trim().slice(0, LONGEST_NAME),
  );
  if (headerRow === null) return { ok: true, value: { header, begin: `${skip}:1` } };
  const offset = skip + (found.starts[from] ?? found.rest);
  return { ok: true, value: { header, begin: `${offset}:${found.lines[from] ?? found.line}` } };
}

/** Makes batches of the records that were found in a text. */
function batcher(
  { blob, width }: TextList,
  delimiter: string,
  encoding: Encoding,
): (found: FoundText) => Batch {
  const decoder = new TextDecoder(encoding);
  const cellsIn = (record: Uint8Array) => cellsOf(decoder.decode(record), delimiter).flat();

  /** A record that is too long, by its first cells. */
  const tooLong = (bytes: Uint8Array, { line, start, end }: FoundText['long'][number]) => {
    const text = decoder.decode(bytes.subarray(start, Math.min(end, start + LOOKED_AT)));
    return {
      line,
      // The last cell of what is looked at may go on.
      cells: looseCells(text, delimiter, width).slice(0, -1),
      text: text.slice(0, 300),
      reason: `the row has more than ${megabytes(LONGEST_RECORD)}`,
    };
  };

  return ({ bytes, offset, starts, ends, lines, marks, odd: oddOnes, long, next, at, cut }) => {
    // Taken out before the bytes may be sent away.
    const odd = new Map<number, Uint8Array>();
    for (const k of oddOnes) odd.set(k, asStandard(bytes.subarray(starts[k], ends[k]), delimiter, width));
    return {
      lines,
      marks,
      broken: long.map((one) => tooLong(bytes, one)),
      next,
      at,
      cut,
      part: (wanted) => ({
        kind: 'text',
        ...(odd.size === 0 && wanted.length === starts.length && standTogether(bytes, starts, ends)
          ? lend(bytes, starts, ends)
          : copyOut(bytes, starts, ends, wanted, odd)),
        delimiter,
        encoding,
      }),
      cells: async (k) =>
        cellsIn(
          odd.get(k) ??
            new Uint8Array(await blob.slice(offset + starts[k]!, offset + ends[k]!).arrayBuffer()),
        ),
    };
  };
}

/**
 * Opens delimited text.
 * @param headerRow which record has the names of the columns, counted from 0; null where there is none
 */
export async function openCsv(
  file: Blob,
  delimiter: string,
  encoding: Encoding,
  headerRow: number | null,
): Promise<Opened<ListSource>> {
  const wide = encoding === 'utf-16le' || encoding === 'utf-16be';
  const blob = wide ? await asUtf8(file, encoding) : file;
  const read = wide ? 'utf-8' : encoding;
  const bytes = new Uint8Array(await blob.slice(0, 2 * LONGEST_RECORD).arrayBuffer());
  const top = readTop(bytes, blob.size, delimiter, read, headerRow);
  if (!top.ok) return top;
  const { header, begin } = top.value;
  const list: TextList = { blob, delimiter: delimiter.charCodeAt(0), begin, width: header.length };
  const finder = new TextFinder(list);
  const batchOf = batcher(list, delimiter, read);
  const next = async (place: string | null) => batchOf(await finder.next(place ?? list.begin));
  return { ok: true, value: { header, total: blob.size, next, text: { list, batchOf } } };
}
