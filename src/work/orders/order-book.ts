import Dexie from 'dexie';
import { convert, factorOf } from '../../core/money';
import { assertUnderstood, compile, type Fields, narrows, type Problem, parseQuery } from '../../core/query';
import type { Instant } from '../../core/units';
import {
  type ArchiveBlock,
  type JournaledTable,
  type JournalRow,
  journalEnd,
  journalSince,
  type LedgerRow,
  type Order,
  readArchived,
  type WholeOrder,
} from '../../store';
import type { ListAnswer, ListQuestion } from '../assortment/listing-list';
import type { Work } from '../context';
import { type FullListing, fullListings } from '../shop/full-listing';
import { laidAwayInWords, type PastEdit } from '../shop/history';
import { listingOf, type ShopTerms } from '../shop/quote';
import { readAgedTerms } from '../shop/read-shop';
import {
  dayNumber,
  deriveOrder,
  emptyColumns,
  IS,
  isLateAt,
  type OrderColumns,
  PARTS,
  UNKNOWN,
} from './order-columns';

export const ORDER_SORTS = ['urgent', 'placed', 'paid', 'profit', 'shipBy'] as const;
export type OrderSort = (typeof ORDER_SORTS)[number];

/** An order as a table shows it. Profit in the currency of the books. */
export interface OrderLineRow {
  readonly order: Order;
  readonly market: string;
  readonly profit: number | null;
  readonly actual: boolean;
}

export interface OrdersFound extends ListAnswer<OrderLineRow> {
  readonly open: number;
  readonly need: number;
  readonly ready: number;
  /** Those of them among the matches. */
  readonly readyAmong: number;
  /** Open orders that are for each supplier's next file or are in one. */
  readonly byFile: readonly { readonly supplier: string; readonly waiting: number }[];
}

/** Orders meant by an action: some by id, or all matches of a search but some. */
export type MeantOrders =
  | { readonly keys: readonly string[] }
  | { readonly query: string; readonly except?: readonly string[] };

/** One order with all that is shown of it. */
export interface OrderInFull {
  readonly order: Order;
  readonly ledger: LedgerRow | undefined;
  /** Listings that its lines were bought of, by id. */
  readonly linked: ReadonlyMap<string, FullListing>;
  readonly market: string;
  /** Its history where it was laid away; null where it stands among all others. */
  readonly edits: readonly PastEdit[] | null;
}

/** Tables that it holds rows of. */
const OURS: readonly JournaledTable[] = ['orders', 'ledger', 'archive'];

/**
 * All orders in memory: those of the last weeks as rows, older ones as the columns they were laid away with. Searched,
 * sorted and summed by columns; an archived order is unpacked when it is looked at.
 */
export class OrderBook {
  private columns: OrderColumns | null = null;
  private room = 0;
  /** '' where nothing stands. */
  private ids: string[] = [];
  private orders: (Order | null)[] = [];
  private readonly places = new Map<string, number>();
  private readonly ledgers = new Map<string, LedgerRow>();
  /** Places of each block. */
  private readonly blocks = new Map<string, number[]>();
  private readonly free: number[] = [];
  private seen = -1;
  private terms: ShopTerms | null = null;
  version = 0;
  private found: {
    /** State of the book and sort that it was found in. */
    readonly order: string;
    readonly query: string;
    readonly places: Int32Array;
    readonly problems: readonly Problem[];
  } | null = null;
  private sorted: { readonly key: string; readonly places: Int32Array } | null = null;
  private readonly unpacked = new Map<string, WholeOrder>();

  constructor(private readonly work: Work) {}

  /** Brings it up to what is stored now. @returns whether anything changed */
  async catchUp(): Promise<boolean> {
    const { db } = this.work;
    const outer = Dexie.currentTransaction;
    return db.transaction('r', db.bookTables, async (own) => {
      const terms = await readAgedTerms(db, this.work.clock());
      const { currency, zone } = terms.settings;
      const other = !this.columns || this.columns.books !== currency || this.columns.zone !== zone;
      const names = (t: ShopTerms | null) =>
        JSON.stringify([...(t?.connections ?? [])].map(([, c]) => c.name));
      let any = names(this.terms) !== names(terms);
      this.terms = terms;
      const rows = other ? null : await journalSince(db.journal, this.seen, OURS);
      if (!rows) {
        await this.build(terms);
        any = true;
      } else if (rows.length) {
        const ours = rows.filter((r) => OURS.includes(r.table));
        // Once all is read, who waits to write need not wait until it is in columns.
        if (ours.length) await this.reread(ours, () => outer || own.idbtrans.commit());
        any ||= ours.length > 0;
        this.seen = rows.at(-1)!.seq;
      }
      if (any) this.version++;
      return any;
    });
  }

