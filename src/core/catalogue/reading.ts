import { formatCount } from '../units';
import type { Catalogue } from './catalogue';
import { RowTable } from './hash';
import { type Item, type ItemDetail, STOCK_STAYS } from './item';
import { coldHash, type Incoming, Layout } from './layout';
import { goneOnly, type Laid, type Piece, packGtin } from './piece';
import { adopt, type Sheet } from './sheet';
import { textAt } from './texts';

/** What reading a list again brought. */
export interface Tally {
  readonly read: number;
  readonly fresh: number;
  readonly back: number;
  readonly gone: number;
  readonly costUp: number;
  readonly costDown: number;
  readonly stock: number;
  readonly content: number;
  /** Rows of items that could not be told: their item may be any of those that did not come. */
  readonly unknown: number;
}

export const NO_TALLY: Tally = {
  read: 0,
  fresh: 0,
  back: 0,
  gone: 0,
  costUp: 0,
  costDown: 0,
  stock: 0,
  content: 0,
  unknown: 0,
};

/** An item whose cost or stock moved, with what they were: a point of its history. */
export interface Moved {
  readonly sku: string;
  readonly cost: number;
  readonly stock: number;
  readonly costBefore: number;
  readonly stockBefore: number;
}

/** What became of an item put in. */
export type Put = 'fresh' | 'changed' | 'same' | 'twice';

/** Whether a reading brought nothing. */
export const isNothing = ({ read: _, unknown: __, ...changes }: Tally): boolean =>
  Object.values(changes).every((n) => n === 0);

/** `14 new, 3 gone, cost up 12, down 4, stock of 310, content of 2`; `nothing changed`. */
export function tallyInWords(t: Tally): string {
  const parts = [
    t.fresh && `${formatCount(t.fresh)} new`,
    t.back && `${formatCount(t.back)} back`,
    t.gone && `${formatCount(t.gone)} gone`,
    t.costUp && `cost up ${formatCount(t.costUp)}`,
    t.costDown && `cost down ${formatCount(t.costDown)}`,
    t.stock && `stock of ${formatCount(t.stock)}`,
    t.content && `content of ${formatCount(t.content)}`,
  ].filter(Boolean);
  return parts.length ? parts.join(', ') : 'nothing changed';
}

/**
 * Items in a piece: small enough that one is read quickly for a single description, large enough that 200,000
 * items are few records.
 */
export const PIECE = 4000;

/** Fewer new items than this wait for others instead of becoming a piece of their own. */
const LEAST_WHOLE = 250;

/**
 * One reading of a supplier's list over the catalogue as it was known: takes items as they come, compares,
 * and gives out the pieces to be stored. The catalogue handed in is extended as pieces are given out; what is
 * stored becomes visible only when the reading ends, which is the caller's part.
 */
export class Reading {
  private seen: Uint8Array;
  private readonly pending: Incoming[] = [];
  /** Pieces that are laid out and not yet given out. */
  private readonly ready: Laid[] = [];
  /** Those whose description and pictures stay as they are. */
  private readonly keeping: Incoming[] = [];
  private readonly pendingSku = new Map<string, Incoming>();
  private moves: Moved[] = [];
  private marks: RowTable | null = null;
  private counts: { -readonly [K in keyof Tally]: Tally[K] };
  private nextRow: number;

  /**
   * @param useMarks whether marks of the records can be trusted: they were made from the same source in the
   *   same way
   * @param before what an interrupted reading had seen and counted, to go on from there
   */
  constructor(
    private readonly catalogue: Catalogue,
    useMarks: boolean,
    before?: { readonly seen: Uint8Array; readonly tally: Tally },
  ) {
    this.counts = { ...(before?.tally ?? NO_TALLY) };
    this.nextRow = catalogue.length;
    this.seen = new Uint8Array(
      Math.max(1024, Math.ceil((catalogue.length * 1.25) / 8), before?.seen.length ?? 0),
    );
    if (before) this.seen.set(before.seen);
    if (useMarks && catalogue.length) {
      this.marks = new RowTable(catalogue.length, (row) => catalogue.marks[row * 2]!);
      for (let row = 0; row < catalogue.length; row++)
        if (!catalogue.gone[row] && catalogue.marks[row * 2]) this.marks.add(row);
    }
  }

  get tally(): Tally {
    return this.counts;
  }

  /** Which rows were seen so far, one bit each. */
  get seenBits(): Uint8Array {
    return this.seen;
  }

