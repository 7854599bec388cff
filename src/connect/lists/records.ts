/** A record longer than this is not read: a quote that is never closed, or no list at all. */
export const LONGEST_RECORD = 1_000_000;
/**
 * Bytes looked through for closing quotes in vain, for each byte there is; beyond it a quote must close on
 * its line.
 */
const PATIENCE = 16;

const QUOTE = 34;
const LF = 10;
const CR = 13;

/** Records of a piece of bytes: begin and end of each, and the line it begins at. */
export interface Records {
  readonly starts: number[];
  readonly ends: number[];
  readonly lines: number[];
  /** Places of those whose quotes are not those of RFC 4180: their cells are read by `looseCells`. */
  readonly odd: number[];
  /** Records that are too long to be read; not among the others. */
  readonly long: { readonly line: number; readonly start: number; readonly end: number }[];
  /** Where the first record that is not whole begins; the length of the bytes where all are. */
  readonly rest: number;
  readonly line: number;
  /** Whether the list ends in the middle of a record. */
  readonly cut: boolean;
}

/** The same byte four times. */
const four = (byte: number) => Math.imul(byte, 0x01010101);
const ONES = 0x01010101;
const HIGHS = 0x80808080 | 0;
const QUOTES = four(QUOTE);
/** Line feed and carriage return are both among 8 to 15: without their last three bits they are 8. */
const UPPER = four(0xf8);
const EIGHTS = four(8);

/**
 * Finds signs among bytes four at a time: a word with one of them has a byte that is 0 once the sign is taken
 * off (after Mycroft's test for a zero byte).
 */
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
      if ((((l - ONES) & ~l) | ((q - ONES) & ~q)) & HIGHS)
        for (let k = i; k < i + 4; k++) if (is(bytes[k]!)) return k;
    }
    while (i < length && !is(bytes[i]!)) i++;
    return i;
  }
}

/**
 * How a quoted field ends: its place behind the closing quote (-1 where there is none), the line feeds
 * inside, and whether lone quotes stand inside.
 */
interface Closing {
  readonly at: number;
  readonly feeds: number;
  readonly strays: boolean;
}

/**
 * Looks for the end of a quoted field: a quote before a delimiter or the end of a line. A doubled quote is
 * one of the text, and so is a lone one before anything else.
 */
function closing(
  b: Uint8Array,
  signs: Signs,
  open: number,
  delimiter: number,
  last: boolean,
  until: number,
  sameLine: boolean,
): Closing {
  const n = b.length;
  let feeds = 0;
  let strays = false;
  for (let at = open + 1; ; ) {
    at = signs.next(at);
    if (at >= n || at > until) return { at: -1, feeds, strays };
    const after = b[at + 1];
    if (b[at] !== QUOTE) {
      if (sameLine) return { at: -1, feeds, strays };
      if (b[at] === LF) feeds++;
      at++;
    } else if (after === QUOTE) at += 2;
    else if (after === delimiter || after === LF || after === CR || (after === undefined && last))
      return { at: at + 1, feeds, strays };
    else {
      strays = true;
      at++;
    }
  }
}

/**
 * Bytes as signs of the same number: a decoder for Latin-1 is one for windows-1252, and would make others of
 * some.
 */
function binaryOf(b: Uint8Array): string {
  let text = '';
  for (let at = 0; at < b.length; at += 8192) text += String.fromCharCode(...b.subarray(at, at + 8192));
  return text;
}
const bytesOf = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

/**
 * Cells of one record whose quotes are not those of RFC 4180, as people mean them; its signs are bytes,
 * whatever their encoding. Two readings are tried: a quote closes only before a delimiter (`"12" lens, blue"`
 * is one cell), and a cell that begins with a quote which does not close it is text up to the next delimiter
 * (`"Big" lens 5`, `"Big lens`). The one that gives as many cells as there are columns is right; else the
 * second.
 */
export function looseCells(record: string, delimiter: string, width: number | null): string[] {
  const half = halfQuoted(record, delimiter);
  if (half && (width === null ? half.length > 1 && !record.includes('\n') : half.length === width))
    return half;
  return literally(record, delimiter);
}

const undoubled = (text: string) => text.replaceAll('""', '"');

/** Each quote at the begin of a cell closes before a delimiter or at the end; null where one does not. */
function halfQuoted(record: string, delimiter: string): string[] | null {
  const cells: string[] = [];
  for (let at = 0; at <= record.length; ) {
    if (record[at] !== '"') {
      const end = endOf(record, delimiter, at);
      cells.push(record.slice(at, end));
      at = end + 1;
      continue;
    }
    let close = at + 1;
    for (;;) {
      close = record.indexOf('"', close);
      if (close < 0) return null;
      if (record[close + 1] === '"' && close + 2 < record.length) close += 2;
      else if (close + 1 === record.length || record[close + 1] === delimiter) break;
      else close++;
    }
    cells.push(undoubled(record.slice(at + 1, close)));
    at = close + 2;
  }
  return cells;
}

/**
 * A cell that begins with a quote is quoted only if nothing but doubled quotes stand inside; else it is text
 * up to the next delimiter.
 */
