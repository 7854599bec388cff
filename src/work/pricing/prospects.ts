/** What a plan would do to one listing. Amounts in minor units. */
export interface Prospect {
  readonly id: string;
  readonly title: string;
  readonly sku: string;
  readonly from: number;
  readonly to: number | null;
  readonly profitFrom: number;
  readonly profitTo: number | null;
  readonly shownFrom: number;
  readonly shownTo: number;
  /** It is held at its price already. */
  readonly wasHeld?: boolean;
  /** Guards that stop it, or why it has no price. */
  readonly says: string;
  readonly currency: string;
  readonly market: string;
}

export interface WhatIf {
  readonly listings: number;
  readonly rise: number;
  readonly fall: number;
  readonly stay: number;
  readonly held: number;
  /** Why those are held, most first: how many for each reason. */
  readonly holds: readonly (readonly [why: string, n: number])[];
  /** Prices that would at least double, or fall to half: something may be mistyped. */
  readonly leaps: number;
  /** Sold at a loss after it that were not before. */
  readonly losing: number;
  readonly shown: number;
  /** By marketplace, those with most listings first. */
  readonly markets: readonly MarketAhead[];
  /** Median margin in tenths of a percent. */
  readonly marginFrom: number | null;
  readonly marginTo: number | null;
  /** What is held first, then what moves most; at most {@link MOST_TOLD}. */
  readonly prospects: readonly Prospect[];
  /** How many listings change by how much, in columns of {@link STEP} percent. */
  readonly spread: readonly Column[];
}

/** What would happen on one marketplace. Profits of one sale of each listing, minor units of its currency. */
export interface MarketAhead {
  readonly market: string;
  readonly currency: string;
  readonly listings: number;
  readonly rise: number;
  readonly fall: number;
  readonly profitFrom: number;
  readonly profitTo: number;
}

/** Listings told one by one; of more, the others are counted only. */
export const MOST_TOLD = 1_000;

/** Listings whose price changes by up to `percent`; the ends hold all beyond. */
export interface Column {
  readonly percent: number;
  readonly moved: number;
  readonly held: number;
}
/** Percent that one column of the spread stands for, and its ends. */
export const STEP = 2;
export const FROM = -20;
export const TO = 40;

/** How many prices change by how much, counted one by one. */
export class Spread {
  private readonly moved = new Map<number, number>();
  private readonly held = new Map<number, number>();

  /** @param to null where it has no price */
  add(from: number, to: number | null): void {
    const change = to === null ? 0 : ((to - from) * 100) / from;
    const steps = Math.sign(change) * Math.max(1, Math.ceil(Math.abs(change) / STEP));
    const percent = change === 0 ? 0 : Math.min(TO, Math.max(FROM, steps * STEP));
    const counts = to === null ? this.held : this.moved;
    counts.set(percent, (counts.get(percent) ?? 0) + 1);
  }

  columns(): Column[] {
    const all = [...new Set([...this.moved.keys(), ...this.held.keys()])].sort((a, b) => a - b);
    return all.map((percent) => ({
      percent,
      moved: this.moved.get(percent) ?? 0,
      held: this.held.get(percent) ?? 0,
    }));
  }
}

/** Whether a price moves so far that a person is asked. */
export const isLeap = (from: number, to: number): boolean => from > 0 && (to >= 2 * from || 2 * to <= from);

/** Which listings are told one by one: those that move most, earn least or earn most of their price. */
export type AheadOrder = 'moves' | 'worst' | 'best';

/** The median of margins in parts per million, in tenths of a percent; null of none. Puts them in order. */
export const medianTenths = (margins: Int32Array | Float64Array): number | null =>
  margins.length ? Math.round(margins.sort()[margins.length >> 1]! / 1000) : null;

/** Places of the largest weights, the largest first; of equal ones the earlier. */
export function largest(weights: Float64Array, n: number): number[] {
  if (!weights.length) return [];
  const least = weights.length > n ? Float64Array.from(weights).sort().at(-n)! : Number.NEGATIVE_INFINITY;
  const found: number[] = [];
  for (let k = 0; k < weights.length; k++) if (weights[k]! >= least) found.push(k);
  return found.sort((a, b) => weights[b]! - weights[a]! || a - b).slice(0, n);
}
