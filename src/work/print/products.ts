import type { Catalogue } from '../../core/catalogue';
import { countOf, skuBy } from '../../core/units';
import {
  addAll,
  type BlankRow,
  catalogueNote,
  type ItemRow,
  itemKey,
  type Listing,
  type MarketConnection,
  type PrintRow,
  type Product,
  readCatalogue,
  type SupplierConnection,
  settingsOf,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { freeSku, newListing, usedSkus } from '../listings/take';
import { type Assortment, caughtUp } from '../memory/assortment';
import { itemFrom } from '../memory/facts';
import type { FullListing } from '../quoting/full-listing';
import { quoteListing } from '../quoting/quote';
import { marketOf, marketsOf, supplierOf } from '../quoting/worth';
import { drawOf } from './designs';
import { DesignFiles } from './jobs';
import { makeShots, scenesOf, shotsOf } from './mock-ups';
import { extraOf, freshPrints, printOf } from './prints';
import { type LookedDesign, lookedDesign, type SheetLine, type WholeSheet, wholeSheet } from './sheets';

/** Which products are to come of a sheet. */
export interface ProductsWanted {
  readonly sheet: string;
  readonly colours: readonly string[];
  readonly sizes: readonly string[];
  readonly markets: readonly string[];
  /** The category on each marketplace; missing where it is guessed. */
  readonly categories: Readonly<Record<string, string>>;
  /** The copy template of their texts; null for none. */
  readonly copy: string | null;
  /** Ids of scenes, the first picture first. */
  readonly scenes: readonly string[];
  /** Designs that are left out. */
  readonly except: readonly string[];
}

/** A design with what would come of it. */
export interface ProductPlanned {
  readonly design: string;
  readonly name: string;
  readonly small: string;
  readonly findings: SheetLine['findings'];
  /** Why nothing comes of it; null where a product does. */
  readonly why: 'refused' | 'there already' | 'left out' | null;
}

/** What a size costs and would be sold for; amounts in minor units, null where they cannot be told. */
export interface SizePrice {
  readonly size: string;
  readonly colour: string;
  readonly sku: string;
  readonly cost: number | null;
  readonly stock: number;
  readonly prices: readonly {
    readonly market: string;
    readonly price: number | null;
    readonly profit: number | null;
    readonly why: string;
  }[];
}

export interface ProductsPlanned {
  readonly rows: readonly ProductPlanned[];
  readonly products: number;
  readonly variants: number;
  readonly listings: number;
  readonly pictures: number;
  /** Items that the maker does not offer now. */
  readonly missing: readonly string[];
  /** The maker's currency. */
  readonly currency: string;
  readonly prices: readonly SizePrice[];
  readonly markets: readonly { readonly id: string; readonly name: string; readonly currency: string }[];
}

/** A product is known by its blank and design: made twice it would be the same. */
const productId = (blank: BlankRow, design: string): string => `print:${blank.id}:${design.slice(0, 32)}`;

interface Setting {
  readonly whole: WholeSheet;
  readonly blank: BlankRow;
  readonly supplier: SupplierConnection;
  readonly items: readonly (BlankRow['items'][number] & { readonly facts: ItemRow })[];
  readonly missing: readonly string[];
  readonly designs: ReadonlyMap<string, LookedDesign>;
}

async function catalogueOf(work: Work, supplier: string): Promise<Catalogue | null> {
  const note = await catalogueNote(work.db, supplier);
  return note ? readCatalogue(work.db, supplier, note.generation, note.pieces, note.items) : null;
}

/** All that products of a sheet are made of; null where the sheet or its maker is not there. */
async function settingOf(
  work: Work,
  wanted: ProductsWanted,
  assortment: Assortment,
): Promise<Setting | null> {
  const whole = await wholeSheet(work, wanted.sheet);
  const supplier = whole && supplierOf(assortment.shop, whole.blank.supplier);
  if (!whole || !supplier) return null;
  const { blank } = whole;
  const catalogue = await catalogueOf(work, supplier.id);
  const at = work.clock();
  const missing: string[] = [];
  const items = blank.items
    .filter((i) => wanted.colours.includes(i.colour) && wanted.sizes.includes(i.size))
    .flatMap((item) => {
      const facts = catalogue && itemFrom(catalogue, supplier, item.sku, at);
      if (facts && !facts.gone) return [{ ...item, facts }];
      missing.push(item.sku);
      return [];
    });
  const rows = await work.db.designs.bulkGet(
    whole.lines.flatMap((l) => Object.values(l.plan).flatMap((a) => a.layers.map((x) => x.design))),
  );
  const designs = new Map(rows.flatMap((d) => (d ? [[d.id, lookedDesign(d)] as const] : [])));
  return { whole, blank, supplier, items, missing, designs };
}

const whyNot = (line: SheetLine, { blank }: Setting, wanted: ProductsWanted, assortment: Assortment) => {
  if (wanted.except.includes(line.design.id)) return 'left out';
  if (assortment.has('products', productId(blank, line.design.id))) return 'there already';
  return line.refused ? 'refused' : null;
};

/** A product of a design, with its variants and listings, as it would stand on the Bench. */
function drafted(
  line: SheetLine,
  print: Pick<PrintRow, 'id'>,
  { blank, supplier, items }: Setting,
  wanted: ProductsWanted,
  shop: string,
  skuOf: (item: BlankRow['items'][number]) => string,
  at: number,
): { product: Product; variants: Variant[]; listings: Listing[] } {
  const id = productId(blank, line.design.id);
  const { name, keywords, set } = line.design;
  const product: Product = {
    id,
    supplier: supplier.id,
    group: items.length > 1 ? id : null,
    taken: {
      title: `${name}, ${blank.name}`,
      description: `<p>${escaped(name)}, printed to order on: ${escaped(blank.name)}.</p>${blank.care ? `<p>${escaped(blank.care)}</p>` : ''}`,
      category: blank.category,
      brand: shop,
      pictures: [],
      at,
    },
    theirs: null,
    title: `${name} ${blank.name.split(',')[0]!.toLowerCase()}`,
    description: null,
    brand: null,
    pictures: null,
    keywords: {
      design: name,
      goods: blank.name.split(',')[0]!,
      ...(keywords.length && { keywords: keywords.join(', ') }),
      ...(set && { set }),
    },
  };
  const extra = extraOf(blank, line.plan);
  const variants = items.map(
    (item): Variant => ({
      id: `${id}:${item.sku}`,
      product: id,
      sku: skuOf(item),
      options: {
        ...(blank.colours.length > 1 && { Colour: item.colour }),
        ...(item.size && { Size: item.size }),
      },
      gtin: null,
      grams: null,
      size: null,
      sources: [
        {
          supplier: supplier.id,
          item: item.sku,
          pack: 1,
          role: 'preferred',
          made: { print: print.id, extra },
        },
      ],
    }),
  );
  const listings = wanted.markets.flatMap((market) =>
    variants.map((v) => ({
      ...newListing(v, market, at, 'Made in the print room.'),
      category: wanted.categories[market] ?? null,
      ...(wanted.copy && { copy: wanted.copy }),
    })),
  );
  return { product, variants, listings };
}

const escaped = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

/** Tags of a design for a marketplace, as many and as long as it takes. */
function tagsFor({ design }: SheetLine, market: MarketConnection | undefined): string[] {
  const rules = market?.site.tags;
  if (!rules) return [];
  return design.keywords.filter((k) => k.length <= rules.longest).slice(0, rules.most);
}

/** What would come of a sheet, and what it would cost and be sold for, before anything is made. */
export async function planProducts(work: Work, wanted: ProductsWanted): Promise<ProductsPlanned | null> {
  const assortment = await caughtUp(work);
  const setting = await settingOf(work, wanted, assortment);
  if (!setting) return null;
  const { whole, blank, supplier, items, missing } = setting;
  const rows = whole.lines.map(
    (line): ProductPlanned => ({
      design: line.design.id,
      name: line.design.name,
      small: line.design.small,
      findings: line.findings,
      why: whyNot(line, setting, wanted, assortment),
    }),
  );
  const products = rows.filter((r) => r.why === null).length;
  const { shop } = assortment;
  const markets = marketsOf(shop).filter((m) => wanted.markets.includes(m.id));
  const [first] = whole.lines;
  const prices = first ? pricesOf(work, first, setting, wanted, assortment) : [];
  const scenes = scenesOf(await drawOf(work).scenes(), blank).filter((s) => wanted.scenes.includes(s.id));
  const colours = blank.colours.filter((c) => wanted.colours.includes(c.name));
  return {
    rows,
    products,
    variants: products * items.length,
    listings: products * items.length * markets.length,
    pictures: products * shotsOf(scenes, colours).length,
    missing,
    currency: supplier.currency,
    prices,
    markets: markets.map((m) => ({ id: m.id, name: m.name, currency: m.site.currency })),
  };
}

function pricesOf(
  work: Work,
  line: SheetLine,
  setting: Setting,
  wanted: ProductsWanted,
  { shop }: Assortment,
): SizePrice[] {
  const { product, variants, listings } = drafted(
    line,
    { id: '' },
    setting,
    wanted,
    shop.settings.shop,
    (i) => i.sku,
    work.clock(),
  );
  return setting.items.map((item, k) => {
    const variant = variants[k]!;
    const [source] = variant.sources;
    return {
      size: item.size,
      colour: item.colour,
      sku: item.sku,
      cost: item.facts.cost + source!.made!.extra,
      stock: item.facts.stock,
      prices: wanted.markets.map((market) => {
        const listing = listings.find((l) => l.variant === variant.id && l.marketplace === market)!;
        const full: FullListing = {
          listing,
          product,
          variant,
          source: source!,
          item: item.facts,
          template: null,
        };
        const quote = marketOf(shop, market) ? quoteListing(full, shop) : null;
        return {
          market,
          price: quote?.price ?? null,
          profit: quote?.sum?.profit ?? null,
          why: quote?.category === null ? 'its category is not known yet' : '',
        };
      }),
    };
  });
}

export interface ProductsMade {
  readonly products: number;
  readonly listings: number;
  /** Designs of which nothing came, and why. */
  readonly failed: readonly string[];
  readonly stopped: boolean;
}

/**
 * Makes products of a sheet: their pictures first, then all of them with variants and listings onto the Bench as one change.
 * What was stopped, or failed for one design, keeps none of the others back.
 * @param tell hears how many designs are pictured @returns whether to stop
 */
export async function makeProducts(
  work: Work,
  wanted: ProductsWanted,
  tell: (done: number, total: number) => boolean | Promise<boolean> = () => false,
): Promise<ProductsMade> {
  const { db } = work;
  const before = await caughtUp(work);
  const setting = await settingOf(work, wanted, before);
  if (!setting)
    return { products: 0, listings: 0, failed: ['The sheet is not there any more.'], stopped: false };
  const { whole, blank, items, designs } = setting;
  const lines = whole.lines.filter((line) => whyNot(line, setting, wanted, before) === null);
  const known = wanted.scenes.length ? scenesOf(await drawOf(work).scenes(), blank) : [];
  const scenes = wanted.scenes.flatMap((id) => known.find((s) => s.id === id) ?? []);
  const shots = shotsOf(
    scenes,
    blank.colours.filter((c) => wanted.colours.includes(c.name)),
  );
  const files = new DesignFiles(db);
  const failed: string[] = [];
  const ready: {
    line: SheetLine;
    print: PrintRow;
    pictures: string[];
    alts: Record<string, string>;
    shots: NonNullable<Product['shots']>;
  }[] = [];
  let [done, stopped] = [0, false];
  const waiting = [...lines];
  const draw = async (): Promise<void> => {
    for (let line = waiting.shift(); line && !stopped; line = waiting.shift()) {
      try {
        const print = await printOf(blank.id, line.plan, (id) => designs.get(id));
        const made = await makeShots(work, blank, whole.sheet.size, line, designs, files, shots);
        ready.push({
          line,
          print,
          pictures: made.map((m) => m.name),
          alts: Object.fromEntries(made.map((m) => [m.name, m.alt])),
          shots: Object.fromEntries(made.map((m) => [m.name, { scene: m.scene, colour: m.colour }])),
        });
      } catch (error) {
        failed.push(`${line.design.name}: ${(error as Error).message}`);
      }
      stopped = (await tell(++done, lines.length)) || stopped;
    }
  };
  await Promise.all(Array.from({ length: 3 }, draw));
  if (!ready.length || !items.length) return { products: 0, listings: 0, failed, stopped };
  const order = new Map(lines.map((line, k) => [line.design.id, k]));
  ready.sort((a, b) => order.get(a.line.design.id)! - order.get(b.line.design.id)!);
  const listings = await db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const assortment = await caughtUp(work);
    const used = await usedSkus(work, assortment);
    const { sku: pattern } = await settingsOf(db);
    const rows = { products: [] as Product[], variants: [] as Variant[], listings: [] as Listing[] };
    for (const { line, print, pictures, alts, shots: of } of ready) {
      // Made meanwhile in another tab.
      if (assortment.has('products', productId(blank, line.design.id))) continue;
      const code = codeOf(line.design.name);
      const skuOf = (item: BlankRow['items'][number]) =>
        freeSku(
          skuBy(pattern, {
            sku: `${code}-${item.sku}`,
            number: `${code}-${item.sku}`,
            brand: '',
            category: blank.category,
          }) || item.sku,
          used,
        );
      const own = drafted(line, print, setting, wanted, assortment.shop.settings.shop, skuOf, at);
      rows.products.push({ ...own.product, ...(pictures.length && { pictures, alts, shots: of }) });
      rows.variants.push(...own.variants);
      rows.listings.push(
        ...own.listings.map((l) => ({ ...l, tags: tagsFor(line, marketOf(assortment.shop, l.marketplace)) })),
      );
    }
    await db.prints.bulkPut(
      await freshPrints(
        work,
        ready.map((r) => r.print),
      ),
    );
    const facts = items
      .map((i) => i.facts)
      .filter((f) => !assortment.has('items', itemKey(f.supplier, f.item)));
    await addAll(
      db,
      { by: 'person', name: `${countOf(rows.products.length, 'printed product')} to the Bench` },
      [
        { table: 'products', rows: rows.products },
        { table: 'variants', rows: rows.variants },
        { table: 'items', rows: facts },
        { table: 'listings', rows: rows.listings },
      ],
      nowOf(work),
    );
    return rows;
  });
  return { products: listings.products.length, listings: listings.listings.length, failed, stopped };
}

/** A short code of a design's name, for SKUs. @example Moon phases → MOONPHAS */
function codeOf(name: string): string {
  const code = name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '')
    .toUpperCase()
    .slice(0, 8);
  return code || 'PRINT';
}

/** How many products are made with each design. */
export async function productsByDesign(work: Work): Promise<Map<string, number>> {
  const assortment = await caughtUp(work);
  const printOfProduct = new Map<string, string>();
  for (const { product, sources } of assortment.allVariants())
    for (const { made } of sources) if (made) printOfProduct.set(product, made.print);
  const products = new Map<string, number>();
  for (const print of printOfProduct.values()) products.set(print, (products.get(print) ?? 0) + 1);
  const counts = new Map<string, number>();
  for (const row of await work.db.prints.bulkGet([...products.keys()]))
    for (const { id } of row?.designs ?? []) counts.set(id, (counts.get(id) ?? 0) + products.get(row!.id)!);
  return counts;
}