function literally(record: string, delimiter: string): string[] {
  const cells: string[] = [];
  for (let at = 0; at <= record.length; ) {
    let end = -1;
    if (record[at] === '"') {
      let close = record.indexOf('"', at + 1);
      while (close >= 0 && record[close + 1] === '"') close = record.indexOf('"', close + 2);
      if (close >= 0 && (close + 1 === record.length || record[close + 1] === delimiter)) {
        cells.push(undoubled(record.slice(at + 1, close)));
        end = close + 1;
      }
    }
    if (end < 0) {
      end = endOf(record, delimiter, at);
      cells.push(record.slice(at, end));
    }
    at = end + 1;
  }
  return cells;
}

function endOf(record: string, delimiter: string, at: number): number {
  const end = record.indexOf(delimiter, at);
  return end < 0 ? record.length : end;
}

/** One odd record as RFC 4180 has it, for the parser. */
export function asStandard(record: Uint8Array, delimiter: string, width: number | null): Uint8Array {
  const cells = looseCells(binaryOf(record), delimiter, width);
  return bytesOf(cells.map((c) => `"${c.replaceAll('"', '""')}"`).join(delimiter));
}

/**
 * Whether a record over several lines is the work of a quote that was never closed, and took the lines below
 * with it: each line is a record by itself, or, where lone quotes stand in it anyway, one below the first is.
 */
function isSwallowing(record: string, delimiter: string, width: number, strays: boolean): boolean {
  const fits = (line: string) => looseCells(line, delimiter, width).length === width;
  const lines = record.split(/\r\n|\n|\r/).filter((line) => line !== '');
  return (strays && width > 2 && lines.slice(1).some(fits)) || lines.every(fits);
}

/**
 * Finds the records of delimited text (RFC 4180, with what files really do: lone CR, mixed endings, quotes in
 * the middle of a cell or never closed) without decoding it, so that a record can be marked, and known ones
 * passed over, before anything is made of it. A quote opens only at the begin of a cell and closes only
 * before a delimiter or the end of a line, as the parser reads it, too. Where lines are lost to a quote that
 * is never closed, the number of columns tells. Cost: about 2 ns a byte.
 * @param last whether the file ends with these bytes
 * @param width how many columns there are, where that is known
 */
export function findRecords(
  b: Uint8Array,
  delimiter: number,
  last: boolean,
  firstLine: number,
  width: number | null = null,
): Records {
  const n = b.length;
  const starts: number[] = [];
  const ends: number[] = [];
  const lines: number[] = [];
  const odd: number[] = [];
  const long: Records['long'] = [];
  const sign = String.fromCharCode(delimiter);
  let line = firstLine;
  let start = 0;
  let patience = PATIENCE * n;
  let cut = false;
  const signs = new Signs(b);
  const textOf = (end: number) => binaryOf(b.subarray(start, end));
  const endOfLine = () => {
    let end = start;
    while (end < n && b[end] !== LF && b[end] !== CR) end++;
    return end;
  };
  while (start < n) {
    let end = start;
    /** Lines that end inside quotes of this record. */
    let inside = 0;
    let strays = false;
    let closed = true;
    for (;;) {
      end = signs.next(end);
      if (end === n || b[end] !== QUOTE) break;
      if (end !== start && b[end - 1] !== delimiter) {
        // In the middle of a cell it is a sign like any other.
        end++;
        continue;
      }
      const quoted = closing(b, signs, end, delimiter, last, start + LONGEST_RECORD, patience <= 0);
      inside += quoted.feeds;
      strays ||= quoted.strays;
      end = quoted.at;
      if (end < 0) {
        closed = false;
        break;
      }
    }
    if (!closed && !last && n - start <= LONGEST_RECORD && patience > 0) break;
    /** The list ends inside a quote of this record. */
    const opened = !closed && last && n - start <= LONGEST_RECORD && patience > 0;
    if (closed && inside > 0) {
      const record = textOf(end);
      const fits = !strays || (width !== null && looseCells(record, sign, width).length === width);
      // Without lone quotes inside it is a cell of several lines, unless what closes it is the inch sign of a
      // line that is whole by itself.
      const doubtful = width !== null && (strays || (width > 2 && /\d"(?!")/.test(record)));
      if (!fits || (doubtful && isSwallowing(record, sign, width, strays))) closed = false;
    }
    if (!closed) {
      // Its quote is none: the record ends with its first line, and the lines below are read by themselves.
      patience -= Math.min(n, start + LONGEST_RECORD) - start;
      end = endOfLine();
      inside = 0;
      strays = true;
      if (end === n && !last) break;
    }
    if (end === n && !last) break;
    // A CR at the very end may be the half of a pair.
    if (b[end] === CR && end + 1 === n && !last) break;
    if (end - start > LONGEST_RECORD) long.push({ line, start, end });
    else if (end > start) {
      if (strays) odd.push(starts.length);
      starts.push(start);
      ends.push(end);
      lines.push(line);
      // What ends inside a quote, or without an end of line and before its last cell, was cut off.
      if (width !== null && (opened || end === n)) {
        const cells = looseCells(textOf(end), sign, width).length;
        cut ||= opened ? cells !== width : cells < width;
      }
    }
    line += 1 + inside;
    start = end + (b[end] === CR && b[end + 1] === LF ? 2 : 1);
  }
  return { starts, ends, lines, odd, long, rest: Math.min(start, n), line, cut };
}
