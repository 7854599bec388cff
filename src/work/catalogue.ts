import { type Columns, type Item, type ItemDetail, itemAt, joinColumns } from '../core/catalogue';
import { guessCategory } from '../core/checks';
import { fold } from '../core/copy';
import { type Fees, feesFor, profitAt, shippingFor, solvePrice } from '../core/pricing';
import { type Compiled, compile, type Fields, parseQuery } from '../core/query';
import type { Block } from '../store';
import { takeItems } from './bench';
import type { Work } from './context';
import type { CatalogueNote } from './jobs';
import { marketOf, planOf, type Quote, quoteItem, type Shop, supplierOf } from './quote';
import { readShop } from './shop';

export interface SourceRow {
  readonly item: Item;
  readonly taken: boolean;
  readonly picture: string | null;
  readonly price: number | null;
  readonly profit: number | null;
  readonly quote: Quote | null;
}

export const SOURCE_SORTS = ['title', 'cost', 'stock', 'price', 'profit', 'margin'] as const;
export type SourceSort = (typeof SOURCE_SORTS)[number];

export interface SourceSearch {
  readonly supplier: string;
  readonly market: string | null;
  readonly query: string;
  readonly sort: SourceSort;
  readonly descending: boolean;
  readonly offset: number;
  readonly limit: number;
}

export interface SourceFound {
  readonly total: number;
  readonly matches: number;
  readonly rows: readonly SourceRow[];
  readonly problems: Compiled<number>['problems'];
  readonly categories: readonly { readonly name: string; readonly count: number }[];
  readonly refused: Block['refused'];
}

interface Loaded {
  readonly stamp: unknown;
  readonly columns: Columns;
  readonly words: readonly string[];
  readonly refused: Block['refused'];
}

/** Expected price and profit of every item on one marketplace; -1 in `price` where there is none. */
interface Priced {
  readonly key: string;
  readonly price: Int32Array;
  readonly profit: Int32Array;
}

/**
 * A supplier's catalogue held as columns and searched by scan. Lives in a worker: one for each tab. Blocks are read again only after a refresh wrote
 * some, prices are computed again only after plan, fees or blocks changed.
 */
export class CatalogueDesk {
  private loaded = new Map<string, Loaded>();
  private priced: Priced | null = null;
  private last: {
    key: string;
    found: Int32Array;
    counts: { name: string; count: number }[];
    problems: Compiled<number>['problems'];
  } | null = null;

  constructor(private readonly work: Work) {}

  private async load(supplier: string): Promise<Loaded> {
    const { db } = this.work;
    const stamp = ((await db.notes.get(`catalogue:${supplier}`))?.value as CatalogueNote | undefined)?.stamp;
    const known = this.loaded.get(supplier);
    if (known && known.stamp === stamp) return known;
    const blocks = await db.blocks.where('[connection+from]').between([supplier, ''], [supplier, '￿']).toArray();
    const columns = joinColumns(blocks.map((b) => b.columns));
    const words = columns.title.map((title, i) =>
      fold(`${title} ${columns.sku[i]} ${columns.gtin[i] ?? ''} ${columns.category[i]} ${columns.options[i]}`),
    );
    const loaded = { stamp, columns, words, refused: blocks.flatMap((b) => b.refused) };
    this.loaded.set(supplier, loaded);
    return loaded;
  }

  private price(loaded: Loaded, supplier: string, market: string | null, shop: Shop): Priced {
    const site = market ? marketOf(shop, market)?.site : undefined;
    const source = supplierOf(shop, supplier);
    const plan = planOf(shop, null);
    const key = JSON.stringify([supplier, loaded.stamp, market, plan, source?.shipping, site?.fees]);
    if (this.priced?.key === key) return this.priced;
    const c = loaded.columns;
    const price = new Int32Array(c.length).fill(-1);
    const profit = new Int32Array(c.length);
    if (site && source && plan) {
      // Plain integers with everything that repeats taken out of the loop; the row that is looked at gets its whole quote from `quoteItem`.
      const known = new Map<string, Fees | null>();
      const feesOf = (i: number): Fees | null => {
        const name = c.category[i]!;
        if (!known.has(name)) {
          const guess = guessCategory(name, '', site.categories);
          known.set(name, guess === null ? null : feesFor(site.fees, guess));
        }
        // The title only decides where the category's own words tell nothing.
        const byTitle = known.get(name) ? null : guessCategory('', c.title[i]!, site.categories);
        return known.get(name) ?? (byTitle === null ? null : feesFor(site.fees, byTitle));
      };
      for (let i = 0; i < c.length && source.currency === site.currency; i++) {
        const fees = feesOf(i);
        const shipping = shippingFor(source.shipping, c.grams[i]!);
        if (!fees || shipping === null) continue;
        const landed = c.cost[i]! + shipping;
        const answer = solvePrice(plan, { landed, map: c.map[i]! < 0 ? null : c.map[i]!, msrp: c.msrp[i]! < 0 ? null : c.msrp[i]! }, fees);
        if (!answer.ok) continue;
        price[i] = answer.price;
        profit[i] = profitAt(answer.price, landed, fees);
      }
    }
    this.priced = { key, price, profit };
    return this.priced;
  }

