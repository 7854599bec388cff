import { addDays } from '../units';

/** A cost of the shop as far as its days go: once, or each month from its first day on. */
export interface FixedCost {
  readonly day: string;
  readonly minor: number;
  readonly monthly: boolean;
  /** The last day on which it comes; null for no end. */
  readonly until: string | null;
}

const daysIn = (month: string): number =>
  new Date(Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5, 7)), 0)).getUTCDate();

const monthAfter = (month: string): string => addDays(`${month}-01`, daysIn(month)).slice(0, 7);

/**
 * What of a cost falls on some days, both ends included. A monthly one is spread evenly over the days of each of its
 * months; shares are rounded so that those of ranges side by side add up to that of both together.
 */
export function costIn(cost: FixedCost, from: string, to: string): number {
  if (!cost.monthly) return cost.day >= from && cost.day <= to ? cost.minor : 0;
  const first = cost.day > from ? cost.day : from;
  const last = cost.until !== null && cost.until < to ? cost.until : to;
  let sum = 0;
  for (let month = first.slice(0, 7); month <= last.slice(0, 7); month = monthAfter(month)) {
    const days = daysIn(month);
    const upTo = (n: number) => Math.floor((cost.minor * n) / days);
    const begin = month === first.slice(0, 7) ? Number(first.slice(8)) - 1 : 0;
    const end = month === last.slice(0, 7) ? Number(last.slice(8)) : days;
    if (end > begin) sum += upTo(end) - upTo(begin);
  }
  return sum;
}

/** The days within a range on which a cost is to be paid: that of each month like its first, or the month's last. */
export function costDays(cost: FixedCost, from: string, to: string): string[] {
  if (!cost.monthly) return cost.day >= from && cost.day <= to ? [cost.day] : [];
  const days: string[] = [];
  for (let month = from.slice(0, 7); month <= to.slice(0, 7); month = monthAfter(month)) {
    const on = Math.min(Number(cost.day.slice(8)), daysIn(month));
    const day = `${month}-${String(on).padStart(2, '0')}`;
    if (day >= from && day <= to && day >= cost.day && (cost.until === null || day <= cost.until))
      days.push(day);
  }
  return days;
}
