'use client';
import { useState } from 'react';
import { Button } from './button';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly value: string;
  /** @returns false where it was not taken: what was typed stays */
  readonly onCommit: (text: string) => unknown;
  readonly area?: boolean;
  /** Under which what is typed is kept for this tab until it is taken: it outlives a reload. */
  readonly keep?: string;
  /** Characters that are taken; counted while one types. */
  readonly limit?: number | null;
}

/** What is being typed, and the value it began from; null while nothing is. */
type Typing = { readonly text: string; readonly from: string } | null;

const keyOf = (keep: string) => `typing:${keep}`;

function keptTyping(keep: string | undefined): Typing {
  try {
    const kept = keep && (JSON.parse(sessionStorage.getItem(keyOf(keep)) ?? 'null') as Typing);
    return kept && typeof kept.text === 'string' && typeof kept.from === 'string' ? kept : null;
  } catch {
    return null;
  }
}

/**
 * A text kept when the field is left, so that each edit is one change with undo. What is typed stays when the
 * value changes meanwhile, as by another tab; then both are shown, and one is chosen.
 */
export function TextField({ id, label, value, onCommit, area, keep, limit = null }: Props) {
  const [typing, setState] = useState<Typing>(() => keptTyping(keep));
  const setTyping = (next: Typing) => {
    setState(next);
    if (!keep) return;
    if (next) sessionStorage.setItem(keyOf(keep), JSON.stringify(next));
    else sessionStorage.removeItem(keyOf(keep));
  };
  const changed = typing !== null && typing.from !== value && typing.text !== value;
  const send = async (text: string) => {
    const back = typing;
    setTyping(null);
    if ((await onCommit(text)) === false) setTyping(back);
  };
  const commit = () => {
    if (!typing || changed) return;
    if (typing.text === value) setTyping(null);
    else send(typing.text);
  };
  const text = typing?.text ?? value;
  const length = [...text].length;
  const tooLong = limit !== null && length > limit;
  const props = {
    id,
    value: text,
    onChange: (e: { target: { value: string } }) =>
      setTyping({ text: e.target.value, from: typing?.from ?? value }),
    onBlur: commit,
    'aria-invalid': tooLong || undefined,
    'aria-describedby': changed ? `${id}-changed` : limit !== null ? `${id}-length` : undefined,
    className: `w-full rounded-sm border bg-surface px-1.5 py-1 ${tooLong ? 'border-loss' : 'border-edge'}`,
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
      {limit !== null && (
        <span id={`${id}-length`} className={`block text-xs ${tooLong ? 'text-loss' : 'text-muted'}`}>
          {length} of {limit} characters{tooLong ? `, ${length - limit} too many` : ''}
        </span>
      )}
      {changed && typing && (
        <div id={`${id}-changed`} role="alert" className="mt-1 text-xs text-lamp">
          It was changed elsewhere while you typed: “{value.length > 120 ? `${value.slice(0, 120)}…` : value}
          ”.
          <span className="mt-1 flex gap-2">
            <Button onClick={() => send(typing.text)}>Keep what I typed</Button>
            <Button onClick={() => setTyping(null)}>Use the other</Button>
          </span>
        </div>
      )}
    </>
  );
}
