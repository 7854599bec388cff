import { type Condition, EVERYTHING, type Problem, parseBounds, problemsOf } from '../query';
import { Bits } from './bits';
import { type Matches, Orders, type SortColumn } from './order';
import { hasWords, listsOf, titlesOf } from './postings';
import { NO_PRICE, type Prices } from './prices';
import { type Shelf, ShelfTerms } from './shelf';
import { FACETS, type FacetName, ITEM_FIELDS, isFacet, MARGIN_BANDS, valuesAsked } from './terms';

export interface FacetValue {
  readonly value: string;
  readonly count: number;
}

/** What was found. */
export interface Found extends Matches {
  readonly facets: Readonly<Record<FacetName, readonly FacetValue[]>>;
  readonly problems: readonly Problem[];
}

const BANDS = MARGIN_BANDS.map((band) => parseBounds(band, 10_000)!);
const bandsMade = new WeakMap<Prices, Int32Array>();

/** The bands of margin each row is in, one bit each: bounds belong to both sides. */
function bandsOf(prices: Prices): Int32Array {
  let bands = bandsMade.get(prices);
  if (!bands) {
    const { margin } = prices;
    bands = new Int32Array(margin.length);
    for (let band = 0; band < BANDS.length; band++) {
      const { min, max } = BANDS[band]!;
      for (let i = 0; i < bands.length; i++)
        if (margin[i] !== NO_PRICE && margin[i]! >= min && margin[i]! <= max) bands[i]! |= 1 << band;
    }
    bandsMade.set(prices, bands);
  }
  return bands;
}

/** Columns whose choices are counted, as codes. */
type Counted = Exclude<FacetName, 'supplier'>;
const COUNTED = FACETS.filter((f): f is Counted => f !== 'supplier');

/** The codes of a column, and how many kinds there are; null where there are none. */
function codesOf(
  { catalogue: c, prices }: Shelf,
  facet: Counted,
): { readonly codes: Int32Array; readonly kinds: number } | null {
  if (facet === 'margin') return prices && { codes: bandsOf(prices), kinds: 1 << BANDS.length };
  const name = facet === 'from' ? 'shipsFrom' : facet;
  return { codes: c.codes[name], kinds: c.lists[name].length };
}

function countCodes(
  { codes, kinds }: { readonly codes: Int32Array; readonly kinds: number },
  rows: Int32Array,
): Int32Array {
  const by = new Int32Array(kinds);
  for (let j = 0; j < rows.length; j++) by[codes[rows[j]!]!]!++;
  return by;
}

type Counts = Readonly<Record<FacetName, Map<string, number>>>;

/**
 * Searches shelves: a set of rows for each term, put together. Cost: a pass over one column for each new
 * term, then some nanoseconds a match.
 */
export class Searcher {
  readonly bases: readonly number[];
  /** Rows of all shelves, gone ones too: one more than the last id. */
  readonly rows: number;
  private readonly terms: readonly ShelfTerms[];
  private readonly orders: Orders;
  /** Where rows are listed to be counted: made once, as fresh memory is slow. */
  private readonly room: Int32Array;
  /** How many of the offered rows of each shelf have each code. */
  private readonly totals: Map<Counted, Int32Array>[];

  constructor(readonly shelves: readonly Shelf[]) {
    let base = 0;
    this.bases = shelves.map((s) => {
      const own = base;
      base += s.catalogue.length;
      return own;
    });
    this.rows = base;
    this.terms = shelves.map((s) => new ShelfTerms(s));
    this.room = new Int32Array(Math.max(0, ...shelves.map((s) => s.catalogue.length)));
    this.totals = shelves.map(() => new Map());
    this.orders = new Orders(shelves, this.bases, base);
  }

  /** Items that are offered on all shelves. */
  get total(): number {
    return this.shelves.reduce((n, s) => n + s.catalogue.items, 0);
  }

  /** The shelf and row of an id. */
  at(id: number): { shelf: Shelf; row: number } {
    let k = this.bases.length - 1;
    while (k > 0 && this.bases[k]! > id) k--;
    return { shelf: this.shelves[k]!, row: id - this.bases[k]! };
  }

  /**
   * Makes what the first word would wait for, one shelf at a time, then the order of all rows that was asked
   * for last. @returns whether there was something to make
   */
  prepare(): boolean {
    const shelf = this.shelves.find((s) => !hasWords(s.catalogue));
    if (!shelf) return this.orders.prepare(() => this.ids(this.find(EVERYTHING)));
    titlesOf(shelf.catalogue);
    listsOf(shelf.catalogue);
    return true;
  }

