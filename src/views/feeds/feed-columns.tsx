'use client';
import { GripVertical, X } from 'lucide-react';
import { COLUMN_KINDS, FEED_FIELDS, type FeedColumn } from '../../core/feeds';
import { Button } from '../../ui/button';
import { Sortable, useSorted } from '../../ui/sortable';
import { KIND_WORDS } from './words';

const LOOK = 'w-full rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px]';

const VALUE = ' value';
const TEMPLATE = ' template';

const NEW: Omit<FeedColumn, 'name'> = {
  ...{ from: { field: 'title' }, kind: 'text', required: false },
  ...{ shortest: null, longest: null, allowed: [] },
};

/** The columns of a feed: under which name, of what, and what holds for each. */
export function FeedColumns({
  columns,
  fields,
  onChange,
}: {
  columns: readonly FeedColumn[];
  /** All fields that its products have. */
  fields: readonly string[];
  onChange: (columns: readonly FeedColumn[]) => void;
}) {
  const put = (at: number, next: Partial<FeedColumn>) =>
    onChange(columns.map((c, k) => (k === at ? { ...c, ...next } : c)));
  const all = [...new Set([...Object.keys(FEED_FIELDS), ...fields])];
  return (
    <>
      <Sortable
        ids={columns.map((_, k) => String(k))}
        onOrder={(ids) => onChange(ids.map((id) => columns[Number(id)]!))}
      >
        <ul className="space-y-1.5">
          {columns.map((column, k) => (
            <ColumnRow
              // A column is known by its place alone while its name is typed.
              key={k}
              at={k}
              column={column}
              fields={all}
              onChange={(next) => put(k, next)}
              onRemove={() => onChange(columns.filter((_, i) => i !== k))}
            />
          ))}
        </ul>
      </Sortable>
      <Button
        kind="text"
        className="mt-1"
        onClick={() => onChange([...columns, { ...NEW, name: `column${columns.length + 1}` }])}
      >
        Add a column
      </Button>
    </>
  );
}

function ColumnRow({
  at,
  column,
  fields,
  onChange,
  onRemove,
}: {
  at: number;
  column: FeedColumn;
  fields: readonly string[];
  onChange: (next: Partial<FeedColumn>) => void;
  onRemove: () => void;
}) {
  const { item, handle } = useSorted(String(at));
  const { name, from, kind, required, shortest, longest, allowed } = column;
  const of = `column ${at + 1}`;
  const chosen = 'field' in from ? from.field : 'value' in from ? VALUE : TEMPLATE;
  const limit = (text: string) => {
    const n = Number(text.replace(/\D/g, ''));
    return text.trim() && n > 0 ? Math.min(n, 100_000) : null;
  };
  return (
    <li {...item} className="flex flex-wrap items-center gap-1.5 border-b border-rule-soft bg-ground pb-1.5">
      <button
        {...handle}
        aria-label={`Move ${of}, ${name}`}
        className="cursor-grab touch-none p-1 text-muted hover:text-ink"
      >
        <GripVertical aria-hidden size={14} />
      </button>
      <input
        aria-label={`Name of ${of}`}
        className={`${LOOK} w-28! font-mono`}
        value={name}
        onChange={(e) => onChange({ name: e.target.value })}
      />
      <select
        aria-label={`What stands in ${of}`}
        className={`${LOOK} w-36!`}
        value={chosen}
        onChange={(e) =>
          onChange({
            from:
              e.target.value === VALUE
                ? { value: '' }
                : e.target.value === TEMPLATE
                  ? { template: 'field' in from ? `{{${from.field}}}` : '' }
                  : { field: e.target.value },
          })
        }
      >
        <option value={VALUE}>Always the same value</option>
        <option value={TEMPLATE}>By a template</option>
        {'field' in from && !fields.includes(from.field) && <option value={from.field}>{from.field}</option>}
        {fields.map((field) => (
          <option key={field} value={field}>
            {field}
          </option>
        ))}
      </select>
      <select
        aria-label={`Kind of ${of}`}
        className={`${LOOK} w-24!`}
        value={kind}
        onChange={(e) => onChange({ kind: e.target.value as FeedColumn['kind'] })}
      >
        {COLUMN_KINDS.map((one) => (
          <option key={one} value={one}>
            {KIND_WORDS[one]}
          </option>
        ))}
      </select>
      <label className="flex min-h-6 items-center gap-1 text-xs">
        <input
          type="checkbox"
          className="accent-river"
          checked={required}
          onChange={(e) => onChange({ required: e.target.checked })}
        />
        required<span className="sr-only"> in {of}</span>
      </label>
      <label className="flex items-center gap-1 text-xs text-muted">
        at most
        <input
          aria-label={`Most characters of ${of}`}
          inputMode="numeric"
          className={`${LOOK} w-12! text-right text-ink`}
          value={longest ?? ''}
          onChange={(e) => onChange({ longest: limit(e.target.value) })}
        />
      </label>
      <span className="grow" />
      <button
        type="button"
        aria-label={`Remove ${of}, ${name}`}
        className="p-1 text-muted hover:text-ink"
        onClick={onRemove}
      >
        <X aria-hidden size={14} />
      </button>
      {chosen === VALUE && 'value' in from && (
        <input
          aria-label={`Value of ${of}`}
          className={`${LOOK} ml-7 font-mono`}
          value={from.value}
          onChange={(e) => onChange({ from: { value: e.target.value } })}
        />
      )}
      {chosen === TEMPLATE && 'template' in from && (
        <input
          aria-label={`Template of ${of}`}
          className={`${LOOK} ml-7 font-mono`}
          value={from.template}
          placeholder="{{brand}} {{title}}"
          onChange={(e) => onChange({ from: { template: e.target.value } })}
        />
      )}
      {(allowed.length > 0 || shortest !== null) && (
        <p className="ml-7 text-xs text-muted">
          {shortest !== null && `At least ${shortest} characters. `}
          {allowed.length > 0 && `One of: ${allowed.join(', ')}.`}
        </p>
      )}
      {kind === 'text' && (
        <details className="ml-7 w-full text-xs">
          <summary className="min-h-6 cursor-pointer text-muted">More rules of {name || of}</summary>
          <label className="flex items-center gap-1">
            At least this many characters
            <input
              inputMode="numeric"
              className={`${LOOK} w-14! text-right`}
              value={shortest ?? ''}
              onChange={(e) => onChange({ shortest: limit(e.target.value) })}
            />
          </label>
          <label className="mt-1 block">
            Only these values, one a line
            <textarea
              rows={3}
              className={LOOK}
              value={allowed.join('\n')}
              onChange={(e) =>
                onChange({
                  allowed: e.target.value ? e.target.value.split('\n').map((v) => v.trimStart()) : [],
                })
              }
            />
          </label>
        </details>
      )}
    </li>
  );
}
