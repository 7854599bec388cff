import { type FieldName, type FlagOf, fieldsOf, KINDS, type Readers, valuesInWords } from '../../core/fields';
import { assertUnderstood, type Fields, type Problem, readCondition } from '../../core/query';
import { titleOf } from '../quoting/copy';
import { benchStanding, isOnBench } from '../quoting/listing-standing';
import { mendable } from '../quoting/mend';
import { quoteListing } from '../quoting/quote';
import { marketOf, marketsOf, problemOf, worthIn } from '../quoting/worth';
import type { Assortment } from './assortment';
import type { BenchFound, BenchInFull, BenchLine, BenchMark, BenchQuestion, BenchState } from './bench-lines';
import { FLAG, NONE, STATES } from './columns';
import { type Among, FoundList } from './found-list';
import { currencyAt, listingReaders } from './listing-fields';
import { type Meant, pictureOf, stripOf } from './listing-list';

/** The listings of one product on one marketplace. */
interface Group {
  readonly market: string;
  /** In the order of their SKUs; at least one. */
  readonly places: readonly number[];
  /** Listings that wait on the Bench; of none it is on sale or over. */
  readonly waiting: number;
  readonly publishing: number;
  readonly refused: number;
  readonly drafts: number;
  readonly ready: boolean;
  readonly approved: boolean;
  /** The place of the cheapest variant that has a price, else of the first. */
  readonly cheapest: number;
}

/** A product of which something waits. */
interface Row {
  readonly product: string;
  readonly taken: number;
  /** Those of which something waits stand first. */
  readonly groups: readonly Group[];
}

const BENCH = STATES.indexOf('bench');

const DRAFT = STATES.indexOf('draft');

const PUBLISHING = STATES.indexOf('publishing');

const REFUSED = STATES.indexOf('refused');

const ENDED = STATES.indexOf('ended');

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

/** Whether something of a product waits on a marketplace, or is on its way there. */
const isHere = (g: Group) => g.waiting + g.publishing > 0;

/** What waits on the Bench, by product: searched and sorted by columns, told by windows. */
export class BenchList {
  private known: { readonly version: number; readonly rows: readonly Row[] } | null = null;
  private readonly made = new Map<
    string,
    { readonly places: number; readonly stamp: number; readonly row: Row }
  >();
  /** Places of what waits on the marketplace that was looked at last. */
  private here: Among | null = null;
  /** By the marketplace that is looked at. */
  private readonly lists = new Map<string | null, FoundList>();

  constructor(private readonly shop: Assortment) {}

  /** Newest taken first. */
  get rows(): readonly Row[] {
    if (this.known?.version !== this.shop.version)
      this.known = { version: this.shop.version, rows: this.gather() };
    return this.known.rows;
  }

  /** How many of each standing. @param market the one that is looked at; null for all */
  counts(
    market: string | null = null,
    rows: readonly Row[] = this.rows,
  ): Pick<BenchFound, 'ready' | 'lacking' | 'approved' | 'refused' | 'publishing' | 'total'> {
    const counts = { total: 0, ready: 0, lacking: 0, approved: 0, refused: 0, publishing: 0 };
    for (const row of rows) {
      const groups = seen(row, market).filter(isHere);
      if (groups.length) counts.total++;
      for (const g of groups) {
        counts.publishing += g.publishing;
        if (g.publishing) continue;
        if (!g.ready) counts.lacking++;
        else if (!g.approved) counts.ready++;
        if (g.approved && g.refused < g.places.length) counts.approved++;
        if (g.refused && g.ready) counts.refused++;
      }
    }
    return counts;
  }

  search(q: BenchQuestion): BenchFound {
    const { rows, places, problems } = this.find(q);
    return {
      ...this.counts(q.market),
      query: q.query,
      among: this.counts(q.market, rows),
      matches: rows.length,
      rows: [...places.subarray(q.offset, q.offset + q.limit)].map((at) => this.line(at, q.market)),
      problems,
    };
  }

