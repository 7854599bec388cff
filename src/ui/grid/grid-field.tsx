'use client';
import { useId, useRef, useState } from 'react';
import { theShop } from '../../work/desk/client';
import type { FieldId } from '../../work/quoting/listing-cells';
import { useAnswer } from '../answer';

/** Milliseconds of rest after which what is typed is checked. */
const REST = 120;

/** The field in which a cell is edited; what is wrong with it is told while one types. */
export function GridField({
  label,
  listing,
  field,
  text: begun,
  onCommit,
  onCancel,
}: {
  label: string;
  listing: string;
  field: FieldId;
  text: string;
  onCommit: (text: string, down: number, right: number) => void;
  onCancel: () => void;
}) {
  const [text, setText] = useState(begun);
  const problem =
    useAnswer(() => theShop().checkCell({ listing, field, text }), [listing, field, text], REST) ?? null;
  const id = useId();
  const over = useRef(false);
  const end = (act: () => void) => {
    over.current = true;
    act();
  };
  return (
    <>
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        aria-label={label}
        aria-invalid={problem !== null}
        aria-describedby={problem ? id : undefined}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => !over.current && end(() => onCommit(text, 0, 0))}
        onKeyDown={(e) => {
          if (e.key === 'Enter') end(() => onCommit(text, e.shiftKey ? -1 : 1, 0));
          else if (e.key === 'Tab') end(() => onCommit(text, 0, e.shiftKey ? -1 : 1));
          else if (e.key === 'Escape') end(onCancel);
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className={`-mx-1 w-[calc(100%+8px)] rounded-sm border bg-surface px-1 leading-6 ${problem ? 'border-loss' : 'border-river'}`}
      />
      {problem && (
        <span
          id={id}
          role="alert"
          className="absolute top-full z-30 max-w-80 border border-loss bg-loss-soft px-2 py-0.5 text-xs whitespace-normal"
        >
          {problem}
        </span>
      )}
    </>
  );
}
