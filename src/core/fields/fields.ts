import { type Currency, digitsOf } from '../money';
import type { Field, FieldKind, FieldKinds, Fields, Named } from '../query';
import { type FieldName, type Subject, VOCABULARY, type Vocabulary } from './vocabulary';

/** Names of the fields that a subject has. */
export type FieldOf<S extends Subject> = {
  [N in FieldName]: S extends Vocabulary[N]['of'][number] ? N : never;
}[FieldName];

/** Flags of a field of a subject. */
export type FlagOf<S extends Subject, N extends FieldName> = Vocabulary[N] extends {
  readonly flags: infer F;
}
  ? S extends keyof F
    ? keyof F[S] & string
    : never
  : never;

/** How a field is read of a row: amounts in minor units, shares in millionths. */
type Reader<S extends Subject, N extends FieldName, R> = Vocabulary[N]['kind'] extends 'flags'
  ? (row: R, flag: FlagOf<S, N>) => boolean
  : Vocabulary[N]['kind'] extends 'named'
    ? (row: R, name: string) => boolean
    : Vocabulary[N]['kind'] extends 'text'
      ? (row: R) => string | null
      : (row: R) => number | null;

/** All fields of a subject, read of a row: one that is missing does not compile. */
export type Readers<S extends Subject, R> = { readonly [N in FieldOf<S>]: Reader<S, N, R> };

/** Units of a share as it is typed, in percent. */
const PER_PERCENT = 10_000;

const NAMES = Object.keys(VOCABULARY) as FieldName[];

type AnyField = {
  readonly of: readonly Subject[];
  readonly flags?: Readonly<Partial<Record<Subject, Readonly<Record<string, string>>>>>;
  readonly alternatives?: true;
  readonly timely?: true | Readonly<Partial<Record<Subject, readonly string[]>>>;
  readonly unit?: string;
  readonly example?: string;
  readonly means?: string;
} & Pick<Vocabulary[FieldName], 'kind'>;

const described = (name: FieldName): AnyField => VOCABULARY[name];

const namesOf = (subject: Subject): FieldName[] =>
  NAMES.filter((name) => described(name).of.includes(subject));

const kindIn = (name: FieldName, subject: Subject): FieldKind => {
  const { kind, flags, alternatives = false } = described(name);
  return kind === 'flags'
    ? { kind, flags: Object.keys(flags?.[subject] ?? {}) }
    : kind === 'text' || kind === 'named'
      ? { kind }
      : { kind, alternatives };
};

const kindsFor = (subject: Subject): FieldKinds =>
  Object.fromEntries(namesOf(subject).map((name) => [name, kindIn(name, subject)]));

/** What can be asked of each subject. */
export const KINDS: Readonly<Record<Subject, FieldKinds>> = {
  item: kindsFor('item'),
  goods: kindsFor('goods'),
  listing: kindsFor('listing'),
  bench: kindsFor('bench'),
  order: kindsFor('order'),
  buying: kindsFor('buying'),
};

/** Whether what a field, or a flag of one, says of a subject changes as time passes. */
export function isTimely(subject: Subject, field: string, flag: string): boolean {
  if (!Object.hasOwn(VOCABULARY, field)) return false;
  const { timely } = described(field as FieldName);
  return timely === true || (timely?.[subject]?.includes(flag) ?? false);
}

/** What can be typed of a subject, each with what it means. */
export const examplesOf = (subject: Subject): { readonly example: string; readonly means: string }[] => [
  { example: '-torch', means: 'without a word or field' },
  { example: 'torch or lantern', means: 'either; brackets hold several together' },
  ...namesOf(subject).flatMap((name) => {
    const { flags, example, means } = described(name);
    return flags
      ? Object.entries(flags[subject] ?? {}).map(([flag, is]) => ({ example: `${name}:${flag}`, means: is }))
      : [{ example: example!, means: means! }];
  }),
];

/**
 * The fields of a subject as a search line is compiled with them.
 * @param currencyOf what an amount of a row is in, by field
 * @param named the names that there are of what has names of its own
 */
export function fieldsOf<S extends Subject, R>(
  subject: S,
  readers: Readers<S, R>,
  currencyOf: (row: R, field: FieldOf<S>) => Currency,
  named?: Named,
): Fields<R> {
  const field = (name: FieldName): Field<R> => {
    const get = readers[name as FieldOf<S>] as never;
    const kind = kindIn(name, subject);
    if (kind.kind === 'named') return { ...kind, ...(named && { named }), get };
    if (kind.kind !== 'number') return { ...kind, get };
    const { unit } = described(name);
    const scale =
      unit === 'money'
        ? (row: R) => 10 ** digitsOf(currencyOf(row, name as FieldOf<S>))
        : unit === 'share'
          ? PER_PERCENT
          : 1;
    return { ...kind, get, scale };
  };
  return Object.fromEntries(namesOf(subject).map((name) => [name, field(name)]));
}