  /** Products of the matches between two places of a sorted search. */
  range(q: BenchQuestion): string[] {
    return this.find(q)
      .rows.slice(q.offset, q.offset + q.limit)
      .map((row) => row.product);
  }

  /** Ids of the waiting listings that are meant, on one marketplace or on all. */
  meant(what: Meant, market: string | null = null): string[] {
    const some = this.products(what, market);
    return this.rows.flatMap((row) =>
      some.has(row.product)
        ? seen(row, market)
            .filter(isHere)
            .flatMap((g) => g.places.map((place) => this.shop.rows[place]!.listing.id))
        : [],
    );
  }

  /** Ids of the products that are meant. */
  products(what: Meant, market: string | null): Set<string> {
    if ('keys' in what) return new Set(what.keys);
    assertUnderstood(readCondition(what.query, KINDS.bench), KINDS.bench);
    const { rows } = this.find({ query: what.query, sort: 'taken', descending: true, market });
    const some = new Set(rows.map((r) => r.product));
    for (const key of what.except ?? []) some.delete(key);
    return some;
  }

  /** @param market the one that is looked at; null for the first of which something waits */
  full(product: string, market: string | null): BenchInFull | null {
    const row = this.rows.find((r) => r.product === product);
    if (!row) return null;
    const { shop } = this.shop;
    const [first] = row.groups;
    const connection = marketOf(shop, market ?? '') ?? marketOf(shop, first!.market);
    if (!connection) return null;
    const group = row.groups.find((g) => g.market === connection.id);
    const full = (group?.places ?? []).map((place) => this.shop.rows[place]!);
    const any = this.shop.rows[first!.places[0]!]!;
    return {
      key: product,
      product: any.product,
      market: connection,
      site: connection.site,
      on: this.marksOf(row),
      full,
      standing: benchStanding(
        full.filter((f) => isOnBench(f.listing)),
        shop,
        ({ listing }) => this.shop.columns.missing[this.shop.placeOf(listing.id)] ?? [],
      ),
      mends: full[0] ? mendable(full[0], shop) : [],
      title: titleOf(full[0] ?? any),
      approved: group?.approved ?? false,
      refused: group?.refused ?? 0,
    };
  }

  /** Products of which something waits, with all their listings, by marketplace. */
  private gather(): Row[] {
    const { rows, columns } = this.shop;
    const { state } = columns;
    const products = new Set<string>();
    for (let place = 0; place < rows.length; place++) {
      const full = rows[place];
      if (full && state[place]! <= REFUSED) products.add(full.product.id);
    }
    return [...products]
      .map((product) => this.rowOf(product))
      .sort((a, b) => b.taken - a.taken || (a.product < b.product ? -1 : 1));
  }

  private rowOf(product: string): Row {
    const { rows, derivedAt } = this.shop;
    const places = this.shop.ofProducts([product]);
    // Made anew only where one of its listings was derived anew, came or went.
    let stamp = 0;
    for (const place of places) stamp += rows[place] ? derivedAt[place]! : 0;
    const known = this.made.get(product);
    if (known?.stamp === stamp && known.places === places.length) return known.row;
    const row = this.makeRow(product, places);
    this.made.set(product, { places: places.length, stamp, row });
    return row;
  }

  private makeRow(product: string, places: readonly number[]): Row {
    const { rows } = this.shop;
    const by = new Map<string, number[]>();
    for (const place of places) {
      const full = rows[place];
      if (!full) continue;
      const own = by.get(full.listing.marketplace);
      if (own) own.push(place);
      else by.set(full.listing.marketplace, [place]);
    }
    const groups = [...by].map(([market, own]) => this.standing(market, own));
    groups.sort((a, b) => Number(isHere(b)) - Number(isHere(a)) || (a.market < b.market ? -1 : 1));
    return { product, taken: rows[groups[0]!.places[0]!]!.product.taken.at, groups };
  }

