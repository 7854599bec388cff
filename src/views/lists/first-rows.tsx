'use client';
import { useId } from 'react';
import { FIELD_WORDS, FIELDS, type FieldName, type Match } from '../../core/lists';
import type { Sample } from '../../work/readings/dropped-lists';

const LISTING_FIELDS: readonly FieldName[] = [
  'sku',
  'title',
  'price',
  'stock',
  'state',
  'gtin',
  'brand',
  'category',
  'option',
  'parent',
  'description',
  'picture',
];
const STOCK_FIELDS: readonly FieldName[] = ['sku', 'gtin', 'stock', 'cost', 'pack'];
const ITEM_FIELDS = FIELDS.filter((f) => f !== 'price' && f !== 'state' && f !== 'link');

const fieldsOf = (kind: Match['kind']): readonly FieldName[] =>
  kind === 'listings' ? LISTING_FIELDS : kind === 'stock' ? STOCK_FIELDS : ITEM_FIELDS;

/** The first rows as they will be read: what each column is, and what each cell means. */
export function FirstRows({
  sample,
  onChange,
}: {
  sample: Sample;
  onChange: (part: Partial<Match>) => void;
}) {
  const { match } = sample;
  const fields = fieldsOf(match.kind);
  const bad = sample.reads.reduce((n, row) => n + row.filter((r) => r && !r.ok).length, 0);
  return (
    <>
      <p role="status" className="px-4 pb-1 text-[13px] text-muted">
        {bad ? (
          <span className="text-lamp">{bad} cells of these rows cannot be read.</span>
        ) : (
          'Every cell of these rows can be read.'
        )}{' '}
        The small text shows how each cell is read.
      </p>
      <div
        className="min-h-0 grow overflow-auto border-t border-rule bg-surface"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls sideways and must be reachable by keyboard
        tabIndex={0}
        role="region"
        aria-label="First rows"
      >
        <table className="text-[13px]">
          <thead className="sticky top-0 bg-raised">
            <tr className="align-bottom">
              <th scope="col" className="px-2 text-right text-xs font-normal text-muted">
                Line
              </th>
              {match.header.map((name, i) => (
                <ColumnHead
                  key={`${name}-${i}`}
                  name={name || `Column ${i + 1}`}
                  field={match.fields[i] ?? null}
                  fields={fields}
                  onPick={(field) => onChange({ fields: match.fields.map((f, k) => (k === i ? field : f)) })}
                />
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.rows.map((cells, r) => (
              <tr key={sample.lines[r]} className="border-t border-rule-soft align-top">
                <td className="px-2 py-1 text-right text-xs text-muted">{sample.lines[r]}</td>
                {match.header.map((name, i) => (
                  <Cell
                    key={`${name}-${i}`}
                    text={cells[i] ?? ''}
                    read={sample.reads[r]?.[i] ?? null}
                    used={match.fields[i] != null}
                  />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function ColumnHead({
  name,
  field,
  fields,
  onPick,
}: {
  name: string;
  field: FieldName | null;
  fields: readonly FieldName[];
  onPick: (field: FieldName | null) => void;
}) {
  const id = useId();
  return (
    <th scope="col" className="border-l border-rule-soft px-2 py-1.5 text-left font-normal">
      <label htmlFor={id} className="block max-w-[180px] truncate text-xs text-muted" title={name}>
        {name}
      </label>
      <select
        id={id}
        value={field ?? ''}
        onChange={(e) => onPick((e.target.value || null) as FieldName | null)}
        className={`w-[140px] rounded-sm border px-1 py-0.5 text-[13px] ${field ? 'border-river bg-river-soft font-semibold' : 'border-edge bg-surface text-muted'}`}
      >
        <option value="">not used</option>
        {fields.map((f) => (
          <option key={f} value={f}>
            {FIELD_WORDS[f]}
          </option>
        ))}
      </select>
    </th>
  );
}

/** A cell, and below it what it is read as where that is not plain. */
function Cell({
  text,
  read,
  used,
}: {
  text: string;
  read: Sample['reads'][number][number] | null;
  used: boolean;
}) {
  const plain = read?.ok && (read.says === text || Object.values(FIELD_WORDS).includes(read.says));
  return (
    <td className={`max-w-[220px] border-l border-rule-soft px-2 py-1 ${used ? '' : 'text-muted'}`}>
      <span className="block truncate" title={text}>
        {text}
      </span>
      {read && !plain && (
        <span className={`block text-xs ${read.ok ? 'truncate text-river' : 'font-semibold text-loss'}`}>
          {read.ok ? `= ${read.says}` : `✕ ${read.says}`}
        </span>
      )}
    </td>
  );
}
