/**
 * A set of rows, one bit each: 200,000 rows are 25 kB, so that sets are kept for each term of a search and
 * put together in microseconds. Whoever makes one goes through one column in its order, without a branch.
 */
export class Bits {
  /** Row i is bit `i & 31` of word `i >> 5`; bits behind the last row are 0. */
  readonly words: Int32Array;

  constructor(readonly length: number) {
    this.words = new Int32Array((length + 31) >>> 5);
  }

  /** Rows for which a test holds. */
  static where(length: number, test: (row: number) => boolean): Bits {
    const bits = new Bits(length);
    for (let row = 0; row < length; row++) if (test(row)) bits.add(row);
    return bits;
  }

  /** Rows whose number lies between two ends, both included, which may be infinite. */
  static between(length: number, column: Int32Array, min: number, max: number): Bits {
    const bits = new Bits(length);
    const { words } = bits;
    const least = Math.max(min, -2_147_483_648);
    const most = Math.min(max, 2_147_483_647);
    if (least > most) return bits;
    for (let w = 0, row = 0; w < words.length; w++) {
      let word = 0;
      for (const end = Math.min(row + 32, length); row < end; row++) {
        const x = column[row]!;
        word |= ((x >= least ? 1 : 0) & (x <= most ? 1 : 0)) << row;
      }
      words[w] = word;
    }
    return bits;
  }

  /** Rows whose code is one of some. @param ok 1 for each code that is */
  static coded(length: number, codes: Int32Array, ok: Uint8Array): Bits {
    const bits = new Bits(length);
    const { words } = bits;
    for (let w = 0, row = 0; w < words.length; w++) {
      let word = 0;
      for (const end = Math.min(row + 32, length); row < end; row++) word |= ok[codes[row]!]! << row;
      words[w] = word;
    }
    return bits;
  }

  has(row: number): boolean {
    return ((this.words[row >> 5]! >>> row) & 1) === 1;
  }

  add(row: number): void {
    this.words[row >> 5]! |= 1 << row;
  }

  addAll(rows: Int32Array): void {
    const { words } = this;
    for (let k = 0; k < rows.length; k++) words[rows[k]! >> 5]! |= 1 << rows[k]!;
  }

  copy(): Bits {
    const bits = new Bits(this.length);
    bits.words.set(this.words);
    return bits;
  }

  /** Leaves only rows that the other set has, or has not. */
  keep(other: Bits, not = false): this {
    const { words } = this;
    const flip = not ? -1 : 0;
    for (let w = 0; w < words.length; w++) words[w]! &= other.words[w]! ^ flip;
    return this;
  }

  /** Takes in the rows of the other set. */
  join(other: Bits): this {
    const { words } = this;
    for (let w = 0; w < words.length; w++) words[w]! |= other.words[w]!;
    return this;
  }

  count(): number {
    const { words } = this;
    let n = 0;
    // Ones of a word, pair by pair, four by four, and so on.
    for (let w = 0; w < words.length; w++) {
      let x = words[w]!;
      x -= (x >>> 1) & 0x55555555;
      x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
      n += Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
    }
    return n;
  }

  /**
   * Writes the rows in their order into `out`, from place `at` on, which must have room for all of them.
   * @param limit whether the first rows are enough: once so many are there, no further word is looked at,
   *   so that up to 31 more are written
   * @returns the place behind the last
   */
  list(out: Int32Array, at = 0, limit = Number.POSITIVE_INFINITY): number {
    const { words } = this;
    let n = at;
    for (let w = 0; w < words.length && n - at < limit; w++) {
      const last = (w << 5) + 31;
      for (let word = words[w]!; word; ) {
        const lowest = word & -word;
        out[n++] = last - Math.clz32(lowest);
        word ^= lowest;
      }
    }
    return n;
  }
}
