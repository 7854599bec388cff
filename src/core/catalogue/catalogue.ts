import { hashOf, RowTable } from './hash';
import type { Item } from './item';
import {
  CODES,
  type Codes,
  LISTS,
  type ListName,
  NUMBERS,
  type NumberName,
  type Piece,
  unpackGtin,
} from './piece';
import { textAt, textIs } from './texts';

/**
 * One supplier's catalogue in memory, as columns over rows. Rows keep their number for good; one that is no
 * longer offered stays as `gone`. About 170 bytes an item. Built by applying pieces; nothing else changes it.
 */
export class Catalogue {
  length = 0;
  /** Items that are offered. */
  items = 0;
  pieces = 0;
  gone = new Uint8Array(0);
  readonly numbers = Object.fromEntries(NUMBERS.map((n) => [n, new Int32Array(0)])) as Record<
    NumberName,
    Int32Array
  >;
  readonly codes = Object.fromEntries(CODES.map((n) => [n, new Int32Array(0)])) as Record<Codes, Int32Array>;
  gtin = new Float64Array(0);
  marks = new Int32Array(0);
  cold = new Int32Array(0);
  readonly lists = Object.fromEntries(LISTS.map((n) => [n, [] as string[]])) as Record<ListName, string[]>;
  /** Words of row i: `words[wordStart[i]]` and the `wordCount[i]` − 1 after it. */
  words = new Int32Array(0);
  wordStart = new Int32Array(0);
  wordCount = new Int32Array(0);
  private wordsUsed = 0;
  private readonly places = new Map<ListName, Map<string, number>>();
  private pieceOf = new Int32Array(0);
  private placeOf = new Int32Array(0);
  private coldPieceOf = new Int32Array(0);
  private coldPlaceOf = new Int32Array(0);
  private readonly texts: Pick<Piece, 'sku' | 'title' | 'group'>[] = [];
  private skus: RowTable | null = null;
  private skuHash = new Int32Array(0);

  /** @param capacity how many rows to make room for at once */
  constructor(capacity = 0) {
    this.reserve(capacity);
  }

  /** Makes room for so many rows at once. */
  reserve(rows: number): void {
    if (rows <= this.gone.length) return;
    const size = this.gone.length === 0 ? rows : Math.max(rows, Math.ceil(this.gone.length * 1.25));
    const grown = (from: Int32Array, n = size) => {
      const to = new Int32Array(n);
      to.set(from);
      return to;
    };
    const gone = new Uint8Array(size);
    gone.set(this.gone);
    this.gone = gone;
    for (const n of NUMBERS) this.numbers[n] = grown(this.numbers[n]);
    for (const n of CODES) this.codes[n] = grown(this.codes[n]);
    const gtin = new Float64Array(size);
    gtin.set(this.gtin);
    this.gtin = gtin;
    this.marks = grown(this.marks, size * 2);
    this.cold = grown(this.cold);
    this.wordStart = grown(this.wordStart);
    this.wordCount = grown(this.wordCount);
    this.pieceOf = grown(this.pieceOf);
    this.placeOf = grown(this.placeOf);
    this.coldPieceOf = grown(this.coldPieceOf);
    this.coldPlaceOf = grown(this.coldPlaceOf);
    this.skuHash = grown(this.skuHash);
  }

  /**
   * Applies the next piece. Cost: its own size, copied column by column where its rows follow each other.
   * @param skuHashes {@link hashOf} of each SKU where all its rows are new and that is known
   */
  apply(piece: Piece, skuHashes?: Int32Array): void {
    const { n, rows } = piece;
    const to = Math.max(this.length, n ? rows.reduce((m, r) => Math.max(m, r + 1), 0) : 0);
    this.reserve(to);
    for (const name of LISTS) if (piece.fresh[name].length) this.extend(name, piece.fresh[name]);
    if (this.wordsUsed + piece.words.length > this.words.length) {
      const words = new Int32Array(
        Math.max(this.wordsUsed + piece.words.length, Math.ceil(this.words.length * 1.5)),
      );
      words.set(this.words.subarray(0, this.wordsUsed));
      this.words = words;
    }
    this.words.set(piece.words, this.wordsUsed);
    const first = rows[0] ?? 0;
    const whole = n > 0 && first >= this.length && rows[n - 1] === first + n - 1;
    if (whole) {
      for (const name of NUMBERS) this.numbers[name].set(piece.numbers[name], first);
      for (const name of CODES) this.codes[name].set(piece.codes[name], first);
      this.gtin.set(piece.gtin, first);
      this.marks.set(piece.marks, first * 2);
      this.cold.set(piece.cold, first);
      this.items += n;
    }
    for (let k = 0; k < n; k++) {
      const row = rows[k]!;
      if (!whole) {
        if (row >= this.length || this.gone[row]) this.items++;
        this.gone[row] = 0;
        for (const name of NUMBERS) this.numbers[name][row] = piece.numbers[name][k]!;
        for (const name of CODES) this.codes[name][row] = piece.codes[name][k]!;
        this.gtin[row] = piece.gtin[k]!;
        this.marks[row * 2] = piece.marks[k * 2]!;
        this.marks[row * 2 + 1] = piece.marks[k * 2 + 1]!;
        this.cold[row] = piece.cold[k]!;
      }
      const start = k === 0 ? 0 : piece.wordEnds[k - 1]!;
      this.wordStart[row] = this.wordsUsed + start;
      this.wordCount[row] = piece.wordEnds[k]! - start;
      this.pieceOf[row] = this.pieces;
      this.placeOf[row] = k;
      if (!piece.keepsCold) {
        this.coldPieceOf[row] = this.pieces;
        this.coldPlaceOf[row] = k;
      }
    }
    const grown = to > this.length;
    const before = this.length;
    this.length = to;
    this.wordsUsed += piece.words.length;
    this.texts.push({ sku: piece.sku, title: piece.title, group: piece.group });
    this.pieces++;
    if (grown && this.skus)
      for (let row = before; row < to; row++) this.addSku(row, skuHashes?.[row - before]);
    for (const row of piece.gone) {
      if (!this.gone[row]) this.items--;
      this.gone[row] = 1;
    }
  }

