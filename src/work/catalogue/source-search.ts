import {
  type Catalogue,
  type Found,
  hashOf,
  ITEM_FIELDS,
  type Item,
  mayBecomeField,
  NO_PRICE,
  type Prices,
  readItems,
  Searcher,
  type Shelf,
  wordsOf,
} from '../../core/catalogue';
import { categoryFor } from '../../core/checks';
import { digitsOf } from '../../core/money';
import { problemInWords } from '../../core/pricing';
import { assertUnderstood, type Condition, lineOf, readCondition } from '../../core/query';
import { isGtin } from '../../core/units';
import {
  allConnections,
  catalogueNote,
  firstPictures,
  historyOf,
  type PlanRow,
  readCatalogue,
  readDetails,
  readPieces,
  type SupplierConnection,
} from '../../store';
import type { Work } from '../context/work';
import { findLinks, type Link, linkListings, setBackup } from '../listings/link';
import { type Taken, type Taking, takeItems } from '../listings/take';
import { caughtUp } from '../memory/assortment';
import { itemFrom } from '../memory/facts';
import { readAgedTerms } from '../memory/read-shop';
import { recheckOrders } from '../orders/due';
import type { RulesDraft } from '../pricing/draft';
import type { AheadOrder, WhatIf } from '../pricing/prospects';
import { planOn } from '../quoting/plan-choice';
import { termsFor } from '../quoting/pricing-terms';
import { type Quote, quoteItem } from '../quoting/solve';
import { marketOf, marketsOf, nameIn, type ShopTerms, supplierOf } from '../quoting/worth';
import { expectedPrices, plansOf, pricesKey } from './expected-prices';
import { type OfferedRows, offeredAhead } from './offered';
import {
  keyOf,
  type Meant,
  type PastedLine,
  type SourceFound,
  type SourceItem,
  type SourceRow,
  type SourceSearch,
  splitKey,
  type Weighed,
} from './source-rows';
import { takenRows } from './watch';

/**
 * All that a search sees, as text: connections are written with each poll of a service, and most of that changes nothing
 * that a search sees.
 */
async function seenOf(work: Work): Promise<string> {
  const { db } = work;
  const { variantCount } = await caughtUp(work);
  const [notes, plans, settings, rates, connections] = await Promise.all([
    db.notes.where('id').startsWith('catalogue:').toArray(),
    db.plans.toArray(),
    db.settings.toArray(),
    db.rates.toArray(),
    allConnections(db),
  ]);
  return JSON.stringify([
    ...[variantCount, notes, plans, settings, rates],
    connections.map((c) => [
      c.id,
      c.name,
      c.role === 'supplier' ? [c.shipping, c.costs] : [c.site, c.optedIn, c.buyers, c.categories, c.keptOff],
    ]),
  ]);
}

interface Loaded {
  readonly generation: number;
  readonly pieces: number;
  readonly catalogue: Catalogue;
  /** The state before, and the rows that were written since; null where all was read anew. */
  readonly since: { readonly pieces: number; readonly rows: readonly Int32Array[] } | null;
}

const MOST_LINES = 5_000;

const SORTED_AHEAD = 200;

/**
 * So often is a search asked before the first key: the compiler has seen enough then. 200,000 items: about
 * 0.2 s of a worker that has nothing else to do.
 */
const REHEARSALS = 24;

/**
 * All suppliers' catalogues held as columns and searched by scan. Lives in a worker, one for each tab. Only
 * new pieces are read after a refresh; prices are computed again only after plan, fees or pieces changed.
 * What acts or looks ahead looks at the database first; while one types, `lookAgain` is called from time to time instead.
 */
export class SourceSearcher {
  private loaded = new Map<string, Loaded>();
  private shop: ShopTerms | null = null;
  private searchers = new Map<string, Searcher>();
  /** Which plan holds for each row, by supplier and marketplace. */
  private plans = new Map<string, Int16Array>();
  private taken = new Map<string, Uint8Array>();
  private last: {
    searcher: Searcher;
    key: string;
    found: Found;
    used: string;
    begun: string | null;
    order: string;
    ids: Int32Array;
  } | null = null;
  private rehearsed = 0;
  private refreshing: Promise<void> | null = null;

