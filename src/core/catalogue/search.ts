import { fold } from '../copy';
import { NO_VALUE, parseBounds, type Term } from '../query';
import type { Catalogue } from './catalogue';
import type { ListName } from './piece';
import { hasWords, listsOf, placesBeginning, titlesOf } from './postings';
import { NO_PRICE, type Prices } from './prices';
import { wordsOf } from './words';

/** One supplier's catalogue with what is derived from it: expected prices and what is taken already. */
export interface Shelf {
  readonly supplier: string;
  readonly name: string;
  /** Digits of the currency after the point, as a power of ten. */
  readonly scale: number;
  readonly catalogue: Catalogue;
  readonly prices: Prices | null;
  readonly taken: Uint8Array;
}

/** Fields whose choices are counted beside the results. */
export const FACETS = ['category', 'brand', 'supplier', 'from', 'margin'] as const;
export type FacetName = (typeof FACETS)[number];

export interface FacetValue {
  readonly value: string;
  readonly count: number;
}

export const MARGIN_BANDS = ['<0', '0..10', '10..20', '20..30', '30..'] as const;

export interface Problem {
  readonly raw: string;
  readonly reason: string;
}

/** What was found: rows of all shelves as one number each, `base` of the shelf plus the row. */
export interface Found {
  readonly ids: Int32Array;
  readonly facets: Readonly<Record<FacetName, readonly FacetValue[]>>;
  readonly problems: readonly Problem[];
}

const NUMBER_FIELDS: Readonly<Record<string, { readonly of: string; readonly scale: 'money' | number }>> = {
  cost: { of: 'cost', scale: 'money' },
  stock: { of: 'stock', scale: 1 },
  weight: { of: 'grams', scale: 1 },
  days: { of: 'days', scale: 1 },
  price: { of: 'price', scale: 'money' },
  profit: { of: 'profit', scale: 'money' },
  margin: { of: 'margin', scale: 10_000 },
};
const FLAGS: Readonly<Record<string, readonly string[]>> = {
  is: ['new', 'taken', 'stocked'],
  has: ['barcode', 'picture', 'map', 'msrp'],
};
const TEXT_FIELDS = ['brand', 'category', 'supplier', 'from'] as const;
const NAMES = [...Object.keys(NUMBER_FIELDS), ...Object.keys(FLAGS), ...TEXT_FIELDS, 'sku'];
const LIST_OF: Readonly<Record<string, Exclude<ListName, 'word'>>> = { brand: 'brand', category: 'category', from: 'shipsFrom' };

/** Whether a term is a word that the name of a field begins with: it may become one with the next keys. */
export function mayBecomeField(term: Term): boolean {
  return term.kind === 'word' && NAMES.some((name) => name.startsWith(term.text));
}

/** One comparison over a column; the same shape for ranges and for flags. */
interface NumberTest {
  readonly column: Int32Array | Uint8Array | Float64Array;
  readonly min: number;
  readonly max: number;
  readonly not: boolean;
  /** Values that mean “none given”. */
  readonly none: number;
}

interface ListTest {
  readonly codes: Int32Array;
  readonly ok: Uint8Array;
}

/** Where the terms stand apart: facets are counted as if their own term were not there. */
interface Plan {
  readonly numbers: readonly { readonly field: string; readonly scale: 'money' | number; readonly not: boolean; readonly texts: string[] }[];
  readonly flags: readonly { readonly name: string; readonly not: boolean }[];
  readonly texts: readonly { readonly field: string; readonly wanted: readonly string[]; readonly not: boolean }[];
  readonly words: readonly { readonly words: readonly string[]; readonly text: string; readonly not: boolean }[];
  readonly skus: readonly { readonly wanted: string; readonly not: boolean }[];
  readonly problems: readonly Problem[];
}

