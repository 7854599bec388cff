import { Catalogue } from './catalogue';
import { hashOf } from './hash';
import type { Item, ItemDetail } from './item';
import { type Incoming, Layout } from './layout';
import { type ColdPiece, detailAt, LISTS, type ListName, type Piece } from './piece';

/**
 * Items laid out as columns apart from any catalogue, with lists of their own: what a worker makes of a part
 * of a price list.
 */
export interface Sheet {
  readonly piece: Piece;
  readonly cold: ColdPiece;
  /** {@link hashOf} of each SKU, and whether all are different. */
  readonly skuHashes: Int32Array;
  readonly distinct: boolean;
}

/**
 * Lays items out apart from any catalogue, one after the other; their rows are 0 and up. Cost: about 4 µs an
 * item.
 */
export class SheetLayout {
  private readonly layout: Layout;
  private readonly skuHashes: Int32Array;

  /** @param room how many items there will be at most */
  constructor(room: number) {
    this.layout = new Layout(new Catalogue(), room);
    this.skuHashes = new Int32Array(room);
  }

  get n(): number {
    return this.layout.n;
  }

  add(item: Item, detail: ItemDetail, markA: number, markB: number): void {
    const row = this.layout.n;
    this.skuHashes[row] = hashOf(item.sku);
    this.layout.add({ row, item, detail, markA, markB });
  }

  close(): Sheet {
    const { piece, cold } = this.layout.close();
    const skuHashes = this.skuHashes.slice(0, piece.n);
    return { piece, cold: cold!, skuHashes, distinct: new Set(skuHashes).size === piece.n };
  }
}

/** The items of a sheet, one by one. */
export function itemsOnSheet({ piece, cold }: Sheet): Incoming[] {
  const alone = new Catalogue(piece.n);
  alone.apply(piece);
  return Array.from({ length: piece.n }, (_, k) => {
    const item = alone.itemAt(k);
    return {
      row: k,
      item,
      detail: detailAt(item.sku, cold, k),
      markA: piece.marks[k * 2]!,
      markB: piece.marks[k * 2 + 1]!,
    };
  });
}

/**
 * A sheet of new items as the next piece of a catalogue: its places in lists become those of the catalogue.
 * The sheet's own columns are written over. Cost: its different words once, its rows by loops over numbers.
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
