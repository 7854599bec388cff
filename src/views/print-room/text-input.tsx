'use client';
import { useTyped } from './typed';

/** A short text that is kept when the field is left or Enter is pressed. @param wrong why a text is not taken; null where it is */
export function TextInput({
  label,
  value,
  wrong: whyNot = () => null,
  onCommit,
}: {
  label: string;
  value: string;
  wrong?: (text: string) => string | null;
  onCommit: (text: string) => void;
}) {
  const { text, wrong, field } = useTyped(value, (typed) => whyNot(typed) !== null, onCommit);
  return (
    <label className="block text-xs text-muted">
      {label}
      <input
        {...field}
        className={`mt-0.5 block w-full rounded-sm border bg-surface px-1.5 py-0.5 text-[13px] text-ink ${wrong ? 'border-loss' : 'border-edge'}`}
      />
      {wrong && <span className="text-loss">{whyNot(text!)}</span>}
    </label>
  );
}