function planFor(terms: readonly Term[]): Plan {
  const problems: Problem[] = [];
  const numbers: { field: string; scale: 'money' | number; not: boolean; texts: string[] }[] = [];
  const flags: { name: string; not: boolean }[] = [];
  const texts: { field: string; wanted: string[]; not: boolean }[] = [];
  const words: Plan['words'][number][] = [];
  const skus: Plan['skus'][number][] = [];
  for (const term of terms) {
    if (term.kind === 'word') {
      words.push({ words: wordsOf(term.text), text: term.text, not: term.not });
      continue;
    }
    const { field, value, not, raw } = term;
    if (!value && NAMES.includes(field)) problems.push({ raw, reason: NO_VALUE });
    else if (Object.hasOwn(NUMBER_FIELDS, field)) {
      if (!parseBounds(value, 1)) problems.push({ raw, reason: `“${value}” is not a number or a range such as 5..20 or >3.` });
      else {
        const { scale } = NUMBER_FIELDS[field]!;
        // Several bands of margin are alternatives, as with every choice that is counted; other ranges all hold.
        const same = field === 'margin' && !not ? numbers.find((n) => n.field === field && !n.not) : undefined;
        if (same) same.texts.push(value);
        else numbers.push({ field, scale, not, texts: [value] });
      }
    } else if (Object.hasOwn(FLAGS, field)) {
      if (FLAGS[field]!.includes(value)) flags.push({ name: `${field}:${value}`, not });
      else problems.push({ raw, reason: `${field} takes ${FLAGS[field]!.join(', ')}.` });
    } else if (field === 'sku') skus.push({ wanted: fold(value), not });
    else if ((TEXT_FIELDS as readonly string[]).includes(field)) {
      const same = not ? undefined : texts.find((t) => t.field === field && !t.not);
      if (same) same.wanted.push(fold(value));
      else texts.push({ field, wanted: [fold(value)], not });
    } else problems.push({ raw, reason: `There is no field “${field}” here. There are: ${NAMES.join(', ')}.` });
  }
  return { numbers, flags, texts, words, skus, problems };
}

/**
 * Which rows of a shelf have a word: it begins a word of the title, brand, category or options, or is the SKU or barcode. One byte a row.
 * Cost: its rows once, and one pass over three columns.
 */
function rowsWith(c: Catalogue, word: Plan['words'][number]): Uint8Array {
  const titles = titlesOf(c);
  const lists = listsOf(c);
  const hits = new Uint8Array(c.length);
  // A word such as red-light has several parts: a row is hit once for each that it has.
  for (const [part, begin] of word.words.entries()) {
    const hit = part + 1;
    const titled = placesBeginning(titles, begin);
    if (part === 0) for (let at = 0; at < titled.length; at++) hits[titled[at]!] = 1;
    else for (let at = 0; at < titled.length; at++) if (hits[titled[at]!] === part) hits[titled[at]!] = hit;
    for (const name of ['brand', 'category', 'options'] as const) {
      const found = placesBeginning(lists[name].postings, begin);
      if (!found.length) continue;
      const code = c.codes[name];
      const ok = new Uint8Array(c.lists[name].length);
      for (let at = 0; at < found.length; at++) ok[found[at]!] = 1;
      for (let row = 0; row < hits.length; row++) if (ok[code[row]!] && hits[row] === part) hits[row] = hit;
    }
  }
  const all = word.words.length;
  if (all > 1) for (let row = 0; row < hits.length; row++) hits[row] = hits[row] === all ? 1 : 0;
  for (const sku of new Set([word.text, word.text.toUpperCase()])) {
    const row = c.rowOf(sku);
    if (row >= 0) hits[row] = 1;
  }
  if (/^\d{8,14}$/.test(word.text)) for (const row of c.rowsOfGtin(Number(word.text))) hits[row] = 1;
  return hits;
}

/** Rows that are offered. */
function offeredRows(c: Catalogue): Int32Array {
  const { gone, length } = c;
  const rows = new Int32Array(c.items);
  let n = 0;
  for (let i = 0; i < length; i++) if (!gone[i]) rows[n++] = i;
  return rows;
}

function keepNumbers(t: NumberTest, rows: Int32Array, left: number): number {
  const { column, min, max, not, none } = t;
  let n = 0;
  for (let j = 0; j < left; j++) {
    const i = rows[j]!;
    const x = column[i]!;
    if ((x !== none && x >= min && x <= max) !== not) rows[n++] = i;
  }
  return n;
}

function keepListed({ codes, ok }: ListTest, rows: Int32Array, left: number): number {
  let n = 0;
  for (let j = 0; j < left; j++) if (ok[codes[rows[j]!]!]) rows[n++] = rows[j]!;
  return n;
}

