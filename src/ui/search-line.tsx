'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ListFilter, X } from 'lucide-react';
import { memo, useCallback, useEffect, useId, useMemo, useRef, useState } from 'react';
import { splitTyped } from '../core/query';
import { formatCount } from '../core/units';
import { type Completion, completionsOf } from './completions';

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

/** A search line: finished terms as chips, and what is being typed, to the letter. */
interface Line {
  readonly chips: readonly string[];
  readonly typed: string;
}

const EMPTY: Line = { chips: [], typed: '' };

/** A line as it comes from the address: all of it is finished but an open quote. */
function lineOf(query: string): Line {
  const { done, rest } = splitTyped(`${query} `);
  return { chips: done, typed: rest.trimEnd() };
}

/** A term with its quote closed. */
const closed = (term: string) => ((term.match(/"/g)?.length ?? 0) % 2 ? `${term}"` : term);

const queryOf = ({ chips, typed }: Line) => [...chips, typed].join(' ').trim();

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

/**
 * Free text and `field:value` terms; finished terms become chips, the result follows each key. `/` comes
 * here.
 */
function PlainSearchLine({ value, onChange, placeholder, fields, matches, without, problems = NONE }: Props) {
  const [line, setLine] = useState(() => lineOf(value));
  const input = useRef<HTMLInputElement>(null);
  /**
   * What was told upwards and has not come back yet. The address follows typing with a delay: an echo of an
   * earlier key must not undo later ones.
   */
  const told = useRef<string[]>([value]);
  const id = useId();
  useEffect(() => {
    const echo = told.current.lastIndexOf(value);
    if (echo >= 0) told.current = told.current.slice(echo);
    else {
      told.current = [value];
      setLine(lineOf(value));
    }
  }, [value]);
  const tell = useRef(onChange);
  /** The line as it is now: several keys may come before it is drawn. */
  const now = useRef(line);
  useEffect(() => {
    tell.current = onChange;
    now.current = line;
  });
  const change = useCallback((next: Line) => {
    now.current = next;
    setLine(next);
    const query = queryOf(next);
    told.current.push(query);
    tell.current(query);
  }, []);
  const type = (typed: string) => {
    const { done, rest } = splitTyped(typed);
    change({ chips: [...now.current.chips, ...done], typed: rest });
  };
  const onField = useCallback(
    (example: string) => {
      const { chips, typed } = now.current;
      change({ chips: typed.trim() ? [...chips, closed(typed)] : chips, typed: example });
      input.current?.focus();
    },
    [change],
  );
  const { chips, typed } = line;
  const [isHere, setHere] = useState(false);
  /** Which completion the arrows stand on; -1 for none, in the line itself. */
  const [at, setAt] = useState(-1);
  const completions = useMemo(() => completionsOf(typed, fields), [typed, fields]);
  const open = isHere && completions.length > 0;
  const complete = ({ typed: text, whole }: Completion) => {
    change(
      whole ? { chips: [...now.current.chips, text], typed: '' } : { chips: now.current.chips, typed: text },
    );
    setAt(-1);
    input.current?.focus();
  };
  const problem = useRested(problems.map((p) => `“${p.raw}” was left out: ${p.reason}`).join(' '));
  return (
    <div className="px-4 pb-2">
      <div className="flex items-center gap-2">
        <div className="relative flex min-h-[30px] grow flex-wrap items-center gap-1.5 rounded-sm border border-edge bg-surface px-1.5 py-0.5 focus-within:outline-2 focus-within:outline-river">
          {chips.map((chip, i) => (
            <span
              key={`${chip}${i}`}
              className="flex items-center rounded-sm bg-river-soft pl-1.5 text-[12.5px]"
            >
              {chip}
              <button
                type="button"
                aria-label={`Remove ${chip}`}
                className="px-1 py-1 text-muted hover:text-ink"
                onClick={() => change({ chips: chips.filter((_, k) => k !== i), typed })}
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
            role="combobox"
            aria-autocomplete="list"
            aria-expanded={open}
            aria-controls={`${id}-list`}
            aria-activedescendant={open && at >= 0 ? `${id}-${at}` : undefined}
            aria-describedby={problem && !open ? id : undefined}
            value={typed}
            placeholder={chips.length ? '' : placeholder}
            onChange={(e) => {
              setAt(-1);
              type(e.target.value);
            }}
            onFocus={() => setHere(true)}
            onBlur={() => setHere(false)}
            onKeyDown={(e) => {
              if (open && e.key === 'ArrowDown') setAt(Math.min(at + 1, completions.length - 1));
              else if (open && e.key === 'ArrowUp') setAt(Math.max(at - 1, -1));
              else if (open && at >= 0 && e.key === 'Enter') complete(completions[at]!);
              else if (open && at >= 0 && e.key === 'Escape') setAt(-1);
              else if (e.key === 'ArrowDown' || (e.key === 'Enter' && !typed))
                document.querySelector<HTMLElement>('[data-table]')?.focus();
              else if (e.key === 'Enter' && typed) change({ chips: [...chips, closed(typed)], typed: '' });
              else if (e.key === 'Backspace' && !typed && chips.length)
                change({ chips: chips.slice(0, -1), typed: chips.at(-1)! });
              else if (e.key === 'Escape') {
                if (chips.length || typed) change(EMPTY);
                else input.current?.blur();
              } else return;
              e.preventDefault();
            }}
            className="min-w-40 grow bg-transparent text-sm outline-none placeholder:text-muted [&::-webkit-search-cancel-button]:hidden"
          />
          <FieldsHelp fields={fields} onPick={onField} />
          {open && (
            <ul
              id={`${id}-list`}
              role="listbox"
              aria-label="Fields that begin so"
              className="absolute top-full left-0 z-30 mt-1 w-96 rounded-sm border border-rule bg-surface p-1 text-[13px] shadow-md"
            >
              {completions.map((one, k) => (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the arrows in the line choose it
                <li
                  key={one.typed}
                  id={`${id}-${k}`}
                  role="option"
                  aria-selected={k === at}
                  className={`flex cursor-pointer gap-2 rounded-sm px-1.5 py-1 hover:bg-river-soft ${k === at ? 'bg-river-soft' : ''}`}
                  onPointerDown={(e) => e.preventDefault()}
                  onClick={() => complete(one)}
                >
                  <span className="font-mono">{one.typed}</span>
                  <span className="grow truncate text-right text-muted">{one.means}</span>
                </li>
              ))}
            </ul>
          )}
        </div>
        <span role="status" className="min-w-20 text-right text-xs text-muted">
          {matches === null
            ? ''
            : `${formatCount(matches)} ${matches === 1 ? 'match' : 'matches'}${without ? ` without “${without}”` : ''}`}
        </span>
      </div>
      {problem && !open && (
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
    <PopoverPanel
      anchor="bottom end"
      className="z-40 w-72 rounded-sm border border-rule bg-surface p-2 text-[13px] shadow-md"
    >
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
