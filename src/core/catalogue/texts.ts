/**
 * Many strings laid end to end: far quicker to store and to read back than a list of strings. String `i` ends
 * at `ends[i]`.
 */
export interface Texts {
  readonly text: string;
  readonly ends: Int32Array;
}

/** Strings that are joined at once: so few that the long texts they were cut from can go soon. */
const RUN = 250;

/** Lays strings end to end as they come. */
export class TextsRoom {
  private waiting: string[] = [];
  private readonly parts: string[] = [];
  private readonly ends: Int32Array<ArrayBuffer>;
  private n = 0;
  private end = 0;

  /** @param room how many strings there will be at most */
  constructor(room: number) {
    this.ends = new Int32Array(room);
  }

  add(text: string): void {
    this.end += text.length;
    this.ends[this.n++] = this.end;
    if (this.waiting.push(text) === RUN) this.join();
  }

  private join(): void {
    this.parts.push(this.waiting.join(''));
    this.waiting = [];
  }

  close(): Texts {
    this.join();
    return { text: this.parts.join(''), ends: this.ends.slice(0, this.n) };
  }
}

export const textAt = (t: Texts, i: number): string => t.text.slice(i === 0 ? 0 : t.ends[i - 1], t.ends[i]);

export const textsIn = (t: Texts): string[] => Array.from(t.ends, (_, i) => textAt(t, i));

/** Whether string `i` is `wanted`, without making it. */
export function textIs(t: Texts, i: number, wanted: string): boolean {
  const start = i === 0 ? 0 : t.ends[i - 1]!;
  return t.ends[i]! - start === wanted.length && t.text.startsWith(wanted, start);
}

/**
 * Many long strings as UTF-8 laid end to end: stored and sent without being looked at, made text again one at
 * a time. String `i` ends before byte `ends[i]`.
 */
export interface Bytes {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly ends: Int32Array<ArrayBuffer>;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();
let room = new Uint8Array(65_536);

/** A text's UTF-8 bytes, in room that the next call writes over. */
export function bytesOf(text: string): Uint8Array<ArrayBuffer> {
  if (text.length * 3 > room.length) room = new Uint8Array(text.length * 3);
  return room.subarray(0, encoder.encodeInto(text, room).written);
}

/** The highest bit of each of four bytes: set where one is not a plain letter. */
const HIGH_BITS = 0x80808080 | 0;

/** Lays strings end to end as UTF-8 as they come. */
export class BytesRoom {
  private waiting: string[] = [];
  private bytes = new Uint8Array(65_536);
  private readonly ends: Int32Array<ArrayBuffer>;
  private n = 0;
  private end = 0;

  /** @param room how many strings there will be at most */
  constructor(room: number) {
    this.ends = new Int32Array(room);
  }

  add(text: string): void {
    if (this.waiting.push(text) === RUN) this.encode();
  }

  private encode(): void {
    const text = this.waiting.join('');
    if (this.end + text.length * 3 > this.bytes.length) {
      const more = new Uint8Array(Math.max(this.end + text.length * 3, this.bytes.length * 2));
      more.set(this.bytes.subarray(0, this.end));
      this.bytes = more;
    }
    const { bytes } = this;
    const view = new DataView(bytes.buffer);
    const { written } = encoder.encodeInto(text, bytes.subarray(this.end));
    // Plain letters are one byte each, so that only what is not needs a look: a lead of two or three bytes
    // stands for one unit, of four for two.
    let at = this.end;
    for (const { length } of this.waiting) {
      let stop = at + length;
      while (at < stop) {
        if (at + 4 <= stop && (view.getInt32(at) & HIGH_BITS) === 0) {
          at += 4;
          continue;
        }
        const lead = bytes[at]!;
        const long = lead < 0x80 ? 1 : lead < 0xe0 ? 2 : lead < 0xf0 ? 3 : 4;
        at += long;
        stop += long === 4 ? 2 : long - 1;
      }
      this.ends[this.n++] = at;
    }
    this.end += written;
    this.waiting = [];
  }

  close(): Bytes {
    this.encode();
    return { bytes: this.bytes.slice(0, this.end), ends: this.ends.slice(0, this.n) };
  }
}

export const unpackAt = (b: Bytes, i: number): string =>
  decoder.decode(b.bytes.subarray(i === 0 ? 0 : b.ends[i - 1], b.ends[i]));
