'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { CalendarDays } from 'lucide-react';
import { type ReactElement, useId, useState } from 'react';
import { readDay, readDayAndTime, writtenDay, writtenDayAndTime } from '../core/units';
import type { Limits } from './calendar';
import { later } from './later';

const Calendar = later(() => import('./calendar').then((m) => m.Calendar));
const RangeCalendar = later(() => import('./calendar').then((m) => m.RangeCalendar));

const NOON = '12:00';
const BUTTON = 'rounded-sm p-1.25 text-river hover:bg-river-soft';

interface Props extends Limits {
  readonly label: string;
  /** As ISO 8601 writes it, to the minute where a time belongs to it; '' for none. */
  readonly value: string;
  /** Hears each day that is meant, '' where it was emptied. What cannot be read is not told. */
  readonly onChange: (value: string) => void;
  /** A time of the day belongs to it. */
  readonly time?: boolean;
  /** The calendar opens below the field, not over the page: in what lies over the page itself. */
  readonly inPanel?: boolean;
  readonly className?: string;
}

/** A day, with its time where one belongs to it: typed as people write days, or chosen in a calendar. */
export function DateField({
  label,
  value,
  onChange,
  time = false,
  inPanel = false,
  min,
  max,
  className = '',
}: Props) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState('');
  const [open, setOpen] = useState(false);
  const written = value ? (time ? writtenDayAndTime(value) : writtenDay(value)) : '';
  const read = (text: string) => (time ? readDayAndTime(text, value.slice(11) || NOON) : readDay(text));
  const problemOf = (text: string): string => {
    const day = read(text)?.slice(0, 10);
    if (!day) return text.trim() ? `Write a day such as ${time ? '26 Nov 2026 14:05' : '26 Nov 2026'}.` : '';
    if (min && day < min) return `Not before ${writtenDay(min)}.`;
    return max && day > max ? `Not after ${writtenDay(max)}.` : '';
  };
  const type = (text: string) => {
    setTyped(text);
    setWrong('');
    const next = text.trim() ? read(text) : '';
    if (next !== null && !problemOf(text) && next !== value) onChange(next);
  };
  const leave = () => {
    const problem = problemOf(typed ?? '');
    setWrong(problem);
    if (!problem) setTyped(null);
  };
  const calendar = (close: () => void) => (
    <Calendar
      day={value.slice(0, 10) || null}
      {...{ min, max }}
      onPick={(day) => {
        setTyped(null);
        setWrong('');
        onChange(time ? `${day}T${value.slice(11) || NOON}` : day);
        close();
      }}
    />
  );
  return (
    <span className={`inline-block text-xs text-muted ${className}`}>
      <label htmlFor={id}>{label}</label>{' '}
      <span className="inline-flex items-center rounded-sm border border-edge bg-surface focus-within:outline-2 focus-within:outline-river">
        <input
          id={id}
          value={typed ?? written}
          placeholder={time ? 'day and time' : 'day'}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={wrong !== ''}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={(e) => type(e.target.value)}
          onBlur={leave}
          onKeyDown={(e) => {
            if (e.key === 'Enter') leave();
          }}
          className={`${time ? 'w-36' : 'w-24'} bg-transparent px-1.5 py-0.5 text-[13px] text-ink outline-none`}
        />
        {inPanel ? (
          <button
            type="button"
            aria-label={`Calendar: ${label}`}
            title="Calendar"
            aria-expanded={open}
            className={BUTTON}
            onClick={() => setOpen(!open)}
          >
            <CalendarDays aria-hidden size={14} />
          </button>
        ) : (
          <CalendarButton name={label}>{calendar}</CalendarButton>
        )}
      </span>
      {open && <span className="mt-1 block text-ink">{calendar(() => setOpen(false))}</span>}
      {wrong && (
        <span id={`${id}-wrong`} role="alert" className="block text-loss">
          {wrong}
        </span>
      )}
    </span>
  );
}

/** From a day to another: each typed, or both chosen in one calendar. */
export function DateRangeField({
  from,
  to,
  max,
  onChange,
}: {
  readonly from: string;
  readonly to: string;
  readonly max: string;
  readonly onChange: (from: string, to: string) => void;
}) {
  return (
    <span className="inline-flex flex-wrap items-center gap-1">
      <DateField label="From" value={from} max={to} onChange={(day) => day && onChange(day, to)} />
      <DateField label="to" value={to} min={from} max={max} onChange={(day) => day && onChange(from, day)} />
      <CalendarButton name="Both days" framed>
        {() => <RangeCalendar {...{ from, to, max }} onPick={onChange} />}
      </CalendarButton>
    </span>
  );
}

function CalendarButton({
  name,
  framed = false,
  children,
}: {
  readonly name: string;
  readonly framed?: boolean;
  readonly children: (close: () => void) => ReactElement;
}) {
  return (
    <Popover className="inline-flex">
      <PopoverButton
        aria-label={`Calendar: ${name}`}
        title="Calendar"
        className={`${BUTTON} ${framed ? 'border border-edge' : ''}`}
      >
        <CalendarDays aria-hidden size={14} />
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom end', padding: 8 }}
        className="z-50 rounded-sm border border-rule bg-surface p-2 text-ink shadow-md"
      >
        {({ close }) => children(close)}
      </PopoverPanel>
    </Popover>
  );
}
