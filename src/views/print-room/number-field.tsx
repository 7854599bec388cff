'use client';
import { useTyped } from './typed';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly digits: number;
  readonly least: number;
  readonly most: number;
  readonly onCommit: (value: number) => void;
}

/** A figure as people type it, `12,5` or `12.5`; null where it is none. */
function typed(text: string): number | null {
  const plain = text.trim().replace('−', '-').replace(',', '.');
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

/** A figure that is kept when the field is left or Enter is pressed; what is none is marked and not taken. */
export function NumberField({ label, value, digits, least, most, onCommit }: Props) {
  const shown = value.toFixed(digits).replace(/\.0+$/, '');
  const isWrong = (text: string) => {
    const read = typed(text);
    return read === null || read < least || read > most;
  };
  const { wrong, field } = useTyped(shown, isWrong, (text) => onCommit(typed(text)!));
  return (
    <label className="block text-xs text-muted">
      {label}
      <input
        {...field}
        inputMode="decimal"
        title={wrong ? `A number from ${least} to ${most}` : undefined}
        className={`mt-0.5 block w-full rounded-sm border bg-surface px-1.5 py-0.5 text-right text-[13px] text-ink ${wrong ? 'border-loss' : 'border-edge'}`}
      />
    </label>
  );
}
