import type { Bits } from './bits';
import { NO_PRICE } from './prices';
import type { Shelf } from './shelf';

export const SORTS = [
  'listed',
  'title',
  'sku',
  'brand',
  'category',
  'supplier',
  'cost',
  'stock',
  'weight',
  'price',
  'profit',
  'margin',
] as const;
export type SortColumn = (typeof SORTS)[number];

/**
 * Where at least one row in so many matches, they are picked from the order of all rows instead of being
 * sorted.
 */
const FEW = 16;

/** Some rows of all shelves: a set for each. */
export interface Matches {
  readonly count: number;
  readonly sets: readonly Bits[];
}

/**
 * Puts rows of shelves in order. A row is one number over all shelves: the base of its shelf plus its row
 * there.
 */
export class Orders {
  private readonly keys: Float64Array;
  /** All offered rows in the order asked for last; null until it is prepared. */
  private sorted: {
    readonly by: SortColumn;
    readonly descending: boolean;
    readonly ids: Int32Array | null;
  } | null = null;

  constructor(
    private readonly shelves: readonly Shelf[],
    private readonly bases: readonly number[],
    private readonly rows: number,
  ) {
    this.keys = new Float64Array(rows);
  }

  private readonly ranks = new Map<string, Int32Array>();

  /**
   * The place of each id in alphabetical order of a text column; made on first use (200,000 titles: about 0.4
   * s).
   */
  private rank(name: 'title' | 'sku' | 'brand' | 'category' | 'supplier'): Int32Array {
    const known = this.ranks.get(name);
    if (known) return known;
    const rank = new Int32Array(this.rows);
    if (name === 'title' || name === 'sku') {
      const texts: string[] = [];
      for (const { catalogue: c } of this.shelves)
        for (let i = 0; i < c.length; i++) texts.push(name === 'title' ? c.titleAt(i) : c.skuAt(i));
      const order = Array.from(texts, (_, i) => i).sort((a, b) =>
        texts[a]! < texts[b]! ? -1 : texts[a]! > texts[b]! ? 1 : a - b,
      );
      order.forEach((id, place) => {
        rank[id] = place;
      });
    } else {
      const nameOf = (k: number, i: number) => {
        const c = this.shelves[k]!.catalogue;
        return name === 'supplier' ? this.shelves[k]!.name : c.lists[name][c.codes[name][i]!]!;
      };
      const all = [
        ...new Set(this.shelves.flatMap((s) => (name === 'supplier' ? [s.name] : s.catalogue.lists[name]))),
      ].sort();
      const place = new Map(all.map((text, i) => [text, i]));
      this.shelves.forEach(({ catalogue: c }, k) => {
        for (let i = 0; i < c.length; i++) rank[this.bases[k]! + i] = place.get(nameOf(k, i))!;
      });
    }
    this.ranks.set(name, rank);
    return rank;
  }

  /** Makes the order of all rows that was asked for last. @returns whether there was something to make */
  prepare(all: () => Int32Array): boolean {
    const { sorted } = this;
    if (!sorted || sorted.ids) return false;
    const ids = all();
    this.sorted = { ...sorted, ids: this.sort(ids, sorted.by, sorted.descending, ids.length) };
    return true;
  }

  /**
   * The first `limit` of the ids in the order of a column, or all of them. Rows without a value come last
   * either way. Cost: a heap of `limit` over the matches, or one sort of plain numbers (200,000: about 15
   * ms); of many matches next to nothing once the order of all rows was prepared.
   */
  order(found: Matches, by: SortColumn, descending: boolean, limit: number): Int32Array {
    if (by === 'listed' && !descending) return this.ids(found, limit);
    const { sorted } = this;
    const same = sorted?.by === by && sorted.descending === descending;
    if (same && sorted.ids && found.count * FEW > this.rows)
      return this.pick(sorted.ids, found.sets, Math.min(limit, found.count));
    if (!same) this.sorted = { by, descending, ids: null };
    return this.sort(this.ids(found, found.count), by, descending, limit);
  }

