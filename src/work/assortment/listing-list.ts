import { optionsInWords } from '../../core/catalogue';
import { factorOf } from '../../core/money';
import type { Sum } from '../../core/pricing';
import { assertUnderstood, compile, type Fields, narrows, type Problem, parseQuery } from '../../core/query';
import type { Instant } from '../../core/units';
import type { ListingState } from '../../store';
import { type FieldId, fieldOf } from '../listings/fields';
import { picturesOf, titleOf } from '../shop/copy';
import type { FullListing } from '../shop/full-listing';
import { lastInWords } from '../shop/history';
import { marketOf, type Quote, quoteListing, type Shop, sumAsPublished } from '../shop/quote';
import { nameIn } from '../shop/terms';
import type { Assortment } from './assortment';
import { FLAG, NONE, STATES } from './columns';
import { goodsFields } from './goods-fields';

/** What the price strip draws. */
export interface Strip {
  readonly sum: Sum;
  readonly breakEven: number | null;
  readonly map: number | null;
  readonly msrp: number | null;
}

/** A picture of the goods: whose, and where it is. */
export interface GoodsPicture {
  /** The supplier's service. */
  readonly supplier: string;
  readonly path: string | undefined;
}

/** One listing as a table shows it. Amounts in its marketplace's currency. */
export interface ListingLine {
  readonly id: string;
  readonly sku: string;
  readonly title: string;
  readonly picture: GoodsPicture;
  /** The supplier's SKU; null where none is linked. */
  readonly item: string | null;
  readonly market: string;
  readonly currency: string;
  readonly state: ListingState;
  readonly own: boolean;
  readonly held: boolean;
  readonly price: number | null;
  readonly strip: Strip | null;
  readonly stock: number | null;
  readonly shown: number;
  readonly last: { readonly at: Instant; readonly says: string } | null;
  /** Texts of fields as a spreadsheet has them, where they were asked for. */
  readonly cells?: readonly string[];
}

/** What is asked of listings. */
export interface ListingQuestion extends ListQuestion<ListingSort> {
  /** Those on sale or ended, those on the Bench, or both. */
  readonly of?: 'sold' | 'bench' | 'all';
  /** The marketplace that is looked at; null for all. */
  readonly market?: string | null;
  /** Fields that are asked for besides. */
  readonly fields?: readonly FieldId[];
}

/** One listing in full, with all that its price is made of. */
export interface ListingInFull extends FullListing {
  readonly quote: Quote | null;
  /** At the price the marketplace shows. */
  readonly sum: Sum | null;
  readonly title: string;
  readonly currency: string;
  /** Units of its item that are sold and not yet off the supplier's stock. */
  readonly promised: number;
  /** Marketplaces that its variant is listed on. */
  readonly on: readonly string[];
}

export const LISTING_SORTS = [
  'title',
  'sku',
  'landed',
  'price',
  'profit',
  'margin',
  'stock',
  'last',
] as const;
export type ListingSort = (typeof LISTING_SORTS)[number];

/** What is asked of a list. */
export interface ListQuestion<S extends string = string> {
  readonly query: string;
  readonly sort: S;
  readonly descending: boolean;
  readonly offset: number;
  readonly limit: number;
}

/** Rows that an action is meant for: some by key, or all matches of a search but some. */
export type Meant =
  | { readonly keys: readonly string[] }
  | { readonly query: string; readonly except?: readonly string[] };

/** A window of a list. */
export interface ListAnswer<R> {
  /** The search line that it answers. */
  readonly query: string;
  /** Rows without a search. */
  readonly total: number;
  readonly matches: number;
  readonly rows: readonly R[];
  readonly problems: readonly Problem[];
}

export interface ListingsFound extends ListAnswer<ListingLine> {
  readonly live: number;
  readonly paused: number;
  readonly ended: number;
  readonly unlinked: number;
  readonly needYou: number;
  /** Price steps that wait for a person. */
  readonly steps: number;
  /** Listings of which the cost leapt and waits. */
  readonly leaps: number;
  /** Those of the steps among the matches. */
  readonly stepsAmong: number;
}

const FIRST_SOLD = STATES.indexOf('live');
const LIVE = STATES.indexOf('live');
const PAUSED = STATES.indexOf('paused');

/** Search lines whose matches are remembered: someone types, takes signs back and types on. */
const MOST_FOUND = 16;

interface Counted {
  readonly key: string;
  readonly places: Int32Array;
  readonly counts: Omit<ListingsFound, keyof ListAnswer<ListingLine> | 'stepsAmong'>;
}

interface Found {
  readonly query: string;
  readonly places: Int32Array;
  readonly problems: readonly Problem[];
}

/** Listings that are, or were, on sale: searched and sorted by columns, told by windows. */
export class ListingList {
  private counted: Counted | null = null;
  private sorted: { readonly key: string; readonly places: Int32Array } | null = null;
  /** What was found lately in the order of {@link sorted}, by search line. */
  private readonly found = new Map<string, Found>();

  constructor(private readonly shop: Assortment) {}

