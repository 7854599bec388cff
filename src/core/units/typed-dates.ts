import { format, isValid, parse } from 'date-fns';
import { isDay } from './time';

/** How people write days here, the written form first. */
const DAYS = ['yyyy-MM-dd', 'd MMM yyyy', 'd MMMM yyyy', 'd.M.yyyy', 'd/M/yyyy', 'd-M-yyyy'];
const TIMES = ['HH:mm', 'H:mm', 'H.mm'];

/** Years that a date of a shop may have: one of two digits, or a slip of the finger, is asked about. */
const [FIRST_YEAR, LAST_YEAR] = [1970, 2199];

const ANY = new Date(2000, 0, 1);

/** The only reading of a text by some patterns. */
function read(text: string, patterns: readonly string[], to: string): string | null {
  for (const pattern of patterns) {
    const at = parse(text, pattern, ANY);
    if (isValid(at) && at.getFullYear() >= FIRST_YEAR && at.getFullYear() <= LAST_YEAR) return format(at, to);
  }
  return null;
}

/** A day as people type it (`26 Nov 2026`, `26.11.2026`, `26/11/2026`) as ISO 8601 writes it; null where it is none. */
export function readDay(typed: string): string | null {
  const day = read(typed.trim().replace(/\s+/g, ' '), DAYS, 'yyyy-MM-dd');
  return day !== null && isDay(day) ? day : null;
}

/** A day and a time of it (`26 Nov 2026 14:05`), as `2026-11-26T14:05`; a day alone has the time that is given. */
export function readDayAndTime(typed: string, time: string): string | null {
  const text = typed.trim().replace(/\s+/g, ' ');
  const [, day = text, clock] = /^(.*\d)[T ,]+(\d{1,2}[:.]\d{2})$/.exec(text) ?? [];
  const on = readDay(day.replace(/,$/, ''));
  const at = clock === undefined ? time : read(clock, TIMES, 'HH:mm');
  return on !== null && at !== null ? `${on}T${at}` : null;
}

/** `26 Nov 2026` for a day. */
export const writtenDay = (day: string): string => format(parse(day, 'yyyy-MM-dd', ANY), 'd MMM yyyy');

/** `26 Nov 2026 14:05` for a day and its time. */
export const writtenDayAndTime = (local: string): string =>
  `${writtenDay(local.slice(0, 10))} ${local.slice(11, 16)}`;
