'use client';
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Field, Label } from '@headlessui/react';
import { useState } from 'react';

/** Choices shown at once; typing narrows them. */
const SHOWN = 60;

/** One of many known names, found by typing a part of it; nothing else can be chosen. */
export function Choice({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: string;
  choices: readonly string[];
  onChange: (value: string) => void;
}) {
  const [query, setQuery] = useState('');
  const words = query
    .toLowerCase()
    .split(/[\s_]+/)
    .filter(Boolean);
  const found = choices.filter((c) => words.every((w) => c.toLowerCase().includes(w)));
  return (
    <Field>
      <Label className="text-xs text-muted">{label}</Label>
      <Combobox
        immediate
        value={value}
        onChange={(next: string | null) => {
          setQuery('');
          if (next && next !== value) onChange(next);
        }}
        onClose={() => setQuery('')}
      >
        <ComboboxInput
          autoComplete="off"
          spellCheck={false}
          displayValue={(v: string) => v}
          onChange={(e) => setQuery(e.target.value)}
          className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        />
        <ComboboxOptions
          anchor="bottom start"
          className="z-40 max-h-60 w-(--input-width) overflow-auto rounded-sm border border-rule bg-surface p-1 text-sm shadow-md"
        >
          {found.slice(0, SHOWN).map((one) => (
            <ComboboxOption
              key={one}
              value={one}
              className="cursor-default rounded-sm px-2 py-1 data-focus:bg-river-soft data-selected:font-semibold"
            >
              {one}
            </ComboboxOption>
          ))}
          {!found.length && <div className="px-2 py-1 text-muted">Nothing is called so.</div>}
        </ComboboxOptions>
      </Combobox>
    </Field>
  );
}