  private see(row: number): boolean {
    if (row >> 3 >= this.seen.length) {
      const more = new Uint8Array(this.seen.length * 2);
      more.set(this.seen);
      this.seen = more;
    }
    const bits = this.seen;
    const bit = 1 << (row & 7);
    const before = (bits[row >> 3]! & bit) !== 0;
    bits[row >> 3]! |= bit;
    return before;
  }

  /** Whether any row can be known by its mark. */
  get hasMarks(): boolean {
    return this.marks !== null;
  }

  /**
   * The row that came from a record with this mark, so that the record need not be read; -1 where there is
   * none.
   */
  rowOfMark(a: number, b: number): number {
    return this.marks ? this.marks.find(a, (row) => this.catalogue.marks[row * 2 + 1] === b) : -1;
  }

  /** Counts a row as seen that stays as it is. @returns false where it came before in this reading */
  seeRow(row: number): boolean {
    if (this.see(row)) return false;
    this.counts.read++;
    return true;
  }

  /** Items that wait to become a piece. */
  get waiting(): number {
    return this.pending.length + this.keeping.length;
  }

  /** The row of a SKU that is known or was put in; -1 where neither. */
  rowOf(sku: string): number {
    return this.pendingSku.get(sku)?.row ?? this.catalogue.rowOf(sku);
  }

  /** The SKU of a row that is known or was put in. */
  skuOf(row: number): string {
    if (row < this.catalogue.length) return this.catalogue.skuAt(row);
    return this.pending.find((i) => i.row === row)!.item.sku;
  }

  /**
   * What is known of a SKU so far, offered or gone; null where it is new. Items put in a moment ago are
   * known, too.
   */
  itemOf(sku: string): { item: Item; row: number } | null {
    const waiting = this.pendingSku.get(sku);
    if (waiting !== undefined) return { item: waiting.item, row: waiting.row };
    const row = this.catalogue.rowOf(sku);
    return row < 0 ? null : { item: this.catalogue.itemAt(row), row };
  }

  /**
   * Takes one item. `twice` means that its SKU came before in this reading; the first stays.
   * @param detail null leaves description and pictures of a known item as they are: a list of stock and
   *   cost alone
   */
  put(read: Item, detail: ItemDetail | null, markA = 0, markB = 0): Put {
    const c = this.catalogue;
    if (this.pendingSku.has(read.sku)) return 'twice';
    const known = c.rowOf(read.sku);
    const item =
      read.stock === STOCK_STAYS
        ? { ...read, stock: known < 0 || c.gone[known] ? 0 : c.numbers.stock[known]! }
        : read;
    const row = known < 0 ? this.nextRow : known;
    if (this.see(row)) return 'twice';
    this.counts.read++;
    const was = known >= 0 && !c.gone[row];
    if (was) {
      const { cost, stock } = c.numbers;
      const content = !this.sameContent(row, item, detail);
      const up = item.cost - cost[row]!;
      const moved = up !== 0 || item.stock !== stock[row];
      if (!moved && !content && this.sameRest(row, item)) return 'same';
      if (up > 0) this.counts.costUp++;
      else if (up < 0) this.counts.costDown++;
      if (item.stock !== stock[row]) this.counts.stock++;
      if (content) this.counts.content++;
      if (moved)
        this.moves.push({
          sku: item.sku,
          cost: item.cost,
          stock: item.stock,
          costBefore: cost[row]!,
          stockBefore: stock[row]!,
        });
    } else {
      if (known < 0) this.counts.fresh++;
      else {
        this.counts.back++;
        this.moves.push({
          sku: item.sku,
          cost: item.cost,
          stock: item.stock,
          costBefore: c.numbers.cost[row]!,
          stockBefore: 0,
        });
      }
    }
    if (known < 0) this.nextRow++;
    const keeps = known >= 0 && (detail === null || c.cold[row] === coldHash(detail));
    const incoming = {
      row,
      item,
      detail: keeps ? null : (detail ?? { sku: item.sku, description: '', pictures: [] }),
      markA,
      markB,
    };
    this.pendingSku.set(item.sku, incoming);
    (keeps ? this.keeping : this.pending).push(incoming);
    return was ? 'changed' : 'fresh';
  }

