'use client';
import { useState } from 'react';
import type { Edit } from './column';

/** The field in which a cell is edited: Enter saves, Escape leaves it as it was. */
export function CellField<R>({
  row,
  label,
  edit,
  onDone,
}: {
  row: R;
  label: string;
  edit: Edit<R>;
  onDone: () => void;
}) {
  const [text, setText] = useState(() => edit.write(row));
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const wrong = text === edit.write(row) ? null : await edit.save(row, text);
    if (wrong === null) onDone();
    else setProblem(wrong);
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it was asked for
      autoFocus
      aria-label={label}
      aria-invalid={problem !== null}
      title={problem ?? undefined}
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        setProblem(null);
      }}
      onClick={(e) => e.stopPropagation()}
      onBlur={() => problem === null && save()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') save();
        else if (e.key === 'Escape') onDone();
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
      className={`w-full min-w-0 rounded-sm border bg-surface px-1 py-0.5 text-right ${problem ? 'border-loss' : 'border-river'}`}
    />
  );
}