  constructor(private readonly work: Work) {}

  /** Forgets what was read: the next question reads it again. */
  stale(): void {
    this.shop = null;
  }

  /** The state of the database that it read last, as text. */
  private seen = '';

  /**
   * Looks whether anything that a search sees was written since it was read, and reads it again. Cost where nothing was: a
   * handful of small rows. @returns whether there was something
   */
  async lookAgain(): Promise<boolean> {
    if (this.shop && (await seenOf(this.work)) === this.seen) return false;
    this.shop = null;
    await this.fresh();
    return true;
  }

  private async current(): Promise<ShopTerms> {
    await this.lookAgain();
    return this.fresh();
  }

  /**
   * Makes what the first search asks for: the catalogues, what is expected of them on the first marketplace, and all of
   * it in the first order.
   * @param rest lets others be heard in between
   */
  async ready(rest: () => Promise<unknown>): Promise<void> {
    const shop = await this.fresh();
    const market = marketsOf(shop)[0]?.id ?? null;
    for (const id of [...this.loaded.keys()]) {
      if (this.shop !== shop) return;
      this.pricesOf(id, market, shop);
      await rest();
    }
    await this.search({ market, query: '', sort: 'listed', descending: false, offset: 0, limit: 0 });
  }

  private async fresh(): Promise<ShopTerms> {
    while (!this.shop) {
      this.refreshing ??= this.refresh().finally(() => {
        this.refreshing = null;
      });
      await this.refreshing;
    }
    return this.shop;
  }

  private async refresh(): Promise<void> {
    const { db } = this.work;
    const seen = await seenOf(this.work);
    const shop = await readAgedTerms(db, this.work.clock());
    const suppliers = [...shop.connections.values()].filter(
      (c): c is SupplierConnection => c.role === 'supplier',
    );
    for (const id of this.loaded.keys()) if (!suppliers.some((s) => s.id === id)) this.loaded.delete(id);
    for (const { id } of suppliers) {
      const note = await catalogueNote(db, id);
      const known = this.loaded.get(id);
      if (!note) {
        this.loaded.delete(id);
        continue;
      }
      if (known && known.generation === note.generation && known.pieces === note.pieces) continue;
      if (known && known.generation === note.generation && known.pieces < note.pieces) {
        const { catalogue } = known;
        const rows: Int32Array[] = [];
        for await (const more of readPieces(db, id, note.generation, known.pieces, note.pieces))
          for (const piece of more) {
            catalogue.apply(piece);
            rows.push(piece.rows);
          }
        // A new object stands for a new state, so that what was derived from the old one is made again.
        this.loaded.set(id, {
          generation: note.generation,
          pieces: note.pieces,
          catalogue,
          since: { pieces: known.pieces, rows },
        });
      } else {
        const catalogue = await readCatalogue(db, id, note.generation, note.pieces, note.items);
        this.loaded.set(id, { generation: note.generation, pieces: note.pieces, catalogue, since: null });
      }
    }
    this.taken = new Map();
    for (const [id, { catalogue }] of this.loaded)
      this.taken.set(id, await takenRows(this.work, id, catalogue));
    this.searchers.clear();
    this.plans.clear();
    this.last = null;
    this.seen = seen;
    this.shop = shop;
  }

  private readonly prices = new Map<string, { key: string; of: Loaded; prices: Prices }>();

  /**
   * Expected prices of a supplier's rows on one marketplace; kept until plan, fees, shipping or rows change.
   */
  private pricesOf(id: string, market: string | null, shop: ShopTerms): Prices | null {
    const loaded = this.loaded.get(id)!;
    const key = pricesKey(shop, id, market);
    if (key === null) return null;
    const known = this.prices.get(id);
    if (known && known.key === key && known.of === loaded) return known.prices;
    const { since } = loaded;
    // Where only some rows came since, the others keep their prices.
    const still =
      known &&
      known.key === key &&
      known.of.catalogue === loaded.catalogue &&
      since?.pieces === known.of.pieces;
    const before = still ? { prices: known.prices, rows: since.rows.flatMap((r) => [...r]) } : undefined;
    const prices = expectedPrices(loaded.catalogue, shop, id, market, before)!;
    this.prices.set(id, { key, of: loaded, prices });
    return prices;
  }

