import Dexie, { type Table } from 'dexie';
import { groupsIn } from '../../core/groups';
import {
  type Connection,
  type CopyTemplate,
  type ItemRow,
  itemKey,
  type JournaledTable,
  type JournalRow,
  journalEnd,
  journalSince,
  type Listing,
  type Order,
  type PlanRow,
  type Product,
  type SampanDatabase,
  type Variant,
} from '../../store';
import type { Work } from '../context/work';
import { type FullListing, offersOf, sourced } from '../quoting/full-listing';
import { differs, isOnBench } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { calendarNow } from '../quoting/plan-choice';
import { isOld } from '../quoting/pricing-terms';
import { promisedPieces } from '../quoting/promised';
import { quoteListing } from '../quoting/quote';
import { marketOf, type Shop } from '../quoting/worth';
import { Columns } from './columns';
import { type AgedTerms, readAgedTerms } from './read-shop';

/** Tables that it holds rows of. */
const OURS = ['products', 'variants', 'items', 'listings', 'orders'] as const;

/** Rows of a table from which on it is read whole. */
const MANY = 4_000;

type Ours = (typeof OURS)[number];
const isOurs = (table: JournaledTable): table is Ours => (OURS as readonly string[]).includes(table);

/** Places by some key; a key without places has no entry. */
class Places {
  private readonly by = new Map<string, Set<number>>();
  of(key: string): Iterable<number> {
    return this.by.get(key) ?? [];
  }
  add(key: string, place: number): void {
    const known = this.by.get(key);
    if (known) known.add(place);
    else this.by.set(key, new Set([place]));
  }
  clear(): void {
    this.by.clear();
  }
  remove(key: string, place: number): void {
    const known = this.by.get(key);
    if (known?.delete(place) && !known.size) this.by.delete(key);
  }
}

/**
 * The shop's listings in memory with all that they are made of, and what is derived of them as columns. Built once from
 * storage; from then on it reads the rows that the journal names, and derives again only listings of which an input
 * changed. One for each worker that asks it.
 */
export class Assortment {
  private readonly products = new Map<string, Product>();
  private readonly variants = new Map<string, Variant>();
  private readonly items = new Map<string, ItemRow>();
  private templates: ReadonlyMap<string, CopyTemplate> = new Map();
  private readonly open = new Map<string, Order>();
  private readonly places = new Map<string, number>();
  private readonly free: number[] = [];
  private readonly ofProduct = new Places();
  private readonly ofVariant = new Places();
  /** Listings by the item that is bought for them. */
  private readonly ofItem = new Places();
  /** Listings by marketplace and barcode. */
  private readonly ofBarcode = new Places();
  /** Barcodes that came to a listing or left one since it was derived last. */
  private readonly barcodes = new Set<string>();
  /** What stands at a place; null where nothing does, or what it is made of is missing. */
  readonly rows: (FullListing | null)[] = [];
  /** The listing at a place, whole or not. */
  private readonly listings: (Listing | undefined)[] = [];
  columns = new Columns(1024);
  /** By place a number that grows with each time it was derived: what is made of several places is the same while theirs are. */
  readonly derivedAt: number[] = [];
  private derivations = 0;
  /** Place in the journal up to which it was read; -1 before it was built. */
  private seen = -1;
  /** How often all was forgotten: what was read meanwhile is not trusted. */
  private forgotten = 0;
  private terms = '';
  private known: Shop | null = null;
  /** Grows whenever something changed. */
  version = 0;

  constructor(private readonly work: Work) {}

  /** What prices are made with, as it was read last. @throws where nothing was read yet */
  get shop(): Shop {
    if (!this.known) throw new Error('The shop was not read yet.');
    return this.known;
  }

  get(id: string): FullListing | null {
    const place = this.places.get(id);
    return place === undefined ? null : (this.rows[place] ?? null);
  }

  placeOf(id: string): number {
    return this.places.get(id) ?? -1;
  }

  ofProducts(ids: Iterable<string>): number[] {
    return [...ids].flatMap((id) => [...this.ofProduct.of(id)]);
  }

  /** Listings for which one of some items is bought. */
  ofItems(keys: Iterable<string>): FullListing[] {
    return this.rowsAt([...keys].flatMap((key) => [...this.ofItem.of(key)]));
  }

  rowsAt(places: Iterable<number>): FullListing[] {
    return [...new Set(places)].flatMap((place) => this.rows[place] ?? []);
  }

  /** Orders that something is to be done or awaited for. */
  get openOrders(): Iterable<Order> {
    return this.open.values();
  }