  private standing(market: string, unsorted: number[]): Group {
    const { rows, columns } = this.shop;
    const { state, flags, missing, numbers } = columns;
    const places =
      unsorted.length > 1
        ? unsorted.sort((a, b) => (rows[a]!.listing.id < rows[b]!.listing.id ? -1 : 1))
        : unsorted;
    let publishing = 0;
    let refused = 0;
    let drafts = 0;
    let ready = true;
    let approved = true;
    let waiting = 0;
    let cheapest = -1;
    for (const place of places) {
      const price = numbers.price[place]!;
      if (price !== NONE && (cheapest < 0 || price < numbers.price[cheapest]!)) cheapest = place;
      if (state[place]! > REFUSED) continue;
      if (!(flags[place]! & FLAG.approved)) approved = false;
      if (state[place] === PUBLISHING) {
        publishing++;
        continue;
      }
      waiting++;
      if (state[place] === REFUSED) refused++;
      if (state[place] === DRAFT) drafts++;
      if (!(flags[place]! & FLAG.quoted) || missing[place]?.length !== 0) ready = false;
    }
    return {
      market,
      places,
      waiting,
      publishing,
      refused,
      drafts,
      ready: ready && waiting > 0,
      approved: approved && waiting > 0,
      cheapest: cheapest < 0 ? places[0]! : cheapest,
    };
  }

  private find({ query, sort, descending, market }: Omit<BenchQuestion, 'offset' | 'limit'>): {
    readonly rows: readonly Row[];
    /** Of each among {@link rows}. */
    readonly places: Int32Array;
    readonly problems: readonly Problem[];
  } {
    const { rows } = this;
    let list = this.lists.get(market);
    if (!list) {
      list = this.listOn(market);
      this.lists.set(market, list);
    }
    const key = `${this.shop.version} ${market}`;
    if (this.here?.key !== key) {
      const here = rows.flatMap((row, at) => (seen(row, market).some(isHere) ? at : []));
      this.here = { key, places: Int32Array.from(here) };
    }
    const { places, problems } = list.find({ query, sort, descending }, this.here, 0);
    return { rows: [...places].map((at) => rows[at]!), places, problems };
  }

  /** Products as they are searched and sorted, each at its place among {@link rows}. */
  private listOn(market: string | null): FoundList {
    const { shop } = this;
    const first = (at: number) => seen(this.rows[at]!, market)[0]!.cheapest;
    return new FoundList(
      {
        subject: 'bench',
        fields: () => this.fields(market),
        words: (at) =>
          this.rows[at]!.groups.flatMap((g) =>
            g.places.map((place) => shop.columns.wordsOf(place, shop.rows[place]!)),
          ).join(' '),
        sortings: () => ({
          taken: { number: (at) => this.rows[at]!.taken },
          title: { text: (at) => titleOf(shop.rows[first(at)]!) },
        }),
        currencyOf: (at, field) => this.currencyAt(at, market, field),
        worthOf: (currency) => worthIn(shop.shop, currency),
      },
      KINDS.bench,
    );
  }

  private fields(market: string | null): Fields<number> {
    return fieldsOf('bench', this.readers(market), (at, field) => this.currencyAt(at, market, field));
  }

  private currencyAt(at: number, market: string | null, field: FieldName) {
    return currencyAt(this.shop)(seen(this.rows[at]!, market)[0]!.cheapest, field);
  }

