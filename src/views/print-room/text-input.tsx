'use client';
import { useState } from 'react';

/** A short text that is kept when the field is left or Enter is pressed. @param wrong why a text is not taken; null where it is */
export function TextInput({
  label,
  value,
  wrong = () => null,
  onCommit,
}: {
  label: string;
  value: string;
  wrong?: (text: string) => string | null;
  onCommit: (text: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const why = text === null ? null : wrong(text);
  const commit = () => {
    if (text !== null && !why && text !== value) onCommit(text);
    if (!why) setText(null);
  };
  return (
    <label className="block text-xs text-muted">
      {label}
      <input
        value={text ?? value}
        aria-invalid={why !== null || undefined}
        title={why ?? undefined}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit();
          else if (e.key === 'Escape' && text !== null) {
            e.stopPropagation();
            setText(null);
          }
        }}
        className={`mt-0.5 block w-full rounded-sm border bg-surface px-1.5 py-0.5 text-[13px] text-ink ${why ? 'border-loss' : 'border-edge'}`}
      />
      {why && <span className="text-loss">{why}</span>}
    </label>
  );
}
