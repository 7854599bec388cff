import { TZDate, tzOffset } from '@date-fns/tz';
import { addDays as addUtcDays } from 'date-fns';

/** An instant: milliseconds since 1970-01-01T00:00Z, handed in by the caller's clock. */
export type Instant = number;

/** Clocks change at a quarter of an hour, everywhere and since long. */
const MINUTE = 60_000;
const QUARTER = 15 * MINUTE;
/** By how much clocks are put back somewhere. */
const CHANGES = [QUARTER * 2, QUARTER * 4, QUARTER * 8];
const MOST_KEPT = 50_000;
const offsets = new Map<string, Map<number, number>>();

/** Milliseconds by which the clocks of a zone are ahead of UTC. Kept by quarter hours: asking the platform is dear. */
function offsetAt(at: Instant, zone: string): number {
  let own = offsets.get(zone);
  if (!own) {
    own = new Map();
    offsets.set(zone, own);
  }
  const quarter = Math.floor(at / QUARTER);
  let offset = own.get(quarter);
  if (offset === undefined) {
    const minutes = tzOffset(zone, new Date(quarter * QUARTER));
    if (Number.isNaN(minutes)) throw new RangeError(`There is no time zone “${zone}”.`);
    offset = minutes * MINUTE;
    if (own.size >= MOST_KEPT) own.clear();
    own.set(quarter, offset);
  }
  return offset;
}

/** The clocks of a zone at an instant, as ISO 8601 writes them. */
const localOf = (at: Instant, zone: string): string => new Date(at + offsetAt(at, zone)).toISOString();

/** The calendar day (`2026-11-23`) on which an instant falls in a zone such as `Europe/London`. */
export const dayOf = (at: Instant, zone: string): string => localOf(at, zone).slice(0, 10);

/** `14:05` in the zone. */
export const clockTime = (at: Instant, zone: string): string => localOf(at, zone).slice(11, 16);

/**
 * The instant of a day and time in a zone, as a field for both writes it (`2026-11-26T14:05`). A time that the clocks leave
 * out is the one as long after the change; of one that comes twice it is the first. Null where it is none.
 */
export function instantOf(local: string, zone: string): Instant | null {
  const [, day = '', time = ''] = /^(\d{4}-\d{2}-\d{2})T(\d{2}:\d{2})$/.exec(local) ?? [];
  const [hour, minute] = time.split(':').map(Number);
  if (!isDay(day) || hour! > 23 || minute! > 59) return null;
  const [year, month, date] = day.split('-').map(Number);
  const at = new TZDate(year!, month! - 1, date!, hour!, minute!, 0, zone).getTime();
  const earlier = CHANGES.map((by) => at - by).filter((one) => localOf(one, zone).slice(0, 16) === local);
  return Math.min(at, ...earlier);
}

/** Whether the clocks of a zone leave a local time out, or show it twice; null where it comes once. */
export function clockChange(local: string, zone: string): 'left out' | 'twice' | null {
  const at = instantOf(local, zone);
  if (at === null) return null;
  if (localOf(at, zone).slice(0, 16) !== local) return 'left out';
  return CHANGES.some((by) => localOf(at + by, zone).slice(0, 16) === local) ? 'twice' : null;
}

/** The day `n` days after (or before) a calendar day. */
export const addDays = (day: string, n: number): string =>
  addUtcDays(new TZDate(`${day}T12:00:00Z`, 'UTC'), n)
    .toISOString()
    .slice(0, 10);

/** Whether a text is a day of the calendar, as ISO 8601 writes it: `2026-11-26`, and no 31st of February. */
export function isDay(text: string): boolean {
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(Date.parse(text)) && addDays(text, 0) === text;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec'];

/** `23 Nov` for a calendar day. */
export const dayName = (day: string): string =>
  `${Number(day.slice(8, 10))} ${MONTHS[Number(day.slice(5, 7)) - 1]}`;

/** When something was, as a person would say it from now: `14:05`, `yesterday 14:05`, `3 Nov 14:05`, `3 Nov 2023`. */
export function whenOf(at: Instant, now: Instant, zone: string): string {
  const today = dayOf(now, zone);
  const day = dayOf(at, zone);
  const time = clockTime(at, zone);
  if (day === today) return time;
  if (day === addDays(today, -1)) return `yesterday ${time}`;
  if (day === addDays(today, 1)) return `tomorrow ${time}`;
  return day.slice(0, 4) === today.slice(0, 4)
    ? `${dayName(day)} ${time}`
    : `${dayName(day)} ${day.slice(0, 4)}`;
}

/** A span in the two largest units that matter: `1 d 4 h`, `5 h`, `12 min`, `8 s`. */
export function spanOf(ms: number): string {
  const s = Math.round(Math.abs(ms) / 1000);
  if (s < 60) return `${s} s`;
  const min = Math.round(s / 60);
  if (min < 60) return `${min} min`;
  const h = Math.round(min / 60);
  if (h < 24) return `${h} h`;
  return h % 24 ? `${Math.floor(h / 24)} d ${h % 24} h` : `${h / 24} d`;
}
