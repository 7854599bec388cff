'use client';
import { useState } from 'react';
import { Button } from './button';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly value: string;
  readonly onCommit: (text: string) => void;
  readonly area?: boolean;
}

/** What is being typed, and the value it began from; null while nothing is. */
type Typing = { readonly text: string; readonly from: string } | null;

/**
 * A text kept when the field is left, so that each edit is one change with undo. What is typed stays when the
 * value changes meanwhile, as by another tab; then both are shown, and one is chosen.
 */
export function TextField({ id, label, value, onCommit, area }: Props) {
  const [typing, setTyping] = useState<Typing>(null);
  const changed = typing !== null && typing.from !== value && typing.text !== value;
  const commit = () => {
    if (!typing || changed) return;
    setTyping(null);
    if (typing.text !== value) onCommit(typing.text);
  };
  const props = {
    id,
    value: typing?.text ?? value,
    onChange: (e: { target: { value: string } }) =>
      setTyping({ text: e.target.value, from: typing?.from ?? value }),
    onBlur: commit,
    'aria-describedby': changed ? `${id}-changed` : undefined,
    className: 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1',
  };
  return (
    <>
      <label htmlFor={id} className="mt-1 block text-xs text-muted">
        {label}
      </label>
      {area ? (
        <textarea rows={4} {...props} />
      ) : (
        <input {...props} onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()} />
      )}
      {changed && typing && (
        <div id={`${id}-changed`} role="alert" className="mt-1 text-xs text-lamp">
          It was changed elsewhere while you typed: “{value.length > 120 ? `${value.slice(0, 120)}…` : value}
          ”.
          <span className="mt-1 flex gap-2">
            <Button
              onClick={() => {
                setTyping(null);
                onCommit(typing.text);
              }}
            >
              Keep what I typed
            </Button>
            <Button onClick={() => setTyping(null)}>Use the other</Button>
          </span>
        </div>
      )}
    </>
  );
}