  /** What would happen to the expected prices of all that is offered, on one marketplace; nothing is kept of it. */
  async whatIf(draft: RulesDraft, market: string, order: AheadOrder): Promise<WhatIf | null> {
    const shop = await this.current();
    const on = marketOf(shop, market);
    if (!on) return null;
    const after = { ...shop, plans: draft.plans };
    const rows = [...this.loaded].flatMap(([id, { catalogue }]): OfferedRows[] => {
      const before = this.pricesOf(id, market, shop);
      const then = before && expectedPrices(catalogue, after, id, market);
      if (!then) return [];
      return [
        {
          before,
          after: then,
          titleAt: (row) => catalogue.titleAt(row),
          skuAt: (row) => catalogue.skuAt(row),
          isGone: (row) => catalogue.gone[row] === 1,
          key: (row) => keyOf(id, catalogue.skuAt(row)),
        },
      ];
    });
    return offeredAhead(rows, { name: on.name, currency: on.site.currency }, order);
  }

  private searcher(market: string | null, shop: ShopTerms): Searcher {
    const known = this.searchers.get(market ?? '');
    if (known) return known;
    const shelves: Shelf[] = [...this.loaded].map(([id, { catalogue }]) => ({
      supplier: id,
      name: supplierOf(shop, id)!.name,
      scale: 10 ** digitsOf(supplierOf(shop, id)!.currency),
      catalogue,
      prices: this.pricesOf(id, market, shop),
      taken: this.taken.get(id)!,
    }));
    const made = new Searcher(shelves);
    this.searchers.set(market ?? '', made);
    return made;
  }

  /**
   * The rows of one window, the number of matches and of each choice, and what of the query could not be
   * used. Cost: one scan, one window of objects.
   */
  async search(s: SourceSearch): Promise<SourceFound> {
    const shop = await this.fresh();
    const begun = performance.now();
    const searcher = this.searcher(s.market, shop);
    if (this.last?.searcher !== searcher || this.last.key !== s.query) {
      this.last = {
        searcher,
        key: s.query,
        ...findTyped(searcher, s.query),
        order: '',
        ids: new Int32Array(0),
      };
    }
    const { last } = this;
    const order = `${s.sort}${s.descending}`;
    const upTo = Math.min(s.offset + s.limit, last.found.count);
    if (last.order !== order || last.ids.length < upTo) {
      const all = upTo > SORTED_AHEAD;
      last.ids = searcher.order(last.found, s.sort, s.descending, all ? last.found.count : SORTED_AHEAD);
      last.order = order;
    }
    const rows = [...last.ids.subarray(s.offset, upTo)].map((id) => this.rowOf(searcher, id, s.market, shop));
    return {
      total: searcher.total,
      matches: last.found.count,
      rows,
      problems: last.found.problems,
      facets: last.found.facets,
      used: last.used,
      begun: last.begun,
      took: performance.now() - begun,
    };
  }

  /**
   * Makes ready, between questions, what the first keys would wait for: the words, and the code itself, which
   * the browser compiles only once it was used some times. @returns whether there was something to do
   */
  prepare(): boolean {
    if (!this.last) return false;
    const { searcher } = this.last;
    if (searcher.prepare()) return true;
    if (this.rehearsed === REHEARSALS || !searcher.total) return false;
    this.rehearse(searcher, this.rehearsed++);
    return true;
  }

