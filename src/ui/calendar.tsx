'use client';
import { type DateRange, DayPicker } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale';
import 'react-day-picker/style.css';
import './calendar.css';

const FIRST_YEAR = 2000;
const YEARS_AHEAD = 10;

/** A calendar day as the picker takes it: noon of the browser's own day, whatever its zone. */
const dateOf = (day: string): Date => new Date(`${day}T12:00:00`);
const dayOfDate = (date: Date): string =>
  [date.getFullYear(), date.getMonth() + 1, date.getDate()].map((n) => String(n).padStart(2, '0')).join('-');

export interface Limits {
  /** The first and the last day that may be chosen. */
  readonly min?: string | undefined;
  readonly max?: string | undefined;
}

const outside = ({ min, max }: Limits) => [
  ...(min ? [{ before: dateOf(min) }] : []),
  ...(max ? [{ after: dateOf(max) }] : []),
];

/** A month to choose a day of. Arrows move by days and weeks, Page keys by months, Home and End within a week. */
export function Calendar({
  day,
  onPick,
  ...limits
}: Limits & { readonly day: string | null; readonly onPick: (day: string) => void }) {
  const selected = day ? dateOf(day) : undefined;
  return (
    <DayPicker
      mode="single"
      autoFocus
      locale={enGB}
      captionLayout="dropdown"
      startMonth={new Date(FIRST_YEAR, 0)}
      endMonth={new Date(new Date().getFullYear() + YEARS_AHEAD, 11)}
      {...(selected && { selected, defaultMonth: selected })}
      disabled={outside(limits)}
      onSelect={(date) => date && onPick(dayOfDate(date))}
    />
  );
}

/** Two months to choose the first and the last of some days of. */
export function RangeCalendar({
  from,
  to,
  onPick,
  ...limits
}: Limits & {
  readonly from: string;
  readonly to: string;
  readonly onPick: (from: string, to: string) => void;
}) {
  const selected: DateRange = { from: dateOf(from), to: dateOf(to) };
  return (
    <DayPicker
      mode="range"
      autoFocus
      locale={enGB}
      numberOfMonths={2}
      selected={selected}
      defaultMonth={selected.from!}
      disabled={outside(limits)}
      onSelect={(range) => {
        if (range?.from) onPick(dayOfDate(range.from), dayOfDate(range.to ?? range.from));
      }}
    />
  );
}
