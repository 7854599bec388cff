import type { Catalogue } from './catalogue';
import { hashesOf, hashOfLong } from './hash';
import type { Item, ItemDetail } from './item';
import {
  CODES,
  type Codes,
  type Laid,
  LISTS,
  type ListName,
  NUMBERS,
  type NumberName,
  packGtin,
} from './piece';
import { BytesRoom, TextsRoom } from './texts';
import { eachWord } from './words';

/** An item on its way into a piece, with the mark of the record it came from. */
export interface Incoming {
  readonly row: number;
  readonly item: Item;
  /** Null where the row's description and pictures stay as they are. */
  readonly detail: ItemDetail | null;
  readonly markA: number;
  readonly markB: number;
}

const both = (description: number, pictures: number) => Math.imul(description, 0x01000193) ^ pictures;

/** Hash of what lies in the cold part: tells whether it changed without reading it. */
export const coldHash = (d: ItemDetail): number =>
  both(hashOfLong(d.description), hashOfLong(d.pictures.join('\n')));

/** Where texts stand in one of a catalogue's lists; those that are not in it are given the next places. */
class Places {
  readonly fresh: string[] = [];
  private readonly before: number;
  private known: ReadonlyMap<string, number> | null = null;
  private readonly added = new Map<string, number>();

  constructor(
    private readonly catalogue: Catalogue,
    private readonly name: ListName,
  ) {
    this.before = catalogue.lists[name].length;
  }

  of(text: string): number {
    if (this.before) this.known ??= this.catalogue.placesOf(this.name);
    const known = this.known?.get(text) ?? this.added.get(text);
    if (known !== undefined) return known;
    const place = this.before + this.fresh.length;
    this.added.set(text, place);
    this.fresh.push(text);
    return place;
  }
}

/**
 * Lays items out as a piece to be stored and applied next, one after the other as they come, so that nothing
 * of an item needs to stay. Rows must be those of `rowOf`, new ones from `length` on without a gap. Either
 * all come with their detail or none. Cost: about 3 µs an item.
 */
export class Layout {
  /** Items laid out so far. */
  n = 0;
  private readonly numbers: Record<NumberName, Int32Array>;
  private readonly codes: Record<Codes, Int32Array>;
  private readonly places: Record<ListName, Places>;
  private readonly rows: Int32Array;
  private readonly gtin: Float64Array;
  private readonly marks: Int32Array;
  private readonly cold: Int32Array;
  private readonly wordEnds: Int32Array;
  private words: Int32Array;
  private used = 0;
  private readonly sku: TextsRoom;
  private readonly title: TextsRoom;
  private readonly group: TextsRoom;
  private readonly description: BytesRoom | null;
  private readonly pictures: BytesRoom | null;
  private readonly optionCodes = new Map<Item['options'], number>();
  private lastTitle: string | null = null;
  private readonly addWord = (word: string) => this.addCode(this.places.word.of(word));

  /**
   * @param catalogue what the piece is applied to next
   * @param room how many items there will be at most
   * @param keepsCold whether descriptions and pictures of all stay as they are
   */
  constructor(
    private readonly catalogue: Catalogue,
    room: number,
    private readonly keepsCold = false,
  ) {
    this.places = Object.fromEntries(LISTS.map((name) => [name, new Places(catalogue, name)])) as Record<
      ListName,
      Places
    >;
    const column = () => new Int32Array(room);
    this.numbers = Object.fromEntries(NUMBERS.map((name) => [name, column()])) as Record<
      NumberName,
      Int32Array
    >;
    this.codes = Object.fromEntries(CODES.map((name) => [name, column()])) as Record<Codes, Int32Array>;
    [this.rows, this.cold, this.wordEnds] = [column(), column(), column()];
    this.gtin = new Float64Array(room);
    this.marks = new Int32Array(room * 2);
    this.words = new Int32Array(room * 8);
    [this.sku, this.title, this.group] = [new TextsRoom(room), new TextsRoom(room), new TextsRoom(room)];
    this.description = keepsCold ? null : new BytesRoom(room);
    this.pictures = keepsCold ? null : new BytesRoom(room);
  }

