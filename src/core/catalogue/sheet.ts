import { Catalogue, type Incoming } from './catalogue';
import { hashOf } from './hash';
import { type ColdPiece, detailAt, LISTS, type ListName, type Piece } from './piece';

/** Items laid out as columns apart from any catalogue, with lists of their own: what a worker makes of a part of a price list. */
export interface Sheet {
  readonly piece: Piece;
  readonly cold: ColdPiece;
  /** {@link hashOf} of each SKU, and whether all are different. */
  readonly skuHashes: Int32Array;
  readonly distinct: boolean;
}

/** Lays items out apart from any catalogue: their rows are 0 and up. Cost: about 5 µs an item. */
export function layOut(items: readonly Incoming[]): Sheet {
  const { piece, cold } = new Catalogue().encode(items);
  const skuHashes = new Int32Array(items.length);
  for (let k = 0; k < items.length; k++) skuHashes[k] = hashOf(items[k]!.item.sku);
  return { piece, cold: cold!, skuHashes, distinct: new Set(skuHashes).size === items.length };
}

/** The items of a sheet, one by one. */
export function itemsOnSheet({ piece, cold }: Sheet): Incoming[] {
  const alone = new Catalogue(piece.n);
  alone.apply(piece);
  return Array.from({ length: piece.n }, (_, k) => {
    const item = alone.itemAt(k);
    return { row: k, item, detail: detailAt(item.sku, cold, k), markA: piece.marks[k * 2]!, markB: piece.marks[k * 2 + 1]! };
  });
}

/**
 * A sheet of new items as the next piece of a catalogue: its places in lists become those of the catalogue. The sheet's own columns are written over.
 * Cost: its different words once, its rows by loops over numbers.
 */
export function adopt(c: Catalogue, sheet: Piece): Piece {
  const fresh = {} as Record<ListName, string[]>;
  for (const name of LISTS) {
    const [places, added] = c.placesFor(name, sheet.fresh[name]);
    fresh[name] = added;
    const codes = name === 'word' ? sheet.words : sheet.codes[name];
    for (let i = 0; i < codes.length; i++) codes[i] = places[codes[i]!]!;
  }
  const { rows } = sheet;
  for (let k = 0; k < rows.length; k++) rows[k] = c.length + k;
  return { ...sheet, fresh };
}