  find(condition: Condition): Found {
    const counts = Object.fromEntries(FACETS.map((f) => [f, new Map<string, number>()])) as Counts;
    const sets = this.shelves.map((_, k) => this.scan(k, condition, counts));
    const facets = Object.fromEntries(
      FACETS.map((f) => [
        f,
        f === 'margin'
          ? MARGIN_BANDS.map((value) => ({ value, count: counts.margin.get(value) ?? 0 }))
          : [...counts[f]]
              .map(([value, count]) => ({ value, count }))
              .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1)),
      ]),
    ) as Record<FacetName, FacetValue[]>;
    return {
      count: sets.reduce((n, set) => n + set.count(), 0),
      sets,
      facets,
      problems: problemsOf(condition, ITEM_FIELDS),
    };
  }

  /**
   * The rows found on all shelves, the first `limit` or all, as one number each: `base` of the shelf plus the
   * row.
   */
  ids(found: Found, limit = found.count): Int32Array {
    return this.orders.ids(found, limit);
  }

  /**
   * The first `limit` of what was found in the order of a column, or all. Rows without a value come last
   * either way.
   */
  order(found: Found, by: SortColumn, descending: boolean, limit = found.count): Int32Array {
    return this.orders.order(found, by, descending, limit);
  }

  /**
   * The rows of one shelf. Each choice is counted as if it were not made: over the rows that all other parts leave.
   */
  private scan(k: number, condition: Condition, counts: Counts): Bits {
    const own = this.terms[k]!;
    const all = own.offered.copy();
    const nothing = new Bits(all.length);
    const choices: { readonly facet: FacetName; readonly rows: Bits }[] = [];
    const skus: string[][] = [];
    let supplierFits = true;
    for (const part of 'all' in condition ? condition.all : [condition]) {
      const asked = valuesAsked(part);
      if (asked?.field === 'supplier') {
        if (!own.field('supplier', asked.values).count()) supplierFits = false;
      } else if (asked && isFacet(asked.field))
        choices.push({ facet: asked.field, rows: own.field(asked.field, asked.values) });
      else if (asked?.field === 'sku') skus.push(asked.values);
      else if ('none' in part) for (const one of part.none) all.keep(own.of(one) ?? nothing, true);
      else all.keep(own.of(part) ?? own.offered);
    }
    // SKUs are looked through last, among the rows that all else leaves.
    const rest = skus.reduce((rows, wanted) => own.withSku(rows, wanted), all);

    const without = (facet: FacetName | null) =>
      choices.reduce((rows, o) => (o.facet === facet ? rows : rows.keep(o.rows)), rest.copy());
    const set = without(null);
    const n = set.count();
    const { name } = this.shelves[k]!;
    if (n) counts.supplier.set(name, (counts.supplier.get(name) ?? 0) + n);
    if (!supplierFits) return nothing;
    const chosen = COUNTED.filter((facet) => choices.some((o) => o.facet === facet));
    this.tally(
      k,
      set,
      COUNTED.filter((facet) => !chosen.includes(facet)),
      counts,
    );
    for (const facet of chosen) this.tally(k, without(facet), [facet], counts);
    return set;
  }

  /** Counts the choices of some rows. Of most rows, those that are missing are counted. */
  private tally(k: number, set: Bits, facets: readonly Counted[], counts: Counts): void {
    const shelf = this.shelves[k]!;
    const { offered } = this.terms[k]!;
    const most = set.count() * 2 > shelf.catalogue.items;
    const listed = most ? offered.copy().keep(set, true) : set;
    const rows = this.room.subarray(0, listed.list(this.room));
    for (const facet of facets) {
      const column = codesOf(shelf, facet);
      if (!column) continue;
      const by = countCodes(column, rows);
      if (most) {
        const totals = this.totalsOf(k, facet);
        for (let code = 0; code < by.length; code++) by[code] = totals[code]! - by[code]!;
      }
      const told = counts[facet];
      const tell = (value: string, count: number) => count && told.set(value, (told.get(value) ?? 0) + count);
      if (facet === 'margin')
        for (const [band, value] of MARGIN_BANDS.entries())
          for (let mask = 0; mask < by.length; mask++) tell(value, (mask >> band) & 1 && by[mask]!);
      else {
        const list = shelf.catalogue.lists[facet === 'from' ? 'shipsFrom' : facet];
        for (let code = 0; code < by.length; code++) tell(list[code]!, by[code]!);
      }
    }
  }

  private totalsOf(k: number, facet: Counted): Int32Array {
    const known = this.totals[k]!;
    let totals = known.get(facet);
    if (!totals) {
      const all = new Int32Array(this.shelves[k]!.catalogue.items);
      this.terms[k]!.offered.list(all);
      totals = countCodes(codesOf(this.shelves[k]!, facet)!, all);
      known.set(facet, totals);
    }
    return totals;
  }
}
