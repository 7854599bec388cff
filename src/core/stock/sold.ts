/** Units that were sold on a day, by its number since 1970 in UTC; days in order. */
export type SoldByDay = readonly (readonly [day: number, units: number])[];

const DAY = 86_400_000;

/** Days that are kept. */
const KEPT = 90;

/** Units of one more sale, in a list of those of the last 90 days before the latest. @param at when it was sold */
export function withSale(days: SoldByDay, at: number, units: number): SoldByDay {
  const day = Math.floor(at / DAY);
  const sums = new Map(days);
  sums.set(day, (sums.get(day) ?? 0) + units);
  const last = Math.max(...sums.keys());
  return [...sums].filter(([d]) => d > last - KEPT).sort((a, b) => a[0] - b[0]);
}

/** Units sold within some days before an instant, whole days of UTC: that of the instant and those before it. */
export function soldWithin(days: SoldByDay, within: number, at: number): number {
  const first = Math.floor(at / DAY) - within;
  let units = 0;
  for (const [day, n] of days) if (day > first) units += n;
  return units;
}