  /** Asks for a word that is there and drops the answer. */
  private rehearse(searcher: Searcher, turn: number): void {
    const { shelf, row } = searcher.at(Math.floor((turn * searcher.rows) / REHEARSALS));
    const [word = ''] = wordsOf(shelf.catalogue.titleAt(row));
    const terms = turn % 2 ? ' is:stocked cost:>0 margin:>0' : '';
    const found = searcher.find(readCondition(word.slice(0, 1 + (turn % 3)) + terms, ITEM_FIELDS));
    searcher.order(found, 'margin', true, SORTED_AHEAD);
  }

  /** Keys of the matches between two places of a sorted search: a range marked with Shift, seen or not. */
  async range(s: SourceSearch): Promise<string[]> {
    await this.search({ ...s, offset: 0, limit: s.offset + s.limit });
    const { searcher, ids } = this.last!;
    return [...ids.subarray(s.offset, s.offset + s.limit)].map((id) => {
      const { shelf, row } = searcher.at(id);
      return keyOf(shelf.supplier, shelf.catalogue.skuAt(row));
    });
  }

  private rowOf(searcher: Searcher, id: number, market: string | null, shop: ShopTerms): SourceRow {
    const { shelf, row } = searcher.at(id);
    const item = shelf.catalogue.itemAt(row);
    const expected = shelf.prices?.price[row] ?? NO_PRICE;
    return {
      key: keyOf(shelf.supplier, item.sku),
      supplier: shelf.supplier,
      currency: supplierOf(shop, shelf.supplier)!.currency,
      item,
      taken: shelf.taken[row] === 1,
      price: expected === NO_PRICE ? null : expected,
      profit: expected === NO_PRICE ? null : shelf.prices!.profit[row]!,
      problem: expected === NO_PRICE ? this.problemOf(item, row, shelf.supplier, market, shop) : null,
    };
  }

  /** Why an item would have no price, in words. */
  private problemOf(
    item: Item,
    row: number,
    supplier: string,
    market: string | null,
    shop: ShopTerms,
  ): string | null {
    const problem = market && this.quoteOf(item, row, supplier, market, shop)?.quote.problem;
    return problem ? problemInWords(problem, marketOf(shop, market)!.site.currency, nameIn(shop)) : null;
  }

  private quoteOf(
    item: Item,
    row: number,
    supplier: string,
    market: string | null,
    shop: ShopTerms,
  ): { quote: Quote; plan: PlanRow | null } | null {
    if (!market || !marketOf(shop, market)) return null;
    const key = `${supplier} ${market}`;
    let plans = this.plans.get(key);
    if (!plans) {
      plans = plansOf(this.loaded.get(supplier)!.catalogue, shop, supplier, market);
      this.plans.set(key, plans);
    }
    const chosen = shop.plans[plans[row]!];
    const plan = chosen ? planOn(chosen, shop, market) : null;
    const terms = termsFor(shop, supplier, market, plan)!;
    const category = categoryFor(terms.categories, item.category, item.title, terms.site.categories);
    return { quote: quoteItem(item, category, null, 0, terms), plan };
  }

  /** The first picture of some items, by key: told apart from the rows, so that no answer waits for files. */
  async pictures(keys: readonly string[]): Promise<Map<string, string>> {
    const found = new Map<string, string>();
    const bySupplier = new Map<string, number[]>();
    for (const key of keys) {
      const { supplier, sku } = splitKey(key);
      const row = this.loaded.get(supplier)?.catalogue.rowOf(sku) ?? -1;
      if (row < 0) continue;
      const own = bySupplier.get(supplier);
      if (own) own.push(row);
      else bySupplier.set(supplier, [row]);
    }
    for (const [supplier, rows] of bySupplier) {
      const { generation, catalogue } = this.loaded.get(supplier)!;
      const paths = await firstPictures(this.work.db, supplier, generation, catalogue, rows);
      for (const [sku, path] of paths) found.set(keyOf(supplier, sku), path);
    }
    return found;
  }

