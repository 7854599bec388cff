import type { Site } from '../../core/checks';
import { compile, type Fields, type Problem, parseQuery } from '../../core/query';
import type { Listing, Product } from '../../store';
import { type FieldMend, mendable } from '../listings/mend';
import { benchStanding, groupOf, isOnBench } from '../listings/standing';
import { titleOf } from '../shop/copy';
import type { FullListing } from '../shop/full-listing';
import { marketOf, quoteListing } from '../shop/quote';
import type { Assortment } from './assortment';
import { FLAG, NONE, STATES } from './columns';
import {
  currencyOf,
  type GoodsPicture,
  type ListAnswer,
  type ListQuestion,
  type Meant,
  pictureOf,
  type Strip,
  stripOf,
} from './listing-list';

export const BENCH_SORTS = ['taken', 'title', 'price', 'profit', 'margin'] as const;
export type BenchSort = (typeof BENCH_SORTS)[number];

/** How far a product on the Bench is for one marketplace. */
export type BenchState =
  | { readonly is: 'publishing'; readonly left: number }
  | { readonly is: 'refused'; readonly why: string }
  | { readonly is: 'lacking'; readonly what: string }
  | { readonly is: 'approved' }
  | { readonly is: 'ready' };

/** One product on the Bench for one marketplace, as a table shows it. */
export interface BenchLine {
  /** Marketplace and product. */
  readonly key: string;
  readonly title: string;
  readonly sku: string;
  readonly variants: number;
  readonly picture: GoodsPicture;
  readonly market: string;
  readonly currency: string;
  /** Of the cheapest variant. */
  readonly price: number | null;
  readonly strip: Strip | null;
  readonly state: BenchState;
}

export interface BenchFound extends ListAnswer<BenchLine> {
  readonly ready: number;
  readonly lacking: number;
  readonly approved: number;
  /** Listings on their way. */
  readonly publishing: number;
}

/** One product on the Bench for one marketplace in full. */
export interface BenchInFull {
  readonly key: string;
  readonly product: Product;
  readonly full: readonly FullListing[];
  readonly listings: readonly Listing[];
  readonly standing: ReturnType<typeof benchStanding>;
  /** What a machine can mend of it. */
  readonly mends: readonly FieldMend[];
  readonly site: Site | undefined;
  readonly title: string;
  readonly approved: boolean;
  readonly publishing: number;
  readonly refused: number;
}

/** The listings of one product on one marketplace that are not on sale yet. */
interface Group {
  readonly key: string;
  /** In the order of their SKUs; at least one. */
  readonly places: readonly number[];
  readonly taken: number;
  readonly publishing: number;
  readonly refused: number;
  readonly ready: boolean;
  readonly approved: boolean;
  /** The place of the cheapest variant that has a price, else of the first. */
  readonly cheapest: number;
}

const BENCH = STATES.indexOf('bench');
const PUBLISHING = STATES.indexOf('publishing');
const REFUSED = STATES.indexOf('refused');

const lists = new WeakMap<Assortment, BenchList>();

/** The Bench of an assortment, one for all who ask. */
export function benchOf(assortment: Assortment): BenchList {
  let known = lists.get(assortment);
  if (!known) {
    known = new BenchList(assortment);
    lists.set(assortment, known);
  }
  return known;
}

/** What waits on the Bench, by product and marketplace: searched and sorted by columns, told by windows. */
export class BenchList {
  private known: { readonly version: number; readonly groups: readonly Group[] } | null = null;
  private found: {
    readonly key: string;
    readonly groups: readonly Group[];
    readonly problems: readonly Problem[];
  } | null = null;

  constructor(private readonly shop: Assortment) {}

  /** Newest taken first. */
  get groups(): readonly Group[] {
    if (this.known?.version !== this.shop.version)
      this.known = { version: this.shop.version, groups: this.group() };
    return this.known.groups;
  }

  /** How many of each standing. */
  counts(): Pick<BenchFound, 'ready' | 'lacking' | 'approved' | 'publishing' | 'total'> {
    const counts = { total: 0, ready: 0, lacking: 0, approved: 0, publishing: 0 };
    for (const g of this.groups) {
      counts.total++;
      counts.publishing += g.publishing;
      if (g.publishing) continue;
      if (!g.ready) counts.lacking++;
      else if (!g.approved) counts.ready++;
      if (g.approved && g.refused < g.places.length) counts.approved++;
    }
    return counts;
  }

  search(q: ListQuestion<BenchSort>): BenchFound {
    const { groups, problems } = this.find(q.query, q.sort, q.descending);
    return {
      ...this.counts(),
      matches: groups.length,
      rows: groups.slice(q.offset, q.offset + q.limit).map((g) => this.line(g)),
      problems,
    };
  }

  /** Keys of the matches between two places of a sorted search. */
  range(q: ListQuestion<BenchSort>): string[] {
    return this.find(q.query, q.sort, q.descending)
      .groups.slice(q.offset, q.offset + q.limit)
      .map((g) => g.key);
  }

  /** Ids of the listings that are meant. */
  meant(what: Meant): string[] {
    const some =
      'keys' in what
        ? new Set(what.keys)
        : new Set(this.find(what.query, 'taken', true).groups.map((g) => g.key));
    if (!('keys' in what)) for (const key of what.except ?? []) some.delete(key);
    return this.groups.flatMap((g) =>
      some.has(g.key) ? g.places.map((place) => this.shop.rows[place]!.listing.id) : [],
    );
  }

