import type { Catalogue } from '../../core/catalogue';
import { designsIn, isPersonal } from '../../core/print';
import {
  type BlankRow,
  catalogueNote,
  type ItemRow,
  type Listing,
  type MarketConnection,
  type PrintRow,
  type Product,
  readCatalogue,
  type SupplierConnection,
  type Variant,
} from '../../store';
import type { Work } from '../context/work';
import { newListing } from '../listings/take';
import type { Assortment } from '../memory/assortment';
import { itemFrom } from '../memory/facts';
import { supplierOf } from '../quoting/worth';
import { extraOf } from './prints';
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

/** A product is known by its blank and design: made twice it would be the same. */
export const productId = (blank: BlankRow, design: string): string =>
  `print:${blank.id}:${design.slice(0, 32)}`;

/** All that products of a sheet are made of. */
export interface Setting {
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
export async function settingOf(
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
  const rows = await work.db.designs.bulkGet(whole.lines.flatMap((l) => designsIn(l.plan)));
  const designs = new Map(rows.flatMap((d) => (d ? [[d.id, lookedDesign(d)] as const] : [])));
  return { whole, blank, supplier, items, missing, designs };
}

/** Why nothing comes of a design; null where a product does. */
export const whyNot = (
  line: SheetLine,
  { blank }: Setting,
  wanted: ProductsWanted,
  assortment: Assortment,
) => {
  if (wanted.except.includes(line.design.id)) return 'left out';
  if (assortment.has('products', productId(blank, line.design.id))) return 'there already';
  return line.refused ? 'refused' : null;
};

/** A product of a design, with its variants and listings, as it would stand on the Bench. */
export function drafted(
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
          made: { print: print.id, extra, ...(isPersonal(line.plan) && { personal: true }) },
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
export function tagsFor({ design }: SheetLine, market: MarketConnection | undefined): string[] {
  const rules = market?.site.tags;
  if (!rules) return [];
  return design.keywords.filter((k) => k.length <= rules.longest).slice(0, rules.most);
}
