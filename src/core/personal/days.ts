import { format, isValid, parse } from 'date-fns';
import { de, enGB, es, fr, it, type Locale, nl, pl } from 'date-fns/locale';
import type { DateForm } from './fields';

const LOCALES: Readonly<Record<string, Locale>> = { en: enGB, de, fr, it, es, nl, pl };
export const DATE_LANGUAGES = Object.keys(LOCALES);

const ANY = new Date(2000, 0, 1);
const ISO = 'yyyy-MM-dd';
const NAMED = [
  'd MMMM yyyy',
  'd MMM yyyy',
  'd. MMMM yyyy',
  'd. MMM yyyy',
  'MMMM d, yyyy',
  'MMM d, yyyy',
  'MMMM d yyyy',
];
/** Years that people put on goods. */
const [FIRST_YEAR, LAST_YEAR] = [1000, 2999];

function read(text: string, pattern: string, locale: Locale): string | null {
  const at = parse(text, pattern, ANY, { locale });
  if (!isValid(at) || at.getFullYear() < FIRST_YEAR || at.getFullYear() > LAST_YEAR) return null;
  return format(at, ISO);
}

export type DayRead =
  | { readonly day: string; readonly time: string | null }
  /** It may be either: `3/4/2026`. */
  | { readonly either: readonly [string, string] }
  | null;

/**
 * A day as buyers write it, in figures or with the month's name in a known language; with a time where one stands behind.
 * Null where the calendar has no such day.
 */
export function readBuyersDay(typed: string): DayRead {
  const text = typed
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/(\d)(st|nd|rd|th)\b/gi, '$1');
  const [, day = text, clock = ''] = /^(.*?\d{4})[T ,]+(?:at )?(\d{1,2}[:.]\d{2})$/i.exec(text) ?? [];
  const [, hour = '', minute = ''] = /^(\d{1,2})[:.](\d{2})$/.exec(clock) ?? [];
  if (clock && (Number(hour) > 23 || Number(minute) > 59)) return null;
  const time = clock ? `${hour.padStart(2, '0')}:${minute}` : null;
  const iso = read(day, ISO, enGB);
  if (iso) return { day: iso, time };
  const figures = /^(\d{1,2})([./-])(\d{1,2})\2(\d{4})$/.exec(day);
  if (figures) {
    const [, a, sign, b, year] = figures;
    const european = read(`${a}.${b}.${year}`, 'd.M.yyyy', enGB);
    // A dot is written where the day comes first.
    const american = sign === '.' ? null : read(`${b}.${a}.${year}`, 'd.M.yyyy', enGB);
    if (european && american && european !== american) return { either: [european, american] };
    const one = european ?? american;
    return one ? { day: one, time } : null;
  }
  for (const locale of Object.values(LOCALES))
    for (const pattern of NAMED) {
      const found = read(day, pattern, locale);
      if (found) return { day: found, time };
    }
  return null;
}

/** A day as it is set on the goods. */
export const dayInForm = (day: string, form: DateForm, language: string): string =>
  format(parse(day, ISO, ANY), form, { locale: LOCALES[language] ?? enGB });