  private async build(terms: ShopTerms): Promise<void> {
    const { db } = this.work;
    const end = await journalEnd(db.journal);
    this.ids = [];
    this.orders = [];
    this.places.clear();
    this.ledgers.clear();
    this.blocks.clear();
    this.free.length = 0;
    const [orders, ledgers, blocks] = await Promise.all([
      db.orders.toArray(),
      db.ledger.toArray(),
      db.archive.toArray(),
    ]);
    this.room = Math.max(1024, orders.length + blocks.reduce((n, b) => n + b.ids.length, 0));
    this.columns = emptyColumns(terms, this.room);
    for (const row of ledgers) this.ledgers.set(row.id, row);
    for (const order of orders) this.put(order);
    for (const block of blocks) this.putBlock(block);
    this.seen = end;
  }

  private async reread(journal: readonly JournalRow[], isRead: () => void): Promise<void> {
    const { db } = this.work;
    const keysOf = (table: string) => [
      ...new Set(journal.flatMap((r) => (r.table === table ? (r.keys ?? []) : []))),
    ];
    const [orderIds, ledgerIds, blockIds] = [keysOf('orders'), keysOf('ledger'), keysOf('archive')];
    const [orders, ledgers, blocks] = await Promise.all([
      db.orders.bulkGet(orderIds),
      db.ledger.bulkGet(ledgerIds),
      db.archive.bulkGet(blockIds),
    ]);
    isRead();
    for (const [i, id] of ledgerIds.entries()) {
      const row = ledgers[i];
      if (row) this.ledgers.set(id, row);
      else this.ledgers.delete(id);
      const known = this.orders[this.places.get(id) ?? -1];
      if (known && !orderIds.includes(id)) this.put(known);
    }
    for (const [i, id] of blockIds.entries()) {
      for (const place of this.blocks.get(id) ?? []) this.leave(place);
      this.blocks.delete(id);
      if (blocks[i]) this.putBlock(blocks[i]);
    }
    for (const [i, id] of orderIds.entries()) {
      const place = this.places.get(id);
      if (orders[i]) this.put(orders[i]);
      else if (place !== undefined && this.orders[place]) this.leave(place);
    }
  }

  private placeFor(id: string): number {
    const known = this.places.get(id);
    if (known !== undefined) return known;
    const place = this.free.pop() ?? this.ids.length;
    if (place >= this.room) this.grow();
    this.ids[place] = id;
    this.places.set(id, place);
    return place;
  }

  private grow(): void {
    const before = this.columns!;
    this.room *= 2;
    const grown = emptyColumns(this.terms!, this.room);
    for (const name of ['paidAt', 'shipBy', 'day', 'flags', 'paid', 'expected', 'actual'] as const)
      grown[name].set(before[name]);
    this.columns = {
      ...grown,
      marketplace: before.marketplace,
      town: before.town,
      words: before.words,
    };
  }

  private put(order: Order): void {
    const place = this.placeFor(order.id);
    this.orders[place] = order;
    deriveOrder(this.columns!, place, order, this.ledgers.get(order.id));
  }

  /** Takes in the columns of archived orders as they lie. */
  private putBlock(block: ArchiveBlock): void {
    const own = block.columns as OrderColumns;
    const places: number[] = [];
    for (const [k, id] of block.ids.entries()) {
      if (!id) continue;
      const place = this.placeFor(id);
      const columns = this.columns!;
      this.orders[place] = null;
      places.push(place);
      for (const name of ['paidAt', 'shipBy', 'flags', 'paid'] as const) columns[name][place] = own[name][k]!;
      columns.day[place] = own.zone === columns.zone ? own.day[k]! : dayNumber(own.paidAt[k]!, columns.zone);
      for (let i = 0; i < PARTS.length; i++) {
        const same = own.books === columns.books;
        const from = k * PARTS.length + i;
        columns.expected[place * PARTS.length + i] = same ? own.expected[from]! : UNKNOWN;
        columns.actual[place * PARTS.length + i] = same ? own.actual[from]! : UNKNOWN;
      }
      columns.marketplace[place] = own.marketplace[k]!;
      columns.town[place] = own.town[k]!;
      columns.words[place] = own.words[k]!;
    }
    this.blocks.set(block.id, places);
  }