function noteMissed({ codes, ok, facet }: ListTest & { facet: number }, rows: Int32Array, missed: Int8Array, left: number): number {
  let n = 0;
  for (let j = 0; j < left; j++) {
    const i = rows[j]!;
    let m = missed[j]!;
    if (!ok[codes[i]!]) {
      if (m >= 0) continue;
      m = facet;
    }
    rows[n] = i;
    missed[n++] = m;
  }
  return n;
}

function noteMargin(tests: readonly NumberTest[], margin: Int32Array, rows: Int32Array, missed: Int8Array, left: number): number {
  const { min, max } = tests[0]!;
  let n = 0;
  for (let j = 0; j < left; j++) {
    const i = rows[j]!;
    const x = margin[i]!;
    let m = missed[j]!;
    let inside = x !== NO_PRICE && x >= min && x <= max;
    for (let t = 1; t < tests.length && !inside && x !== NO_PRICE; t++) inside = x >= tests[t]!.min && x <= tests[t]!.max;
    if (!inside) {
      if (m >= 0) continue;
      m = 4;
    }
    rows[n] = i;
    missed[n++] = m;
  }
  return n;
}

/** Rows of `from` that have a word, or have it not, into `to`, which may be the same. */
function keepHit(hits: Uint8Array, not: boolean, from: Rows, to: Rows, left: number): number {
  const wanted = not ? 0 : 1;
  const { rows, missed } = to;
  let n = 0;
  for (let j = 0; j < left; j++) {
    const i = from.rows[j]!;
    if (hits[i] !== wanted) continue;
    rows[n] = i;
    missed[n++] = from.missed[j]!;
  }
  return n;
}

/** How many of some rows have each code. One column at a time is several times as quick as all in one loop. */
function countCodes(codes: Int32Array | Uint8Array, by: Int32Array, rows: Int32Array, from: number, to: number): void {
  for (let j = from; j < to; j++) by[codes[rows[j]!]!]!++;
}

const BANDS = MARGIN_BANDS.map((band) => parseBounds(band, 10_000)!);
const bandsMade = new WeakMap<Prices, Uint8Array>();

/** The bands of margin each row is in, one bit each: bounds belong to both sides. */
function bandsOf(prices: Prices): Uint8Array {
  let bands = bandsMade.get(prices);
  if (!bands) {
    const { margin } = prices;
    bands = new Uint8Array(margin.length);
    for (let band = 0; band < BANDS.length; band++) {
      const { min, max } = BANDS[band]!;
      for (let i = 0; i < bands.length; i++) if (margin[i] !== NO_PRICE && margin[i]! >= min && margin[i]! <= max) bands[i]! |= 1 << band;
    }
    bandsMade.set(prices, bands);
  }
  return bands;
}

/** Rows that are left, each with the one counted choice that it misses, or −1. */
interface Rows {
  readonly rows: Int32Array;
  readonly missed: Int8Array;
}

/** Where a shelf is searched: rows that are left with what they miss, and what all but the words left at the last search. Made once, as fresh memory is slow. */
interface Room {
  readonly offered: Int32Array;
  readonly own: Rows;
  readonly kept: Rows & { key: string | null; count: number };
}

/** Where at least one row in so many matches, they are picked from the order of all rows instead of being sorted. */
const FEW = 16;

/** What was worked out for one word on one shelf; a next key mostly changes one word only. */
const KEPT_WORDS = 8;

/** Searches shelves by scan over columns, cheap conditions first; words by the rows that have them. Cost: some nanoseconds a row and condition. */
export class Searcher {
  private readonly words = new Map<string, Uint8Array>();
  private readonly rooms: Room[] = [];
  private readonly ids: Int32Array;
  private readonly keys: Float64Array;
  private readonly among: Uint8Array;
  /** All offered rows in the order asked for last; null until it is prepared. */
  private sorted: { readonly by: SortColumn; readonly descending: boolean; readonly ids: Int32Array | null } | null = null;

  constructor(readonly shelves: readonly Shelf[]) {
    let base = 0;
    this.bases = shelves.map((s) => {
      const own = base;
      base += s.catalogue.length;
      return own;
    });
    this.ids = new Int32Array(base);
    this.keys = new Float64Array(base);
    this.among = new Uint8Array(base);
  }

  private roomOf(k: number): Room {
    const { catalogue } = this.shelves[k]!;
    const n = catalogue.length;
    this.rooms[k] ??= {
      offered: offeredRows(catalogue),
      own: { rows: new Int32Array(n), missed: new Int8Array(n) },
      kept: { key: null, count: 0, rows: new Int32Array(n), missed: new Int8Array(n) },
    };
    return this.rooms[k];
  }

