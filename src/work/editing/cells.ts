import type { Parsed } from '../../core/money';
import { formatCount } from '../../core/units';
import type { ChangedTable, Listing, RowChange } from '../../store';
import type { Assortment } from '../memory/assortment';
import type { FullListing } from '../quoting/full-listing';
import { type FieldId, type FieldPart, fieldOf, isShared, type ListingField } from '../quoting/listing-cells';
import { groupOf, isOnBench } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { agreedOf, ownPriceAsks } from '../quoting/own-price';
import { marketOf } from '../quoting/worth';

/** A field of a listing and the text that is to stand in it. */
export interface Cell {
  readonly listing: string;
  readonly field: FieldId;
  readonly text: string;
  /** Why, where that is worth saying. */
  readonly why?: readonly string[];
  /** A person answered the question about it: the value is meant. */
  readonly agreed?: boolean;
}

/** The change of one cell. */
export interface CellChange extends Cell {
  readonly before: string;
  /** As it will be read: what was typed, put in order. */
  readonly after: string;
  /** The question that a person must answer first; missing for none. */
  readonly asks?: string;
}

/** A cell that cannot be as it was asked for. */
export interface RefusedCell extends Cell {
  readonly reason: string;
  /** It waits for an answer alone. */
  readonly asks?: true;
}

/** Characters that are taken of a text, whichever way it comes in; marketplaces have narrower limits of their own. */
const LONGEST_TEXT = 2_000;
const LONGEST: Readonly<Partial<Record<FieldId, number>>> = {
  title: 500,
  brand: 200,
  description: 200_000,
  pictures: 40_000,
};
/** Characters of a refused text that are kept to be shown. */
const SHOWN = 200;

/** Cells weighed against the shop as it is: what they would change, and what cannot be. */
export interface Weighed {
  readonly changes: readonly CellChange[];
  readonly refused: readonly RefusedCell[];
  /** Cells that hold what they should already. */
  readonly unchanged: number;
}

/** Line ends as one, without blanks at either end: what a spreadsheet does to a text is no edit. */
export const sameText = (text: string): string => text.replace(/\r\n?/g, '\n').trim();

/** A listing with some fields set. */
const withPart = (full: FullListing, part: FieldPart, assortment: Assortment): FullListing => {
  const listing = { ...full.listing, ...part.listing };
  return {
    ...full,
    listing,
    product: { ...full.product, ...part.product },
    variant: { ...full.variant, ...part.variant },
    template: assortment.shop.templates.get(listing.copy ?? '') ?? null,
  };
};

/** Whose a cell is: of what several listings share, two rows cannot say different things. */
function ownerOf(cell: Cell, of: ListingField['of'], { listing, product, variant }: FullListing): string {
  const owner = { listing: listing.id, group: groupOf(listing), variant: variant.id, product: product.id }[
    of
  ];
  return `${cell.field} ${owner}`;
}

/**
 * Weighs cells: which change something, to what, and which cannot be. Of two cells for the same field of one product the
 * second is refused where it says something else.
 */
export function weighCells(assortment: Assortment, cells: readonly Cell[]): Weighed {
  const changes: CellChange[] = [];
  const refused: RefusedCell[] = [];
  const meant = new Map<string, string>();
  let unchanged = 0;
  for (const cell of cells) {
    const full = assortment.get(cell.listing);
    if (!full) {
      refused.push({ ...cell, reason: 'This listing is not there any more.' });
      continue;
    }
    const { shop } = assortment;
    const field = fieldOf(cell.field, shop);
    const longest = LONGEST[cell.field] ?? LONGEST_TEXT;
    if (cell.text.length > longest) {
      refused.push({
        ...cell,
        text: cell.text.slice(0, SHOWN),
        reason: `It has ${formatCount(cell.text.length)} characters; up to ${formatCount(longest)} are taken.`,
      });
      continue;
    }
    const before = field.read(full, shop);
    // An empty cell goes back to where the value came from, which may be what stands there now.
    if (sameText(cell.text) === sameText(before) && cell.text !== '') {
      unchanged++;
      continue;
    }
    const part: Parsed<FieldPart> = field.write(cell.text, full, shop);
    if (!part.ok) {
      refused.push({ ...cell, reason: part.reason });
      continue;
    }
    const after = field.read(withPart(full, part.value, assortment), shop);
    const stays = !differing(full, part.value);
    if (stays) {
      unchanged++;
      continue;
    }
    const owner = ownerOf(cell, field.of, full);
    const said = meant.get(owner);
    if (said === undefined) {
      meant.set(owner, after);
      const own = cell.field === 'price' ? (part.value.listing?.ownPrice ?? null) : null;
      const asks = own === null ? null : ownPriceAsks(full, shop, own);
      changes.push({ ...cell, before, after, ...(asks !== null && { asks }) });
    } else if (said === after) unchanged++;
    else refused.push({ ...cell, reason: 'Another row of the same product says something else.' });
  }
  return { changes, refused, unchanged };
}