  search(q: ListingQuestion, now: Instant): ListingsFound {
    const { places, problems } = this.find(q, now);
    const { counts, places: all } = this.countedOf(q.of, q.market);
    return {
      ...counts,
      query: q.query,
      stepsAmong: counts.steps ? places.filter((place) => this.shop.rows[place]!.listing.held).length : 0,
      total: all.length,
      matches: places.length,
      rows: [...places.subarray(q.offset, q.offset + q.limit)].map((place) => this.line(place, q.fields)),
      problems,
    };
  }

  /** Ids of the matches between two places of a sorted search. */
  range(q: ListingQuestion, now: Instant): string[] {
    const { places } = this.find(q, now);
    return [...places.subarray(q.offset, q.offset + q.limit)].map(
      (place) => this.shop.rows[place]!.listing.id,
    );
  }

  /** Ids of the listings that are meant. */
  meant(what: Meant, now: Instant): string[] {
    if ('keys' in what) return what.keys.filter((id) => this.shop.get(id));
    const except = new Set(what.except ?? []);
    const { places, problems } = this.find({ query: what.query, sort: 'sku', descending: false }, now);
    assertUnderstood(problems);
    const ids = [...places].map((place) => this.shop.rows[place]!.listing.id);
    return ids.filter((id) => !except.has(id));
  }

  full(id: string): ListingInFull | null {
    const full = this.shop.get(id);
    if (!full) return null;
    const { shop } = this.shop;
    const quote = quoteListing(full, shop);
    return {
      ...full,
      quote,
      sum: sumAsPublished(full.listing, quote),
      title: titleWithOptions(full),
      currency: currencyOf(full, shop),
      promised: shop.promised.get(full.item?.id ?? '') ?? 0,
      on: this.shop.rowsAt(this.shop.ofVariants([full.variant.id])).map((f) => f.listing.marketplace),
    };
  }

  private find(
    { query, sort, descending, of, market }: Omit<ListingQuestion, 'offset' | 'limit' | 'fields'>,
    now: Instant,
  ): Found {
    const minute = Math.floor(now / 60_000) * 60_000;
    const all = this.inOrder(this.countedOf(of, market), sort, descending);
    const key = `${/\bmoved:/.test(query) ? minute : ''} ${query}`;
    const known = this.found.get(key);
    if (known) return known;
    const { rows, columns } = this.shop;
    const { test, problems } = compile(parseQuery(query), this.fields(minute), (place: number) =>
      columns.wordsOf(place, rows[place]!),
    );
    let among = all;
    for (const before of this.found.values())
      if (before.places.length < among.length && narrows(before.query, query)) among = before.places;
    const found = { query, places: among.filter((place) => test(place)), problems };
    if (this.found.size >= MOST_FOUND) this.found.delete(this.found.keys().next().value!);
    this.found.set(key, found);
    return found;
  }

  /** Listings of a kind and how they stand, once for each state of the shop. */
  private countedOf(of: ListingQuestion['of'] = 'sold', market: string | null = null): Counted {
    const key = `${this.shop.version} ${of} ${market ?? ''}`;
    if (this.counted?.key === key) return this.counted;
    const { rows, columns } = this.shop;
    const { state, flags } = columns;
    const places: number[] = [];
    const counts = { live: 0, paused: 0, ended: 0, unlinked: 0, needYou: 0, steps: 0, leaps: 0 };
    for (let place = 0; place < rows.length; place++) {
      if (!rows[place] || (of !== 'all' && state[place]! < FIRST_SOLD !== (of === 'bench'))) continue;
      if (market !== null && rows[place]!.listing.marketplace !== market) continue;
      places.push(place);
      if (state[place] === LIVE) counts.live++;
      else if (state[place] === PAUSED) counts.paused++;
      else counts.ended++;
      const bits = flags[place]!;
      if (!(bits & FLAG.linked)) counts.unlinked++;
      const loses = bits & FLAG.loss && state[place] === LIVE;
      const { listing, item } = rows[place]!;
      if (listing.held) counts.steps++;
      if (item?.leap) counts.leaps++;
      if (bits & FLAG.problem || loses || listing.drift || listing.held || item?.leap) counts.needYou++;
    }
    this.counted = { key, places: Int32Array.from(places), counts };
    return this.counted;
  }