  readonly bases: readonly number[];

  /** Items that are offered on all shelves. */
  get total(): number {
    return this.shelves.reduce((n, s) => n + s.catalogue.items, 0);
  }

  /** Rows of all shelves, gone ones too: one more than the last id. */
  get rows(): number {
    return this.ids.length;
  }

  /** The shelf and row of an id. */
  at(id: number): { shelf: Shelf; row: number } {
    let k = this.bases.length - 1;
    while (k > 0 && this.bases[k]! > id) k--;
    return { shelf: this.shelves[k]!, row: id - this.bases[k]! };
  }

  private rowsWith(k: number, word: Plan['words'][number]): Uint8Array {
    const key = `${k} ${word.text}`;
    let known = this.words.get(key);
    if (!known) {
      known = rowsWith(this.shelves[k]!.catalogue, word);
      this.words.set(key, known);
      if (this.words.size > KEPT_WORDS * this.shelves.length) this.words.delete(this.words.keys().next().value!);
    }
    return known;
  }

  /** Makes what the first word would wait for, one shelf at a time, then the order of all rows that was asked for last. @returns whether there was something to make */
  prepare(): boolean {
    const shelf = this.shelves.find((s) => !hasWords(s.catalogue));
    const { sorted } = this;
    if (shelf) {
      titlesOf(shelf.catalogue);
      listsOf(shelf.catalogue);
    } else if (sorted && !sorted.ids) {
      const all = this.find([]).ids;
      this.sorted = { ...sorted, ids: this.sort(all, sorted.by, sorted.descending, all.length) };
    } else return false;
    return true;
  }