  /** One item in full with its history, or null where no catalogue has it now. */
  async look(key: string, market: string | null): Promise<SourceItem | null> {
    const shop = await this.fresh();
    const { supplier, sku } = splitKey(key);
    const loaded = this.loaded.get(supplier);
    const row = loaded?.catalogue.rowOf(sku) ?? -1;
    if (!loaded || row < 0) return null;
    const searcher = this.searcher(market, shop);
    const k = searcher.shelves.findIndex((s) => s.supplier === supplier);
    const { db } = this.work;
    const [details, history] = await Promise.all([
      readDetails(db, supplier, loaded.generation, loaded.catalogue, [row]),
      historyOf(db, supplier, sku),
    ]);
    const found = this.rowOf(searcher, searcher.bases[k]! + row, market, shop);
    const quoted = this.quoteOf(found.item, row, supplier, market, shop);
    return {
      ...found,
      quote: quoted?.quote ?? null,
      plan: quoted?.plan ?? null,
      detail: details.get(sku) ?? null,
      gone: loaded.catalogue.gone[row] === 1,
      history,
    };
  }

  /** Rows meant by an action, by supplier, with all variants of their products. */
  private rowsOf(searcher: Searcher, what: Meant): Map<string, { chosen: number[]; along: number[] }> {
    const chosen = new Map<string, Set<number>>();
    const add = (supplier: string, row: number) => {
      const own = chosen.get(supplier);
      if (own) own.add(row);
      else chosen.set(supplier, new Set([row]));
    };
    if ('query' in what) {
      const except = new Set(what.except);
      const meant = readItems(what.query);
      assertUnderstood(meant, ITEM_FIELDS);
      for (const id of searcher.ids(searcher.find(meant))) {
        const { shelf, row } = searcher.at(id);
        if (!except.has(keyOf(shelf.supplier, shelf.catalogue.skuAt(row)))) add(shelf.supplier, row);
      }
    } else {
      for (const key of what.keys) {
        const { supplier, sku } = splitKey(key);
        const c = this.loaded.get(supplier)?.catalogue;
        const row = c?.rowOf(sku) ?? -1;
        if (c && row >= 0 && !c.gone[row]) add(supplier, row);
      }
    }
    const all = new Map<string, { chosen: number[]; along: number[] }>();
    for (const [supplier, rows] of chosen) {
      const c = this.loaded.get(supplier)!.catalogue;
      const groups = new Set<string>();
      for (const row of rows) {
        const group = c.groupAt(row);
        if (group) groups.add(group);
      }
      const along: number[] = [];
      if (groups.size)
        for (let row = 0; row < c.length; row++) {
          const group = c.gone[row] || rows.has(row) ? null : c.groupAt(row);
          if (group && groups.has(group)) along.push(row);
        }
      all.set(supplier, { chosen: [...rows].sort((a, b) => a - b), along });
    }
    return all;
  }

  /** What taking would bring, before it is done. Cost: one search and one look at each row. */
  async weigh(what: Meant, market: string | null): Promise<Weighed> {
    const shop = await this.current();
    const searcher = this.searcher(market, shop);
    let [items, along, taken, noPrice, noPicture, noBarcode, noStock] = [0, 0, 0, 0, 0, 0, 0];
    const products = new Set<string>();
    const suppliers: { name: string; count: number }[] = [];
    for (const [supplier, rows] of this.rowsOf(searcher, what)) {
      const shelf = searcher.shelves.find((s) => s.supplier === supplier)!;
      const { catalogue: c, prices } = shelf;
      suppliers.push({ name: shelf.name, count: rows.chosen.length });
      for (const row of [...rows.chosen, ...rows.along]) {
        if (shelf.taken[row]) {
          taken++;
          continue;
        }
        products.add(`${supplier}:${c.groupAt(row) ?? c.skuAt(row)}`);
        if (!prices || prices.price[row]! < 0) noPrice++;
        if (c.numbers.pictures[row] === 0) noPicture++;
        if (c.gtin[row] === 0) noBarcode++;
        if (c.numbers.stock[row] === 0) noStock++;
      }
      items += rows.chosen.length;
      along += rows.along.filter((row) => !shelf.taken[row]).length;
    }
    return {
      items,
      along,
      products: products.size,
      taken,
      noPrice,
      noPicture,
      noBarcode,
      noStock,
      suppliers,
    };
  }

