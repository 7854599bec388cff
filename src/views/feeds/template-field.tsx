'use client';
import { useId, useRef, useState } from 'react';
import { templateProblem } from '../../core/feeds';

const LOOK = 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[12.5px]';

/** Fields that are offered at most. */
const OFFERED = 8;

/** What is being typed of a field before a place: the letters behind two braces; null where none is. */
const begun = (text: string, at: number): string | null =>
  /\{\{[#^/&]?\s*([^{}\n]*)$/.exec(text.slice(0, at))?.[1] ?? null;

/** A template, with the fields that begin as what is typed behind two braces: arrows choose, Tab or Enter puts it in, Esc closes. */
export function TemplateField({
  label,
  name,
  value,
  rows,
  fields,
  onChange,
}: {
  label: string;
  /** What it is called where something is wrong with it. */
  name: string;
  value: string;
  rows: number;
  fields: readonly string[];
  onChange: (text: string) => void;
}) {
  const id = useId();
  const area = useRef<HTMLTextAreaElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const wrong = templateProblem(name, value);
  const offered =
    typed === null
      ? []
      : fields.filter((f) => f.startsWith(typed.toLowerCase()) && f !== typed).slice(0, OFFERED);
  const look = () => {
    const el = area.current;
    if (!el) return;
    setTyped(begun(el.value, el.selectionStart));
    setAt(0);
  };
  const put = (field: string) => {
    const el = area.current;
    if (!el || typed === null) return;
    const place = el.selectionStart;
    const rest = value.slice(place).replace(/^[^{}\n]*\}\}/, '');
    const before = `${value.slice(0, place - typed.length)}${field}}}`;
    onChange(before + rest);
    setTyped(null);
    requestAnimationFrame(() => {
      el.focus();
      el.setSelectionRange(before.length, before.length);
    });
  };
  return (
    <div>
      <label htmlFor={id} className="mt-2 block text-xs text-muted">
        {label}
      </label>
      <textarea
        id={id}
        ref={area}
        rows={rows}
        spellCheck={false}
        className={LOOK}
        value={value}
        aria-invalid={wrong !== null || undefined}
        aria-describedby={`${id}-wrong`}
        onChange={(e) => {
          onChange(e.target.value);
          requestAnimationFrame(look);
        }}
        onClick={look}
        onBlur={() => setTimeout(() => setTyped(null), 150)}
        onKeyDown={(e) => {
          if (!offered.length) return;
          if (e.key === 'ArrowDown') setAt((at + 1) % offered.length);
          else if (e.key === 'ArrowUp') setAt((at + offered.length - 1) % offered.length);
          else if (e.key === 'Tab' || e.key === 'Enter') put(offered[at]!);
          else if (e.key === 'Escape') setTyped(null);
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
      {offered.length > 0 && (
        <ul className="flex flex-wrap gap-1 text-xs" aria-label="Fields that begin so">
          {offered.map((field, k) => (
            <li key={field}>
              <button
                type="button"
                tabIndex={-1}
                className={`rounded-sm border border-edge px-1.5 py-1 font-mono ${k === at ? 'bg-river-soft' : ''}`}
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => put(field)}
              >
                {field}
              </button>
            </li>
          ))}
        </ul>
      )}
      <p id={`${id}-wrong`} role="status" className="min-h-4 text-xs text-loss">
        {wrong}
      </p>
    </div>
  );
}