  /** Texts of a product are those of its listings together, each once; numbers those of its cheapest variant. */
  private readers(market: string | null): Readers<'bench', number> {
    const read = listingReaders(this.shop, 0);
    const groups = (at: number) => seen(this.rows[at]!, market);
    const places = (at: number) => groups(at).flatMap((g) => g.places);
    const cheapest = (at: number) => groups(at)[0]!.cheapest;
    const text = (of: (place: number) => string | null) => (at: number) =>
      [...new Set(places(at).map(of))].filter(Boolean).join(', ');
    const is: Readonly<Record<FlagOf<'bench', 'is'>, (g: Group) => boolean>> = {
      ready: (g) => g.ready && !g.approved && g.publishing === 0,
      lacking: (g) => !g.ready && g.publishing === 0 && g.waiting > 0,
      approved: (g) => g.approved,
      refused: (g) => g.refused > 0,
      draft: (g) => g.drafts > 0,
      publishing: (g) => g.publishing > 0,
    };
    return {
      is: (at, flag) => groups(at).some(is[flag]),
      has: (at, flag) => places(at).some((place) => read.has(place, flag)),
      cost: (at) => read.cost(cheapest(at)),
      stock: (at) => read.stock(cheapest(at)),
      price: (at) => read.price(cheapest(at)),
      profit: (at) => read.profit(cheapest(at)),
      margin: (at) => read.margin(cheapest(at)),
      weight: (at) => read.weight(cheapest(at)),
      on: (at) =>
        groups(at)
          .filter(isHere)
          .map((g) => marketOf(this.shop.shop, g.market)?.name ?? '')
          .join(' '),
      brand: text(read.brand),
      category: text(read.category),
      supplier: text(read.supplier),
      sku: text(read.sku),
      template: text(read.template),
      fault: text(read.fault),
    };
  }

  private line(at: number, market: string | null): BenchLine {
    const row = this.rows[at]!;
    const apart = market === null && marketsOf(this.shop.shop).length > 1;
    const first = this.shop.rows[row.groups[0]!.places[0]!]!;
    return {
      key: row.product,
      title: titleOf(first),
      sku: first.variant.sku,
      variants: row.groups[0]!.places.length,
      picture: pictureOf(first, this.shop.shop),
      on: this.marksOf(row),
      values: valuesInWords(
        'bench',
        this.readers(market),
        at,
        (place, field) => this.currencyAt(place, market, field),
        (field) => apart || field === 'cost',
      ),
    };
  }

  private marksOf(row: Row): Record<string, BenchMark> {
    const { rows } = this.shop;
    const { shop } = this.shop;
    return Object.fromEntries(
      row.groups.map((g) => {
        const quote = quoteListing(rows[g.cheapest]!, shop);
        const { published } = rows[g.cheapest]!.listing;
        const mark: BenchMark = {
          state: this.stateOf(g),
          currency: marketOf(shop, g.market)?.site.currency ?? shop.settings.currency,
          price: isHere(g) ? (quote?.price ?? null) : (published?.price ?? null),
          strip: stripOf(quote, quote?.sum ?? null),
        };
        return [g.market, mark];
      }),
    );
  }

  private stateOf(g: Group): BenchState {
    const { rows, columns } = this.shop;
    if (g.publishing) {
      const waits = g.places.flatMap((place) =>
        columns.state[place] === PUBLISHING ? [rows[place]!.listing.publishAt ?? null] : [],
      );
      return { is: 'publishing', left: g.publishing, at: waits[0] ?? null };
    }
    if (!g.waiting)
      return g.places.every((place) => columns.state[place] === ENDED)
        ? { is: 'ended' }
        : { is: 'live', differs: g.places.some((place) => this.shop.differsAt(place)) };
    const refused = g.places.find((place) => columns.state[place] === REFUSED);
    if (refused !== undefined) return { is: 'refused', why: problemOf(rows[refused]!, this.shop.shop) };
    if (!g.ready) {
      const lacking = g.places.flatMap((place) =>
        columns.state[place] === BENCH || columns.state[place] === DRAFT
          ? (columns.missing[place] ?? [])
          : [],
      );
      const [what, ...more] = new Set(lacking.map(({ reason }) => reason));
      return { is: 'lacking', what: what ?? 'Its supplier or marketplace is not connected.', more };
    }
    if (g.approved && g.drafts < g.waiting) return { is: 'approved' };
    return { is: g.drafts ? 'draft' : g.approved ? 'approved' : 'ready' };
  }
}

/** The groups of a row that are looked at. */
const seen = (row: Row, market: string | null): readonly Group[] =>
  market === null ? row.groups : row.groups.filter((g) => g.market === market);
