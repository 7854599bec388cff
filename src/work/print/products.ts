import { countOf, skuBy } from '../../core/units';
import {
  addAll,
  type BlankRow,
  itemKey,
  type Listing,
  type PrintRow,
  type Product,
  settingsOf,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { freeSku, usedSkus } from '../listings/take';
import { caughtUp } from '../memory/assortment';
import { marketOf } from '../quoting/worth';
import { drawOf } from './designs';
import { DesignFiles } from './jobs';
import { makeShots, scenesOf, shotsOf } from './mock-ups';
import { freshPrints, printOf } from './prints';
import { drafted, type ProductsWanted, productId, settingOf, tagsFor, whyNot } from './product-draft';
import type { SheetLine } from './sheets';
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
  const files = new DesignFiles(work);
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
