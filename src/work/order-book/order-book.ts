import Dexie from 'dexie';
import {
  type FieldName,
  fieldsOf,
  KINDS,
  type Readers,
  type ValueOf,
  valueFields,
  valuesInWords,
} from '../../core/fields';
import type { Currency } from '../../core/money';
import type { Buyer } from '../../core/orders';
import { assertUnderstood, compile, type Fields, readCondition } from '../../core/query';
import { overdueAfter } from '../../core/sourcing';
import type { Instant } from '../../core/units';
import {
  type ArchiveBlock,
  buyersByOrder,
  type JournaledTable,
  type JournalRow,
  journalEnd,
  journalSince,
  type LedgerRow,
  type Order,
  readArchived,
  type WholeOrder,
} from '../../store';
import type { Work } from '../context/work';
import { type Among, FoundList, type FoundPlaces, type Sorting } from '../memory/found-list';
import { laidAwayInWords, type PastEdit } from '../memory/history';
import type { ListAnswer, ListQuestion } from '../memory/listing-list';
import { type AgedTerms, readAgedTerms } from '../memory/read-shop';
import { type FullListing, fullListings } from '../quoting/full-listing';
import { listingOf } from '../quoting/promised';
import { promisedDays } from '../quoting/transit';
import { type ShopTerms, supplierOf, worthIn } from '../quoting/worth';
import {
  dayNumber,
  deriveOrder,
  emptyColumns,
  foundBy,
  IS,
  isLateAt,
  isOverdueAt,
  noteBuyer,
  type OrderColumns,
  PARTS,
  UNKNOWN,
  type UsualDays,
} from './order-columns';

const OWN_SORTS = ['urgent', 'placed', 'shipBy'] as const;
export type OrderSort = (typeof OWN_SORTS)[number] | ValueOf<'order'>;
export const ORDER_SORTS: readonly OrderSort[] = [...OWN_SORTS, ...valueFields('order').map(({ id }) => id)];

/** An order as a table shows it. Profit in the currency of the books. */
export interface OrderLineRow {
  readonly order: Order;
  readonly buyer: Buyer;
  readonly market: string;
  readonly profit: number | null;
  readonly actual: boolean;
  /** The values of its fields, in words. */
  readonly values: Readonly<Record<ValueOf<'order'>, string>>;
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

/** Columns that blocks laid away before do not have. */
type Newer = 'country' | 'labels' | 'mark' | 'units' | 'overdue' | 'sold' | 'returns' | 'differing';

/** One order with all that is shown of it. */
export interface OrderInFull {
  readonly order: Order;
  readonly buyer: Buyer;
  readonly ledger: LedgerRow | undefined;
  /** Listings that its lines were bought of, by id. */
  readonly linked: ReadonlyMap<string, FullListing>;
  readonly market: string;
  /** Its history where it was laid away; null where it stands among all others. */
  readonly edits: readonly PastEdit[] | null;
}

interface Known {
  readonly order: Order;
  readonly buyer: Buyer;
}

const MINUTE = 60_000;

const NOTHING_SOLD: OrderColumns['sold'][number] = [];

/** Days after which parcels are overdue, asked once for each supplier and country. */
function usualDaysIn(terms: AgedTerms): UsualDays {
  const known = new Map<string, number | null>();
  return (supplier, country) => {
    const key = `${supplier} ${country}`;
    let days = known.get(key);
    if (days === undefined) {
      const from = supplierOf(terms, supplier);
      const real = terms.transit.get(supplier)?.[country] ?? null;
      days = from ? overdueAfter(real, promisedDays(from, country)?.days ?? null) : null;
      known.set(key, days);
    }
    return days;
  };
}

/** Tables that it holds rows of. */
const OURS: readonly JournaledTable[] = ['orders', 'buyers', 'ledger', 'archive'];

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
  private terms: AgedTerms | null = null;
  private usual: UsualDays = () => null;
  version = 0;
  private everything: Among | null = null;
  private readonly list = new FoundList(
    {
      subject: 'order',
      fields: (now) => this.fields(now),
      words: (place) => this.all.words[place]!,
      sortings: (now) => this.sortings(now),
      currencyOf: (place, field) => this.currencyOf(place, field),
      worthOf: (currency) => worthIn(this.terms!, currency),
      tie: (a, b) => this.all.paidAt[b]! - this.all.paidAt[a]!,
    },
    KINDS.order,
  );
  private readonly unpacked = new Map<string, WholeOrder>();
  private counted: { readonly key: string; readonly by: Map<string, number> } = { key: '', by: new Map() };

