/** Repeatable chance: the same seed gives the same sequence (mulberry32, public domain). */
export interface Chance {
  /** At least 0, under 1. */
  next(): number;
  /** A whole number from a to b, both included. */
  whole(a: number, b: number): number;
  pick<T>(from: readonly T[]): T;
}

export function chance(seed: number): Chance {
  let a = seed >>> 0;
  const next = () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    whole: (from, to) => from + Math.floor(next() * (to - from + 1)),
    pick: (list) => list[Math.floor(next() * list.length)]!,
  };
}
