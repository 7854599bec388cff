'use client';
import { memo, useMemo, useState } from 'react';
import { type FacetName, type FacetValue, ITEM_FIELDS } from '../../core/catalogue';
import { hasTerm, readCondition } from '../../core/query';
import { formatCount } from '../../core/units';

const FEW = 6;

const BANDS: Readonly<Record<string, string>> = {
  '<0': 'a loss',
  '0..10': '0 to 10 %',
  '10..20': '10 to 20 %',
  '20..30': '20 to 30 %',
  '30..': '30 % and more',
};

/** Categories as a tree of two levels: `Optics > Filters` stands below Optics, whose count is the sum. */
function tree(values: readonly FacetValue[]): { name: string; count: number; below: FacetValue[] }[] {
  const tops = new Map<string, { name: string; count: number; below: FacetValue[] }>();
  for (const v of values) {
    const name = v.value.split(' > ')[0]!;
    const top = tops.get(name) ?? { name, count: 0, below: [] };
    top.count += v.count;
    if (v.value !== name) top.below.push(v);
    tops.set(name, top);
  }
  return [...tops.values()].sort((a, b) => b.count - a.count || (a.name < b.name ? -1 : 1));
}

interface Props {
  readonly facets: Readonly<Record<FacetName, readonly FacetValue[]>>;
  /** The search these counts answer. */
  readonly query: string;
  readonly onPick: (field: string, value: string) => void;
}

/** Choices that narrow the search, each with how many items it would leave. */
function PlainFacets({ facets, query, onPick }: Props) {
  const asked = useMemo(() => readCondition(query, ITEM_FIELDS, true), [query]);
  const choice = (field: string, value: string, count: number, words = value, indent = false) => (
    <Choice
      key={field + value}
      field={field}
      value={value}
      count={count}
      words={words || 'not told'}
      indent={indent}
      on={hasTerm(asked, field, value)}
      onPick={onPick}
    />
  );
  const tops = tree(facets.category);
  return (
    <nav
      aria-label="Narrow the search"
      className="w-[188px] shrink-0 overflow-y-auto border-r border-rule px-2 pb-4"
    >
      <Group name="Category" count={tops.length}>
        {(all) =>
          tops.slice(0, all ? undefined : FEW + 2).flatMap((top) => {
            const open =
              hasTerm(asked, 'category', top.name) ||
              top.below.some((b) => hasTerm(asked, 'category', b.value));
            return [
              choice('category', top.name, top.count),
              ...(open
                ? top.below.map((b) =>
                    choice('category', b.value, b.count, b.value.split(' > ').slice(1).join(' > '), true),
                  )
                : []),
            ];
          })
        }
      </Group>
      {facets.supplier.length > 1 && (
        <Group name="Supplier" count={facets.supplier.length}>
          {(all) =>
            facets.supplier.slice(0, all ? undefined : FEW).map((v) => choice('supplier', v.value, v.count))
          }
        </Group>
      )}
      <Group name="Brand" count={facets.brand.length}>
        {(all) =>
          facets.brand
            .filter((v) => v.value)
            .slice(0, all ? 200 : FEW)
            .map((v) => choice('brand', v.value, v.count))
        }
      </Group>
      {facets.from.some((v) => v.value) && (
        <Group name="Ships from" count={facets.from.length}>
          {(all) =>
            facets.from
              .filter((v) => v.value)
              .slice(0, all ? 50 : FEW)
              .map((v) => choice('from', v.value, v.count))
          }
        </Group>
      )}
      {facets.margin.some((v) => v.count) && (
        <Group name="Expected margin" count={facets.margin.length}>
          {() =>
            facets.margin
              .filter((v) => v.count || hasTerm(asked, 'margin', v.value))
              .map((v) => choice('margin', v.value, v.count, BANDS[v.value]))
          }
        </Group>
      )}
    </nav>
  );
}

interface ChoiceProps {
  readonly field: string;
  readonly value: string;
  readonly count: number;
  readonly words: string;
  readonly indent: boolean;
  readonly on: boolean;
  readonly onPick: Props['onPick'];
}

const Choice = memo(({ field, value, count, words, indent, on, onPick }: ChoiceProps) => (
  <li>
    <button
      type="button"
      aria-pressed={on}
      onClick={() => onPick(field, value)}
      className={`flex w-full items-baseline gap-1.5 rounded-sm px-1 py-[2px] text-left text-[12.5px] hover:bg-river-soft ${on ? 'bg-river-soft font-semibold' : ''} ${indent ? 'pl-3.5' : ''}`}
    >
      <span className="min-w-0 grow truncate" title={words}>
        {words}
      </span>
      <span className="text-muted">{formatCount(count)}</span>
    </button>
  </li>
));

/** Drawn again with each answer, not with each key. */
export const Facets = memo(PlainFacets);

function Group({
  name,
  count,
  children,
}: {
  name: string;
  count: number;
  children: (all: boolean) => React.ReactNode;
}) {
  const [all, setAll] = useState(false);
  if (!count) return null;
  return (
    <section aria-label={name} className="mt-2">
      <h2 className="px-1 text-xs font-semibold text-muted">{name}</h2>
      <ul>{children(all)}</ul>
      {count > FEW + 2 && (
        <button
          type="button"
          onClick={() => setAll(!all)}
          className="px-1 text-xs text-river hover:underline"
        >
          {all ? 'Fewer' : `All ${formatCount(count)}`}
        </button>
      )}
    </section>
  );
}
