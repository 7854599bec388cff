import type { ItemDetail } from './item';
import { type Bytes, type Texts, unpackAt } from './texts';

/** Texts that repeat are kept once, in lists that only grow; rows hold their places in the list. */
export const LISTS = ['brand', 'category', 'options', 'shipsFrom', 'word'] as const;
export type ListName = (typeof LISTS)[number];
/** Lists of which a row has one text; of words it has several. */
export type Codes = Exclude<ListName, 'word'>;
export const CODES = LISTS.filter((l): l is Codes => l !== 'word');

/** Whole numbers of an item; -1 stands for “none given”. */
export const NUMBERS = ['cost', 'map', 'msrp', 'stock', 'grams', 'days', 'pictures'] as const;
export type NumberName = (typeof NUMBERS)[number];

/**
 * A part of a stored catalogue: some thousand items laid out as columns. A catalogue is its pieces applied in
 * their order: an item is written to `rows[k]`, which is a new row or one that is overwritten, so that a
 * refresh is one more piece with what changed.
 */
export interface Piece {
  readonly n: number;
  readonly rows: Int32Array;
  /** Rows that the supplier no longer offers. */
  readonly gone: Int32Array;
  readonly sku: Texts;
  readonly title: Texts;
  /** '' for a single item. */
  readonly group: Texts;
  readonly numbers: Readonly<Record<NumberName, Int32Array>>;
  /** See {@link packGtin}. */
  readonly gtin: Float64Array;
  readonly codes: Readonly<Record<Codes, Int32Array>>;
  /** Places of the title's words in the list of words, end to end. */
  readonly words: Int32Array;
  readonly wordEnds: Int32Array;
  /** Marks of the records as they came, two numbers each; nothing where they were not marked. */
  readonly marks: Int32Array;
  /** Hash of what lies in the cold part. */
  readonly cold: Int32Array;
  /** Its rows are known and their cold parts stay where they are: the piece has none of its own. */
  readonly keepsCold: boolean;
  /** What this piece adds to each list. */
  readonly fresh: Readonly<Record<ListName, readonly string[]>>;
}

/** What is read only when an item is looked at or taken, kept apart so that a restart does not read it. */
export interface ColdPiece {
  readonly description: Bytes;
  /** Addresses of pictures, one to a line. */
  readonly pictures: Bytes;
}

/** A piece that is laid out, with its cold part where it has one of its own. */
export interface Laid {
  readonly piece: Piece;
  readonly cold: ColdPiece | null;
}

/**
 * A barcode of up to 14 digits as one number with its length in the last four bits, so that leading zeros
 * stay; 0 for none.
 */
export function packGtin(gtin: string | null): number {
  return gtin !== null && /^\d{1,14}$/.test(gtin) ? Number(gtin) * 16 + gtin.length : 0;
}

export function unpackGtin(packed: number): string | null {
  if (!packed) return null;
  const length = packed % 16;
  return String((packed - length) / 16).padStart(length, '0');
}

/** The barcode as a number, equal for all ways of writing it with leading zeros; 0 for none. */
export const gtinNumber = (packed: number): number => Math.floor(packed / 16);

/** An empty piece that only says which rows are gone. */
export function goneOnly(gone: Int32Array): Piece {
  const none = new Int32Array(0);
  const nothing: Texts = { text: '', ends: none };
  return {
    n: 0,
    rows: none,
    gone,
    sku: nothing,
    title: nothing,
    group: nothing,
    numbers: Object.fromEntries(NUMBERS.map((name) => [name, none])) as Piece['numbers'],
    gtin: new Float64Array(0),
    codes: { brand: none, category: none, options: none, shipsFrom: none },
    words: none,
    wordEnds: none,
    marks: none,
    cold: none,
    keepsCold: true,
    fresh: { brand: [], category: [], options: [], shipsFrom: [], word: [] },
  };
}

/** The description and pictures at one place of a cold piece. */
export function detailAt(sku: string, cold: ColdPiece, place: number): ItemDetail {
  const pictures = unpackAt(cold.pictures, place);
  return {
    sku,
    description: unpackAt(cold.description, place),
    pictures: pictures ? pictures.split('\n') : [],
  };
}