  ofVariants(ids: Iterable<string>): number[] {
    return [...ids].flatMap((id) => [...this.ofVariant.of(id)]);
  }

  /** What is known of the items of a supplier that some variant is bought as. */
  *itemsOf(supplier: string): Iterable<ItemRow> {
    for (const item of this.items.values()) if (item.supplier === supplier) yield item;
  }

  /** A product's title; null where it is not ours any more. */
  titleOfProduct(id: string): string | null {
    const product = this.products.get(id);
    return product ? (product.title ?? product.taken.title) : null;
  }

  /** A row as it was stored when it caught up, for whoever changes it in the same transaction; null of other tables. */
  readonly stored = (table: string, id: string): object | null => {
    if (table === 'listings') return this.listings[this.placeOf(id)] ?? null;
    if (table === 'products') return this.products.get(id) ?? null;
    if (table === 'items') return this.items.get(id) ?? null;
    return table === 'variants' ? (this.variants.get(id) ?? null) : null;
  };

  /** Whether a row is stored; null of tables that it does not hold. */
  has(table: string, id: string): boolean | null {
    switch (table) {
      case 'products':
        return this.products.has(id);
      case 'variants':
        return this.variants.has(id);
      case 'items':
        return this.items.has(id);
      case 'listings':
        return this.places.has(id);
      default:
        return null;
    }
  }

  get variantCount(): number {
    return this.variants.size;
  }

  /** Every variant of the shop, listed or not. */
  allVariants(): Iterable<Variant> {
    return this.variants.values();
  }

  /** Keys of the items of a supplier that some variant may be bought as. */
  takenOf(supplier: string): Set<string> {
    const taken = new Set<string>();
    for (const { sources } of this.variants.values())
      for (const s of sources) if (s.supplier === supplier) taken.add(s.item);
    return taken;
  }

  variant(id: string): Variant | undefined {
    return this.variants.get(id);
  }

  /** Whether what would be told of a listing on sale is not what its marketplace was told. Looked at once for each state of it. */
  differsAt(place: number): boolean {
    const full = this.rows[place];
    if (!full) return false;
    const { differs: known } = this.columns;
    if (known[place] === undefined) {
      const market = marketOf(this.shop, full.listing.marketplace);
      const quote = follows(full.listing) && market ? quoteListing(full, this.shop) : null;
      known[place] = market !== undefined && quote !== null && differs(full, quote, market, this.shop);
    }
    return known[place];
  }

  /** Every listing with its place. */
  *all(): Iterable<readonly [number, FullListing]> {
    for (let place = 0; place < this.rows.length; place++) {
      const full = this.rows[place];
      if (full) yield [place, full];
    }
  }

  /**
   * Brings it up to what is stored now. Inside a transaction it sees what that has written so far, and forgets all if it
   * comes to nothing. @returns whether anything changed
   */
  async catchUp(): Promise<boolean> {
    const { db } = this.work;
    // Told before whoever waits for the transaction is told.
    const forget = () => this.forget();
    const outer = Dexie.currentTransaction;
    outer?.on('error', forget);
    outer?.on('abort', forget);
    return db.transaction('r', db.assortmentTables, async (own) => {
      const terms = await readAgedTerms(db, this.work.clock());
      // Only now that storage has answered is it this one's turn: whoever stood before it may have read all already.
      const { forgotten } = this;
      const rows = await journalSince(db.journal, this.seen, OURS);
      const before = this.known;
      const filled = this.takeTemplates(terms.templates);
      const changed = rows && (await this.reread(rows, filled));
      if (!rows) await this.build();
      else if (rows.length) this.seen = rows.at(-1)!.seq;
      if (this.forgotten !== forgotten) this.seen = -1;
      // All is read: who waits to write need not wait until it is derived.
      if (!outer) own.idbtrans.commit();
      return this.derive(terms, before, changed);
    });
  }

  /** Begins anew with the next question. */
  forget(): void {
    this.forgotten++;
    this.seen = -1;
  }

  private async build(): Promise<void> {
    const { db } = this.work;
    const end = await journalEnd(db.journal);
    const [products, variants, items, listings, open] = await Promise.all([
      db.products.toArray(),
      db.variants.toArray(),
      db.items.toArray(),
      db.listings.toArray(),
      db.orders.where('open').equals(1).toArray(),
    ]);
    this.seen = end;
    fill(this.products, products);
    fill(this.variants, variants);
    fill(this.items, items);
    fill(this.open, open);
    for (const places of [this.ofProduct, this.ofVariant, this.ofItem, this.ofBarcode]) places.clear();
    this.places.clear();
    this.free.length = 0;
    this.rows.length = 0;
    this.listings.length = 0;
    this.columns = new Columns(Math.max(1024, listings.length));
    for (const listing of listings) this.put(listing);
    for (let place = 0; place < this.listings.length; place++) this.assemble(place);
    this.barcodes.clear();
  }