  full(key: string): BenchInFull | null {
    const group = this.groups.find((g) => g.key === key);
    if (!group) return null;
    const full = group.places.map((place) => this.shop.rows[place]!);
    const { shop } = this.shop;
    return {
      key,
      product: full[0]!.product,
      full,
      listings: full.map((f) => f.listing),
      standing: benchStanding(
        full.filter((f) => isOnBench(f.listing)),
        shop,
      ),
      site: marketOf(shop, full[0]!.listing.marketplace)?.site,
      mends: mendable(full[0]!, shop),
      title: titleOf(full[0]!),
      approved: group.approved,
      publishing: group.publishing,
      refused: group.refused,
    };
  }

  private group(): Group[] {
    const { rows, columns } = this.shop;
    const { state } = columns;
    const by = new Map<string, number[]>();
    for (let place = 0; place < rows.length; place++) {
      const full = rows[place];
      if (!full || state[place]! > REFUSED) continue;
      const key = groupOf(full.listing);
      const own = by.get(key);
      if (own) own.push(place);
      else by.set(key, [place]);
    }
    const groups = [...by].map(([key, places]) => this.standing(key, places));
    return groups.sort((a, b) => b.taken - a.taken || (a.key < b.key ? -1 : 1));
  }

  private standing(key: string, unsorted: number[]): Group {
    const { rows, columns } = this.shop;
    const { state, flags, missing, numbers } = columns;
    const places =
      unsorted.length > 1
        ? unsorted.sort((a, b) => (rows[a]!.listing.id < rows[b]!.listing.id ? -1 : 1))
        : unsorted;
    let publishing = 0;
    let refused = 0;
    let ready = true;
    let approved = true;
    let waiting = 0;
    let cheapest = -1;
    for (const place of places) {
      if (!(flags[place]! & FLAG.approved)) approved = false;
      if (state[place] === PUBLISHING) {
        publishing++;
        continue;
      }
      waiting++;
      if (state[place] === REFUSED) refused++;
      if (!(flags[place]! & FLAG.quoted) || missing[place]?.length !== 0) ready = false;
      const price = numbers.price[place]!;
      if (price !== NONE && (cheapest < 0 || price < numbers.price[cheapest]!)) cheapest = place;
    }
    return {
      key,
      places,
      taken: rows[places[0]!]!.product.taken.at,
      publishing,
      refused,
      ready: ready && waiting > 0,
      approved,
      cheapest: cheapest < 0 ? places[0]! : cheapest,
    };
  }

  private find(query: string, by: BenchSort, descending: boolean): NonNullable<BenchList['found']> {
    const key = `${this.shop.version} ${by} ${descending} ${query}`;
    if (this.found?.key === key) return this.found;
    const { rows, columns } = this.shop;
    const { numbers } = columns;
    const { test, problems } = compile(parseQuery(query), this.fields(), (g: Group) =>
      g.places.map((place) => columns.wordsOf(place, rows[place]!)).join(' '),
    );
    const groups = this.groups.filter(test);
    const turn = descending ? -1 : 1;
    if (by === 'title')
      groups.sort((a, b) => (titleOf(rows[a.cheapest]!) < titleOf(rows[b.cheapest]!) ? -turn : turn));
    else if (by !== 'taken') {
      const column = numbers[by];
      const value = (g: Group) =>
        column[g.cheapest] === NONE ? turn * Number.MAX_VALUE : column[g.cheapest]!;
      groups.sort((a, b) => turn * (value(a) - value(b)) || (a.key < b.key ? -1 : 1));
    } else if (!descending) groups.reverse();
    this.found = { key, groups, problems };
    return this.found;
  }

  private fields(): Fields<Group> {
    const { rows, columns } = this.shop;
    const { numbers } = columns;
    const number = (column: Int32Array, { cheapest }: Group) =>
      column[cheapest] === NONE ? null : column[cheapest]!;
    return {
      is: {
        kind: 'flags',
        flags: ['ready', 'lacking', 'approved', 'refused', 'publishing'],
        get: (g, flag) => {
          if (flag === 'ready') return g.ready && !g.approved;
          if (flag === 'lacking') return !g.ready && g.publishing === 0;
          if (flag === 'approved') return g.approved;
          if (flag === 'publishing') return g.publishing > 0;
          return g.refused > 0;
        },
      },
      price: { kind: 'number', scale: 100, get: (g) => number(numbers.price, g) },
      margin: { kind: 'number', scale: 10_000, get: (g) => number(numbers.margin, g) },
      on: {
        kind: 'text',
        get: (g) => marketOf(this.shop.shop, rows[g.cheapest]!.listing.marketplace)?.name ?? '',
      },
    };
  }

  private line(g: Group): BenchLine {
    const { rows } = this.shop;
    const { shop } = this.shop;
    const first = rows[g.places[0]!]!;
    const quote = quoteListing(rows[g.cheapest]!, shop);
    return {
      key: g.key,
      title: titleOf(first),
      sku: first.listing.sku,
      variants: g.places.length,
      picture: pictureOf(first, shop),
      market: marketOf(shop, first.listing.marketplace)?.name ?? first.listing.marketplace,
      currency: currencyOf(first, shop),
      price: quote?.price ?? null,
      strip: stripOf(quote, quote?.sum ?? null),
      state: this.stateOf(g),
    };
  }

  private stateOf(g: Group): BenchState {
    const { rows, columns } = this.shop;
    if (g.publishing) return { is: 'publishing', left: g.publishing };
    const refused = g.places.find((place) => columns.state[place] === REFUSED);
    if (refused !== undefined) return { is: 'refused', why: rows[refused]!.listing.problem ?? '' };
    if (!g.ready) {
      const lacking = g.places.flatMap((place) =>
        columns.state[place] === BENCH ? (columns.missing[place] ?? []) : [],
      );
      return { is: 'lacking', what: lacking[0]?.reason ?? 'Its supplier or marketplace is not connected.' };
    }
    return { is: g.approved ? 'approved' : 'ready' };
  }
}
