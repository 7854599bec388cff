import type { Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import type { FullListing } from '../quoting/full-listing';
import { quoteListing } from '../quoting/quote';
import { marketOf, marketsOf } from '../quoting/worth';
import { drawOf } from './designs';
import { scenesOf, shotsOf } from './mock-ups';
import { drafted, type ProductsWanted, type Setting, settingOf, whyNot } from './product-draft';
import type { SheetLine } from './sheets';
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