  /** Takes templates as they are now; one that is the same stays the same object. @returns ids of those that are not */
  private takeTemplates(now: ReadonlyMap<string, CopyTemplate>): Set<string> {
    const before = this.templates;
    const changed = new Set([...before.keys()].filter((id) => !now.has(id)));
    this.templates = new Map(
      [...now].map(([id, template]) => {
        const known = before.get(id);
        if (known && JSON.stringify(known) === JSON.stringify(template)) return [id, known];
        changed.add(id);
        return [id, template];
      }),
    );
    return changed;
  }

  /** Reads the rows that the journal names. @param filled templates that changed */
  private async reread(journal: readonly JournalRow[], filled: ReadonlySet<string>): Promise<Changed> {
    const { db } = this.work;
    const keys = Object.fromEntries(OURS.map((t) => [t, new Set<string>()])) as Record<Ours, Set<string>>;
    for (const row of journal)
      if (isOurs(row.table)) for (const key of row.keys ?? []) keys[row.table].add(key);
    const read = async <T extends { readonly id: string }>(table: Table<T, string>, of: Ours) => {
      const ids = [...keys[of]];
      if (ids.length < MANY) return ids.length ? table.bulkGet(ids) : [];
      // Of many the whole table is read at once, which costs less than asking for each.
      const all = new Map((await table.toArray()).map((row) => [row.id, row]));
      return ids.map((id) => all.get(id));
    };
    const [products, variants, items, listings, orders] = await Promise.all([
      read(db.products, 'products'),
      read(db.variants, 'variants'),
      read(db.items, 'items'),
      read(db.listings, 'listings'),
      read(db.orders, 'orders'),
    ]);
    const places = new Set<number>();
    let linked = keys.variants.size + keys.items.size + keys.products.size > 0;
    const each = <T>(of: Ours, rows: readonly (T | undefined)[], step: (id: string, row?: T) => void) => {
      for (const [i, id] of [...keys[of]].entries()) step(id, rows[i]);
    };
    each('products', products, (id, row) => {
      put(this.products, id, row);
      for (const place of this.ofProduct.of(id)) places.add(place);
    });
    each('variants', variants, (id, row) => {
      put(this.variants, id, row);
      for (const place of this.ofVariant.of(id)) places.add(place);
    });
    each('items', items, (id, row) => {
      put(this.items, id, row);
      for (const place of this.ofItem.of(id)) places.add(place);
    });
    each('listings', listings, (id, row) => {
      linked ||= !row || !this.places.has(id);
      if (row) places.add(this.put(row));
      else this.remove(id);
    });
    const left: Order[] = [];
    const came: Order[] = [];
    each('orders', orders, (id, row) => {
      const before = this.open.get(id);
      const now = row?.open === 1 ? row : undefined;
      if (before) left.push(before);
      if (now) came.push(now);
      put(this.open, id, now);
    });
    if (filled.size)
      for (const [place, listing] of this.listings.entries())
        if (listing?.copy && filled.has(listing.copy)) places.add(place);
    for (const place of places) this.assemble(place);
    for (const key of this.barcodes) for (const place of this.ofBarcode.of(key)) places.add(place);
    this.barcodes.clear();
    const gone = keys.listings.size > 0;
    return { places, left, came, linked, any: gone || places.size > 0 };
  }

  private put(listing: Listing): number {
    const known = this.places.get(listing.id);
    const place = known ?? this.free.pop() ?? this.listings.length;
    const before = this.listings[place];
    if (before && known !== undefined) {
      this.ofProduct.remove(before.product, place);
      this.ofVariant.remove(before.variant, place);
    }
    this.listings[place] = listing;
    this.places.set(listing.id, place);
    this.ofProduct.add(listing.product, place);
    this.ofVariant.add(listing.variant, place);
    return place;
  }

  private remove(id: string): void {
    const place = this.places.get(id);
    if (place === undefined) return;
    const listing = this.listings[place]!;
    this.places.delete(id);
    this.ofProduct.remove(listing.product, place);
    this.ofVariant.remove(listing.variant, place);
    this.leaveGoods(place);
    this.listings[place] = undefined;
    this.rows[place] = null;
    this.columns.clear(place);
    this.free.push(place);
  }

