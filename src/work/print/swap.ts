import { type Finding, findingsOf, type PrintPlan } from '../../core/print';
import { countOf } from '../../core/units';
import {
  applyChange,
  type BlankRow,
  type DesignRow,
  type PrintRow,
  type Product,
  type RowChange,
  type SheetRow,
  type Variant,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { queueChanges } from '../listings/publish';
import { type Assortment, caughtUp } from '../memory/assortment';
import { isOnBench } from '../quoting/listing-standing';
import { drawOf } from './designs';
import { DesignFiles } from './jobs';
import { makeShots, type Shot } from './mock-ups';
import { freshPrints, printOf } from './prints';
import { type LookedDesign, lookedDesign } from './sheets';

/** What would change if one design took the place of another. */
export interface SwapPlanned {
  readonly products: number;
  readonly sheets: number;
  readonly pictures: number;
  /** Listings on sale that their marketplaces would be told of. */
  readonly live: number;
  /** What a printer would say that he does not say now, by blank. */
  readonly findings: readonly { readonly blank: string; readonly finding: Finding }[];
}

export interface Swapped {
  readonly products: number;
  /** Listings whose marketplaces are told. */
  readonly told: number;
}

/** A product that is printed with a design. */
interface Used {
  readonly product: Product;
  readonly variants: readonly Variant[];
  readonly print: PrintRow;
  readonly blank: BlankRow;
}

const replaced = (plan: PrintPlan, from: string, to: string): PrintPlan =>
  Object.fromEntries(
    Object.entries(plan).map(([area, own]) => [
      area,
      { ...own, layers: own.layers.map((l) => (l.design === from ? { ...l, design: to } : l)) },
    ]),
  );

/** Products with a design, as they are printed now. */
async function usedIn(work: Work, assortment: Assortment, design: string): Promise<Used[]> {
  const { db } = work;
  const variants = [...assortment.allVariants()].filter((x) => x.sources.some((s) => s.made));
  const ids = new Set(variants.flatMap((x) => x.sources.flatMap((s) => s.made?.print ?? [])));
  const prints = new Map((await db.prints.bulkGet([...ids])).flatMap((p) => (p ? [[p.id, p] as const] : [])));
  const blanks = new Map((await db.blanks.toArray()).map((b) => [b.id, b]));
  const used = new Map<string, Used>();
  for (const variant of variants) {
    const print = prints.get(variant.sources.find((s) => s.made)!.made!.print);
    const blank = print && blanks.get(print.blank);
    const product = assortment.stored('products', variant.product) as Product | null;
    if (!print?.designs.some((d) => d.id === design) || !blank || !product) continue;
    const known = used.get(product.id);
    used.set(product.id, { product, print, blank, variants: [...(known?.variants ?? []), variant] });
  }
  return [...used.values()];
}

/** What findings look at: the designs of a print, one of them another. */
async function designsOf(work: Work, print: PrintRow, to: DesignRow): Promise<Map<string, LookedDesign>> {
  const rows = await work.db.designs.bulkGet(print.designs.map((d) => d.id));
  return new Map([...rows, to].flatMap((d) => (d ? [[d.id, lookedDesign(d)] as const] : [])));
}

const sizeOf = ({ blank }: Used) => blank.sizes[0] ?? '';

/** Looks what a swap would do, before it is done; null where one of the designs is not there. */
export async function planSwap(work: Work, from: string, to: string): Promise<SwapPlanned | null> {
  const next = await work.db.designs.get(to);
  if (!next || !(await work.db.designs.get(from))) return null;
  const assortment = await caughtUp(work);
  const used = await usedIn(work, assortment, from);
  const findings: { blank: string; finding: Finding }[] = [];
  const told = new Set<string>();
  for (const one of used) {
    const designs = await designsOf(work, one.print, next);
    for (const area of one.blank.areas) {
      const plan = one.print.plan[area.id];
      if (!plan) continue;
      const now = findingsOf(area, sizeOf(one), plan, (id) => designs.get(id), one.blank.colours);
      const then = replaced({ [area.id]: plan }, from, to)[area.id]!;
      for (const finding of findingsOf(area, sizeOf(one), then, (id) => designs.get(id), one.blank.colours)) {
        const key = `${one.blank.id} ${JSON.stringify(finding)}`;
        if (told.has(key) || now.some((f) => JSON.stringify(f) === JSON.stringify(finding))) continue;
        told.add(key);
        findings.push({ blank: one.blank.name, finding });
      }
    }
  }
  const listings = assortment.rowsAt(assortment.ofProducts(used.map((u) => u.product.id)));
  return {
    products: used.length,
    sheets: (await work.db.sheets.toArray()).filter((s) => s.designs.includes(from)).length,
    pictures: used.reduce((n, u) => n + Object.keys(u.product.shots ?? {}).length, 0),
    live: listings.filter((f) => f.listing.state === 'live' || f.listing.state === 'paused').length,
    findings,
  };
}

/** The pictures of a product as they were chosen, made again with another design. */
async function picturedAnew(
  work: Work,
  { product, blank, ...one }: Used,
  plan: PrintPlan,
  to: DesignRow,
  designs: ReadonlyMap<string, LookedDesign>,
  files: DesignFiles,
): Promise<Partial<Product>> {
  const shots = product.shots ?? {};
  const scenes = await drawOf(work).scenes();
  const pictures: string[] = [];
  const alts: Record<string, string> = {};
  const made: Record<string, { scene: string; colour: string }> = {};
  for (const name of product.pictures ?? []) {
    const of = shots[name];
    const scene = of && scenes.find((s) => s.id === of.scene);
    const colour = of && blank.colours.find((c) => c.name === of.colour);
    if (!scene || !colour) {
      pictures.push(name);
      if (product.alts?.[name]) alts[name] = product.alts[name];
      continue;
    }
    const shot: Shot = { scene, colour };
    const line = { design: to, plan };
    const [picture] = await makeShots(work, blank, sizeOf({ product, blank, ...one }), line, designs, files, [
      shot,
    ]);
    pictures.push(picture!.name);
    alts[picture!.name] = picture!.alt;
    made[picture!.name] = { scene: scene.id, colour: colour.name };
  }
  return { pictures, alts, shots: made };
}

const sheetWith = ({ designs, mended }: SheetRow, from: string, to: string): Partial<SheetRow> => {
  const { [from]: own, ...others } = mended;
  return {
    designs: [...new Set(designs.map((d) => (d === from ? to : d)))],
    mended: own ? { ...others, [to]: replaced(own, from, to) } : others,
  };
};

/**
 * Puts one design in the place of another in all products and on all sheets, as one change: placements stay, pictures are
 * made anew, marketplaces are told. Orders that came in before get what was shown to them.
 * @param tell hears how many products are pictured @returns whether to stop: then nothing is changed
 */
export async function swapDesign(
  work: Work,
  from: string,
  to: string,
  tell: (done: number, total: number) => boolean | Promise<boolean> = () => false,
): Promise<Swapped | null> {
  const { db } = work;
  const [was, next] = await db.designs.bulkGet([from, to]);
  if (!was || !next) return null;
  const used = await usedIn(work, await caughtUp(work), from);
  const files = new DesignFiles(work);
  const ready: { readonly of: Used; readonly print: PrintRow; readonly set: Partial<Product> }[] = [];
  for (const [k, of] of used.entries()) {
    const designs = await designsOf(work, of.print, next);
    const kept = new Map(of.print.designs.map((d) => [d.id, d]));
    const plan = replaced(of.print.plan, from, to);
    const print = await printOf(of.blank.id, plan, (id) => designs.get(id) ?? kept.get(id));
    const pictures = of.product.shots ? await picturedAnew(work, of, plan, next, designs, files) : {};
    const { title, keywords } = of.product;
    ready.push({
      of,
      print,
      set: {
        ...pictures,
        title: title?.replace(was.name, next.name) ?? null,
        keywords: {
          ...keywords,
          ...(keywords.design === was.name && { design: next.name, keywords: next.keywords.join(', ') }),
        },
      },
    });
    if (await tell(k + 1, used.length)) return { products: 0, told: 0 };
  }
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    await db.prints.bulkPut(
      await freshPrints(
        work,
        ready.map((r) => r.print),
      ),
    );
    const rows: RowChange[] = [];
    const says = `${next.name} is printed on it instead of ${was.name}.`;
    for (const { of, print, set } of ready) {
      rows.push({ table: 'products', id: of.product.id, set, says });
      for (const { id } of of.variants) {
        const now = assortment.variant(id);
        if (!now) continue;
        const sources = now.sources.map((s) =>
          s.made?.print === of.print.id ? { ...s, made: { ...s.made, print: print.id } } : s,
        );
        rows.push({ table: 'variants', id, set: { sources }, says });
      }
    }
    const listings = assortment.rowsAt(assortment.ofProducts(ready.map((r) => r.of.product.id)));
    for (const { listing } of listings)
      if (isOnBench(listing) && listing.approvedAt !== null)
        rows.push({ table: 'listings', id: listing.id, set: { approvedAt: null } });
    for (const sheet of await db.sheets.toArray())
      if (sheet.designs.includes(from))
        rows.push({ table: 'sheets', id: sheet.id, set: sheetWith(sheet, from, to), says });
    const name = `${next.name} instead of ${was.name} in ${countOf(ready.length, 'product')}`;
    await applyChange(db, { by: 'person', name }, rows, nowOf(work));
    const { sent } = await queueChanges(
      work,
      listings.map((f) => f.listing.id),
    );
    return { products: ready.length, told: sent };
  });
}
