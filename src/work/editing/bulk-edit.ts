import { countOf } from '../../core/units';
import { type Goods, type Limits, proposeDescription, proposeTags, proposeTitle } from '../../core/writing';
import { applyChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Queued, queueChanges } from '../listings/publish';
import { repriceAfter } from '../listings/rules';
import { type Assortment, caughtUp } from '../memory/assortment';
import { brandOf, copyFieldsOf, descriptionOf, productTitle, suppliersText, titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { type FieldId, fieldOf, isOfPrice } from '../quoting/listing-cells';
import { groupOf, isOnBench } from '../quoting/listing-standing';
import { mendable } from '../quoting/mend';
import { marketOf, type Shop, type ShopTerms } from '../quoting/worth';
import { type Cell, type CellChange, type RefusedCell, rowsOfCells, weighCells } from './cells';

/** An edit of many listings. */
export type BulkEdit =
  | { readonly is: 'set'; readonly field: FieldId; readonly text: string }
  | {
      readonly is: 'replace';
      readonly field: FieldId;
      readonly find: string;
      readonly put: string;
      /** Capitals must be the same. */
      readonly exact: boolean;
    }
  | { readonly is: 'mend' }
  | { readonly is: 'write'; readonly field: 'title' | 'tags' | 'description' }
  | { readonly is: 'cells'; readonly cells: readonly Cell[]; readonly name: string };

/** The preview of an edit. */
export interface EditPreview {
  readonly name: string;
  readonly changes: readonly PreviewedChange[];
  readonly refused: readonly RefusedCell[];
  readonly unchanged: number;
  /** Listings that have the field together with another one that speaks for them. */
  readonly shared: number;
  /** Listings in which there is nothing to do: nothing was found, or nothing can be proposed or mended. */
  readonly nothing: number;
}

/** One cell that would change, with what a row of a table needs to say which. */
export interface PreviewedChange extends CellChange {
  /** Listing and field. */
  readonly key: string;
  readonly sku: string;
  readonly market: string;
  readonly title: string;
  /** It is on sale, so that its marketplace is told. */
  readonly live: boolean;
}

/** Weighs an edit for some listings. Nothing is changed. @param ids of listings; of a product on a marketplace the first speaks for all */
export function previewEdit(assortment: Assortment, ids: readonly string[], edit: BulkEdit): EditPreview {
  const { cells, shared, nothing } =
    edit.is === 'cells' ? { cells: edit.cells, shared: 0, nothing: 0 } : cellsFor(assortment, ids, edit);
  const { changes, refused, unchanged } = weighCells(assortment, cells);
  return {
    name: nameOf(edit, assortment.shop),
    changes: changes.map((change) => {
      const { listing, product } = assortment.get(change.listing)!;
      return {
        ...change,
        key: `${change.listing} ${change.field}`,
        sku: listing.sku,
        market: marketOf(assortment.shop, listing.marketplace)?.name ?? listing.marketplace,
        title: productTitle(product),
        live: listing.state === 'live' || listing.state === 'paused',
      };
    }),
    refused,
    unchanged,
    shared,
    nothing,
  };
}

function nameOf(edit: BulkEdit, shop: ShopTerms): string {
  switch (edit.is) {
    case 'set':
      return `${fieldOf(edit.field, shop).name} edited`;
    case 'replace':
      return `“${edit.find}” replaced in ${fieldOf(edit.field, shop).name}`;
    case 'mend':
      return 'Mended';
    case 'write':
      return `${fieldOf(edit.field, shop).name} as proposed`;
    case 'cells':
      return edit.name;
  }
}

function cellsFor(
  assortment: Assortment,
  ids: readonly string[],
  edit: Exclude<BulkEdit, { is: 'cells' }>,
): { readonly cells: Cell[]; readonly shared: number; readonly nothing: number } {
  const cells: Cell[] = [];
  let [shared, nothing] = [0, 0];
  const { shop } = assortment;
  const spoken = new Set<string>();
  for (const id of ids) {
    const full = assortment.get(id);
    if (!full) continue;
    const group = groupOf(full.listing);
    const first = !spoken.has(group);
    spoken.add(group);
    const cell = (field: FieldId, text: string, why?: readonly string[]) => {
      const { of } = fieldOf(field, shop);
      if (first || of === 'listing' || of === 'variant')
        cells.push({ listing: id, field, text, ...(why && { why }) });
      else shared++;
    };
    const before = cells.length + shared;
    if (edit.is === 'set') cell(edit.field, edit.text);
    else if (edit.is === 'replace') {
      const now = fieldOf(edit.field, shop).read(full, shop);
      const text = replaced(now, edit);
      if (text !== now) cell(edit.field, text);
    } else if (edit.is === 'mend') for (const m of mendable(full, shop)) cell(m.field, m.fix, [m.reason]);
    else if (first) {
      const written = writeFor(full, shop, edit.field);
      if (written) cell(edit.field, written.text, written.why);
    } else shared++;
    if (cells.length + shared === before) nothing++;
  }
  return { cells, shared, nothing };
}

/** A text with what is looked for replaced; what is looked for is text, no pattern. */
function replaced(text: string, { find, put, exact }: { find: string; put: string; exact: boolean }): string {
  if (!find) return text;
  const pattern = find.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return text.replace(new RegExp(pattern, exact ? 'gu' : 'giu'), () => put);
}

/** The facts about the goods of a listing that texts are proposed from. */
export function goodsOf(full: FullListing): Goods {
  const { product, variant } = full;
  const fields = copyFieldsOf(full);
  return {
    keyword: fields.get('keyword') ?? '',
    title: productTitle(product),
    brand: brandOf(full),
    category: suppliersText(product).category,
    // Variants of one listing differ in their options: a text for all of them names none.
    attributes: product.group === null ? Object.entries(variant.options) : [],
  };
}

/** A text that is proposed for a listing, and why; null where it would be as it is. */
export function writeFor(
  full: FullListing,
  shop: Shop,
  field: 'title' | 'tags' | 'description',
): { text: string; why: readonly string[] } | null {
  const site = marketOf(shop, full.listing.marketplace)?.site;
  if (!site) return null;
  const limits: Limits = {
    site: site.name,
    titleLimit: site.titleLimit,
    banned: site.bannedWords,
    tags: site.tags,
  };
  const goods = goodsOf(full);
  if (field === 'tags') {
    const { value, reasons } = proposeTags(goods, limits);
    return value.length ? { text: value.join(', '), why: reasons } : null;
  }
  const { value, reasons } =
    field === 'title' ? proposeTitle(goods, limits) : proposeDescription(goods, descriptionOf(full));
  return value && value !== (field === 'title' ? titleOf(full) : descriptionOf(full))
    ? { text: value, why: reasons }
    : null;
}

export interface Applied {
  readonly changed: number;
  /** Cells that wait for an answer. */
  readonly asked: number;
  /** Listings whose marketplace is told. */
  readonly sent: number;
  /** Listings on sale that lack something by now: their marketplace goes on with what it was told. */
  readonly lacking: number;
  /** Cells that cannot be, and the first of them. */
  readonly refused: number;
  readonly refusedCells: readonly RefusedCell[];
  readonly change: string | null;
}

/**
 * Carries cells out as one change. What is on sale is sent as the difference it is; prices follow where they depend on what
 * changed. Cells that are overtaken meanwhile are weighed anew.
 */
export async function applyCells(work: Work, cells: readonly Cell[], name: string): Promise<Applied> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const weighed = weighCells(assortment, cells);
    const changes = weighed.changes.filter((c) => c.agreed || c.asks === undefined);
    const asked = weighed.changes.flatMap((c): RefusedCell[] =>
      c.agreed || c.asks === undefined ? [] : [{ ...c, reason: c.asks, asks: true }],
    );
    const refused = [...asked, ...weighed.refused];
    const { rows, listings } = rowsOfCells(assortment, changes);
    const count = countOf(new Set(changes.map((c) => c.listing)).size, 'listing');
    const change = await applyChange(
      db,
      { by: 'person', name: `${name}: ${count}` },
      rows,
      nowOf(work),
      assortment.stored,
    );
    const ids = listings.map((l) => l.id);
    if (changes.some((c) => isOfPrice(c.field))) await repriceAfter(work, ids, name);
    const { sent, lacking } = await queueChanges(work, ids);
    return {
      changed: changes.length,
      asked: asked.length,
      sent,
      lacking,
      refused: refused.length,
      refusedCells: [...asked, ...weighed.refused.slice(0, 50)],
      change,
    };
  });
}

/** Makes a text that was typed for one marketplace the product's own, for all of them, as one change. */
export async function shareText(work: Work, id: string, field: 'title' | 'description'): Promise<Queued> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const full = assortment.get(id);
    if (!full || full.listing[field] === null) return { sent: 0, lacking: 0 };
    const { name } = fieldOf(field, assortment.shop);
    const all = assortment.rowsAt(assortment.ofProducts([full.product.id]));
    const says = `${name} typed for all marketplaces.`;
    await applyChange(
      db,
      { by: 'person', name: `${name} of ${productTitle(full.product)} on all marketplaces` },
      [
        { table: 'products', id: full.product.id, set: { [field]: full.listing[field] }, says },
        ...all.map(
          ({ listing }) =>
            ({
              table: 'listings',
              id: listing.id,
              set: { [field]: null, ...(isOnBench(listing) && { approvedAt: null }) },
              says,
            }) as const,
        ),
      ],
      nowOf(work),
    );
    return queueChanges(
      work,
      all.map((f) => f.listing.id),
    );
  });
}
