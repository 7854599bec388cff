'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ListFilter, X } from 'lucide-react';
import { memo, useCallback, useEffect, useId, useRef, useState } from 'react';
import { parseQuery } from '../core/query';
import { formatCount } from '../core/units';

interface Props {
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly placeholder: string;
  /** Fields that can be typed, each with an example. */
  readonly fields: readonly { readonly example: string; readonly means: string }[];
  readonly matches: number | null;
  /** A word that was left out because it may become a field. */
  readonly without?: string | null;
  readonly problems?: readonly { readonly raw: string; readonly reason: string }[];
}

const NONE: NonNullable<Props['problems']> = [];

/** Splits a query into what stands as chips and the word being typed. */
function split(value: string): { chips: string[]; typed: string } {
  const ended = /\s$/.test(value);
  const raws = parseQuery(value).map((t) => t.raw);
  return ended || !raws.length ? { chips: raws, typed: '' } : { chips: raws.slice(0, -1), typed: value.slice(value.lastIndexOf(raws.at(-1)!)) };
}

/** What is wrong with a term that is still being typed is told once the typing rests. */
const REST = 600;

function useRested(text: string): string {
  const [rested, setRested] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), REST);
    return () => clearTimeout(timer);
  }, [text]);
  return rested === text ? text : '';
}

const join = (chips: readonly string[], typed: string) => [...chips, typed].join(' ').replace(/^\s+/, '');

/** Free text and `field:value` terms; finished terms become chips, the result follows each key. `/` comes here. */
function PlainSearchLine({ value, onChange, placeholder, fields, matches, without, problems = NONE }: Props) {
  const [text, setText] = useState(value && `${value} `);
  const input = useRef<HTMLInputElement>(null);
  /** What was told upwards and has not come back yet. The address follows typing with a delay: an echo of an earlier key must not undo later ones. */
  const told = useRef<string[]>([value]);
  const id = useId();
  useEffect(() => {
    const echo = told.current.lastIndexOf(value);
    if (echo >= 0) told.current = told.current.slice(echo);
    else {
      told.current = [value];
      setText(value ? `${value} ` : '');
    }
  }, [value]);
  const tell = useRef(onChange);
  useEffect(() => {
    tell.current = onChange;
  });
  const change = useCallback((next: string) => {
    setText(next);
    told.current.push(next.trim());
    tell.current(next.trim());
  }, []);
  const onField = useCallback(
    (example: string) => {
      change(`${told.current.at(-1)} ${example}`.trimStart());
      input.current?.focus();
    },
    [change],
  );
  const { chips, typed } = split(text);
  const problem = useRested(problems.map((p) => `“${p.raw}” was left out: ${p.reason}`).join(' '));
  return (
    <div className="px-4 pb-2">
      <div className="flex items-center gap-2">
        <div className="flex min-h-[30px] grow flex-wrap items-center gap-1.5 rounded-sm border border-edge bg-surface px-1.5 py-0.5 focus-within:outline-2 focus-within:outline-river">
          {chips.map((chip, i) => (
            <span key={`${chip}${i}`} className="flex items-center rounded-sm bg-river-soft pl-1.5 text-[12.5px]">
              {chip}
              <button
                type="button"
                aria-label={`Remove ${chip}`}
                className="px-1 py-1 text-muted hover:text-ink"
                onClick={() =>
                  change(
                    `${join(
                      chips.filter((_, k) => k !== i),
                      typed,
                    )} `.trimStart(),
                  )
                }
              >
                <X aria-hidden size={12} />
              </button>
            </span>
          ))}
          <input
            ref={input}
            type="search"
            data-search
            aria-label="Search"
            aria-describedby={problem ? id : undefined}
            value={typed}
            placeholder={chips.length ? '' : placeholder}
            onChange={(e) => change(join(chips, e.target.value))}
            onKeyDown={(e) => {
              if (e.key === 'Enter' && typed) change(`${join(chips, typed)} `);
              else if (e.key === 'Backspace' && !typed && chips.length) change(join(chips.slice(0, -1), chips.at(-1)!));
              else if (e.key === 'Escape') {
                if (text) change('');
                else input.current?.blur();
              } else return;
              e.preventDefault();
            }}
            className="min-w-40 grow bg-transparent text-sm outline-none placeholder:text-muted [&::-webkit-search-cancel-button]:hidden"
          />
          <FieldsHelp fields={fields} onPick={onField} />
        </div>
        <span role="status" className="min-w-20 text-right text-xs text-muted">
          {matches === null ? '' : `${formatCount(matches)} ${matches === 1 ? 'match' : 'matches'}${without ? ` without “${without}”` : ''}`}
        </span>
      </div>
      {problem && (
        <p id={id} className="mt-1 text-xs text-lamp">
          {problem}
        </p>
      )}
    </div>
  );
}

/** Drawn with each key, and with each answer that says something else. */
export const SearchLine = memo(PlainSearchLine);

interface FieldsHelpProps {
  readonly fields: Props['fields'];
  readonly onPick: (example: string) => void;
}

/** The fields that can be typed. Not drawn again with each key. */
const FieldsHelp = memo(({ fields, onPick }: FieldsHelpProps) => (
  <Popover className="relative">
    <PopoverButton
      aria-label="Fields to search by"
      title="Fields to search by"
      className="flex items-center rounded-sm p-1 text-muted hover:text-ink"
    >
      <ListFilter aria-hidden size={15} />
    </PopoverButton>
    <PopoverPanel anchor="bottom end" className="z-40 w-72 rounded-sm border border-rule bg-surface p-2 text-[13px] shadow-md">
      {({ close }) => (
        <ul>
          {fields.map((f) => (
            <li key={f.example}>
              <button
                type="button"
                className="flex w-full gap-2 rounded-sm px-1.5 py-1 text-left hover:bg-river-soft"
                onClick={() => {
                  close();
                  onPick(f.example);
                }}
              >
                <span className="font-mono">{f.example}</span>
                <span className="grow text-right text-muted">{f.means}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </PopoverPanel>
  </Popover>
));
