'use client';
import { useId, useState } from 'react';
import type { Parsed } from '../core/money';

interface Props {
  readonly label: string;
  readonly value: number | null;
  /** How the value is written when it is not being typed. */
  readonly write: (value: number) => string;
  readonly parse: (text: string) => Parsed<number>;
  readonly onChange: (value: number | null) => void;
  /** Whether nothing is an answer too. */
  readonly optional?: boolean;
  readonly placeholder?: string;
  readonly className?: string;
  readonly hideLabel?: boolean;
}

/**
 * A number typed as people type it, checked when the field is left or Enter is pressed, echoed back in full,
 * with the reason beside it when it cannot be read.
 */
export function AmountField({
  label,
  value,
  write,
  parse,
  onChange,
  optional,
  placeholder,
  className = 'w-24',
  hideLabel,
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  /**
   * The value when typing began: one that changed meanwhile, as by another tab, is told beside what is typed,
   * which stays.
   */
  const [from, setFrom] = useState<number | null>(null);
  const id = useId();
  const changed = text !== null && from !== value;
  const commit = () => {
    if (text === null) return;
    if (!text.trim() && optional) {
      setText(null);
      setWrong(null);
      if (value !== null) onChange(null);
      return;
    }
    const parsed = parse(text);
    if (!parsed.ok) return setWrong(parsed.reason);
    setText(null);
    setWrong(null);
    if (parsed.value !== value) onChange(parsed.value);
  };
  return (
    <span className="inline-flex flex-col">
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'text-xs text-muted'}>
        {label}
      </label>
      <input
        id={id}
        inputMode="decimal"
        autoComplete="off"
        value={text ?? (value === null ? '' : write(value))}
        placeholder={placeholder}
        aria-invalid={wrong !== null}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(e) => {
          if (text === null) setFrom(value);
          setText(e.target.value);
          setWrong(null);
        }}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit();
          else if (e.key === 'Escape' && text !== null) {
            e.preventDefault();
            e.stopPropagation();
            setText(null);
            setWrong(null);
          }
        }}
        className={`rounded-sm border bg-surface px-1.5 py-0.5 text-right ${wrong ? 'border-loss' : 'border-edge'} ${className}`}
      />
      {changed && !wrong && (
        <span role="status" className="text-xs text-lamp">
          It is {value === null ? 'empty' : write(value)} by now; Enter keeps yours, Esc takes that.
        </span>
      )}
      {wrong && (
        <span id={`${id}-wrong`} className="text-xs text-loss">
          {wrong}
        </span>
      )}
    </span>
  );
}
