'use client';
import { useId, useState } from 'react';
import {
  ENCODINGS,
  FIELD_WORDS,
  FIELDS,
  type FieldName,
  type Format,
  type Match,
  VARIANTS,
  WEIGHT_UNITS,
} from '../../core/lists';
import { formatRate, parseRate } from '../../core/money';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { askLists } from '../../work/clients';
import type { Inspected, Sample } from '../../work/readings/dropped-lists';

interface Props {
  readonly inspected: Inspected;
  /** Whose list it is. */
  readonly of: string;
  readonly action: string;
  readonly onRead: (match: Match) => void;
  readonly onLeave: () => void;
}

const DELIMITERS: Readonly<Record<string, string>> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
};
const VARIANT_WORDS: Readonly<Record<string, string>> = {
  none: 'each row is a product',
  parent: 'a column names the parent SKU',
  title: 'same title, options in columns',
  pattern: 'first part of the SKU is shared',
};
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

/**
 * The first rows of a list as they will be read: what each column is, what each cell means, and everything
 * that can be corrected, on one picture.
 */
export function MatchPicture({ inspected, of, action, onRead, onLeave }: Props) {
  const [sample, setSample] = useState<Sample>(inspected.sample);
  const [wrong, setWrong] = useState<string | null>(null);
  const [tax, setTax] = useState(formatRate(inspected.sample.match.taxInside || 200_000));
  const { match } = sample;
  const id = useId();
  const again = async (next: Match, reguess = false) => {
    const got = await askLists((lists) => lists.resample(inspected.file, next, reguess));
    if (got.ok) {
      setSample(got.sample);
      setWrong(null);
    } else setWrong(got.reason);
  };
  const change = (part: Partial<Match>) => again({ ...match, ...part });
  const reopen = (format: Format) => again({ ...match, format }, true);
  const fields =
    match.kind === 'listings' ? LISTING_FIELDS : match.kind === 'stock' ? STOCK_FIELDS : ITEM_FIELDS;
  const bad = sample.reads.reduce((n, row) => n + row.filter((r) => r && !r.ok).length, 0);
  const { format } = match;
  const look = 'rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink';
  const field = (label: string, control: React.ReactNode) => (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control stands inside
    <label className="text-xs text-muted">
      {label}
      <span className="block">{control}</span>
    </label>
  );
  const select = <V extends string>(
    value: V,
    options: readonly (readonly [V, string])[],
    onChange: (value: V) => void,
  ) => (
    <select value={value} onChange={(e) => onChange(e.target.value as V)} className={look}>
      {options.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
  const number = (value: number, onChange: (n: number) => void, least = 1) => (
    <input
      type="number"
      min={least}
      max={100_000}
      value={value}
      onChange={(e) => {
        const n = Math.trunc(Number(e.target.value));
        if (n >= least && n <= 100_000) onChange(n);
      }}
      className={`${look} w-20`}
    />
  );

  return (
    <section aria-label="How the list is read" className="flex min-h-0 grow flex-col">
      <div className="flex flex-wrap items-center gap-3 px-4 pb-2">
        <h2 className="text-base font-semibold">
          {inspected.name} <span className="text-[13px] font-normal text-muted">of {of}</span>
        </h2>
        <span className="grow" />
        <Button onClick={onLeave}>Cancel</Button>
        <Button
          kind="main"
          disabled={sample.problems.length > 0 || wrong !== null}
          onClick={() => onRead(match)}
        >
          {action}
        </Button>
      </div>
      <div className="px-4">
        {inspected.changed && (
          <Notice>
            Its columns are not those of the last list. What each is was guessed anew: look it over.
          </Notice>
        )}
        {inspected.sniffed.notes.map((note) => (
          <Notice key={note} tone="plain">
            {note}
          </Notice>
        ))}
        {wrong && <Notice tone="loss">{wrong}</Notice>}
        {sample.problems.map((p) => (
          <Notice key={p}>{p}</Notice>
        ))}
      </div>
      <fieldset
        className="flex flex-wrap items-end gap-x-4 gap-y-2 px-4 py-2"
        aria-label="Conventions of the list"
      >
        {format.kind === 'csv' && (
          <>
            {field(
              'Delimiter',
              select(format.delimiter, Object.entries(DELIMITERS), (delimiter) =>
                reopen({ ...format, delimiter }),
              ),
            )}
            {field(
              'Encoding',
              select(
                format.encoding,
                ENCODINGS.map((e) => [e, e] as const),
                (encoding) => reopen({ ...format, encoding }),
              ),
            )}
          </>
        )}
        {(format.kind === 'csv' || format.kind === 'xlsx') &&
          field(
            'Header row',
            select(
              String(format.headerRow ?? 'none'),
              [
                ['none', 'none'] as const,
                ...Array.from({ length: 12 }, (_, i) => [String(i), `row ${i + 1}`] as const),
              ],
              (row) => reopen({ ...format, headerRow: row === 'none' ? null : Number(row) }),
            ),
          )}
        {format.kind === 'xlsx' &&
          inspected.sniffed.choices.length > 1 &&
          field(
            'Sheet',
            select(
              String(format.sheet),
              inspected.sniffed.choices.map((c, i) => [String(i), c.path] as const),
              (sheet) => reopen({ ...format, sheet: Number(sheet) }),
            ),
          )}
        {(format.kind === 'json' || format.kind === 'xml') &&
          field(
            'Repeating element',
            select(
              format.path,
              inspected.sniffed.choices.map(
                (c) => [c.path, `${c.path || 'the root element'} (${c.count})`] as const,
              ),
              (path) => reopen({ ...format, path }),
            ),
          )}
        {match.kind !== 'listings' &&
          field(
            'Contents',
            select(
              match.kind,
              [
                ['catalogue', 'full items'],
                ['stock', 'stock and cost only'],
              ],
              (kind) => change({ kind, whole: kind === 'catalogue' }),
            ),
          )}
        {field(
          'Decimal separator',
          select(
            match.decimal,
            [
              ['.', 'point'],
              [',', 'comma'],
            ],
            (decimal) => change({ decimal }),
          ),
        )}
        {match.kind === 'catalogue' && (
          <>
            {field(
              'Currency',
              <input
                value={match.currency}
                maxLength={3}
                onChange={(e) => change({ currency: e.target.value.toUpperCase() })}
                className={`${look} w-14 uppercase`}
              />,
            )}
            {field(
              'Costs',
              <span className="flex gap-1">
                {select(
                  match.taxInside ? 'with' : 'net',
                  [
                    ['net', 'without tax'],
                    ['with', 'including tax of'],
                  ],
                  (v) => {
                    const rate = parseRate(tax);
                    change({ taxInside: v === 'net' ? 0 : rate.ok ? rate.value : 200_000 });
                  },
                )}
                {match.taxInside > 0 && (
                  <input
                    aria-label="Rate of tax"
                    value={tax}
                    onChange={(e) => {
                      setTax(e.target.value);
                      const rate = parseRate(e.target.value);
                      if (rate.ok && rate.value > 0) change({ taxInside: rate.value });
                    }}
                    className={`${look} w-16`}
                  />
                )}
              </span>,
            )}
            {!match.fields.includes('pack') &&
              field(
                'Pack size',
                number(match.pack, (pack) => change({ pack })),
              )}
            {field(
              'Variants',
              select(
                match.variants,
                VARIANTS.map((v) => [v, VARIANT_WORDS[v]!] as const),
                (variants) => change({ variants }),
              ),
            )}
            {match.fields.includes('weight') &&
              field(
                'Weight unit',
                select(
                  match.weightUnit,
                  WEIGHT_UNITS.map((u) => [u, u] as const),
                  (weightUnit) => change({ weightUnit }),
                ),
              )}
          </>
        )}
        {match.kind !== 'listings' &&
          field(
            '“In stock” means',
            number(match.someStock, (someStock) => change({ someStock }), 0),
          )}
        {match.kind === 'catalogue' && (
          <label className="flex items-center gap-1.5 pb-1 text-[13px]">
            <input
              type="checkbox"
              checked={match.whole}
              onChange={(e) => change({ whole: e.target.checked })}
              className="accent-river"
            />
            Complete list: items not in it are discontinued
          </label>
        )}
      </fieldset>
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
                <th
                  key={`${name}-${i}`}
                  scope="col"
                  className="border-l border-rule-soft px-2 py-1.5 text-left font-normal"
                >
                  <label
                    htmlFor={`${id}-${i}`}
                    className="block max-w-[180px] truncate text-xs text-muted"
                    title={name}
                  >
                    {name || `Column ${i + 1}`}
                  </label>
                  <select
                    id={`${id}-${i}`}
                    value={match.fields[i] ?? ''}
                    onChange={(e) =>
                      change({
                        fields: match.fields.map((f, k) =>
                          k === i ? ((e.target.value || null) as FieldName | null) : f,
                        ),
                      })
                    }
                    className={`w-[140px] rounded-sm border px-1 py-0.5 text-[13px] ${match.fields[i] ? 'border-river bg-river-soft font-semibold' : 'border-edge bg-surface text-muted'}`}
                  >
                    <option value="">not used</option>
                    {fields.map((f) => (
                      <option key={f} value={f}>
                        {FIELD_WORDS[f]}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.rows.map((cells, r) => (
              <tr key={sample.lines[r]} className="border-t border-rule-soft align-top">
                <td className="px-2 py-1 text-right text-xs text-muted">{sample.lines[r]}</td>
                {match.header.map((name, i) => {
                  const read = sample.reads[r]?.[i];
                  const plain =
                    read?.ok && (read.says === cells[i] || Object.values(FIELD_WORDS).includes(read.says));
                  return (
                    <td
                      key={`${name}-${i}`}
                      className={`max-w-[220px] border-l border-rule-soft px-2 py-1 ${match.fields[i] ? '' : 'text-muted'}`}
                    >
                      <span className="block truncate" title={cells[i]}>
                        {cells[i]}
                      </span>
                      {read && !plain && (
                        <span
                          className={`block text-xs ${read.ok ? 'truncate text-river' : 'font-semibold text-loss'}`}
                        >
                          {read.ok ? `= ${read.says}` : `✕ ${read.says}`}
                        </span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
