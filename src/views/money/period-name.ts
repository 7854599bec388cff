import { dayName } from '../../core/units';

/** `26 Nov` for a day, `Nov 2026` for a month; weeks, quarters and years as they are written. */
export const periodName = (period: string) =>
  /^\d{4}-\d{2}$/.test(period)
    ? `${dayName(`${period}-01`).slice(2).trim()} ${period.slice(0, 4)}`
    : /^\d{4}-\d{2}-\d{2}$/.test(period)
      ? dayName(period)
      : period.replace('-', ' ');