  private leave(place: number): void {
    const id = this.ids[place]!;
    if (!id) return;
    this.places.delete(id);
    this.ids[place] = '';
    this.orders[place] = null;
    this.free.push(place);
  }

  /** @throws where nothing was read yet */
  get all(): OrderColumns {
    if (!this.columns) throw new Error('The orders were not read yet.');
    return this.columns;
  }

  /** Ids by place; '' where nothing stands. */
  get idAt(): readonly string[] {
    return this.ids;
  }

  private nameOf(id: string): string {
    return this.terms?.connections.get(id)?.name ?? id;
  }

  private fields(now: Instant): Fields<number> {
    const c = this.all;
    const bit = { ...IS } as Readonly<Record<string, number>>;
    const profitAt = (place: number) => {
      const profit = this.profitAt(place);
      return profit === UNKNOWN ? null : profit;
    };
    return {
      is: {
        kind: 'flags',
        flags: [
          'open',
          'held',
          'ready',
          'late',
          'shipped',
          'delivered',
          'cancelled',
          'personalised',
          'place',
        ],
        get: (place, flag) => {
          const bits = c.flags[place]!;
          if (flag === 'late') return isLateAt(c, place, now);
          if (flag === 'held')
            return (bits & IS.held) !== 0 || ((bits & IS.unseen) !== 0 && (bits & IS.open) !== 0);
          return (bits & bit[flag]!) !== 0;
        },
      },
      profit: { kind: 'number', scale: 100, get: profitAt },
      paid: { kind: 'number', scale: 100, get: (place) => c.paid[place]! },
      town: { kind: 'text', get: (place) => c.town[place]! },
      on: { kind: 'text', get: (place) => this.nameOf(c.marketplace[place]!) },
    };
  }

  private profitAt(place: number): number {
    const c = this.all;
    const at = place * PARTS.length + PARTS.indexOf('profit');
    return c.actual[at] === UNKNOWN ? c.expected[at]! : c.actual[at]!;
  }

  private find(q: Pick<ListQuestion<OrderSort>, 'query' | 'sort' | 'descending'>, now: Instant) {
    const minute = Math.floor(now / 60_000) * 60_000;
    const order = `${this.version} ${minute} ${q.sort} ${q.descending}`;
    if (this.found?.order === order && this.found.query === q.query) return this.found;
    const c = this.all;
    const { test, problems } = compile(parseQuery(q.query), this.fields(minute), (place) => c.words[place]!);
    const before = this.found?.order === order && narrows(this.found.query, q.query) ? this.found : null;
    const among = before?.places ?? this.inOrder(q.sort, q.descending, minute);
    this.found = { order, query: q.query, places: among.filter((place) => test(place)), problems };
    return this.found;
  }

  /** All orders as they are sorted, once for each state of the book: what is typed only leaves some out. */
  private inOrder(by: OrderSort, descending: boolean, minute: Instant): Int32Array {
    const key = `${this.version} ${minute} ${by} ${descending}`;
    if (this.sorted?.key === key) return this.sorted.places;
    const { paidAt } = this.all;
    const keys = this.sortKeys(by, minute);
    const turn = descending ? -1 : 1;
    const places = Int32Array.from(this.places.values()).sort(
      (a, b) => turn * (keys[a]! - keys[b]!) || paidAt[b]! - paidAt[a]!,
    );
    this.sorted = { key, places };
    return places;
  }

  private sortKeys(by: OrderSort, now: Instant): Float64Array {
    const c = this.all;
    if (by === 'placed') return c.paidAt;
    if (by === 'shipBy') return c.shipBy;
    const keys = new Float64Array(this.ids.length);
    const worth = by === 'paid' ? this.worths() : null;
    for (let place = 0; place < keys.length; place++) {
      if (by === 'urgent') {
        const bits = c.flags[place]!;
        // What needs a person by how soon it hurts, then what is late, then the newest.
        keys[place] = !(bits & IS.open)
          ? 3e13 - c.paidAt[place]!
          : bits & (IS.held | IS.unseen)
            ? c.shipBy[place]! - 4e13
            : isLateAt(c, place, now)
              ? -c.paidAt[place]!
              : 1e13 - c.paidAt[place]!;
      } else if (by === 'paid') keys[place] = c.paid[place]! * (worth!.get(c.marketplace[place]!) ?? 1);
      else keys[place] = this.profitAt(place);
    }
    return keys;
  }

