import type { Encoding, Format } from '../../core/lists';
import { formatCount } from '../../core/units';

/** Records on their way to be read: plain data, so that a worker can do it. */
export type Part =
  | { readonly kind: 'cells'; readonly rows: readonly (readonly string[])[] }
  | {
      readonly kind: 'text';
      /** The records one after the other, each closed by a line feed. */
      readonly bytes: Uint8Array<ArrayBuffer>;
      /** Where each record ends, before its line feed. */
      readonly ends: Int32Array;
      readonly delimiter: string;
      readonly encoding: Encoding;
    };

/** The next records of a list, found and marked, in the list's order; their cells are not made yet. */
export interface Batch {
  /** The line (or the number of the record) each one begins at, counted from 1. */
  readonly lines: Int32Array;
  /** Marks of the records, two numbers each. */
  readonly marks: Int32Array;
  /**
   * Records that are too long to be read: line, reason, and what cells could be made out. They are not
   * counted among the others.
   */
  readonly broken: readonly {
    readonly line: number;
    readonly cells: readonly string[];
    readonly text: string;
    readonly reason: string;
  }[];
  /** Where the next batch begins; null at the end. */
  readonly next: string | null;
  /** Share of the list that is found, of `total`. */
  readonly at: number;
  /** Whether the list ends here in the middle of a record: it was cut off. */
  readonly cut: boolean;
  /**
   * Some of the records, by their places in the batch, to be read by `readPart`. Asked for once: its bytes
   * may be sent away.
   */
  part(wanted: Int32Array): Part;
  /** The cells of one record, fetched again. */
  cells(place: number): Promise<readonly string[]>;
}

/** Delimited text whose records can be found by anyone who has it. */
export interface TextList {
  /** In UTF-8 or an encoding of single bytes. */
  readonly blob: Blob;
  readonly delimiter: number;
  /** The place of the first record under the header: its first byte and its line. */
  readonly begin: string;
  /** Columns of a record. */
  readonly width: number;
}

/** Records found in a text and marked: plain data, so that a worker can find them. */
export interface FoundText {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** Where the bytes begin in the file. */
  readonly offset: number;
  /** Begin and end of each record among the bytes, its line, and its mark of two numbers. */
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  readonly lines: Int32Array;
  readonly marks: Int32Array;
  /** Places of records with quotes that no standard has. */
  readonly odd: Int32Array;
  /** Records that are too long to be read; not among the others. */
  readonly long: readonly { readonly line: number; readonly start: number; readonly end: number }[];
  /** The place of the next records; null at the end. */
  readonly next: string | null;
  readonly at: number;
  readonly cut: boolean;
}

/** A list that is open for reading, whatever its format: rows of cells under one header. */
export interface ListSource {
  readonly header: readonly string[];
  /** Size in units of {@link Batch.at}: bytes of a text file, rows of others. */
  readonly total: number;
  /** Finds the next records from a place on; null is the begin. */
  next(place: string | null): Promise<Batch>;
  /** Of text: what a worker needs to find the records, and a batch of what it found. */
  readonly text?: { readonly list: TextList; batchOf(found: FoundText): Batch };
}

export type Opened<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly reason: string };

export const refuse = (reason: string) => ({ ok: false, reason }) as const;

/**
 * Text files are read piece by piece, so that this is a limit of patience; other kinds are held in memory
 * while they are read.
 */
export const LARGEST_TEXT = 500_000_000;
export const LARGEST_OTHER = 250_000_000;
export const MOST_ROWS = 1_000_000;
/** Columns of a list, in every format. */
export const MOST_COLUMNS = 500;
/** Cells or values of a list that is held in memory while it is read. */
export const MOST_CELLS = 30_000_000;
/** Levels of nested data. */
export const DEEPEST = 64;
/** Characters of a column's name. */
export const LONGEST_NAME = 200;

export const tooWide = (columns: number) =>
  `It has ${formatCount(columns)} columns; lists of up to ${MOST_COLUMNS} are read.`;

export const megabytes = (bytes: number) => `${Math.round(bytes / 1_000_000)} MB`;

export type { Format };
