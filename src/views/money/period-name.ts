import { dayName } from '../../core/units';

/** `26 Nov` for a day, `Nov 2026` for a month. */
export const periodName = (period: string) =>
  period.length === 7 ? `${dayName(`${period}-01`).slice(2).trim()} ${period.slice(0, 4)}` : dayName(period);