  private async taken(supplier: string): Promise<Set<string>> {
    const keys = (await this.work.db.listings.where('[supplier+item]').between([supplier, ''], [supplier, '￿']).keys()) as unknown as [
      string,
      string,
    ][];
    return new Set(keys.map(([, item]) => item));
  }

  private find(
    loaded: Loaded,
    priced: Priced,
    taken: Set<string>,
    query: string,
  ): { found: Int32Array; counts: { name: string; count: number }[]; problems: Compiled<number>['problems'] } {
    const c = loaded.columns;
    const margin = (i: number) => (priced.price[i]! > 0 ? (priced.profit[i]! * 100) / priced.price[i]! : null);
    const fields: Fields<number> = {
      cost: { kind: 'number', scale: 100, get: (i) => c.cost[i]!, hint: 'cost:5..20' },
      stock: { kind: 'number', get: (i) => c.stock[i]!, hint: 'stock:>3' },
      price: { kind: 'number', scale: 100, get: (i) => (priced.price[i]! < 0 ? null : priced.price[i]!), hint: 'price:10..30' },
      profit: { kind: 'number', scale: 100, get: (i) => (priced.price[i]! < 0 ? null : priced.profit[i]!), hint: 'profit:>4' },
      margin: { kind: 'number', get: margin, hint: 'margin:>20' },
      weight: { kind: 'number', get: (i) => c.grams[i]!, hint: 'weight:<500' },
      is: {
        kind: 'flags',
        flags: ['taken', 'new', 'stocked'],
        get: (i, flag) => (flag === 'stocked' ? c.stock[i]! > 0 : taken.has(c.sku[i]!) === (flag === 'taken')),
        hint: 'is:new',
      },
      has: {
        kind: 'flags',
        flags: ['barcode', 'map', 'msrp'],
        get: (i, flag) => (flag === 'barcode' ? c.gtin[i] !== null : c[flag as 'map' | 'msrp'][i]! >= 0),
        hint: 'has:barcode',
      },
      brand: { kind: 'text', get: (i) => c.brand[i]!, hint: 'brand:Fellmoor' },
      sku: { kind: 'text', get: (i) => c.sku[i]!, hint: 'sku:BW-010042' },
      category: { kind: 'text', get: (i) => c.category[i]!, hint: 'category:"Optics > Filters"' },
    };
    const { test, problems } = compile(parseQuery(query), fields, (i) => loaded.words[i]!);
    const found = new Int32Array(c.length);
    const counts = new Map<string, number>();
    let n = 0;
    for (let i = 0; i < c.length; i++) {
      if (!test(i)) continue;
      found[n++] = i;
      counts.set(c.category[i]!, (counts.get(c.category[i]!) ?? 0) + 1);
    }
    return {
      found: found.subarray(0, n),
      counts: [...counts].map(([name, count]) => ({ name, count })).sort((a, b) => a.name.localeCompare(b.name)),
      problems,
    };
  }