  private extend(name: ListName, fresh: readonly string[]): void {
    const list = this.lists[name];
    const known = this.places.get(name);
    for (const text of fresh) {
      known?.set(text, list.length);
      list.push(text);
    }
  }

  private addSku(row: number, known?: number): void {
    const { text, ends } = this.texts[this.pieceOf[row]!]!.sku;
    const place = this.placeOf[row]!;
    this.skuHash[row] = known ?? hashOf(text, place === 0 ? 0 : ends[place - 1]!, ends[place]!);
    this.skus!.add(row);
  }

  skuAt = (row: number): string => textAt(this.texts[this.pieceOf[row]!]!.sku, this.placeOf[row]!);
  /** Whether a row has this title, without making it. */
  hasTitle = (row: number, title: string): boolean =>
    textIs(this.texts[this.pieceOf[row]!]!.title, this.placeOf[row]!, title);
  titleAt = (row: number): string => textAt(this.texts[this.pieceOf[row]!]!.title, this.placeOf[row]!);
  groupAt = (row: number): string | null =>
    textAt(this.texts[this.pieceOf[row]!]!.group, this.placeOf[row]!) || null;
  /** Where the cold part of a row lies: the number of its piece and its place there. */
  coldPlace = (row: number): { piece: number; place: number } => ({
    piece: this.coldPieceOf[row]!,
    place: this.coldPlaceOf[row]!,
  });

  /**
   * The row of a SKU, offered or gone; -1 where it never was there. The first question builds a table (20 ms
   * for 200,000).
   */
  rowOf(sku: string): number {
    return this.skuTable().find(hashOf(sku), (row) =>
      textIs(this.texts[this.pieceOf[row]!]!.sku, this.placeOf[row]!, sku),
    );
  }

  /** Whether there may be a SKU with this hash; false is certain. */
  mayHave(skuHash: number): boolean {
    return this.skuTable().find(skuHash, () => true) >= 0;
  }

  private skuTable(): RowTable {
    if (!this.skus) {
      this.skus = new RowTable(this.length, (row) => this.skuHash[row]!);
      for (let row = 0; row < this.length; row++) this.addSku(row);
    }
    return this.skus;
  }

  /** All offered rows with a barcode, given as a number without leading zeros. One scan. */
  rowsOfGtin(gtin: number): number[] {
    const rows: number[] = [];
    const least = gtin * 16;
    const most = least + 15;
    for (let row = 0; row < this.length; row++)
      if (this.gtin[row]! >= least && this.gtin[row]! <= most && !this.gone[row]) rows.push(row);
    return rows;
  }

  itemAt(row: number): Item {
    const { numbers: n, codes: c, lists } = this;
    const maybe = (x: number) => (x < 0 ? null : x);
    return {
      sku: this.skuAt(row),
      group: this.groupAt(row),
      title: this.titleAt(row),
      brand: lists.brand[c.brand[row]!]!,
      category: lists.category[c.category[row]!]!,
      options: JSON.parse(lists.options[c.options[row]!]!),
      gtin: unpackGtin(this.gtin[row]!),
      cost: n.cost[row]!,
      map: maybe(n.map[row]!),
      msrp: maybe(n.msrp[row]!),
      stock: n.stock[row]!,
      grams: maybe(n.grams[row]!),
      shipsFrom: lists.shipsFrom[c.shipsFrom[row]!]!,
      days: maybe(n.days[row]!),
      pictures: n.pictures[row]!,
    };
  }

  /** Where texts stand in one of the lists; those that are not in it are given the next places and told. */
  placesFor(name: ListName, texts: readonly string[]): readonly [places: Int32Array, fresh: string[]] {
    const known = this.placesOf(name);
    const fresh: string[] = [];
    const places = new Int32Array(texts.length);
    const length = this.lists[name].length;
    for (let i = 0; i < texts.length; i++)
      places[i] = known.get(texts[i]!) ?? length + fresh.push(texts[i]!) - 1;
    return [places, fresh];
  }

  /** Where each text of a list stands. */
  placesOf(name: ListName): Map<string, number> {
    let known = this.places.get(name);
    if (!known) {
      known = new Map(this.lists[name].map((text, i) => [text, i]));
      this.places.set(name, known);
    }
    return known;
  }
}