  /** Takes a listing out of what finds it by its goods. */
  private leaveGoods(place: number): void {
    const full = this.rows[place];
    if (!full) return;
    for (const { source } of offersOf(full)) this.ofItem.remove(itemKey(source.supplier, source.item), place);
    const barcode = barcodeKey(full);
    if (!barcode) return;
    this.ofBarcode.remove(barcode, place);
    this.barcodes.add(barcode);
  }

  /** Puts a listing together with what it is made of. */
  private assemble(place: number): void {
    this.leaveGoods(place);
    const listing = this.listings[place];
    const product = listing && this.products.get(listing.product);
    const variant = listing && this.variants.get(listing.variant);
    if (!listing || !product || !variant) {
      this.rows[place] = null;
      this.columns.clear(place);
      return;
    }
    const full: FullListing = {
      listing,
      product,
      variant,
      ...sourced(variant, (key) => this.items.get(key)),
      template: this.templates.get(listing.copy ?? '') ?? null,
    };
    this.rows[place] = full;
    for (const { source } of offersOf(full)) this.ofItem.add(itemKey(source.supplier, source.item), place);
    const barcode = barcodeKey(full);
    if (!barcode) return;
    this.ofBarcode.add(barcode, place);
    this.barcodes.add(barcode);
  }

  /** Derives again what is new or has a new input. */
  private derive({ readAt, ...terms }: AgedTerms, before: Shop | null, changed: Changed | null): boolean {
    const stamp = JSON.stringify([...readAt]);
    const again = !changed || !before || changed.linked || stamp !== this.terms;
    this.terms = stamp;
    const piecesOf = (orders: readonly Order[]) =>
      promisedPieces(
        orders,
        (id) => this.get(id)?.source,
        (supplier) => readAt.get(supplier) ?? 0,
      );
    const promised = again
      ? piecesOf([...this.open.values()])
      : changed.left.length + changed.came.length > 0
        ? shifted(before.promised, piecesOf(changed.left), piecesOf(changed.came))
        : before.promised;
    const read: Shop = {
      ...terms,
      promised,
      readAt,
      listedOn: (variant, marketplace) =>
        this.rowsAt(this.ofVariant.of(variant)).find((f) => f.listing.marketplace === marketplace) ?? null,
    };
    const places = changed && before && !pricesDiffer(before, read) ? changed.places : null;
    // Plans that are the same stay the same objects: what was compiled of them is kept.
    const shop: Shop = places ? { ...read, plans: before!.plans, rates: before!.rates } : read;
    this.known = shop;
    if (!places) {
      for (const [place, full] of this.all()) this.deriveAt(place, full);
      this.version++;
      return true;
    }
    for (const key of differing(before!.promised, promised))
      for (const place of this.ofItem.of(key)) places.add(place);
    const regrouped = groupStamp(before!) !== groupStamp(shop);
    const moved = new Set(
      [...shop.connections.values()]
        .filter((c) => termsOf(c) !== termsOf(before!.connections.get(c.id)))
        .map((c) => c.id),
    );
    const gone = [...before!.connections.keys()].filter((id) => !shop.connections.has(id));
    for (const id of gone) moved.add(id);
    if (moved.size)
      for (const [place, full] of this.all())
        if (
          moved.has(full.listing.marketplace) ||
          offersOf(full).some(({ source }) => moved.has(source.supplier))
        )
          places.add(place);
    if (shop.plans.some(goesByOthers)) for (const place of [...places]) this.addVariantsOf(place, places);
    for (const place of places) {
      const full = this.rows[place];
      if (full) this.deriveAt(place, full);
    }
    const any = changed!.any || places.size > 0 || regrouped;
    if (any) this.version++;
    return any;
  }

  /** A listing of other goods with the same barcode on the same marketplace; null where there is none. */
  private twinOf(full: FullListing): FullListing | null {
    const barcode = barcodeKey(full);
    if (!barcode || !isOnBench(full.listing)) return null;
    for (const place of this.ofBarcode.of(barcode)) {
      const other = this.rows[place];
      if (other && other.variant.id !== full.variant.id && other.listing.state !== 'ended') return other;
    }
    return null;
  }

  /** Adds the listings of a listing's variant on other marketplaces. */
  private addVariantsOf(place: number, places: Set<number>): void {
    const variant = this.rows[place]?.variant.id;
    if (variant) for (const other of this.ofVariant.of(variant)) places.add(other);
  }

  private deriveAt(place: number, full: FullListing): void {
    this.columns.reach(place);
    this.columns.derive(place, full, this.shop, this.twinOf(full));
    this.derivedAt[place] = ++this.derivations;
  }
}