  /** The rows of one window, the number of matches, and what of the query could not be used. Cost: one scan, one sort, one window of objects. */
  async search(s: SourceSearch): Promise<SourceFound> {
    const loaded = await this.load(s.supplier);
    const shop = await readShop(this.work.db);
    const priced = this.price(loaded, s.supplier, s.market, shop);
    const taken = await this.taken(s.supplier);
    const c = loaded.columns;
    const key = JSON.stringify([priced.key, taken.size, s.query, s.sort, s.descending]);
    if (this.last?.key !== key) {
      const { found, counts, problems } = this.find(loaded, priced, taken, s.query);
      const by: Record<Exclude<SourceSort, 'title'>, (i: number) => number> = {
        cost: (i) => c.cost[i]!,
        stock: (i) => c.stock[i]!,
        price: (i) => priced.price[i]!,
        profit: (i) => (priced.price[i]! < 0 ? Number.NEGATIVE_INFINITY : priced.profit[i]!),
        margin: (i) => (priced.price[i]! > 0 ? priced.profit[i]! / priced.price[i]! : Number.NEGATIVE_INFINITY),
      };
      const turn = s.descending ? -1 : 1;
      if (s.sort === 'title') found.sort((a, b) => turn * (c.title[a]! < c.title[b]! ? -1 : c.title[a]! > c.title[b]! ? 1 : a - b));
      else {
        const value = Float64Array.from({ length: c.length }, (_, i) => by[s.sort as 'cost'](i));
        found.sort((a, b) => turn * (value[a]! - value[b]!) || a - b);
      }
      this.last = { key, found, counts, problems };
    }
    const { found, counts, problems } = this.last;
    const rows = [...found.subarray(s.offset, s.offset + s.limit)].map((i) => this.row(loaded, i, s.supplier, s.market, shop, taken));
    return { total: c.length, matches: found.length, rows, problems, categories: counts, refused: loaded.refused };
  }

  private row(loaded: Loaded, i: number, supplier: string, market: string | null, shop: Shop, taken: Set<string>): SourceRow {
    const item = itemAt(loaded.columns, i);
    const site = market ? marketOf(shop, market)?.site : undefined;
    const source = supplierOf(shop, supplier);
    const plan = planOf(shop, null);
    const quote =
      site && source && plan
        ? quoteItem(item, guessCategory(item.category, item.title, site.categories), null, 0, plan, shop.settings.stock, site, source)
        : null;
    return {
      item,
      taken: taken.has(item.sku),
      picture: null,
      price: quote?.price ?? null,
      profit: quote?.sum?.profit ?? null,
      quote,
    };
  }

  /** One item in full, or null where the catalogue has no such SKU. */
  async look(supplier: string, market: string | null, sku: string): Promise<(SourceRow & { detail: ItemDetail | null }) | null> {
    const loaded = await this.load(supplier);
    const i = loaded.columns.sku.indexOf(sku);
    if (i < 0) return null;
    const row = this.row(loaded, i, supplier, market, await readShop(this.work.db), await this.taken(supplier));
    return { ...row, detail: (await this.details(supplier, new Set([sku]))).get(sku) ?? null };
  }

  private async details(supplier: string, skus: ReadonlySet<string>): Promise<Map<string, ItemDetail>> {
    const { db } = this.work;
    const blocks = await db.blocks.where('[connection+from]').between([supplier, ''], [supplier, '￿']).toArray();
    const wanted = blocks.filter((b) => b.columns.sku.some((sku) => skus.has(sku))).map((b) => [supplier, b.from] as [string, string]);
    const found = new Map<string, ItemDetail>();
    for (const block of await db.details.bulkGet(wanted)) for (const d of block?.details ?? []) if (skus.has(d.sku)) found.set(d.sku, d);
    return found;
  }

  /** Puts marked items, or all matches of a query, on the Bench; whole groups come together. */
  async take(
    supplier: string,
    market: string,
    what: { skus: readonly string[] } | { query: string },
  ): Promise<{ products: number; listings: number }> {
    const loaded = await this.load(supplier);
    const c = loaded.columns;
    let rows: number[];
    if ('query' in what) {
      const shop = await readShop(this.work.db);
      rows = [...this.find(loaded, this.price(loaded, supplier, market, shop), await this.taken(supplier), what.query).found];
    } else {
      const marked = new Set(what.skus);
      rows = c.sku.flatMap((sku, i) => (marked.has(sku) ? [i] : []));
    }
    const chosen = new Set(rows);
    const groups = new Set(rows.flatMap((i) => (c.group[i] ? [c.group[i]] : [])));
    if (groups.size) for (let i = 0; i < c.length; i++) if (c.group[i] && groups.has(c.group[i]!)) chosen.add(i);
    const items = [...chosen].sort((a, b) => a - b).map((i) => itemAt(c, i));
    const details = await this.details(supplier, new Set(items.map((i) => i.sku)));
    return takeItems(
      this.work,
      supplier,
      market,
      items.map((item) => ({ item, detail: details.get(item.sku) ?? null })),
    );
  }
}
