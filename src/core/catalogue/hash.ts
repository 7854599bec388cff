import { type Bytes, bytesOf } from './texts';

/**
 * Two independent 32-bit hashes of one record, enough together that among millions of records two that differ
 * are never taken for the same in practice (a pair of a million records collides with a chance of about 3 in
 * 10 million). FNV-1a with two primes and a final mix after MurmurHash3.
 */
export interface Mark {
  readonly a: number;
  readonly b: number;
}

const mix = (h: number): number => {
  let x = h ^ (h >>> 16);
  x = Math.imul(x, 0x85ebca6b);
  x ^= x >>> 13;
  x = Math.imul(x, 0xc2b2ae35);
  return x ^ (x >>> 16);
};

/** Marks a text by its UTF-16 units. */
export function markOf(text: string): Mark {
  let a = 0x811c9dc5;
  let b = 0x1b873593;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x5bd1e995);
  }
  return { a: mix(a), b: mix(b ^ text.length) };
}

/** One 32-bit hash of a text, or of a part of it, for tables that compare the text itself afterwards. */
export function hashOf(text: string, from = 0, to = text.length): number {
  let a = 0x811c9dc5;
  for (let i = from; i < to; i++) a = Math.imul(a ^ text.charCodeAt(i), 0x01000193);
  return mix(a);
}

/**
 * Two hashes of bytes `from` to `to`, eight at a time, each mixed into the other so that both depend on every
 * byte.
 */
function hashBytes(view: DataView, from: number, to: number, out: Int32Array, at: number): void {
  let a = 0x811c9dc5;
  let b = 0x1b873593;
  let i = from;
  for (const end = to - 7; i < end; i += 8) {
    a = Math.imul(a ^ view.getInt32(i, true), 0x01000193) ^ (b >>> 15);
    b = Math.imul(b ^ view.getInt32(i + 4, true), 0x5bd1e995) ^ (a >>> 13);
  }
  for (; i < to; i++) {
    const c = view.getUint8(i);
    a = Math.imul(a ^ c, 0x01000193) ^ (b >>> 15);
    b = Math.imul(b ^ c, 0x5bd1e995) ^ (a >>> 13);
  }
  out[at] = mix(a);
  out[at + 1] = mix(b ^ (to - from));
}

/** Marks records of a file before they are read: two numbers for each of the ranges. */
export function marksOfBytes(
  bytes: Uint8Array,
  starts: ArrayLike<number>,
  ends: ArrayLike<number>,
): Int32Array {
  const view = viewOf(bytes);
  const marks = new Int32Array(starts.length * 2);
  for (let k = 0; k < starts.length; k++) hashBytes(view, starts[k]!, ends[k]!, marks, k * 2);
  return marks;
}

const pair = new Int32Array(2);
const one = (view: DataView, from: number, to: number): number => {
  hashBytes(view, from, to, pair, 0);
  return pair[0]! ^ Math.imul(pair[1]!, 0x9e3779b1);
};
const viewOf = (b: Uint8Array) => new DataView(b.buffer, b.byteOffset, b.byteLength);

/** {@link hashOf} for long texts: over their UTF-8 bytes, eight at a time. */
export function hashOfLong(text: string): number {
  const bytes = bytesOf(text);
  return one(viewOf(bytes), 0, bytes.length);
}

/** {@link hashOfLong} of each of many texts. */
export function hashesOf({ bytes, ends }: Bytes): Int32Array {
  const view = viewOf(bytes);
  return ends.map((end, k) => one(view, k === 0 ? 0 : ends[k - 1]!, end));
}

/**
 * Rows by a 32-bit hash: open addressing in one typed array, so that a million rows cost 8 MB and no objects.
 */
export class RowTable {
  private slots: Int32Array;
  private used = 0;

  constructor(
    capacity: number,
    private readonly hashAt: (row: number) => number,
  ) {
    let size = 1024;
    while (size < capacity * 2) size *= 2;
    this.slots = new Int32Array(size).fill(-1);
  }

  add(row: number): void {
    if (++this.used * 2 > this.slots.length) this.grow();
    this.place(row);
  }

  /** The first row with this hash that `is` the one wanted; -1 for none. */
  find(hash: number, is: (row: number) => boolean): number {
    const mask = this.slots.length - 1;
    for (let at = hash & mask; this.slots[at] !== -1; at = (at + 1) & mask) {
      const row = this.slots[at]!;
      if (this.hashAt(row) === hash && is(row)) return row;
    }
    return -1;
  }

  private place(row: number): void {
    const mask = this.slots.length - 1;
    let at = this.hashAt(row) & mask;
    while (this.slots[at] !== -1) at = (at + 1) & mask;
    this.slots[at] = row;
  }

  private grow(): void {
    const before = this.slots;
    this.slots = new Int32Array(before.length * 2).fill(-1);
    for (const row of before) if (row !== -1) this.place(row);
  }
}
