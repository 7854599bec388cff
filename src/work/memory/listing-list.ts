import { optionsInWords } from '../../core/catalogue';
import { KINDS, type ValueOf, valueFields } from '../../core/fields';
import type { Sum } from '../../core/pricing';
import { assertUnderstood, type Problem, readCondition } from '../../core/query';
import type { Instant } from '../../core/units';
import type { ListingState } from '../../store';
import { picturesOf, titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { type FieldId, fieldOf } from '../quoting/listing-cells';
import { quoteListing, sumAsPublished } from '../quoting/quote';
import type { Quote } from '../quoting/solve';
import { marketOf, nameIn, type Shop, worthIn } from '../quoting/worth';
import type { Assortment } from './assortment';
import { FLAG, NONE, STATES } from './columns';
import { FoundList, type FoundPlaces, type Sorting } from './found-list';
import { lastInWords } from './history';
import { currencyAt, listingFields, valuesAt } from './listing-fields';
import { needOf } from './need';

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
  readonly product: string;
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
  /** The values of its fields, in words. */
  readonly values: Readonly<Record<ValueOf<'listing'>, string>>;
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
  /** Whether what would be told of it is not what its marketplace was told. */
  readonly differs: boolean;
  /** Marketplaces that its variant is listed on. */
  readonly on: readonly string[];
}

const OWN_SORTS = ['title', 'landed', 'last'] as const;
export type ListingSort = (typeof OWN_SORTS)[number] | ValueOf<'listing'>;
export const LISTING_SORTS: readonly ListingSort[] = [
  ...OWN_SORTS,
  ...valueFields('listing').map(({ id }) => id),
];

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

interface Counted {
  readonly key: string;
  readonly places: Int32Array;
  readonly counts: Omit<ListingsFound, keyof ListAnswer<ListingLine> | 'stepsAmong'>;
}

/** Listings that are, or were, on sale: searched and sorted by columns, told by windows. */
export class ListingList {
  private counted: Counted | null = null;
  private readonly list: FoundList;

  constructor(private readonly shop: Assortment) {
    this.list = new FoundList(
      {
        subject: 'listing',
        fields: (now) => listingFields(shop, now),
        words: (place) => shop.columns.wordsOf(place, shop.rows[place]!),
        sortings: () => this.sortings(),
        currencyOf: (place, field) => currencyAt(shop)(place, field),
        worthOf: (currency) => worthIn(shop.shop, currency),
      },
      KINDS.listing,
    );
  }

  search(q: ListingQuestion, now: Instant): ListingsFound {
    const { places, problems } = this.find(q, now);
    const { counts, places: all } = this.countedOf(q.of, q.market);
    return {
      ...counts,
      query: q.query,
      stepsAmong: counts.steps ? places.filter((place) => this.shop.rows[place]!.listing.held).length : 0,
      total: all.length,
      matches: places.length,
      rows: [...places.subarray(q.offset, q.offset + q.limit)].map((place) =>
        this.line(place, now, q.fields),
      ),
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
    assertUnderstood(readCondition(what.query, KINDS.listing), KINDS.listing);
    const { places } = this.find({ query: what.query, sort: 'sku', descending: false }, now);
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
      differs: this.shop.differsAt(this.shop.placeOf(id)),
      on: this.shop.rowsAt(this.shop.ofVariants([full.variant.id])).map((f) => f.listing.marketplace),
    };
  }

  private find(
    { query, sort, descending, of, market }: Omit<ListingQuestion, 'offset' | 'limit' | 'fields'>,
    now: Instant,
  ): FoundPlaces {
    return this.list.find({ query, sort, descending }, this.countedOf(of, market), now);
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
      const full = rows[place]!;
      if (full.listing.held) counts.steps++;
      if (full.item?.leap) counts.leaps++;
      if (needOf(full, state[place]!, bits)) counts.needYou++;
    }
    this.counted = { key, places: Int32Array.from(places), counts };
    return this.counted;
  }

  private sortings(): Readonly<Record<(typeof OWN_SORTS)[number], Sorting>> {
    const { rows, columns, shop } = this.shop;
    const worth = (place: number) => worthIn(shop, currencyOf(rows[place]!, shop));
    return {
      title: { text: (place) => titleOf(rows[place]!) },
      landed: {
        number: (place) => {
          const landed = columns.numbers.landed[place]!;
          return landed === NONE ? null : landed * worth(place);
        },
      },
      last: { number: (place) => columns.last[place] || null },
    };
  }

  private line(place: number, now: Instant, fields?: readonly FieldId[]): ListingLine {
    const full = this.shop.rows[place]!;
    const { shop } = this.shop;
    const { listing } = full;
    const quote = quoteListing(full, shop);
    const sum = sumAsPublished(listing, quote);
    return {
      id: listing.id,
      product: listing.product,
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
      values: valuesAt(this.shop, place, now),
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
