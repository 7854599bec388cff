import { addDays, dayOf, type Instant, instantOf } from './time';

/** When something runs by the clocks of a zone. */
export interface Timetable {
  /** `06:30` */
  readonly time: string;
  /** Days of the week as ISO 8601 counts them, 1 for Monday to 7 for Sunday; at least one. */
  readonly days: readonly number[];
}

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;

const weekdayOf = (day: string) => new Date(`${day}T12:00:00Z`).getUTCDay() || 7;

/** The next time after an instant; a time that the clocks leave out is the one as long after the change. */
export function nextTime({ time, days }: Timetable, after: Instant, zone: string): Instant {
  const today = dayOf(after, zone);
  for (let n = 0; n <= 7; n++) {
    const day = addDays(today, n);
    const at = instantOf(`${day}T${time}`, zone);
    if (at !== null && at > after && days.includes(weekdayOf(day))) return at;
  }
  throw new RangeError(`no time of “${time}” on days ${days.join(' ')}`);
}

/** `Mon to Fri at 06:30`, `each day at 06:30`. */
export function timetableInWords({ time, days }: Timetable): string {
  const sorted = [...days].sort((a, b) => a - b);
  const row = sorted.length > 2 && sorted.at(-1)! - sorted[0]! === sorted.length - 1;
  const name = (day: number) => WEEKDAYS[day - 1];
  const which =
    sorted.length === 7
      ? 'each day'
      : row
        ? `${name(sorted[0]!)} to ${name(sorted.at(-1)!)}`
        : sorted.map(name).join(', ');
  return `${which} at ${time}`;
}