/** The listings that have a field together. */
function sharing(assortment: Assortment, full: FullListing, of: ListingField['of']): FullListing[] {
  if (of === 'listing') return [full];
  if (of === 'variant') return assortment.rowsAt(assortment.ofVariants([full.variant.id]));
  const all = assortment.rowsAt(assortment.ofProducts([full.product.id]));
  const group = groupOf(full.listing);
  return of === 'product' ? all : all.filter((f) => groupOf(f.listing) === group);
}

/** Listings on sale on other marketplaces that cells of shared fields would change too, with where, and by which fields. */
export function liveElsewhere(
  assortment: Assortment,
  cells: readonly Cell[],
): { readonly listings: number; readonly markets: readonly string[]; readonly fields: readonly string[] } {
  const { shop } = assortment;
  const found = new Set<string>();
  const markets = new Set<string>();
  const fields = new Set<string>();
  for (const cell of cells) {
    const full = assortment.get(cell.listing);
    const field = full && fieldOf(cell.field, shop);
    if (!full || !isShared(field!)) continue;
    for (const { listing } of sharing(assortment, full, field!.of)) {
      if (listing.marketplace === full.listing.marketplace || !follows(listing)) continue;
      found.add(listing.id);
      markets.add(marketOf(shop, listing.marketplace)?.name ?? listing.marketplace);
      fields.add(field!.name);
    }
  }
  return { listings: found.size, markets: [...markets], fields: [...fields] };
}

const PARTS = [
  ['listing', 'listings'],
  ['product', 'products'],
  ['variant', 'variants'],
] as const satisfies readonly (readonly [keyof FieldPart, ChangedTable])[];

/** Whether a part sets anything to something else. */
function differing(full: FullListing, part: FieldPart): boolean {
  return PARTS.some(([key]) => {
    const now = full[key] as unknown as Readonly<Record<string, unknown>>;
    return Object.entries(part[key] ?? {}).some(
      ([name, value]) => JSON.stringify(now[name] ?? null) !== JSON.stringify(value ?? null),
    );
  });
}

/**
 * The rows that weighed cells change, each once. Approvals fall away where what was approved is no longer what it was.
 * @returns rows for one change, and the listings that they are about
 */
export function rowsOfCells(
  assortment: Assortment,
  changes: readonly CellChange[],
): { readonly rows: readonly RowChange[]; readonly listings: readonly Listing[] } {
  const sets = new Map<
    string,
    { table: ChangedTable; id: string; set: Record<string, unknown>; fields: Set<string> }
  >();
  const touched = new Map<string, Listing>();
  const put = (table: ChangedTable, id: string, set: object, field: string) => {
    const key = `${table}:${id}`;
    const known = sets.get(key) ?? { table, id, set: {}, fields: new Set<string>() };
    Object.assign(known.set, set);
    known.fields.add(field);
    sets.set(key, known);
  };
  for (const { listing, field: id, text, agreed } of changes) {
    const full = assortment.get(listing);
    const field = fieldOf(id, assortment.shop);
    const part = full && field.write(text, full, assortment.shop);
    if (!full || !part?.ok) continue;
    const { listing: own, product, variant } = part.value;
    if (product) put('products', full.product.id, product, field.name);
    if (variant) put('variants', full.variant.id, variant, field.name);
    for (const other of sharing(assortment, full, field.of)) {
      touched.set(other.listing.id, other.listing);
      if (own) {
        // What is kept beside others in one object is set anew for each.
        const theirs = other === full ? part : field.write(text, other, assortment.shop);
        if (theirs.ok && theirs.value.listing) {
          const set = theirs.value.listing;
          // An own price is agreed to as it is now, or goes by its guards.
          const agreement =
            id === 'price'
              ? { ownAgreed: agreed && set.ownPrice != null ? agreedOf(other, assortment.shop) : null }
              : {};
          put('listings', other.listing.id, { ...set, ...agreement }, field.name);
        }
      }
      if (isOnBench(other.listing) && other.listing.approvedAt !== null)
        put('listings', other.listing.id, { approvedAt: null }, field.name);
    }
  }
  const rows = [...sets.values()].map(({ table, id, set, fields }) => ({
    table,
    id,
    set,
    says: `${[...fields].join(', ')} edited.`,
  }));
  return { rows, listings: [...touched.values()] };
}