  /**
   * Puts marked items, or all matches of a query, on the Bench as one change; whole products come together.
   */
  async take(what: Meant, market: string, tell?: (done: number, total: number) => void): Promise<Taken> {
    const shop = await this.current();
    const { db } = this.work;
    const items: Taking[] = [];
    for (const [supplier, rows] of this.rowsOf(this.searcher(market, shop), what)) {
      const { catalogue, generation } = this.loaded.get(supplier)!;
      const taken = this.taken.get(supplier)!;
      const wanted = [...rows.chosen, ...rows.along].filter((row) => !taken[row]).sort((a, b) => a - b);
      const details = await readDetails(db, supplier, generation, catalogue, wanted);
      for (const row of wanted)
        items.push({
          supplier,
          item: catalogue.itemAt(row),
          detail: details.get(catalogue.skuAt(row)) ?? null,
          mark: catalogue.cold[row],
        });
    }
    const done = await takeItems(this.work, market, items, {}, tell);
    this.stale();
    return done;
  }

  /**
   * Answers pasted lines one by one: a link, a supplier's SKU or a barcode on each. Cost: one look-up a line;
   * barcodes one scan for all of them.
   */
  async findLines(text: string): Promise<{ lines: PastedLine[]; left: number }> {
    const shop = await this.current();
    const all = text.split(/\r\n|\r|\n/).map((t, i) => ({
      line: i + 1,
      text: t
        .trim()
        .replace(/^"(.*)"$/, '$1')
        .slice(0, 500),
    }));
    const given = all.filter((l) => l.text);
    const used = given.slice(0, MOST_LINES);
    const wanted = new Map<number, string[]>();
    for (const { text: t } of used) if (isGtin(t)) wanted.set(Number(t), []);
    if (wanted.size)
      for (const [supplier, { catalogue: c }] of this.loaded)
        for (let row = 0; row < c.length; row++) {
          if (c.gone[row] || !c.gtin[row]) continue;
          wanted.get(Math.floor(c.gtin[row]! / 16))?.push(keyOf(supplier, c.skuAt(row)));
        }
    const seen = new Map<string, number>();
    const lines = used.map(({ line, text: t }): PastedLine => {
      const bySku = (sku: string) =>
        [...this.loaded].flatMap(([supplier, { catalogue: c }]) => {
          const row = c.rowOf(sku);
          return row >= 0 && !c.gone[row] ? [keyOf(supplier, sku)] : [];
        });
      let by: PastedLine['by'] = 'SKU';
      let keys = bySku(t);
      if (!keys.length) keys = bySku(t.toUpperCase());
      if (!keys.length && wanted.has(Number(t))) {
        by = 'barcode';
        keys = wanted.get(Number(t))!;
      }
      if (!keys.length) {
        const fromLink = skusInLink(t).map((sku) => bySku(sku));
        if (fromLink.length) by = 'link';
        keys = fromLink.find((k) => k.length) ?? [];
      }
      const choices = keys.slice(0, 20).map((key) => {
        const { supplier, sku } = splitKey(key);
        const c = this.loaded.get(supplier)!.catalogue;
        const row = c.rowOf(sku);
        const source = supplierOf(shop, supplier)!;
        return {
          key,
          title: c.titleAt(row),
          supplier: source.name,
          cost: c.numbers.cost[row]!,
          currency: source.currency,
        };
      });
      const isTaken = (key: string) => {
        const { supplier, sku } = splitKey(key);
        return this.taken.get(supplier)![this.loaded.get(supplier)!.catalogue.rowOf(sku)] === 1;
      };
      const answer = (state: PastedLine['state'], says: string): PastedLine => ({
        line,
        text: t,
        state,
        by: keys.length ? by : null,
        choices,
        says,
      });
      if (!keys.length) {
        const digits = /^\d{8,14}$/.test(t);
        return answer(
          'unknown',
          digits && !isGtin(t)
            ? 'No item has it as SKU, and as a barcode its check digit is wrong.'
            : 'No supplier has an item with this SKU, barcode or link.',
        );
      }
      if (keys.length > 1) return answer('several', `${keys.length} items have it: choose.`);
      const before = seen.get(keys[0]!);
      seen.set(keys[0]!, before ?? line);
      if (isTaken(keys[0]!)) return answer('taken', 'It is on the Bench or listed already.');
      return answer('found', before ? `The same item as line ${before}.` : `Found by ${by}.`);
    });
    return { lines, left: given.length - used.length };
  }