  /**
   * Takes a sheet whole where nothing on it is known or comes twice, and there is enough of it for a piece of
   * its own.
   * @returns false where it is to be put item by item
   */
  putSheet(sheet: Sheet): boolean {
    const { piece } = sheet;
    const c = this.catalogue;
    if (piece.n < LEAST_WHOLE || !sheet.distinct) return false;
    for (let k = 0; k < piece.n; k++) {
      if (c.mayHave(sheet.skuHashes[k]!)) return false;
      if (this.pendingSku.size && this.pendingSku.has(textAt(piece.sku, k))) return false;
    }
    // New rows follow each other without a gap: those that wait go first.
    while (this.pending.length) this.ready.push(this.layOutNext(this.pending));
    const first = c.length;
    const adopted = adopt(c, piece);
    const { stock } = adopted.numbers;
    for (let k = 0; k < adopted.n; k++) if (stock[k] === STOCK_STAYS) stock[k] = 0;
    c.apply(adopted, sheet.skuHashes);
    for (let row = first; row < c.length; row++) this.see(row);
    this.counts.read += piece.n;
    this.counts.fresh += piece.n;
    this.nextRow += piece.n;
    this.ready.push({ piece: adopted, cold: sheet.cold });
    return true;
  }

  private sameContent(row: number, item: Item, detail: ItemDetail | null): boolean {
    const c = this.catalogue;
    return (
      (detail === null || c.cold[row] === coldHash(detail)) &&
      c.titleAt(row) === item.title &&
      c.lists.brand[c.codes.brand[row]!] === item.brand &&
      c.lists.category[c.codes.category[row]!] === item.category &&
      c.lists.options[c.codes.options[row]!] === JSON.stringify(item.options) &&
      c.gtin[row] === packGtin(item.gtin)
    );
  }

  private sameRest(row: number, item: Item): boolean {
    const { map, msrp, grams, days } = this.catalogue.numbers;
    const c = this.catalogue;
    return (
      map[row] === (item.map ?? -1) &&
      msrp[row] === (item.msrp ?? -1) &&
      grams[row] === (item.grams ?? -1) &&
      days[row] === (item.days ?? -1) &&
      c.groupAt(row) === item.group &&
      c.lists.shipsFrom[c.codes.shipsFrom[row]!] === item.shipsFrom
    );
  }

  /** The next piece to be stored, once enough items wait for it or `all` is asked for; null otherwise. */
  piece(all = false): Laid | null {
    const ready = this.ready.shift();
    if (ready) return ready;
    const least = all ? 1 : PIECE;
    // New rows must follow each other without a gap, so that they go first.
    const next =
      this.pending.length >= least ? this.pending : this.keeping.length >= least ? this.keeping : null;
    return next ? this.layOutNext(next) : null;
  }

  private layOutNext(waiting: Incoming[]): Laid {
    const part = waiting.splice(0, PIECE);
    const layout = new Layout(this.catalogue, part.length, waiting === this.keeping);
    for (const incoming of part) layout.add(incoming);
    const made = layout.close();
    this.catalogue.apply(made.piece);
    if (this.pending.length + this.keeping.length)
      for (const { item } of part) this.pendingSku.delete(item.sku);
    else this.pendingSku.clear();
    return made;
  }

  /** What moved since this was asked last. */
  takeMoves(): Moved[] {
    const moves = this.moves;
    this.moves = [];
    return moves;
  }

  /** Rows of what was offered and did not come so far. */
  missing(): Int32Array<ArrayBuffer> {
    const c = this.catalogue;
    const rows: number[] = [];
    for (let row = 0; row < c.length; row++)
      if (!c.gone[row] && !(this.seen[row >> 3]! & (1 << (row & 7)))) rows.push(row);
    return Int32Array.from(rows);
  }

  /** Takes rows for gone. Null where none of them is offered. */
  takeForGone(rows: Int32Array): Piece | null {
    const c = this.catalogue;
    const gone = rows.filter((row) => row < c.length && !c.gone[row]);
    if (!gone.length) return null;
    for (const row of gone) {
      const cost = c.numbers.cost[row]!;
      this.moves.push({
        sku: c.skuAt(row),
        cost,
        stock: 0,
        costBefore: cost,
        stockBefore: c.numbers.stock[row]!,
      });
    }
    this.counts.gone += gone.length;
    const piece = goneOnly(gone);
    c.apply(piece);
    return piece;
  }

  /**
   * Ends the reading of a whole list: everything offered that did not come is gone. Null where nothing is.
   */
  endWhole(): Piece | null {
    return this.takeForGone(this.missing());
  }

  /**
   * An item that came spoiled this time stays as it was last read well. @param sku null where it cannot be
   * told which one it is
   */
  keep(sku: string | null): void {
    if (sku === null) {
      this.counts.unknown++;
      return;
    }
    const row = this.catalogue.rowOf(sku);
    if (row >= 0) this.see(row);
  }

  /** Counts rows as seen without reading them: a page that the supplier says is unchanged. */
  seeRows(rows: Int32Array): void {
    for (const row of rows) if (!this.see(row)) this.counts.read++;
  }
}