  constructor(readonly work: Work) {}

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
      this.usual = usualDaysIn(terms);
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
    const [orders, buyers, ledgers, blocks] = await Promise.all([
      db.orders.toArray(),
      db.buyers.toArray(),
      db.ledger.toArray(),
      db.archive.toArray(),
    ]);
    this.room = Math.max(1024, orders.length + blocks.reduce((n, b) => n + b.ids.length, 0));
    this.columns = emptyColumns(terms, this.room);
    for (const row of ledgers) this.ledgers.set(row.id, row);
    const byOrder = new Map(buyers.map((b) => [b.id, b]));
    for (const order of orders) this.put(order, byOrder.get(order.id));
    for (const block of blocks) this.putBlock(block);
    this.seen = end;
  }

  private async reread(journal: readonly JournalRow[], isRead: () => void): Promise<void> {
    const { db } = this.work;
    const keysOf = (table: string) => [
      ...new Set(journal.flatMap((r) => (r.table === table ? (r.keys ?? []) : []))),
    ];
    const [ledgerIds, blockIds] = [keysOf('ledger'), keysOf('archive')];
    const orderIds = [...new Set([...keysOf('orders'), ...keysOf('buyers'), ...ledgerIds])];
    const [orders, buyers, ledgers, blocks] = await Promise.all([
      db.orders.bulkGet(orderIds),
      db.buyers.bulkGet(orderIds),
      db.ledger.bulkGet(ledgerIds),
      db.archive.bulkGet(blockIds),
    ]);
    isRead();
    for (const [i, id] of ledgerIds.entries()) {
      const row = ledgers[i];
      if (row) this.ledgers.set(id, row);
      else this.ledgers.delete(id);
    }
    if (blockIds.length) this.unpacked.clear();
    for (const [i, id] of blockIds.entries()) {
      for (const place of this.blocks.get(id) ?? []) this.leave(place);
      this.blocks.delete(id);
      if (blocks[i]) this.putBlock(blocks[i]);
    }
    for (const [i, id] of orderIds.entries()) {
      const place = this.places.get(id);
      if (orders[i]) this.put(orders[i], buyers[i]);
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
    for (const name of [
      ...(['paidAt', 'shipBy', 'day', 'flags', 'overdue'] as const),
      ...(['paid', 'units', 'expected', 'actual'] as const),
    ])
      grown[name].set(before[name]);
    this.columns = {
      ...grown,
      marketplace: before.marketplace,
      country: before.country,
      labels: before.labels,
      mark: before.mark,
      sold: before.sold,
      returns: before.returns,
      differing: before.differing,
      town: before.town,
      words: before.words,
    };
  }

  private put(order: Order, buyer: Buyer | undefined): void {
    const place = this.placeFor(order.id);
    this.orders[place] = order;
    deriveOrder(this.columns!, place, order, this.ledgers.get(order.id), this.usual);
    if (buyer) noteBuyer(this.columns!, place, foundBy(buyer, order));
  }

  /** Takes in the columns of archived orders as they lie. */
  private putBlock(block: ArchiveBlock): void {
    const own = block.columns as Omit<OrderColumns, Newer> & Partial<Pick<OrderColumns, Newer>>;
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
      columns.overdue[place] = 0;
      // Blocks of before have none of these.
      columns.country[place] = own.country?.[k] ?? '';
      columns.labels[place] = own.labels?.[k] ?? '';
      columns.mark[place] = own.mark?.[k] ?? '';
      columns.sold[place] = own.sold?.[k] ?? NOTHING_SOLD;
      columns.returns[place] = own.returns?.[k];
      columns.differing[place] = own.differing?.[k];
      columns.units[place] = own.units?.[k] ?? 0;
      columns.words[place] = own.words[k]!;
      noteBuyer(columns, place, { who: block.who[k]!, town: block.towns[k]! });
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

  /** The row at a place; null where it is laid away. */
  inMemory(place: number): Order | null {
    return this.orders[place] ?? null;
  }

  /** The shop as it was when it was caught up last. @throws where nothing was read yet */
  get shop(): ShopTerms {
    if (!this.terms) throw new Error('The orders were not read yet.');
    return this.terms;
  }

  private nameOf(id: string): string {
    return this.terms?.connections.get(id)?.name ?? id;
  }

  private fields(now: Instant): Fields<number> {
    return fieldsOf('order', this.readers(now), (place, field) => this.currencyOf(place, field));
  }

  private readers(now: Instant): Readers<'order', number> {
    const c = this.all;
    return {
      is: (place, flag) => {
        const bits = c.flags[place]!;
        if (flag === 'late') return isLateAt(c, place, now);
        if (flag === 'overdue') return isOverdueAt(c, place, now);
        if (flag === 'returned') return (c.returns[place]?.length ?? 0) > 0;
        if (flag === 'differs') return (c.differing[place]?.length ?? 0) > 0;
        if (flag === 'needing') return this.isNeeding(place, now);
        if (flag === 'held')
          return (bits & IS.held) !== 0 || ((bits & IS.unseen) !== 0 && (bits & IS.open) !== 0);
        return (bits & IS[flag]) !== 0;
      },
      profit: (place) => {
        const profit = this.profitAt(place);
        return profit === UNKNOWN ? null : profit;
      },
      paid: (place) => c.paid[place]!,
      town: (place) => c.town[place]!,
      country: (place) => c.country[place]!,
      units: (place) => c.units[place]!,
      label: (place) => c.labels[place]!,
      mark: (place) => c.mark[place]!,
      on: (place) => this.nameOf(c.marketplace[place]!),
    };
  }

  /** The currency of a field: the marketplace’s for the amount paid, else that of the books. */
  private currencyOf(place: number, field: FieldName): Currency {
    const { marketplace, books } = this.all;
    const market = field === 'paid' ? this.terms?.connections.get(marketplace[place]!) : undefined;
    return market?.role === 'marketplace' ? market.site.currency : books;
  }

  /** Whether an order needs a person; the course counts the same of rows. */
  private isNeeding(place: number, now: Instant): boolean {
    const bits = this.all.flags[place]!;
    if (!(bits & IS.open)) return false;
    return (
      (bits & (IS.held | IS.unseen | IS.place)) !== 0 ||
      isLateAt(this.all, place, now) ||
      (this.all.returns[place]?.some((r) => r.needs) ?? false)
    );
  }

  private profitAt(place: number): number {
    const c = this.all;
    const at = place * PARTS.length + PARTS.indexOf('profit');
    return c.actual[at] === UNKNOWN ? c.expected[at]! : c.actual[at]!;
  }

  private find(q: Pick<ListQuestion<OrderSort>, 'query' | 'sort' | 'descending'>, now: Instant): FoundPlaces {
    if (this.everything?.key !== String(this.version))
      this.everything = { key: String(this.version), places: Int32Array.from(this.places.values()) };
    return this.list.find(q, this.everything, now);
  }

  private sortings(now: Instant): Readonly<Record<(typeof OWN_SORTS)[number], Sorting>> {
    const c = this.all;
    return {
      placed: { number: (place) => c.paidAt[place]! },
      shipBy: { number: (place) => c.shipBy[place]! },
      urgent: {
        timely: true,
        // What needs a person by how soon it hurts, then what is late, then the newest.
        number: (place) => {
          const bits = c.flags[place]!;
          if (!(bits & IS.open)) return 3e13 - c.paidAt[place]!;
          if (bits & (IS.held | IS.unseen)) return c.shipBy[place]! - 4e13;
          return isLateAt(c, place, now) ? -c.paidAt[place]! : 1e13 - c.paidAt[place]!;
        },
      },
    };
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
      if (this.isNeeding(place, now)) need++;
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
        return one ? [this.line(place, one, now)] : [];
      }),
      problems,
      open,
      need,
      ready,
      byFile: [...filed].map(([supplier, waiting]) => ({ supplier, waiting })),
    };
  }

  private line(place: number, { order, buyer }: Known, now: Instant): OrderLineRow {
    const profit = this.profitAt(place);
    return {
      ...{ order, buyer },
      market: this.nameOf(order.marketplace),
      profit: profit === UNKNOWN ? null : profit,
      actual: (this.all.flags[place]! & IS.actual) !== 0,
      values: valuesInWords(
        'order',
        this.readers(now),
        place,
        (at, field) => this.currencyOf(at, field),
        (field) => field === 'paid',
      ),
    };
  }

  /** Orders at some places, those of the archive unpacked. */
  private async inFull(places: readonly number[]): Promise<(WholeOrder | Known | undefined)[]> {
    const missing = places.filter((p) => !this.orders[p] && this.ids[p] && !this.unpacked.has(this.ids[p]!));
    if (missing.length) {
      if (this.unpacked.size > 2_000) this.unpacked.clear();
      const read = await readArchived(
        this.work.db,
        missing.map((p) => this.ids[p]!),
      );
      for (const one of read) this.unpacked.set(one.order.id, one);
    }
    const buyers = await buyersByOrder(
      this.work.db,
      places.flatMap((p) => this.orders[p] ?? []),
    );
    return places.map((p) => {
      const order = this.orders[p];
      if (!order) return this.unpacked.get(this.ids[p]!);
      const buyer = buyers.get(order.id);
      // It was laid away or brought back meanwhile: what is read next has it.
      return buyer && { order, buyer };
    });
  }

  /** Orders with a parcel that is on its way longer than usual. */
  overdue(now: Instant): number {
    let n = 0;
    for (const place of this.places.values()) if (isOverdueAt(this.all, place, now)) n++;
    return n;
  }

  /** How many orders each of some searches finds, looked through once for each state of the book. */
  counts(lines: readonly string[], now: Instant): number[] {
    const minute = Math.floor(now / MINUTE) * MINUTE;
    const key = `${this.version} ${minute}`;
    if (this.counted.key !== key) this.counted = { key, by: new Map() };
    const { by } = this.counted;
    return lines.map((line) => {
      let n = by.get(line);
      if (n === undefined) {
        const { test } = compile(
          readCondition(line, KINDS.order),
          this.fields(minute),
          (p) => this.all.words[p]!,
        );
        n = 0;
        for (const place of this.places.values()) if (test(place)) n++;
        by.set(line, n);
      }
      return n;
    });
  }

  /** Keys of the matches between two places of a sorted search. */
  range(q: ListQuestion<OrderSort>, now: Instant): string[] {
    return [...this.find(q, now).places.subarray(q.offset, q.offset + q.limit)].map((p) => this.ids[p]!);
  }

  /** Ids of open orders that are meant and stand ready. */
  readyAmong(what: MeantOrders, now: Instant): string[] {
    return this.meant(what, now).filter((id) => (this.all.flags[this.places.get(id)!]! & IS.ready) !== 0);
  }

  /**
   * The ids of the orders that an action means; those that are not there any more are left out.
   * @throws where a piece of the search is not understood
   */
  meant(what: MeantOrders, now: Instant): string[] {
    if ('keys' in what) return what.keys.filter((id) => this.places.has(id));
    const except = new Set(what.except);
    assertUnderstood(readCondition(what.query, KINDS.order), KINDS.order);
    const { places } = this.find({ query: what.query, sort: 'urgent', descending: false }, now);
    return [...places].flatMap((p) => (except.has(this.ids[p]!) ? [] : this.ids[p]!));
  }

  /** Some orders by id; those that are not there are left out. */
  async some(ids: readonly string[]): Promise<Order[]> {
    const found = await this.inFull(ids.flatMap((id) => this.places.get(id) ?? []));
    return found.flatMap((one) => one?.order ?? []);
  }

  /** Orders in memory with their accounts. */
  *hot(): Generator<{ readonly order: Order; readonly ledger: LedgerRow | undefined }> {
    for (const order of this.orders) if (order) yield { order, ledger: this.ledgers.get(order.id) };
  }

  /** The accounts of some orders, those laid away too. */
  async ledgersOf(ids: readonly string[]): Promise<{ order: string; ledger: LedgerRow }[]> {
    const places = ids.flatMap((id) => this.places.get(id) ?? []);
    const whole = await this.inFull(places);
    return whole.flatMap((one) => {
      if (!one) return [];
      const ledger = 'edits' in one ? one.ledger : this.ledgers.get(one.order.id);
      return ledger ? [{ order: one.order.id, ledger }] : [];
    });
  }

  async full(id: string): Promise<OrderInFull | null> {
    const { db } = this.work;
    const place = this.places.get(id);
    if (place === undefined) return null;
    const [whole] = await this.inFull([place]);
    if (!whole) return null;
    const { order, buyer } = whole;
    const listings = await db.listings.bulkGet(order.lines.map((l) => listingOf(order, l)));
    const full = await fullListings(
      db,
      listings.filter((l) => l !== undefined),
    );
    const archived = 'edits' in whole;
    return {
      ...{ order, buyer },
      ledger: archived ? (whole.ledger ?? undefined) : this.ledgers.get(id),
      linked: new Map(full.map((f) => [f.listing.id, f])),
      market: this.nameOf(order.marketplace),
      edits: archived ? laidAwayInWords(whole, (c) => this.nameOf(c)) : null,
    };
  }
}
