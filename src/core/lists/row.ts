import { divideHalfUp, divideUp, WHOLE } from '../money';
import { unwrapCell } from './cells';
import type { FieldName, Match } from './match';

/** Something wrong with one cell of a row. `taken` tells that the row was taken all the same, without it. */
export interface CellProblem {
  readonly column: string | null;
  readonly value: string;
  readonly reason: string;
  readonly taken: boolean;
}

/** Why a row cannot be taken. */
export interface RowRefusal {
  readonly ok: false;
  readonly problem: CellProblem;
}

/** Longest text that is taken of a description. */
export const MOST_TEXT = 50_000;

/** The place of a field's column, found once for a list; -1 where it has none. */
export const placeOf = (match: Match, field: FieldName): number => match.fields.indexOf(field);

/** The places of all columns of a field. */
export const placesOf = (match: Match, field: FieldName): number[] =>
  match.fields.flatMap((f, i) => (f === field ? [i] : []));

const NONE_TOLD: readonly CellProblem[] = [];

/** The row at hand. One for a list, since a million rows go through it. */
export class Row {
  private cells: readonly string[] = [];
  private problems: readonly CellProblem[] = NONE_TOLD;

  constructor(private readonly match: Match) {}

  /** Turns to the next row. */
  take(cells: readonly string[]): void {
    this.cells = cells;
    this.problems = NONE_TOLD;
  }

  /** The problems of the row so far. */
  get told(): readonly CellProblem[] {
    return this.problems;
  }

  /** The text of a cell, without the wrapping of spreadsheets; empty where the list has no such column. */
  text(place: number): string {
    return place < 0 ? '' : unwrapCell(this.cells[place] ?? '');
  }

  wrong(place: number, reason: string): RowRefusal {
    return { ok: false, problem: this.problem(place, reason, false) };
  }

  /** Notes that a cell is left out, while the row is taken. */
  tell(place: number, reason: string): void {
    this.problems = [...this.problems, this.problem(place, reason, true)];
  }

  private problem(place: number, reason: string, taken: boolean): CellProblem {
    const value = (this.cells[place] ?? '').slice(0, 200);
    return { column: this.match.header[place] ?? null, value, reason, taken };
  }
}

/**
 * Amount net of tax and for one piece. Both divisions are named: tax half up, pack up, so that a cost is
 * never told too low.
 */
export function netEach(minor: number, match: Match, pack: number): number {
  const net = match.taxInside ? divideHalfUp(minor * WHOLE, WHOLE + match.taxInside) : minor;
  return pack > 1 ? divideUp(net, pack) : net;
}
