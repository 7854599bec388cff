'use client';
import { type Subject, type ValueOf, valueFields } from '../../core/fields';
import type { Column } from './column';

const NUMBER_WIDTH = 96;
const TEXT_WIDTH = 140;
/** Pixels of a letter of the head, and around it. */
const LETTER = 7;
const AROUND = 40;

/** Columns of all fields that a table has none of its own for: there for whoever asks for them. */
export const fieldColumns = <
  S extends Subject,
  R extends { readonly values: Readonly<Record<ValueOf<S>, string>> },
>(
  subject: S,
  own: readonly Column<R>[],
): Column<R>[] =>
  valueFields(subject)
    .filter(({ id }) => own.every((column) => column.id !== id))
    .map(({ id, name, kind }) => ({
      id,
      header: name,
      size: Math.max(kind === 'number' ? NUMBER_WIDTH : TEXT_WIDTH, name.length * LETTER + AROUND),
      right: kind === 'number',
      sort: true,
      off: true,
      value: (row) => row.values[id],
      cell: (row) => <span className="block truncate">{row.values[id]}</span>,
    }));

/** Fields of a subject that begin with A when they are sorted by. */
export const textSorts = <S extends Subject>(subject: S): ValueOf<S>[] =>
  valueFields(subject).flatMap(({ id, kind }) => (kind === 'text' ? [id] : []));
