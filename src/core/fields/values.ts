import { type Currency, formatMinor, formatMoney, formatRate } from '../money';
import { formatCount } from '../units';
import type { FieldOf } from './fields';
import { type FieldName, type Subject, VOCABULARY, type Vocabulary } from './vocabulary';

/** Fields of a subject that have one value: a number or a text. */
export type ValueOf<S extends Subject> = {
  [N in FieldOf<S>]: Vocabulary[N]['kind'] extends 'flags' | 'named' ? never : N;
}[FieldOf<S>];

/** What a field is called and made of, where it has one value. */
export interface ValueField<N extends FieldName = FieldName> {
  readonly id: N;
  readonly name: string;
  readonly kind: 'number' | 'text';
}

/** The fields of a subject that have one value: what it can be sorted by, and shown and exported with. */
export const valueFields = <S extends Subject>(subject: S): ValueField<ValueOf<S>>[] =>
  Object.entries(VOCABULARY).flatMap(([id, field]) =>
    field.kind !== 'flags' && field.kind !== 'named' && (field.of as readonly Subject[]).includes(subject)
      ? { id: id as ValueOf<S>, name: field.name, kind: field.kind }
      : [],
  );

/** How the fields of a subject that have one value are read of a row. */
export type ValueReaders<S extends Subject, R> = {
  readonly [N in ValueOf<S>]: (row: R) => number | string | null;
};

/** All values of a row in words. @param apart whether amounts name their currency, by field */
export const valuesInWords = <S extends Subject, R>(
  subject: S,
  readers: ValueReaders<S, R>,
  row: R,
  currencyOf: (row: R, field: ValueOf<S>) => Currency,
  apart: (field: ValueOf<S>) => boolean,
): Readonly<Record<ValueOf<S>, string>> =>
  Object.fromEntries(
    valueFields(subject).map(({ id }) => [
      id,
      valueInWords(id, readers[id](row), currencyOf(row, id), apart(id)),
    ]),
  ) as Record<ValueOf<S>, string>;

const ONE_DIGIT = 10;

/** A value as it is read: `24.99`, `12.5 %`, `450 g`. @param apart whether rows are of several currencies: the sign stands with each */
function valueInWords(
  id: FieldName,
  value: number | string | null,
  currency: Currency,
  apart: boolean,
): string {
  if (value === null || typeof value === 'string') return value ?? '';
  const field = VOCABULARY[id];
  switch (field.kind === 'number' ? field.unit : 'pieces') {
    case 'money':
      return apart ? formatMoney({ minor: value, currency }) : formatMinor(value, currency);
    case 'share':
      return formatRate(Math.round(value / 1_000) * 1_000);
    case 'grams':
      return `${formatCount(value)} g`;
    case 'hours':
      return String(Math.round(value * ONE_DIGIT) / ONE_DIGIT);
    default:
      return formatCount(Math.floor(value));
  }
}

/** A value as a cell of a file has it: amounts in whole units, shares in percent. */
export function valueInCell(id: FieldName, value: number | string | null, digits: number): number | string {
  if (value === null || typeof value === 'string') return value ?? '';
  const field = VOCABULARY[id];
  switch (field.kind === 'number' ? field.unit : 'pieces') {
    case 'money':
      return value / 10 ** digits;
    case 'share':
      return value / 10_000;
    case 'hours':
      return Math.round(value * ONE_DIGIT) / ONE_DIGIT;
    default:
      return Math.floor(value);
  }
}
