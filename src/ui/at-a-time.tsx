'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Clock } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { instantOf, whenOf } from '../core/units';
import { Button } from './button';
import { DateField } from './date-field';

/** A clock beside a button: the same at a time that one picks. */
export function AtATime({
  name,
  label,
  verb,
  disabled = false,
  zone,
  now,
  problem = null,
  onPick,
  children,
}: {
  name: string;
  label: string;
  /** What is done then, as in “Publish at a time”. */
  verb: string;
  disabled?: boolean;
  zone: string;
  now: number;
  /** Why it cannot be done at a time. */
  problem?: string | null;
  onPick: (at: number, local: string) => void;
  /** Other ways, below. */
  children?: (close: () => void) => ReactNode;
}) {
  const [local, setLocal] = useState('');
  const at = instantOf(local, zone);
  const past = at !== null && at <= now;
  const wrong = problem ?? (past ? 'This time is past.' : null);
  return (
    <Popover className="relative -ml-2.5">
      <PopoverButton
        disabled={disabled}
        aria-label={name}
        title={name}
        className="rounded-sm border border-edge p-1.5 text-river hover:bg-river-soft disabled:opacity-50"
      >
        <Clock aria-hidden size={14} />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 w-72 rounded-sm border border-rule bg-surface p-3 text-[13.5px] shadow-md"
      >
        {({ close }) => (
          <>
            <DateField label={label} value={local} time inPanel onChange={setLocal} />
            {wrong && <p className="mt-1 text-xs text-loss">{wrong}</p>}
            <Button
              kind="main"
              className="mt-2"
              disabled={at === null || wrong !== null}
              onClick={() => {
                onPick(at!, local);
                close();
              }}
            >
              {at !== null && !past ? `${verb} ${whenOf(at, now, zone)}` : `${verb} at a time`}
            </Button>
            {children?.(close)}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
