import type { Ppm } from '../../core/money';
import type { totalsOf } from '../../core/rehearsal';
import type { RulesDraft } from './draft';

/** What is tried on the past. */
export interface RehearsalQuestion {
  readonly draft: RulesDraft;
  /** Days back from today, which is not counted. */
  readonly days: number;
  /** By how many percent fewer sell for each percent that a price is higher; an assumption, 0 for none. */
  readonly fewer: Ppm;
}

/** The three that stand side by side. */
export const TRIALS = ['happened', 'saved', 'draft'] as const;

export type TrialName = (typeof TRIALS)[number];

type Totals = ReturnType<typeof totalsOf>;

export interface RehearsalAnswer {
  readonly currency: string;
  readonly from: string;
  readonly to: string;
  readonly orders: number;
  /** Sales of what is not listed any more, or whose cost cannot be told: in none of the sums. */
  readonly left: number;
  /** Inputs that are on record only from a day within the past that was tried: before it their first value stands in. */
  readonly knownFrom: readonly { readonly what: string; readonly day: string }[];
  readonly totals: Readonly<Record<TrialName, Totals>>;
  readonly days: readonly ({ readonly day: string } & Readonly<Record<TrialName, number>>)[];
}

/** One sale of a day as each trial has it. Prices in the marketplace's currency, profits in that of the books. */
export interface RehearsedSaleRow {
  readonly key: string;
  readonly title: string;
  readonly sku: string;
  readonly listing: string;
  readonly currency: string;
  readonly units: number;
  readonly prices: Readonly<Record<TrialName, number>>;
  readonly profits: Readonly<Record<TrialName, number>>;
}

export const DAY = 86_400_000;

export const nameOf = (day: number) => new Date(day * DAY).toISOString().slice(0, 10);
