'use client';
import {
  Listbox,
  ListboxButton,
  ListboxOption,
  ListboxOptions,
  Popover,
  PopoverButton,
  PopoverPanel,
} from '@headlessui/react';
import { type ReactNode, useId } from 'react';
import type { Parsed } from '../../core/money';
import { writtenDayAndTime } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { DateField } from '../../ui/date-field';
import type { Slide } from './amounts';

const LOOK =
  'inline-block leading-snug border-b-[1.5px] border-river bg-river-soft/60 px-0.5 font-semibold text-river hover:bg-river-soft';

/** An underlined part of the sentence that opens a small list. */
export function ChoiceSlot<T extends string>({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <Listbox value={value} onChange={onChange}>
      <ListboxButton aria-label={`${label}: ${choices.find(([v]) => v === value)?.[1]}`} className={LOOK}>
        {choices.find(([v]) => v === value)?.[1]}
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-40 min-w-48 rounded-sm border border-rule bg-surface p-1 text-sm shadow-md"
      >
        {choices.map(([v, words]) => (
          <ListboxOption
            key={v}
            value={v}
            className="cursor-default rounded-sm px-2 py-1 data-focus:bg-river-soft data-selected:font-semibold"
          >
            {words}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}

/** An underlined number of the sentence that opens a field. */
export function NumberSlot(props: {
  label: string;
  value: number;
  write: (n: number) => string;
  parse: (text: string) => Parsed<number>;
  slide?: Slide;
  onChange: (value: number) => void;
}) {
  const { onChange } = props;
  return <OptionalSlot {...props} none={null} onChange={(n) => n !== null && onChange(n)} />;
}

/** An underlined number of the sentence that may be left empty. */
export function OptionalSlot({
  label,
  value,
  none,
  write,
  parse,
  slide,
  onChange,
}: {
  label: string;
  value: number | null;
  /** What stands there while it is empty; null where it cannot be. */
  none: string | null;
  write: (n: number) => string;
  parse: (text: string) => Parsed<number>;
  /** A slider stands beside the field, and what depends on it follows while it moves. */
  slide?: Slide;
  onChange: (value: number | null) => void;
}) {
  const words = value === null ? (none ?? '') : write(value);
  return (
    <Popover className="inline">
      <PopoverButton aria-label={`${label}: ${words}`} className={LOOK}>
        {words}
      </PopoverButton>
      <PopoverPanel
        focus
        anchor="bottom start"
        className="z-40 rounded-sm border border-rule bg-surface p-2.5 shadow-md"
      >
        <AmountField
          label={none === null ? label : `${label}; empty for ${none}`}
          optional={none !== null}
          value={value}
          write={write}
          parse={parse}
          onChange={onChange}
        />
        {slide && (
          <input
            type="range"
            aria-label={`${label}, slider`}
            min={slide.least}
            max={Math.max(slide.most, value ?? 0)}
            step={slide.step}
            value={value ?? slide.least}
            aria-valuetext={words}
            onChange={(e) => onChange(Number(e.target.value))}
            className="ml-2 w-56 align-middle accent-river"
          />
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** An underlined text of the sentence that opens a field, with what is wrong with it while it is typed. */
export function TextSlot({
  label,
  value,
  none,
  wide,
  tellsItself,
  isTime = false,
  problemOf,
  onChange,
  children,
}: {
  label: string;
  value: string;
  /** What stands there while it is empty. */
  none: string;
  wide?: boolean;
  /** The text below the slot tells the problem. */
  tellsItself?: boolean;
  /** It is a day with its time. */
  isTime?: boolean;
  problemOf?: (text: string) => string | null;
  onChange: (value: string) => void;
  /** What helps while it is typed. */
  children?: ReactNode;
}) {
  const id = useId();
  const wrong = problemOf?.(value) ?? null;
  const words = isTime && value ? writtenDayAndTime(value) : value;
  return (
    <Popover className="inline">
      <PopoverButton
        aria-label={`${label}: ${words || none}`}
        className={`${LOOK} max-w-full text-left ${wrong ? 'border-loss text-loss' : ''}`}
      >
        {words || none}
      </PopoverButton>
      <PopoverPanel
        focus
        anchor="bottom start"
        className="z-40 max-w-lg rounded-sm border border-rule bg-surface p-2.5 text-[13px] shadow-md"
      >
        {isTime ? (
          <DateField label={label} value={value} time inPanel onChange={onChange} />
        ) : (
          <>
            <label htmlFor={id} className="block text-xs text-muted">
              {label}
            </label>
            <input
              id={id}
              value={value}
              autoComplete="off"
              spellCheck={false}
              aria-invalid={wrong !== null}
              aria-describedby={wrong ? `${id}-wrong` : undefined}
              onChange={(e) => onChange(e.target.value)}
              className={`rounded-sm border bg-surface px-1.5 py-1 text-sm ${wrong ? 'border-loss' : 'border-edge'} ${wide ? 'w-[26rem] max-w-full font-mono' : 'w-56'}`}
            />
          </>
        )}
        {wrong && !tellsItself && (
          <p id={`${id}-wrong`} className="mt-1 text-xs text-loss">
            {wrong}
          </p>
        )}
        {children}
      </PopoverPanel>
    </Popover>
  );
}
