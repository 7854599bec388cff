import type { Format } from '../../core/lists';

/** Some rows of a list, in order. A row is null where its record was known before, so that its cells were never made. */
export interface Batch {
  readonly rows: readonly (readonly string[] | null)[];
  /** The line (or the number of the record) each row begins at, counted from 1. */
  readonly lines: readonly number[];
  /** Marks of the records, two numbers a row. */
  readonly marks: Int32Array;
  /** Records that cannot be read at all: line and reason. */
  readonly broken: readonly { readonly line: number; readonly text: string; readonly reason: string }[];
  /** Where the next batch begins; null at the end. */
  readonly next: string | null;
  /** Share of the list that is read, of `total`. */
  readonly at: number;
}

/** A list that is open for reading, whatever its format: rows of cells under one header. */
export interface ListSource {
  readonly header: readonly string[];
  /** Size in units of {@link Batch.at}: bytes of a text file, rows of others. */
  readonly total: number;
  /**
   * Reads on from a place.
   * @param known tells of a record's mark whether it was read before and stays unread
   */
  read(place: string | null, known: (a: number, b: number) => boolean): Promise<Batch>;
}

export type Opened<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: string };

export const refuse = (reason: string) => ({ ok: false, reason }) as const;

/** Text files are read piece by piece, so that this is a limit of patience; other kinds are held in memory while they are read. */
export const LARGEST_TEXT = 500_000_000;
export const LARGEST_OTHER = 250_000_000;
export const MOST_ROWS = 1_000_000;

export const megabytes = (bytes: number) => `${Math.round(bytes / 1_000_000)} MB`;

export type { Format };