  private addCode(code: number): void {
    if (this.used === this.words.length) {
      const more = new Int32Array(this.words.length * 2 + 8);
      more.set(this.words);
      this.words = more;
    }
    this.words[this.used++] = code;
  }

  add({ row, item, detail, markA, markB }: Incoming): void {
    const k = this.n++;
    const { numbers: n, codes: c, places } = this;
    this.rows[k] = row;
    n.cost[k] = item.cost;
    n.map[k] = item.map ?? -1;
    n.msrp[k] = item.msrp ?? -1;
    n.stock[k] = item.stock;
    n.grams[k] = item.grams ?? -1;
    n.days[k] = item.days ?? -1;
    n.pictures[k] = detail ? detail.pictures.length : item.pictures;
    c.brand[k] = places.brand.of(item.brand);
    c.category[k] = places.category.of(item.category);
    let chosen = this.optionCodes.get(item.options);
    if (chosen === undefined) {
      chosen = places.options.of(JSON.stringify(item.options));
      this.optionCodes.set(item.options, chosen);
    }
    c.options[k] = chosen;
    c.shipsFrom[k] = places.shipsFrom.of(item.shipsFrom);
    this.gtin[k] = packGtin(item.gtin);
    this.marks[k * 2] = markA;
    this.marks[k * 2 + 1] = markB;
    this.sku.add(item.sku);
    this.title.add(item.title);
    this.group.add(item.group ?? '');
    if (this.keepsCold) this.cold[k] = this.catalogue.cold[row]!;
    this.description?.add(detail?.description ?? '');
    this.pictures?.add(detail?.pictures.join('\n') ?? '');
    // Variants of one product mostly share their title, and a known item mostly keeps it.
    const { catalogue } = this;
    if (item.title === this.lastTitle)
      for (let w = this.wordEnds[k - 2] ?? 0, end = this.used; w < end; w++) this.addCode(this.words[w]!);
    else if (row < catalogue.length && catalogue.hasTitle(row, item.title)) {
      const start = catalogue.wordStart[row]!;
      for (let w = start, end = start + catalogue.wordCount[row]!; w < end; w++)
        this.addCode(catalogue.words[w]!);
    } else eachWord(item.title, this.addWord);
    this.lastTitle = item.title;
    this.wordEnds[k] = this.used;
  }

  /** The piece, and its cold part where it has one. @param gone rows that are no longer offered */
  close(gone: Int32Array = new Int32Array(0)): Laid {
    const { n, keepsCold } = this;
    const cut = (column: Int32Array) => (n === column.length ? column : column.slice(0, n));
    const cold =
      this.description && this.pictures
        ? { description: this.description.close(), pictures: this.pictures.close() }
        : null;
    if (cold) {
      const [descriptions, pictures] = [hashesOf(cold.description), hashesOf(cold.pictures)];
      for (let k = 0; k < n; k++) this.cold[k] = both(descriptions[k]!, pictures[k]!);
    }
    const piece = {
      n,
      rows: cut(this.rows),
      gone,
      sku: this.sku.close(),
      title: this.title.close(),
      group: this.group.close(),
      numbers: Object.fromEntries(NUMBERS.map((name) => [name, cut(this.numbers[name])])) as Record<
        NumberName,
        Int32Array
      >,
      gtin: this.gtin.slice(0, n),
      codes: Object.fromEntries(CODES.map((name) => [name, cut(this.codes[name])])) as Record<
        Codes,
        Int32Array
      >,
      words: this.words.slice(0, this.used),
      wordEnds: cut(this.wordEnds),
      marks: this.marks.slice(0, n * 2),
      cold: cut(this.cold),
      keepsCold,
      fresh: Object.fromEntries(LISTS.map((name) => [name, this.places[name].fresh])) as Record<
        ListName,
        string[]
      >,
    };
    return { piece, cold };
  }
}
