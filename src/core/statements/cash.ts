import { addDays } from '../units';

/** Money that is expected to change hands, in the books; in above nothing, out below. */
export interface Flow {
  readonly day: string;
  readonly minor: number;
  /** Connection or cost that it is of. */
  readonly of: string;
  readonly kind: 'payout' | 'bill' | 'top-up' | 'purchase' | 'cost';
}

/** A day of what is expected, with what it brings and all that came up to it. */
export interface CashDay {
  readonly day: string;
  readonly in: number;
  readonly out: number;
  readonly sum: number;
}

const DAY = 86_400_000;

/**
 * Days on which a marketplace is expected to pay out, by its statements so far: each as many days after the one before as
 * is usual (the median), the payout the day after. Nothing is expected of one that has none.
 * @param ends last days of its statements, oldest first
 * @param first the first day of the oldest
 */
export function payoutDays(first: string, ends: readonly string[], from: string, to: string): string[] {
  const last = ends.at(-1);
  if (last === undefined) return [];
  const gaps = ends
    .map((end, k) => Math.round((Date.parse(end) - Date.parse(k ? ends[k - 1]! : addDays(first, -1))) / DAY))
    .sort((a, b) => a - b);
  const every = Math.max(1, gaps[Math.floor(gaps.length / 2)]!);
  const days: string[] = [];
  for (let day = addDays(last, every + 1); day <= to; day = addDays(day, every))
    if (day >= from) days.push(day);
  return days;
}

/** What is expected day by day. */
export function cashByDay(flows: readonly Flow[], from: string, days: number): CashDay[] {
  let sum = 0;
  return Array.from({ length: days }, (_, k) => {
    const day = addDays(from, k);
    const own = flows.filter((f) => f.day === day);
    const into = own.reduce((n, f) => (f.minor > 0 ? n + f.minor : n), 0);
    const out = own.reduce((n, f) => (f.minor < 0 ? n + f.minor : n), 0);
    sum += into + out;
    return { day, in: into, out, sum };
  });
}
