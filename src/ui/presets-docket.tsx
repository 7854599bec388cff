'use client';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useId, useMemo, useState } from 'react';
import { attributeInWords, readAttribute, type SiteAttribute } from '../core/checks';
import { fieldKey } from '../core/copy';
import { EVERYTHING, problemsOf } from '../core/query';
import { countOf, formatCount } from '../core/units';
import { theShop } from '../work/desk/client';
import { type FieldWord, type WeighedPreset, withPreset } from '../work/editing/presets';
import type { MarketConnection, Preset, PresetFill } from '../work/model';
import { GOODS, goodsLine } from '../work/quoting/goods';
import { Button } from './button';
import { useConditionLine } from './condition-line';
import { Docket } from './docket';
import { GoodsCaught } from './goods-caught';
import { Notice, Section } from './head';
import { MarketSelect } from './market-select';
import { say } from './said';
import { useListingsVersion } from './versions';

const LOOK = 'w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13.5px]';

/** Milliseconds of rest after which a draft is weighed. */
const REST = 200;

/**
 * Presets of a marketplace: condition, handling time, returns, attributes and category for whatever a search line matches,
 * each with what it would touch before it is kept.
 */
export function PresetsDocket({
  markets,
  first,
  onClose,
}: {
  markets: readonly MarketConnection[];
  /** The marketplace that is looked at first. */
  first: string | null;
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState(first ?? markets[0]?.id ?? '');
  const [draft, setDraft] = useState<Preset | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const market = markets.find((m) => m.id === chosen) ?? markets[0];
  if (!market) return null;
  const presets = market.presets ?? [];
  const { site } = market;
  const save = async (next: readonly Preset[], says: string, done?: () => void) => {
    const saved = await theShop().savePresets(market.id, next, says);
    if (!saved.ok) return setRefused(saved.reason);
    setRefused(null);
    done?.();
    await say(
      `${says}${saved.sent ? `: ${countOf(saved.sent, 'listing')} on the way to ${market.name}` : ''}.${saved.lacking ? ` ${countOf(saved.lacking, 'listing')} on sale lack something and were not sent.` : ''}`,
      { undo: true },
    );
  };
  const moved = (i: number, by: number) => {
    const next = [...presets];
    const [one] = next.splice(i, 1);
    next.splice(i + by, 0, one!);
    return save(next, 'Presets put in another order');
  };
  return (
    <Docket label="Presets" onClose={onClose}>
      <h2 className="text-base font-semibold">
        {draft ? draft.name || 'New preset' : `Presets for ${market.name}`}
      </h2>
      {refused && <Notice tone="loss">{refused}</Notice>}
      {draft ? (
        <>
          <Button
            kind="text"
            className="-ml-1.5"
            onClick={() => {
              setRefused(null);
              setDraft(null);
            }}
          >
            All presets
          </Button>
          <PresetForm key={draft.id} market={market} draft={draft} onDraft={setDraft} />
          <div className="mt-3 flex flex-wrap gap-2">
            <Button
              kind="main"
              disabled={problemsOf(draft.filter, GOODS).length > 0}
              onClick={() =>
                save(withPreset(presets, draft), `Preset “${draft.name.trim()}” for ${market.name}`)
              }
            >
              Save preset
            </Button>
            {presets.some((p) => p.id === draft.id) && (
              <Button
                onClick={() =>
                  save(
                    presets.filter((p) => p.id !== draft.id),
                    `Preset “${draft.name}” removed`,
                    () => setDraft(null),
                  )
                }
              >
                Remove
              </Button>
            )}
          </div>
        </>
      ) : (
        <>
          <MarketSelect markets={markets} chosen={market.id} onChoose={setChosen} />
          <p className="mt-2 text-[13px] text-muted">
            A preset fills in what {market.name} asks of the goods it matches. The first in order that has a
            value wins; what is typed for a listing stays.
          </p>
          <ol className="mt-2 text-[13.5px]">
            {presets.map((preset, i) => (
              <li key={preset.id} className="flex items-start gap-2 border-b border-rule-soft py-1.5">
                <input
                  type="checkbox"
                  aria-label={`${preset.name} is on`}
                  checked={preset.on}
                  className="mt-1 accent-river"
                  onChange={() =>
                    save(
                      withPreset(presets, { ...preset, on: !preset.on }),
                      `Preset “${preset.name}” switched ${preset.on ? 'off' : 'on'}`,
                    )
                  }
                />
                <span className="min-w-0 grow">
                  <button
                    type="button"
                    className="font-semibold text-river hover:underline"
                    onClick={() => setDraft(preset)}
                  >
                    {preset.name}
                  </button>
                  <span className="block text-xs text-muted">
                    {goodsLine(preset.filter) || 'All goods'}: {inWords(preset, market)}
                  </span>
                </span>
                <Button
                  kind="text"
                  aria-label={`${preset.name} earlier`}
                  disabled={i === 0}
                  onClick={() => moved(i, -1)}
                >
                  <ArrowUp aria-hidden size={14} />
                </Button>
                <Button
                  kind="text"
                  aria-label={`${preset.name} later`}
                  disabled={i === presets.length - 1}
                  onClick={() => moved(i, 1)}
                >
                  <ArrowDown aria-hidden size={14} />
                </Button>
              </li>
            ))}
          </ol>
          {!site.attributes.length && (
            <p className="mt-2 text-[13px] text-muted">
              {market.name} asks for nothing but texts and a category.
            </p>
          )}
          <div className="mt-2">
            <Button
              kind="main"
              onClick={() =>
                setDraft({
                  id: crypto.randomUUID(),
                  name: '',
                  on: true,
                  filter: EVERYTHING,
                  category: null,
                  fills: {},
                })
              }
            >
              New preset
            </Button>
          </div>
        </>
      )}
    </Docket>
  );
}

/** What a preset sets, in a line. */
function inWords({ category, fills }: Preset, { site }: MarketConnection): string {
  const said = site.attributes.flatMap((a) => {
    const fill = fills[a.id];
    if (!fill) return [];
    return [
      `${a.name} ${fill.from === 'value' ? attributeInWords(a, fill.value) : `from ${fill.field || 'a field'}`}`,
    ];
  });
  const into = site.categories.find((c) => c.id === category);
  return [...(into ? [`category ${into.name}`] : []), ...said].join(', ') || 'sets nothing yet';
}

function PresetForm({
  market,
  draft,
  onDraft,
}: {
  market: MarketConnection;
  draft: Preset;
  onDraft: (draft: Preset) => void;
}) {
  const id = useId();
  const { site } = market;
  const [goods, typeGoods] = useConditionLine(draft.filter, GOODS, (filter) => onDraft({ ...draft, filter }));
  const here = useMemo(() => [market.id], [market.id]);
  const misread = problemsOf(draft.filter, GOODS).length > 0;
  const [weighed, setWeighed] = useState<WeighedPreset | null>(null);
  const version = useListingsVersion();
  // biome-ignore lint/correctness/useExhaustiveDependencies: weighed again when listings changed
  useEffect(() => {
    let stale = false;
    const timer = setTimeout(async () => {
      const found = await theShop().weighPreset(market.id, draft);
      if (!stale && found) setWeighed(found);
    }, REST);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [market.id, draft, version]);
  const fill = (attribute: string, with_: PresetFill | null) => {
    const { [attribute]: _, ...others } = draft.fills;
    onDraft({ ...draft, fills: with_ ? { ...others, [attribute]: with_ } : others });
  };
  const empty = new Map(weighed?.empty);
  return (
    <>
      <label htmlFor={`${id}-name`} className="mt-1 block text-xs text-muted">
        Name
      </label>
      <input
        id={`${id}-name`}
        value={draft.name}
        onChange={(e) => onDraft({ ...draft, name: e.target.value })}
        className={LOOK}
      />
      <label htmlFor={`${id}-filter`} className="mt-1 block text-xs text-muted">
        Goods it matches, as in a search: “glove category:clothing”
      </label>
      <input
        id={`${id}-filter`}
        value={goods}
        placeholder="all goods"
        onChange={(e) => typeGoods(e.target.value)}
        className={LOOK}
      />
      <GoodsCaught filter={draft.filter} marketplaces={here} />
      {!misread && (
        <p role="status" className="mt-1 min-h-10 text-[13px]">
          {weighed ? inNumbers(weighed, market.name) : 'Counting …'}
        </p>
      )}
      <label htmlFor={`${id}-category`} className="mt-1 block text-xs text-muted">
        Category
      </label>
      <select
        id={`${id}-category`}
        value={draft.category ?? ''}
        onChange={(e) => onDraft({ ...draft, category: e.target.value || null })}
        className={LOOK}
      >
        <option value="">left as it is</option>
        {site.categories.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
      <Section title={`What ${market.name} asks`}>
        {site.attributes.map((a) => (
          <AttributeFill
            key={a.id}
            attribute={a}
            currency={site.currency}
            where={a.categories?.map((c) => site.categories.find((s) => s.id === c)?.name ?? c) ?? null}
            fill={draft.fills[a.id] ?? null}
            missing={empty.get(a.id) ?? 0}
            words={weighed?.words[a.id] ?? []}
            fields={weighed?.fields ?? []}
            onFill={(with_) => fill(a.id, with_)}
          />
        ))}
      </Section>
    </>
  );
}

const inNumbers = ({ matches, taken, touched, onSale }: WeighedPreset, market: string): string =>
  `Matches ${countOf(matches, 'listing')}${taken ? `, ${formatCount(taken)} of them with values of a preset before it` : ''}. ${
    touched
      ? `${countOf(touched, 'listing')} would change, ${formatCount(onSale)} of them told to ${market} when you save.`
      : 'Nothing would change.'
  }`;

const WAYS = { none: 'left as it is', value: 'one value', field: 'from a field' } as const;

function AttributeFill({
  attribute,
  currency,
  where,
  fill,
  missing,
  words,
  fields,
  onFill,
}: {
  attribute: SiteAttribute;
  currency: string;
  /** Names of the categories that have it; null for all. */
  where: readonly string[] | null;
  fill: PresetFill | null;
  /** Listings that would still lack it. */
  missing: number;
  words: readonly FieldWord[];
  fields: readonly string[];
  onFill: (fill: PresetFill | null) => void;
}) {
  const id = useId();
  const way = fill?.from ?? 'none';
  return (
    <div className="border-b border-rule-soft py-1.5">
      <div className="flex items-baseline gap-2">
        <label htmlFor={`${id}-way`} className="grow text-[13.5px] font-semibold">
          {attribute.name}
          {attribute.needed && <span className="font-normal text-muted"> needed</span>}
        </label>
        <select
          id={`${id}-way`}
          value={way}
          onChange={(e) => {
            const next = e.target.value as keyof typeof WAYS;
            onFill(
              next === 'none'
                ? null
                : next === 'value'
                  ? { from: 'value', value: attribute.usual || (attribute.choices[0]?.id ?? '') }
                  : { from: 'field', field: fields.includes(attribute.id) ? attribute.id : '', words: {} },
            );
          }}
          className="rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-[13px]"
        >
          {Object.entries(WAYS).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </div>
      {where && <p className="text-xs text-muted">in {where.join(', ')}</p>}
      {fill?.from === 'value' && (
        <FixedValue attribute={attribute} currency={currency} value={fill.value} onFill={onFill} />
      )}
      {fill?.from === 'field' && (
        <>
          <label htmlFor={`${id}-field`} className="mt-1 block text-xs text-muted">
            Field of the goods
          </label>
          <select
            id={`${id}-field`}
            value={fill.field}
            onChange={(e) => onFill({ ...fill, field: e.target.value })}
            className={LOOK}
          >
            {!fields.includes(fill.field) && <option value={fill.field}>{fill.field || 'Choose'}</option>}
            {fields.map((field) => (
              <option key={field} value={field}>
                {field}
              </option>
            ))}
          </select>
          {attribute.choices.length > 0 && (
            <ul className="mt-1" aria-label={`Words for ${attribute.name}`}>
              {words.map(({ word, listings, known }) => {
                const key = fieldKey(word);
                const said = fill.words[key] ?? known;
                return (
                  <li key={key} className="flex items-center gap-2 py-0.5 text-[13px]">
                    <span className="min-w-0 grow truncate">{word}</span>
                    <span className="text-xs text-muted">{formatCount(listings)}</span>
                    <select
                      aria-label={`${word} is`}
                      value={said}
                      onChange={(e) => {
                        const { [key]: _, ...others } = fill.words;
                        onFill({
                          ...fill,
                          words: e.target.value ? { ...others, [key]: e.target.value } : others,
                        });
                      }}
                      className={`w-36 rounded-sm border bg-surface px-1 py-0.5 ${said ? 'border-edge' : 'border-lamp'}`}
                    >
                      {!known && <option value="">not known</option>}
                      {attribute.choices.map((c) => (
                        <option key={c.id} value={c.id}>
                          {c.name}
                        </option>
                      ))}
                    </select>
                  </li>
                );
              })}
            </ul>
          )}
        </>
      )}
      {missing > 0 && (
        <p className="text-xs text-lamp">
          {countOf(missing, 'listing')} would lack {attribute.name}.
        </p>
      )}
    </div>
  );
}

function FixedValue({
  attribute,
  currency,
  value,
  onFill,
}: {
  attribute: SiteAttribute;
  currency: string;
  value: string;
  onFill: (fill: PresetFill) => void;
}) {
  const id = useId();
  const [text, setText] = useState(value);
  const read = readAttribute(attribute, text, currency);
  if (attribute.kind === 'choice')
    return (
      <select
        aria-label={`Value of ${attribute.name}`}
        value={value}
        onChange={(e) => onFill({ from: 'value', value: e.target.value })}
        className={`mt-1 ${LOOK}`}
      >
        {attribute.choices.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </select>
    );
  return (
    <>
      <input
        aria-label={`Value of ${attribute.name}${attribute.unit && `, ${attribute.unit}`}`}
        aria-describedby={read.ok ? undefined : `${id}-wrong`}
        aria-invalid={!read.ok}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const now = readAttribute(attribute, e.target.value, currency);
          onFill({ from: 'value', value: now.ok ? now.value : e.target.value });
        }}
        className={`mt-1 ${LOOK}`}
      />
      {!read.ok && (
        <p id={`${id}-wrong`} className="text-xs text-loss">
          {read.reason}
        </p>
      )}
    </>
  );
}
