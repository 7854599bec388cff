import { addDays } from '../units';

/** Periods that sums are told by. */
export const PERIODS = ['day', 'week', 'month', 'quarter', 'year'] as const;
export type Period = (typeof PERIODS)[number];

/**
 * The name of the period that a day is in: `2026-03-01`, `2026-W09` (ISO 8601, weeks from Monday), `2026-03`, `2026-Q1`,
 * `2026`.
 */
export function periodOf(day: string, by: Period): string {
  switch (by) {
    case 'day':
      return day;
    case 'week': {
      const at = new Date(`${day}T00:00:00Z`);
      // The week belongs to the year of its Thursday.
      const thursday = new Date(at.getTime() + (4 - (at.getUTCDay() || 7)) * 86_400_000);
      const first = Date.UTC(thursday.getUTCFullYear(), 0, 1);
      const week = Math.floor((thursday.getTime() - first) / (7 * 86_400_000)) + 1;
      return `${thursday.getUTCFullYear()}-W${String(week).padStart(2, '0')}`;
    }
    case 'month':
      return day.slice(0, 7);
    case 'quarter':
      return `${day.slice(0, 4)}-Q${Math.floor((Number(day.slice(5, 7)) - 1) / 3) + 1}`;
    case 'year':
      return day.slice(0, 4);
  }
}

/** A range of days beside another: as many days before it, or the same days a year earlier. */
export function rangeBeside(
  from: string,
  to: string,
  beside: 'before' | 'year',
): { from: string; to: string } {
  if (beside === 'year') {
    const earlier = (day: string) => {
      const year = Number(day.slice(0, 4)) - 1;
      const same = `${year}${day.slice(4)}`;
      // 29 February has none in other years.
      return day.endsWith('-02-29') ? `${year}-02-28` : same;
    };
    return { from: earlier(from), to: earlier(to) };
  }
  const days = Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000) + 1;
  return { from: addDays(from, -days), to: addDays(from, -1) };
}
