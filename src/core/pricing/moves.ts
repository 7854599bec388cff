import { type Currency, formatMinor } from '../money';
import { type ListingProblem, problemInWords } from './problem';
import type { PriceStep } from './solve';
import { stepInWords } from './words';

type NameOf = (marketplace: string) => string;
type FromTo<T> = readonly [from: T, to: T];

/** How what is known of a supplier's item moved. Amounts in minor units of `currency`, the supplier's. */
export interface ItemMoves {
  readonly currency: Currency;
  /** Whether the supplier offers it no longer, or again. */
  readonly gone?: boolean;
  readonly cost?: FromTo<number>;
  /** A cost that waits for a person, from the one that holds meanwhile. */
  readonly leap?: FromTo<number>;
  readonly stock?: FromTo<number>;
  readonly map?: FromTo<number | null>;
  readonly msrp?: FromTo<number | null>;
  readonly grams?: FromTo<number | null>;
}

/** What set off that a listing followed. */
export type Cause =
  | { readonly by: 'item'; readonly moves: ItemMoves }
  /** A change that a person made, by its name. */
  | { readonly by: 'change'; readonly name: string }
  | { readonly by: 'calendar' | 'sale' | 'link' | 'meanwhile' | 'supplier' };

/** What a price came to be by: of a plan, its name and what moved the price then. */
export type PricedBy =
  | { readonly plan: string; readonly steps: readonly PriceStep[] }
  | { readonly problem: ListingProblem }
  | 'own';

/**
 * How what a marketplace is told of a listing followed what it depends on. Amounts in minor units of `currency`. Texts
 * stand where an earlier version of Sampan wrote words.
 */
export interface OfferMoves {
  readonly because: Cause | string;
  readonly currency: Currency;
  readonly price?: {
    readonly from: number;
    readonly to: number;
    readonly by: PricedBy | string;
  };
  readonly shown?: { readonly from: number; readonly to: number };
  readonly state?: 'on sale again' | 'paused' | 'ended';
  readonly held?: {
    readonly at: number;
    /** Whether buyers are shown none meanwhile. */
    readonly none: boolean;
    readonly why: ListingProblem | string;
  };
}

/** What moved of a row: of a listing's offer, or of a supplier's item. */
export type Moves = OfferMoves | { readonly item: ItemMoves };

const STATES = {
  'on sale again': 'On sale again.',
  paused: 'Paused.',
  ended: 'Ended until there is stock.',
} as const;

const CAUSES = {
  calendar: 'By the calendar.',
  sale: 'Sold.',
  link: 'Linked.',
  meanwhile: 'Moved while it was told.',
  supplier: '',
} as const;

/** `Cost 4.10 → 4.60. Stock 12 → 9.`; '' where nothing moved that is told. */
export function itemMovesInWords({ currency, gone, cost, leap, stock, map, msrp, grams }: ItemMoves): string {
  const money = (minor: number | null) => (minor === null ? 'none' : formatMinor(minor, currency));
  const weight = (of: number | null) => (of === null ? 'not known' : `${of} g`);
  return [
    gone === true && 'No longer offered by the supplier.',
    gone === false && 'Offered again by the supplier.',
    cost && `Cost ${money(cost[0])} → ${money(cost[1])}.`,
    leap && `Cost ${money(leap[0])} → ${money(leap[1])} leaps: it waits for you.`,
    stock && `Stock ${stock[0]} → ${stock[1]}.`,
    map && `MAP ${money(map[0])} → ${money(map[1])}.`,
    msrp && `MSRP ${money(msrp[0])} → ${money(msrp[1])}.`,
    grams && `Weight ${weight(grams[0])} → ${weight(grams[1])}.`,
  ]
    .filter(Boolean)
    .join(' ');
}

export function causeInWords(cause: Cause | string): string {
  if (typeof cause === 'string') return cause;
  if (cause.by === 'item') return itemMovesInWords(cause.moves);
  return cause.by === 'change' ? `${cause.name}.` : CAUSES[cause.by];
}

function pricedByInWords(by: PricedBy | string, currency: Currency, nameOf: NameOf): string {
  if (by === 'own') return 'own price';
  if (typeof by === 'string') return by;
  return 'plan' in by
    ? `plan “${by.plan}”: ${by.steps.map((step) => stepInWords(step, currency, nameOf)).join('; ')}`
    : problemInWords(by.problem, currency, nameOf);
}

/**
 * `Cost 4.10 → 4.60. Price 12.99 → 13.99 by plan “Everything”: …. Shown 3 → 2.`
 * @param nameOf what a marketplace is called
 */
export function movesInWords(moves: Moves, nameOf: NameOf): string {
  if ('item' in moves) return itemMovesInWords(moves.item);
  const { because, currency, price, shown, state, held } = moves;
  const money = (minor: number) => formatMinor(minor, currency);
  const why = (problem: ListingProblem | string) =>
    typeof problem === 'string' ? problem : problemInWords(problem, currency, nameOf);
  return [
    causeInWords(because),
    price &&
      `Price ${money(price.from)} → ${money(price.to)} by ${pricedByInWords(price.by, currency, nameOf)}.`,
    shown && `Shown ${shown.from} → ${shown.to}.`,
    state && STATES[state],
    held && `${held.none ? 'Held back, none shown,' : 'Held'} at ${money(held.at)}: ${why(held.why)}`,
  ]
    .filter(Boolean)
    .join(' ');
}