  /** Finds what unlinked listings may sell, among all suppliers. */
  async findLinks(): Promise<{ looked: number; sure: number; took: number }> {
    const shop = await this.current();
    return findLinks(
      this.work,
      [...this.loaded].map(([id, { catalogue }]) => ({ supplier: supplierOf(shop, id)!, catalogue })),
    );
  }

  /** Links listings to items as one change, with what the catalogues know of the items now. */
  async link(links: readonly Link[]): Promise<number> {
    const shop = await this.current();
    const at = this.work.clock();
    const done = await linkListings(this.work, links, ({ supplier, item }) => {
      const c = this.loaded.get(supplier)?.catalogue;
      const from = supplierOf(shop, supplier);
      return c && from ? itemFrom(c, from, item, at) : null;
    });
    this.stale();
    // Orders that were held for want of a link may go now; those not sent yet go to the new supplier.
    await recheckOrders(this.work);
    return done;
  }

  /** Names a backup for a variant, or none, with what its catalogue knows of it now. @param on false to take this one away */
  async setBackup(variant: string, backup: Parameters<typeof setBackup>[2], on = true): Promise<void> {
    const shop = await this.current();
    const c = backup && this.loaded.get(backup.supplier)?.catalogue;
    const from = backup && supplierOf(shop, backup.supplier);
    const facts = c && from ? itemFrom(c, from, backup.item, this.work.clock()) : null;
    await setBackup(this.work, variant, backup, facts, on);
    this.stale();
    await recheckOrders(this.work);
  }

  /**
   * Hashes of supplier and SKU of all that is meant: what a watched search compares. Only rows of one
   * supplier if named.
   */
  async matchesOf(
    condition: Condition,
    market: string | null,
    supplier?: string,
  ): Promise<{ hashes: Int32Array; keys: string[] }> {
    const shop = await this.current();
    const searcher = this.searcher(market, shop);
    const keys: string[] = [];
    for (const id of searcher.ids(searcher.find(condition))) {
      const { shelf, row } = searcher.at(id);
      if (!supplier || shelf.supplier === supplier)
        keys.push(keyOf(shelf.supplier, shelf.catalogue.skuAt(row)));
    }
    return { hashes: Int32Array.from(keys, (key) => hashOf(key)), keys };
  }
}

/**
 * What a query finds while it is typed: where its last word finds nothing and a field's name begins so, as in
 * `lantern cos`, it is left out, so that the rows do not vanish before the value is typed.
 */
function findTyped(searcher: Searcher, query: string): { found: Found; used: string; begun: string | null } {
  const read = readCondition(query, ITEM_FIELDS, true);
  const found = searcher.find(read);
  const all = 'all' in read ? read.all : [];
  const last = all.at(-1);
  if (found.count || !last || !('word' in last) || !query.endsWith(last.word) || !mayBecomeField(last))
    return { found, used: query, begun: null };
  const before: Condition = { all: all.slice(0, -1) };
  return { found: searcher.find(before), used: lineOf(before, ITEM_FIELDS), begun: last.word };
}

/** Parts of a link that may be a SKU: values of the query and segments of the path, last first. */
function skusInLink(text: string): string[] {
  if (!/^https?:\/\//i.test(text)) return [];
  try {
    const url = new URL(text);
    const parts = url.pathname.split('/').filter(Boolean).reverse().map(decodeURIComponent);
    return [...url.searchParams.values(), ...parts, ...parts.map((p) => p.replace(/\.\w{2,5}$/, ''))].slice(
      0,
      40,
    );
  } catch {
    return [];
  }
}