  private worths(): Map<string, number> {
    const { connections, rates, settings } = this.terms!;
    return new Map(
      [...connections.values()].flatMap((one) => {
        const factor =
          one.role === 'marketplace' ? factorOf(rates, one.site.currency, settings.currency) : null;
        return factor ? [[one.id, convert(1_000_000, factor) / 1_000_000] as const] : [];
      }),
    );
  }

  async search(q: ListQuestion<OrderSort>, now: Instant): Promise<OrdersFound> {
    const { places, problems } = this.find(q, now);
    const c = this.all;
    const filed = new Map<string, number>();
    let open = 0;
    let need = 0;
    let ready = 0;
    for (let place = 0; place < this.ids.length; place++) {
      const bits = c.flags[place]!;
      if (!this.ids[place] || !(bits & IS.open)) continue;
      open++;
      if (bits & IS.ready) ready++;
      if (bits & (IS.held | IS.unseen | IS.place) || isLateAt(c, place, now)) need++;
      for (const p of this.orders[place]?.purchases ?? [])
        if (p.lane === 'file')
          filed.set(p.supplier, (filed.get(p.supplier) ?? 0) + (p.state === 'waiting' ? 1 : 0));
    }
    const shown = [...places.subarray(q.offset, q.offset + q.limit)];
    const whole = await this.inFull(shown);
    return {
      query: q.query,
      readyAmong: places.filter((place) => (this.all.flags[place]! & IS.ready) !== 0).length,
      total: this.places.size,
      matches: places.length,
      rows: shown.flatMap((place, i) => {
        const one = whole[i];
        return one ? [this.line(place, one.order)] : [];
      }),
      problems,
      open,
      need,
      ready,
      byFile: [...filed].map(([supplier, waiting]) => ({ supplier, waiting })),
    };
  }

  private line(place: number, order: Order): OrderLineRow {
    const profit = this.profitAt(place);
    return {
      order,
      market: this.nameOf(order.marketplace),
      profit: profit === UNKNOWN ? null : profit,
      actual: (this.all.flags[place]! & IS.actual) !== 0,
    };
  }

  /** Orders at some places, those of the archive unpacked. */
  private async inFull(places: readonly number[]): Promise<(WholeOrder | { order: Order } | undefined)[]> {
    const missing = places.filter((p) => !this.orders[p] && this.ids[p] && !this.unpacked.has(this.ids[p]!));
    if (missing.length) {
      if (this.unpacked.size > 2_000) this.unpacked.clear();
      const read = await readArchived(
        this.work.db,
        missing.map((p) => this.ids[p]!),
      );
      for (const one of read) this.unpacked.set(one.order.id, one);
    }
    return places.map((p) => {
      const order = this.orders[p];
      return order ? { order } : this.unpacked.get(this.ids[p]!);
    });
  }

  /** Keys of the matches between two places of a sorted search. */
  range(q: ListQuestion<OrderSort>, now: Instant): string[] {
    return [...this.find(q, now).places.subarray(q.offset, q.offset + q.limit)].map((p) => this.ids[p]!);
  }

  /** Ids of open orders that are meant and stand ready. */
  readyAmong(what: MeantOrders, now: Instant): string[] {
    const c = this.all;
    const isReady = (place: number) => (c.flags[place]! & IS.ready) !== 0;
    if ('keys' in what)
      return what.keys.filter((id) => {
        const place = this.places.get(id);
        return place !== undefined && isReady(place);
      });
    const except = new Set(what.except);
    const { places, problems } = this.find({ query: what.query, sort: 'urgent', descending: false }, now);
    assertUnderstood(problems);
    return [...places].flatMap((p) => (isReady(p) && !except.has(this.ids[p]!) ? this.ids[p]! : []));
  }

  async full(id: string): Promise<OrderInFull | null> {
    const { db } = this.work;
    const place = this.places.get(id);
    if (place === undefined) return null;
    const [whole] = await this.inFull([place]);
    if (!whole) return null;
    const { order } = whole;
    const listings = await db.listings.bulkGet(order.lines.map((l) => listingOf(order, l)));
    const full = await fullListings(
      db,
      listings.filter((l) => l !== undefined),
    );
    const archived = 'edits' in whole;
    return {
      order,
      ledger: archived ? (whole.ledger ?? undefined) : this.ledgers.get(id),
      linked: new Map(full.map((f) => [f.listing.id, f])),
      market: this.nameOf(order.marketplace),
      edits: archived ? laidAwayInWords(whole.edits, order, (c) => this.nameOf(c)) : null,
    };
  }
}
