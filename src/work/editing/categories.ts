import { type CategoryTable, categoryFor } from '../../core/checks';
import { countOf } from '../../core/units';
import type { RowChange } from '../../store';
import type { Work } from '../context/work';
import type { Queued } from '../listings/publish';
import { saveMarketRules } from '../listings/rules';
import { type Assortment, caughtUp } from '../memory/assortment';
import { isOnBench } from '../quoting/listing-standing';
import { marketOf } from '../quoting/worth';

/** A supplier's category, and what it is on a marketplace. */
export interface CategoryLine {
  readonly theirs: string;
  readonly products: number;
  /** Of them with a category of their own, which stays. */
  readonly own: number;
  /** A title of one of them, to see what is meant. */
  readonly example: string;
  /** Id of the site's category; null where none is known. */
  readonly category: string | null;
  readonly confirmed: boolean;
}

/** The suppliers' categories of what is listed on a marketplace: what is not known first, then what is guessed. */
export function categoriesOf(assortment: Assortment, marketId: string): CategoryLine[] {
  const market = marketOf(assortment.shop, marketId);
  if (!market) return [];
  const lines = new Map<string, { products: Set<string>; own: Set<string>; example: string }>();
  for (const [, { listing, product }] of assortment.all()) {
    if (listing.marketplace !== marketId) continue;
    const { category, title } = product.taken;
    const line = lines.get(category) ?? { products: new Set(), own: new Set(), example: title };
    line.products.add(product.id);
    if (listing.category !== null) line.own.add(product.id);
    lines.set(category, line);
  }
  const rank = (l: CategoryLine) => (l.category === null ? 0 : l.confirmed ? 2 : 1);
  return [...lines]
    .map(([theirs, { products, own, example }]): CategoryLine => {
      const confirmed = Object.hasOwn(market.categories ?? {}, theirs);
      const category = categoryFor(market.categories, theirs, '', market.site.categories);
      return { theirs, products: products.size, own: own.size, example, category, confirmed };
    })
    .sort((a, b) => rank(a) - rank(b) || b.products - a.products || (a.theirs < b.theirs ? -1 : 1));
}

/**
 * Keeps what suppliers' categories are on a marketplace, as one change: prices follow, because fees depend on the category;
 * approvals of what is another category now fall away.
 * @param said by the supplier's category; null goes back to the guess
 * @returns what became of what is on sale
 */
export async function saveCategories(
  work: Work,
  marketId: string,
  said: Readonly<Record<string, string | null>>,
): Promise<Queued> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const market = marketOf(assortment.shop, marketId);
    if (!market) return { sent: 0, lacking: 0 };
    const table = new Map(Object.entries(market.categories ?? {}));
    for (const [theirs, category] of Object.entries(said)) {
      if (category === null) table.delete(theirs);
      else if (market.site.categories.some((c) => c.id === category)) table.set(theirs, category);
    }
    const categories: CategoryTable = Object.fromEntries(table);
    const rows: RowChange[] = [];
    for (const [, { listing, product }] of assortment.all()) {
      if (listing.marketplace !== marketId || listing.category !== null) continue;
      if (!isOnBench(listing) || listing.approvedAt === null) continue;
      const { category, title } = product.taken;
      const of = (known: CategoryTable | undefined) =>
        categoryFor(known, category, title, market.site.categories);
      if (of(categories) !== of(market.categories))
        rows.push({
          table: 'listings',
          id: listing.id,
          set: { approvedAt: null },
          says: 'Its category changed.',
        });
    }
    const count = countOf(Object.keys(said).length, 'category', 'categories');
    return saveMarketRules(work, marketId, { categories }, rows, `${count} of suppliers for ${market.name}`);
  });
}
