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

/** Whether string `i` is `wanted`, without making it. */
export function textIs(t: Texts, i: number, wanted: string): boolean {
  const start = i === 0 ? 0 : t.ends[i - 1]!;
  return t.ends[i]! - start === wanted.length && t.text.startsWith(wanted, start);
}