/** By which listings of one marketplace with the same barcode are found; null without one. */
const barcodeKey = ({ listing, variant }: FullListing): string | null =>
  variant.gtin === null ? null : `${listing.marketplace} ${variant.gtin}`;

const held = new WeakMap<SampanDatabase, Assortment>();

/** The assortment of a shop, one for each worker: it may be behind until it caught up. */
export function assortmentOf(work: Work): Assortment {
  let known = held.get(work.db);
  if (!known) {
    known = new Assortment(work);
    held.set(work.db, known);
  }
  return known;
}

/** The assortment as it is stored now; inside a transaction with what that wrote so far. */
export async function caughtUp(work: Work): Promise<Assortment> {
  const assortment = assortmentOf(work);
  await assortment.catchUp();
  return assortment;
}

/** What prices are made with, as it is stored now. */
export const shopNow = async (work: Work): Promise<Shop> => (await caughtUp(work)).shop;

interface Changed {
  /** Listings of which a row changed. */
  readonly places: Set<number>;
  /** Open orders as they were and as they are, of those that changed. */
  readonly left: readonly Order[];
  readonly came: readonly Order[];
  /** Whether a listing may be bought of another item than before. */
  readonly linked: boolean;
  readonly any: boolean;
}

const fill = <T extends { readonly id: string }>(map: Map<string, T>, rows: readonly T[]) => {
  map.clear();
  for (const row of rows) map.set(row.id, row);
};

const put = <T>(map: Map<string, T>, id: string, row: T | undefined) => {
  if (row) map.set(id, row);
  else map.delete(id);
};

/** Whether a plan's prices go by those on other marketplaces. */
const goesByOthers = (plan: PlanRow) => plan.bands.some((b) => b.target.kind === 'site');

/** Another one where a group is another. */
export const groupStamp = ({ groups }: Pick<Shop, 'groups'>): string =>
  JSON.stringify((groups ?? []).map(({ id, at }) => [id, at]));

/** The groups, where plans, presets or goods that are kept off go by some. */
const groupsGoneBy = (shop: Shop): string =>
  [
    ...shop.plans.map((p) => p.filter),
    ...[...shop.connections.values()].flatMap((c) =>
      c.role === 'marketplace' ? [...(c.keptOff ?? []), ...(c.presets ?? []).map((p) => p.filter)] : [],
    ),
  ].some((filter) => groupsIn(filter).length > 0)
    ? groupStamp(shop)
    : '';

/** Whose stock is old by some rule. */
const agingNow = (shop: Shop): string[] =>
  [shop.settings.stock, ...shop.plans.flatMap((p) => p.stock ?? [])].flatMap((rule) =>
    [...(shop.readAt ?? [])].flatMap(([supplier]) => (isOld(shop, supplier, rule) ? [supplier] : [])),
  );

/** The parts of a connection that prices depend on. */
const termsOf = (c: Connection | undefined): string =>
  JSON.stringify(
    !c
      ? null
      : c.role === 'supplier'
        ? [c.name, c.currency, c.shipping, c.costs, c.leap]
        : [c.site, c.optedIn, c.buyers, c.keptOff, c.categories, c.presets],
  );

/** Whether something changed that every price depends on. */
function pricesDiffer(a: Shop, b: Shop): boolean {
  const of = (shop: Shop) => {
    const { plans, settings, rates } = shop;
    const { stock, cushion, costTax, currency } = settings;
    return JSON.stringify([
      plans,
      calendarNow(shop),
      groupsGoneBy(shop),
      agingNow(shop),
      stock,
      cushion,
      costTax,
      currency,
      rates.books,
      [...rates.by],
    ]);
  };
  return of(a) !== of(b);
}

/** Numbers by key without some, and with others. */
function shifted(
  before: ReadonlyMap<string, number>,
  less: ReadonlyMap<string, number>,
  more: ReadonlyMap<string, number>,
): Map<string, number> {
  const after = new Map(before);
  for (const [sign, some] of [
    [-1, less],
    [1, more],
  ] as const)
    for (const [key, n] of some) after.set(key, (after.get(key) ?? 0) + sign * n);
  for (const key of less.keys()) if (after.get(key) === 0) after.delete(key);
  return after;
}

/** Keys whose numbers are not the same. */
function differing(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): string[] {
  if (a === b) return [];
  const keys = [...b].flatMap(([key, n]) => (a.get(key) === n ? [] : [key]));
  for (const key of a.keys()) if (!b.has(key)) keys.push(key);
  return keys;
}
