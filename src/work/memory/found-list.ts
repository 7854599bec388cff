import { type FieldName, isTimely, type Subject } from '../../core/fields';
import type { Currency } from '../../core/money';
import {
  type Condition,
  compile,
  type Fields,
  leavesOf,
  narrows,
  type Problem,
  readCondition,
} from '../../core/query';
import type { Instant } from '../../core/units';

/** A sort key; rows without a value stand at the end in both directions. */
export type Sorting =
  | { readonly number: (place: number) => number | null; readonly timely?: boolean }
  | { readonly text: (place: number) => string | null; readonly timely?: boolean };

/** Rows that are held in memory, each at its place. */
export interface Held {
  readonly subject: Subject;
  readonly fields: (now: Instant) => Fields<number>;
  /** The folded text in which words are looked for. */
  readonly words: (place: number) => string;
  /** What it can be sorted by besides its fields. */
  readonly sortings: (now: Instant) => Readonly<Record<string, Sorting>>;
  /** The currency of an amount and its worth in the books, so that rows of several currencies sort. */
  readonly currencyOf: (place: number, field: FieldName) => Currency;
  readonly worthOf: (currency: Currency) => number;
  /** Which of two rows stands first where they are alike: less than 0 for the first. The place decides where it is missing. */
  readonly tie?: (a: number, b: number) => number;
}

/** The rows that are looked through. */
export interface Among {
  /** Another one where they are others, or changed. */
  readonly key: string;
  readonly places: Int32Array;
}

/** What is asked of them. */
export interface Asked {
  readonly query: string;
  readonly sort: string;
  readonly descending: boolean;
}

export interface FoundPlaces {
  readonly query: string;
  readonly places: Int32Array;
  readonly problems: readonly Problem[];
}

/** Search lines whose matches are remembered: someone types, takes signs back and types on. */
const MOST_FOUND = 16;
const MINUTE = 60_000;

/** Searches and sorts rows in memory: sorted once for each state of them, as what is typed only leaves some out. */
export class FoundList {
  private sorted: { readonly key: string; readonly places: Int32Array } | null = null;
  /** What was found lately in that order, by search line. */
  private readonly found = new Map<string, FoundPlaces>();

  constructor(
    private readonly of: Held,
    private readonly kinds: Parameters<typeof readCondition>[1],
  ) {}

  find({ query, sort, descending }: Asked, among: Among, now: Instant): FoundPlaces {
    const minute = Math.floor(now / MINUTE) * MINUTE;
    const all = this.inOrder(among, sort, descending, minute);
    const condition = readCondition(query, this.kinds, true);
    const key = `${this.isTimely(condition) ? minute : ''} ${query}`;
    const known = this.found.get(key);
    if (known) return known;
    const { test, problems } = compile(condition, this.of.fields(minute), this.of.words);
    let within = all;
    for (const before of this.found.values())
      if (before.places.length < within.length && narrows(before.query, query)) within = before.places;
    const found = { query, places: within.filter((place) => test(place)), problems };
    if (this.found.size >= MOST_FOUND) this.found.delete(this.found.keys().next().value!);
    this.found.set(key, found);
    return found;
  }

  private isTimely(condition: Condition): boolean {
    return [...leavesOf(condition)].some(
      (leaf) => 'field' in leaf && isTimely(this.of.subject, leaf.field, leaf.is),
    );
  }

  private inOrder(among: Among, by: string, descending: boolean, minute: Instant): Int32Array {
    const sorting = this.of.sortings(minute)[by] ?? this.byField(by, minute);
    const key = `${by} ${descending} ${sorting.timely ? minute : ''} ${among.key}`;
    if (this.sorted?.key === key) return this.sorted.places;
    const turn = descending ? -1 : 1;
    const tie = this.of.tie ?? ((a, b) => a - b);
    const places = among.places.slice();
    if ('text' in sorting) {
      const texts = new Map([...places].map((place) => [place, sorting.text(place)]));
      places.sort((a, b) => {
        const [x, y] = [texts.get(a), texts.get(b)];
        if (x === y) return tie(a, b);
        if (x == null || y == null) return x == null ? 1 : -1;
        return x < y ? -turn : turn;
      });
    } else {
      const keys = new Float64Array(places.reduce((most, place) => Math.max(most, place + 1), 0));
      for (const place of places) keys[place] = sorting.number(place) ?? turn * Number.MAX_VALUE;
      places.sort((a, b) => turn * (keys[a]! - keys[b]!) || tie(a, b));
    }
    this.sorted = { key, places };
    this.found.clear();
    return places;
  }

  /** @throws where there is no such field, or it is not one that sorts */
  private byField(name: string, minute: Instant): Sorting {
    const field = this.of.fields(minute)[name];
    if (field?.kind === 'text') return { text: field.get };
    if (field?.kind !== 'number') throw new Error(`Nothing is sorted by “${name}”.`);
    const { get, scale } = field;
    const timely = isTimely(this.of.subject, name, '');
    // Amounts alone have a scale of their own by row.
    if (typeof scale !== 'function') return { number: get, timely };
    const worths = new Map<Currency, number>();
    return {
      number: (place) => {
        const minor = get(place);
        if (minor === null) return null;
        const currency = this.of.currencyOf(place, name as FieldName);
        let worth = worths.get(currency);
        if (worth === undefined) {
          worth = this.of.worthOf(currency) / scale(place);
          worths.set(currency, worth);
        }
        return minor * worth;
      },
      timely,
    };
  }
}
