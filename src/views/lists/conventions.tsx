'use client';
import { type ReactNode, useState } from 'react';
import { ENCODINGS, type Format, type Match, VARIANTS, WEIGHT_UNITS } from '../../core/lists';
import { formatRate, parseRate } from '../../core/money';
import type { Inspected } from '../../work/readings/dropped-lists';

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
const ROWS = Array.from({ length: 12 }, (_, i) => [String(i), `row ${i + 1}`] as const);
const LOOK = 'rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink';

interface Props {
  readonly match: Match;
  readonly onChange: (part: Partial<Match>) => void;
}

interface FormatProps {
  readonly inspected: Inspected;
  readonly format: Format;
  /** The list is opened anew, and its columns guessed. */
  readonly onReopen: (format: Format) => void;
}

/** How the list is written: what can be corrected before it is read. */
export function Conventions({ inspected, match, onChange, onReopen }: Props & Omit<FormatProps, 'format'>) {
  return (
    <fieldset
      className="flex flex-wrap items-end gap-x-4 gap-y-2 px-4 py-2"
      aria-label="Conventions of the list"
    >
      <FormatSettings inspected={inspected} format={match.format} onReopen={onReopen} />
      {match.kind !== 'listings' && (
        <Setting label="Contents">
          <Choice
            value={match.kind}
            options={[
              ['catalogue', 'full items'],
              ['stock', 'stock and cost only'],
            ]}
            onPick={(kind) => onChange({ kind, whole: kind === 'catalogue' })}
          />
        </Setting>
      )}
      <Setting label="Decimal separator">
        <Choice
          value={match.decimal}
          options={[
            ['.', 'point'],
            [',', 'comma'],
          ]}
          onPick={(decimal) => onChange({ decimal })}
        />
      </Setting>
      {match.kind === 'catalogue' && <CatalogueSettings match={match} onChange={onChange} />}
      {match.kind !== 'listings' && (
        <Setting label="“In stock” means">
          <Count value={match.someStock} least={0} onPick={(someStock) => onChange({ someStock })} />
        </Setting>
      )}
      {match.kind === 'catalogue' && (
        <label className="flex items-center gap-1.5 pb-1 text-[13px]">
          <input
            type="checkbox"
            checked={match.whole}
            onChange={(e) => onChange({ whole: e.target.checked })}
            className="accent-river"
          />
          Complete list: items not in it are discontinued
        </label>
      )}
    </fieldset>
  );
}

/** What depends on the kind of file. */
function FormatSettings({ inspected, format, onReopen }: FormatProps) {
  const { choices } = inspected.sniffed;
  return (
    <>
      {format.kind === 'csv' && (
        <>
          <Setting label="Delimiter">
            <Choice
              value={format.delimiter}
              options={Object.entries(DELIMITERS)}
              onPick={(delimiter) => onReopen({ ...format, delimiter })}
            />
          </Setting>
          <Setting label="Encoding">
            <Choice
              value={format.encoding}
              options={ENCODINGS.map((e) => [e, e] as const)}
              onPick={(encoding) => onReopen({ ...format, encoding })}
            />
          </Setting>
        </>
      )}
      {(format.kind === 'csv' || format.kind === 'xlsx') && (
        <Setting label="Header row">
          <Choice
            value={String(format.headerRow ?? 'none')}
            options={[['none', 'none'], ...ROWS]}
            onPick={(row) => onReopen({ ...format, headerRow: row === 'none' ? null : Number(row) })}
          />
        </Setting>
      )}
      {format.kind === 'xlsx' && choices.length > 1 && (
        <Setting label="Sheet">
          <Choice
            value={String(format.sheet)}
            options={choices.map((c, i) => [String(i), c.path] as const)}
            onPick={(sheet) => onReopen({ ...format, sheet: Number(sheet) })}
          />
        </Setting>
      )}
      {(format.kind === 'json' || format.kind === 'xml') && (
        <Setting label="Repeating element">
          <Choice
            value={format.path}
            options={choices.map((c) => [c.path, `${c.path || 'the root element'} (${c.count})`] as const)}
            onPick={(path) => onReopen({ ...format, path })}
          />
        </Setting>
      )}
    </>
  );
}

/** What a list of whole items says of costs, packs, variants and weights. */
function CatalogueSettings({ match, onChange }: Props) {
  const [tax, setTax] = useState(formatRate(match.taxInside || 200_000));
  const rate = parseRate(tax);
  return (
    <>
      <Setting label="Currency">
        <input
          value={match.currency}
          maxLength={3}
          onChange={(e) => onChange({ currency: e.target.value.toUpperCase() })}
          className={`${LOOK} w-14 uppercase`}
        />
      </Setting>
      <Setting label="Costs">
        <span className="flex gap-1">
          <Choice
            value={match.taxInside ? 'with' : 'net'}
            options={[
              ['net', 'without tax'],
              ['with', 'including tax of'],
            ]}
            onPick={(v) => onChange({ taxInside: v === 'net' ? 0 : rate.ok ? rate.value : 200_000 })}
          />
          {match.taxInside > 0 && (
            <input
              aria-label="Rate of tax"
              value={tax}
              onChange={(e) => {
                setTax(e.target.value);
                const typed = parseRate(e.target.value);
                if (typed.ok && typed.value > 0) onChange({ taxInside: typed.value });
              }}
              className={`${LOOK} w-16`}
            />
          )}
        </span>
      </Setting>
      {!match.fields.includes('pack') && (
        <Setting label="Pack size">
          <Count value={match.pack} onPick={(pack) => onChange({ pack })} />
        </Setting>
      )}
      <Setting label="Variants">
        <Choice
          value={match.variants}
          options={VARIANTS.map((v) => [v, VARIANT_WORDS[v]!] as const)}
          onPick={(variants) => onChange({ variants })}
        />
      </Setting>
      {match.fields.includes('weight') && (
        <Setting label="Weight unit">
          <Choice
            value={match.weightUnit}
            options={WEIGHT_UNITS.map((u) => [u, u] as const)}
            onPick={(weightUnit) => onChange({ weightUnit })}
          />
        </Setting>
      )}
    </>
  );
}

function Setting({ label, children }: { label: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control stands inside
    <label className="text-xs text-muted">
      {label}
      <span className="block">{children}</span>
    </label>
  );
}

function Choice<V extends string>({
  value,
  options,
  onPick,
}: {
  value: V;
  options: readonly (readonly [V, string])[];
  onPick: (value: V) => void;
}) {
  return (
    <select value={value} onChange={(e) => onPick(e.target.value as V)} className={LOOK}>
      {options.map(([v, words]) => (
        <option key={v} value={v}>
          {words}
        </option>
      ))}
    </select>
  );
}

function Count({ value, least = 1, onPick }: { value: number; least?: number; onPick: (n: number) => void }) {
  return (
    <input
      type="number"
      min={least}
      max={100_000}
      value={value}
      onChange={(e) => {
        const n = Math.trunc(Number(e.target.value));
        if (n >= least && n <= 100_000) onPick(n);
      }}
      className={`${LOOK} w-20`}
    />
  );
}