  private fields(now: Instant): Fields<number> {
    const { rows, columns } = this.shop;
    const { numbers, flags, state, last } = columns;
    const number = (column: Int32Array, place: number) => (column[place] === NONE ? null : column[place]!);
    const has = (place: number, bit: number) => (flags[place]! & bit) !== 0;
    return {
      is: {
        kind: 'flags',
        flags: [
          'live',
          'paused',
          'ended',
          'held',
          'step',
          'leap',
          'loss',
          'own',
          'unlinked',
          'changed',
          'edited',
          'ready',
          'lacking',
          'approved',
          'refused',
        ],
        get: (place, flag) => {
          if (flag === 'held') return has(place, FLAG.problem);
          if (flag === 'loss') return has(place, FLAG.loss);
          if (flag === 'own') return has(place, FLAG.own);
          if (flag === 'unlinked') return !has(place, FLAG.linked);
          if (flag === 'edited') return (rows[place]!.listing.drift ?? null) !== null;
          if (flag === 'step') return Boolean(rows[place]?.listing.held);
          if (flag === 'leap') return Boolean(rows[place]?.item?.leap);
          if (flag === 'changed') return this.shop.differsAt(place);
          if (flag === 'approved') return has(place, FLAG.approved);
          const missing = columns.missing[place];
          if (flag === 'lacking') return missing !== undefined && missing.length > 0;
          if (flag === 'ready') return missing?.length === 0 && !has(place, FLAG.approved);
          return STATES[state[place]!] === flag;
        },
      },
      stock: { kind: 'number', get: (place) => number(numbers.stock, place) },
      price: { kind: 'number', scale: 100, get: (place) => number(numbers.price, place) },
      margin: { kind: 'number', scale: 10_000, get: (place) => number(numbers.margin, place) },
      on: {
        kind: 'text',
        get: (place) => marketOf(this.shop.shop, rows[place]!.listing.marketplace)?.name ?? '',
      },
      ...goodsFields(this.shop, (place: number) => [place]),
      moved: {
        kind: 'number',
        get: (place) => (last[place] ? (now - last[place]!) / 3_600_000 : null),
      },
    };
  }

  /** Listings as they are sorted, once for each state of the shop: what is typed only leaves some out. */
  private inOrder({ key, places }: Counted, by: ListingSort, descending: boolean): Int32Array {
    const own = `${by} ${descending} ${key}`;
    if (this.sorted?.key === own) return this.sorted.places;
    const { rows, columns } = this.shop;
    const turn = descending ? -1 : 1;
    const sorted = places.slice();
    if (by === 'title') {
      const titles = new Map([...places].map((place) => [place, titleOf(rows[place]!)]));
      sorted.sort((a, b) => {
        const [x, y] = [titles.get(a)!, titles.get(b)!];
        return x < y ? -turn : x > y ? turn : a - b;
      });
    } else if (by === 'sku') {
      sorted.sort((a, b) => {
        const [x, y] = [rows[a]!.listing.id, rows[b]!.listing.id];
        return x < y ? -turn : turn;
      });
    } else {
      const column = by === 'last' ? columns.last : columns.numbers[by];
      const worth = by === 'landed' || by === 'price' || by === 'profit' ? this.worths() : null;
      const keys = new Float64Array(rows.length);
      for (const place of places) {
        const n = column[place]!;
        // What has no number stands at the end, whichever way it is sorted.
        keys[place] =
          n === NONE ? turn * Number.MAX_VALUE : n * (worth?.get(rows[place]!.listing.marketplace) ?? 1);
      }
      sorted.sort((a, b) => turn * (keys[a]! - keys[b]!) || a - b);
    }
    this.sorted = { key: own, places: sorted };
    this.found.clear();
    return sorted;
  }

  /** What an amount of each marketplace is worth in the books, so that rows of several currencies sort. */
  private worths(): Map<string, number> {
    const { connections, rates, settings } = this.shop.shop;
    return new Map(
      [...connections.values()].flatMap((c) => {
        const factor = c.role === 'marketplace' ? factorOf(rates, c.site.currency, settings.currency) : null;
        return factor ? [[c.id, factor.num / factor.den] as const] : [];
      }),
    );
  }

  private line(place: number, fields?: readonly FieldId[]): ListingLine {
    const full = this.shop.rows[place]!;
    const { shop } = this.shop;
    const { listing } = full;
    const quote = quoteListing(full, shop);
    const sum = sumAsPublished(listing, quote);
    return {
      id: listing.id,
      sku: listing.sku,
      title: titleWithOptions(full),
      picture: pictureOf(full, shop),
      item: full.source?.item ?? null,
      market: marketOf(shop, listing.marketplace)?.name ?? listing.marketplace,
      currency: currencyOf(full, shop),
      state: listing.state,
      own: listing.ownPrice !== null,
      held: listing.problem !== null,
      price: listing.published?.price ?? null,
      strip: stripOf(quote, sum),
      stock: full.source ? (full.item?.stock ?? 0) : null,
      shown: listing.published?.quantity ?? 0,
      last: lastInWords(listing, nameIn(shop)),
      ...(fields && { cells: fields.map((field) => fieldOf(field, shop).read(full, shop)) }),
    };
  }
}

export const stripOf = (quote: Quote | null, sum: Sum | null): Strip | null =>
  quote && sum ? { sum, breakEven: quote.breakEven, map: quote.map, msrp: quote.msrp } : null;

export function titleWithOptions(full: FullListing): string {
  const options = optionsInWords(full.variant.options);
  return titleOf(full) + (options ? `, ${options}` : '');
}

export const currencyOf = ({ listing }: FullListing, shop: Shop): string =>
  marketOf(shop, listing.marketplace)?.site.currency ?? shop.settings.currency;

export function pictureOf({ product }: FullListing, shop: Shop): GoodsPicture {
  const [path] = picturesOf(product);
  return { supplier: shop.connections.get(product.supplier)?.service ?? '', path };
}
