/** Many strings laid end to end: far quicker to store and to read back than a list of strings. String `i` ends at `ends[i]`. */
export interface Texts {
  readonly text: string;
  readonly ends: Int32Array;
}

export function packTexts(list: readonly string[]): Texts {
  const ends = new Int32Array(list.length);
  let end = 0;
  for (let i = 0; i < list.length; i++) {
    end += list[i]!.length;
    ends[i] = end;
  }
  return { text: list.join(''), ends };
}

export const textAt = (t: Texts, i: number): string => t.text.slice(i === 0 ? 0 : t.ends[i - 1], t.ends[i]);

export const textsIn = (t: Texts): string[] => Array.from(t.ends, (_, i) => textAt(t, i));

/** Whether string `i` is `wanted`, without making it. */
export function textIs(t: Texts, i: number, wanted: string): boolean {
  const start = i === 0 ? 0 : t.ends[i - 1]!;
  return t.ends[i]! - start === wanted.length && t.text.startsWith(wanted, start);
}

/** Many long strings as UTF-8 laid end to end: stored and sent without being looked at, made text again one at a time. String `i` ends before byte `ends[i]`. */
export interface Bytes {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly ends: Int32Array;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();
let room = new Uint8Array(65_536);

/** A text's UTF-8 bytes, in room that the next call writes over. */
export function bytesOf(text: string): Uint8Array<ArrayBuffer> {
  if (text.length * 3 > room.length) room = new Uint8Array(text.length * 3);
  return room.subarray(0, encoder.encodeInto(text, room).written);
}

export function packBytes(list: readonly string[]): Bytes {
  const { text, ends } = packTexts(list);
  const bytes = bytesOf(text).slice();
  // Plain letters are one byte each: then bytes end where characters do.
  if (bytes.length === text.length) return { bytes, ends };
  let end = 0;
  for (let i = 0; i < list.length; i++) {
    end += bytesOf(list[i]!).length;
    ends[i] = end;
  }
  return { bytes, ends };
}

export const unpackAt = (b: Bytes, i: number): string => decoder.decode(b.bytes.subarray(i === 0 ? 0 : b.ends[i - 1], b.ends[i]));