  find(terms: readonly Term[]): Found {
    const plan = planFor(terms);
    const counts = Object.fromEntries(FACETS.map((f) => [f, new Map<string, number>()])) as Record<FacetName, Map<string, number>>;
    const { ids } = this;
    let found = 0;
    for (let k = 0; k < this.shelves.length; k++) found = this.scan(k, plan, ids, found, counts);
    const facets = Object.fromEntries(
      FACETS.map((f) => [
        f,
        f === 'margin'
          ? MARGIN_BANDS.map((value) => ({ value, count: counts.margin.get(value) ?? 0 }))
          : [...counts[f]].map(([value, count]) => ({ value, count })).sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1)),
      ]),
    ) as Record<FacetName, FacetValue[]>;
    return { ids: ids.slice(0, found), facets, problems: plan.problems };
  }

  /**
   * The rows that all but the words leave, each with what it misses. Kept: a next key mostly changes one word alone. Condition after condition over the
   * rows that are left, in short loops over one column each.
   */
  private narrow(k: number, plan: Plan): Room['kept'] {
    const { kept, offered } = this.roomOf(k);
    const key = JSON.stringify([plan.numbers, plan.flags, plan.texts]);
    if (kept.key === key) return kept;
    kept.key = key;
    kept.count = 0;
    const shelf = this.shelves[k]!;
    const { catalogue: c, prices, taken } = shelf;
    const numbers: NumberTest[] = [];
    let marginTests: NumberTest[] = [];
    for (const n of plan.numbers) {
      const { of } = NUMBER_FIELDS[n.field]!;
      const priced = of === 'price' || of === 'profit' || of === 'margin';
      const column = priced ? (prices?.[of] ?? null) : c.numbers[of as 'cost'];
      // Nothing is priced here: no row can be in a range of prices, every row is outside of it.
      if (!column && !n.not) return kept;
      if (!column) continue;
      const tests = n.texts.map((text): NumberTest => {
        const bounds = parseBounds(text, n.scale === 'money' ? shelf.scale : n.scale)!;
        return { column, ...bounds, not: n.not, none: priced ? NO_PRICE : n.field === 'days' ? -1 : -2 };
      });
      if (n.field === 'margin' && !n.not) marginTests = tests;
      else numbers.push(...tests);
    }
    const lists: ListTest[] = [];
    const facetTests: (ListTest & { facet: number })[] = [];
    let supplierFails = false;
    for (const t of plan.texts) {
      if (t.field === 'supplier') {
        const fits = t.wanted.some((w) => fold(shelf.name).includes(w));
        if (fits === t.not) {
          if (t.not) return kept;
          supplierFails = true;
        }
        continue;
      }
      const name = LIST_OF[t.field]!;
      const ok = Uint8Array.from(listsOf(c)[name].folded, (text) => (t.wanted.some((w) => text.includes(w)) !== t.not ? 1 : 0));
      const test = { codes: c.codes[name], ok };
      if (t.not) lists.push(test);
      else facetTests.push({ ...test, facet: FACETS.indexOf(t.field as FacetName) });
    }
    const { stock, pictures, map, msrp } = c.numbers;
    const least = (column: NumberTest['column'], min: number, not: boolean): NumberTest => ({
      column,
      min,
      max: Number.POSITIVE_INFINITY,
      not,
      none: Number.NaN,
    });
    for (const { name, not } of plan.flags) {
      if (name === 'is:new') numbers.push(least(taken, 1, !not));
      else if (name === 'is:taken') numbers.push(least(taken, 1, not));
      else if (name === 'is:stocked') numbers.push(least(stock, 1, not));
      else if (name === 'has:barcode') numbers.push(least(c.gtin, 1, not));
      else if (name === 'has:picture') numbers.push(least(pictures, 1, not));
      else numbers.push(least(name === 'has:map' ? map : msrp, 0, not));
    }
    let count = offered.length;
    kept.rows.set(offered);
    for (const t of numbers) count = keepNumbers(t, kept.rows, count);
    for (const t of lists) count = keepListed(t, kept.rows, count);
    // Which of the counted choices does a row miss? With one missed it still counts for that choice; with two it is out.
    kept.missed.fill(supplierFails ? 2 : -1, 0, count);
    for (const t of facetTests) count = noteMissed(t, kept.rows, kept.missed, count);
    if (marginTests.length) count = noteMargin(marginTests, prices!.margin, kept.rows, kept.missed, count);
    kept.count = count;
    return kept;
  }

  private scan(k: number, plan: Plan, ids: Int32Array, from: number, counts: Record<FacetName, Map<string, number>>): number {
    const shelf = this.shelves[k]!;
    const { catalogue: c, prices } = shelf;
    const base = this.bases[k]!;
    const kept = this.narrow(k, plan);
    const { own } = this.roomOf(k);
    let room: Rows = kept;
    let left = kept.count;
    for (const w of plan.words) {
      left = keepHit(this.rowsWith(k, w), w.not, room, own, left);
      room = own;
    }
    for (const t of plan.skus) {
      let n = 0;
      for (let j = 0; j < left; j++) {
        const i = room.rows[j]!;
        if (fold(c.skuAt(i)).includes(t.wanted) === t.not) continue;
        own.rows[n] = i;
        own.missed[n++] = room.missed[j]!;
      }
      left = n;
      room = own;
    }

    const byCategory = new Int32Array(c.lists.category.length);
    const byBrand = new Int32Array(c.lists.brand.length);
    const byFrom = new Int32Array(c.lists.shipsFrom.length);
    const byBands = new Int32Array(1 << BANDS.length);
    const bands = prices ? bandsOf(prices) : null;
    const { category, brand, shipsFrom } = c.codes;
    const { rows, missed } = room;
    let bySupplier = 0;
    let n = from;
    for (let j = 0; j < left; j++) {
      const i = rows[j]!;
      const m = missed[j]!;
      if (m < 0) ids[n++] = i;
      else if (m === 0) byCategory[category[i]!]!++;
      else if (m === 1) byBrand[brand[i]!]!++;
      else if (m === 2) bySupplier++;
      else if (m === 3) byFrom[shipsFrom[i]!]!++;
      else if (bands) byBands[bands[i]!]!++;
    }
    bySupplier += n - from;
    countCodes(category, byCategory, ids, from, n);
    countCodes(brand, byBrand, ids, from, n);
    countCodes(shipsFrom, byFrom, ids, from, n);
    if (bands) countCodes(bands, byBands, ids, from, n);
    if (base) for (let j = from; j < n; j++) ids[j]! += base;
    const byBand = Int32Array.from(BANDS, (_, band) => byBands.reduce((sum, count, mask) => (mask & (1 << band) ? sum + count : sum), 0));
    const tell = (facet: FacetName, list: readonly string[], by: Int32Array) => {
      for (let i = 0; i < by.length; i++) if (by[i]) counts[facet].set(list[i]!, (counts[facet].get(list[i]!) ?? 0) + by[i]!);
    };
    tell('category', c.lists.category, byCategory);
    tell('brand', c.lists.brand, byBrand);
    tell('from', c.lists.shipsFrom, byFrom);
    tell('margin', MARGIN_BANDS, byBand);
    if (bySupplier) counts.supplier.set(shelf.name, (counts.supplier.get(shelf.name) ?? 0) + bySupplier);
    return n;
  }

  private readonly ranks = new Map<string, Int32Array>();

  /** The place of each id in alphabetical order of a text column; made on first use (200,000 titles: about 0.4 s). */
  private rank(name: 'title' | 'sku' | 'brand' | 'category' | 'supplier'): Int32Array {
    const known = this.ranks.get(name);
    if (known) return known;
    const rank = new Int32Array(this.rows);
    if (name === 'title' || name === 'sku') {
      const texts: string[] = [];
      for (const { catalogue: c } of this.shelves) for (let i = 0; i < c.length; i++) texts.push(name === 'title' ? c.titleAt(i) : c.skuAt(i));
      const order = Array.from(texts, (_, i) => i).sort((a, b) => (texts[a]! < texts[b]! ? -1 : texts[a]! > texts[b]! ? 1 : a - b));
      order.forEach((id, place) => {
        rank[id] = place;
      });
    } else {
      const nameOf = (k: number, i: number) => {
        const c = this.shelves[k]!.catalogue;
        return name === 'supplier' ? this.shelves[k]!.name : c.lists[name][c.codes[name][i]!]!;
      };
      const all = [...new Set(this.shelves.flatMap((s) => (name === 'supplier' ? [s.name] : s.catalogue.lists[name])))].sort();
      const place = new Map(all.map((text, i) => [text, i]));
      this.shelves.forEach(({ catalogue: c }, k) => {
        for (let i = 0; i < c.length; i++) rank[this.bases[k]! + i] = place.get(nameOf(k, i))!;
      });
    }
    this.ranks.set(name, rank);
    return rank;
  }

  /**
   * The first `limit` of the ids in the order of a column, or all of them. Rows without a value come last either way.
   * Cost: a heap of `limit` over the matches, or one sort of plain numbers (200,000: about 15 ms); of many matches next to nothing once the order of all
   * rows was prepared.
   */
  order(ids: Int32Array, by: SortColumn, descending: boolean, limit: number): Int32Array {
    if (by === 'listed' && !descending) return ids.subarray(0, limit);
    const { sorted } = this;
    if (sorted?.by === by && sorted.descending === descending && sorted.ids && ids.length * FEW > this.rows) return this.pick(sorted.ids, ids, limit);
    if (sorted?.by !== by || sorted.descending !== descending) this.sorted = { by, descending, ids: null };
    return this.sort(ids, by, descending, limit);
  }

  /** The first `limit` of the ids in an order of all. */
  private pick(sorted: Int32Array, ids: Int32Array, limit: number): Int32Array {
    const { among } = this;
    among.fill(0);
    for (let k = 0; k < ids.length; k++) among[ids[k]!] = 1;
    const out = new Int32Array(Math.min(limit, ids.length));
    for (let k = 0, n = 0; n < out.length; k++) if (among[sorted[k]!]) out[n++] = sorted[k]!;
    return out;
  }

  private sort(ids: Int32Array, by: SortColumn, descending: boolean, limit: number): Int32Array {
    const value = this.valuesFor(by);
    const keys = this.keys.subarray(0, ids.length);
    for (let k = 0; k < ids.length; k++) {
      const x = value ? value(ids[k]!) : ids[k]!;
      // 32 bits of value over 21 of place: still a whole number below 2^53, so that plain numbers can be sorted.
      keys[k] = (x === NO_PRICE ? 4_294_967_295 : descending ? 2_147_483_647 - x : x + 2_147_483_648) * 2_097_152 + k;
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
      by === 'price' || by === 'profit' || by === 'margin' ? (s.prices?.[by] ?? null) : s.catalogue.numbers[by === 'weight' ? 'grams' : by],
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

export const SORTS = ['listed', 'title', 'sku', 'brand', 'category', 'supplier', 'cost', 'stock', 'weight', 'price', 'profit', 'margin'] as const;
export type SortColumn = (typeof SORTS)[number];

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