  /** The first `limit` rows of the sets, as ids. */
  ids({ count, sets }: Matches, limit: number): Int32Array {
    const { bases } = this;
    const ids = new Int32Array(Math.min(count, limit + 31));
    let from = 0;
    for (let k = 0; k < sets.length && from < limit; k++) {
      const to = sets[k]!.list(ids, from, limit - from);
      for (const base = bases[k]!; base && from < to; from++) ids[from]! += base;
      from = to;
    }
    return ids.subarray(0, limit);
  }

  /** The first rows of an order of all that are in the sets. */
  private pick(sorted: Int32Array, sets: readonly Bits[], count: number): Int32Array {
    const { bases } = this;
    const out = new Int32Array(count);
    for (let k = 0, n = 0; n < count; k++) {
      const id = sorted[k]!;
      let shelf = bases.length - 1;
      while (bases[shelf]! > id) shelf--;
      if (sets[shelf]!.has(id - bases[shelf]!)) out[n++] = id;
    }
    return out;
  }

  private sort(ids: Int32Array, by: SortColumn, descending: boolean, limit: number): Int32Array {
    const value = this.valuesFor(by);
    const keys = this.keys.subarray(0, ids.length);
    for (let k = 0; k < ids.length; k++) {
      const x = value ? value(ids[k]!) : ids[k]!;
      // 32 bits of value over 21 of place: still a whole number below 2^53, so that plain numbers can be
      // sorted.
      keys[k] =
        (x === NO_PRICE ? 4_294_967_295 : descending ? 2_147_483_647 - x : x + 2_147_483_648) * 2_097_152 + k;
    }
    const first = limit < ids.length / 4 ? smallest(keys, limit) : keys.sort().subarray(0, limit);
    const out = new Int32Array(first.length);
    for (let k = 0; k < first.length; k++) out[k] = ids[first[k]! % 2_097_152]!;
    return out;
  }

  private valuesFor(by: SortColumn): ((id: number) => number) | null {
    if (by === 'listed') return null;
    if (by === 'title' || by === 'sku' || by === 'brand' || by === 'category' || by === 'supplier') {
      const rank = this.rank(by);
      return (id) => rank[id]!;
    }
    const columns = this.shelves.map((s) =>
      by === 'price' || by === 'profit' || by === 'margin'
        ? (s.prices?.[by] ?? null)
        : s.catalogue.numbers[by === 'weight' ? 'grams' : by],
    );
    const { bases } = this;
    if (columns.length === 1) {
      const only = columns[0]!;
      return only ? (id) => only[id]! : () => NO_PRICE;
    }
    return (id) => {
      let k = bases.length - 1;
      while (k > 0 && bases[k]! > id) k--;
      return columns[k]?.[id - bases[k]!] ?? NO_PRICE;
    };
  }
}

/** The `k` smallest of the keys in order, by a heap of that size. */
function smallest(keys: Float64Array, k: number): Float64Array {
  const heap = new Float64Array(k);
  let size = 0;
  const down = (from: number) => {
    const x = heap[from]!;
    let at = from;
    for (;;) {
      let child = at * 2 + 1;
      if (child >= size) break;
      if (child + 1 < size && heap[child + 1]! > heap[child]!) child++;
      if (heap[child]! <= x) break;
      heap[at] = heap[child]!;
      at = child;
    }
    heap[at] = x;
  };
  for (const key of keys) {
    if (size < k) {
      let at = size++;
      while (at > 0 && heap[(at - 1) >> 1]! < key) {
        heap[at] = heap[(at - 1) >> 1]!;
        at = (at - 1) >> 1;
      }
      heap[at] = key;
    } else if (key < heap[0]!) {
      heap[0] = key;
      down(0);
    }
  }
  return heap.subarray(0, size).sort();
}
