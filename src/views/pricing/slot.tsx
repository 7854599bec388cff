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
import type { Parsed } from '../../core/money';
import { AmountField } from '../../ui/amount-field';

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
export function NumberSlot({
  label,
  value,
  write,
  parse,
  onChange,
}: {
  label: string;
  value: number;
  write: (n: number) => string;
  parse: (text: string) => Parsed<number>;
  onChange: (value: number) => void;
}) {
  return (
    <Popover className="inline">
      <PopoverButton aria-label={`${label}: ${write(value)}`} className={LOOK}>
        {write(value)}
      </PopoverButton>
      <PopoverPanel
        focus
        anchor="bottom start"
        className="z-40 rounded-sm border border-rule bg-surface p-2.5 shadow-md"
      >
        <AmountField
          label={label}
          value={value}
          write={write}
          parse={parse}
          onChange={(n) => n !== null && onChange(n)}
        />
      </PopoverPanel>
    </Popover>
  );
}
