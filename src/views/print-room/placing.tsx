'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { type BuyerField, type FieldBox, problemInWords } from '../../core/personal';
import {
  ANY_DESIGN,
  type AreaPlan,
  boxOf,
  CENTRED,
  fieldOf,
  fieldsIn,
  findingInWords,
  findingsOf,
  type Layer,
  naturalOf,
  type Placement,
} from '../../core/print';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { Head, Notice } from '../../ui/head';
import { later } from '../../ui/later';
import { Loading } from '../../ui/loading';
import { theShop } from '../../work/desk/client';
import type { DesignRow } from '../../work/model';
import type { WholeSheet } from '../../work/print/sheets';
import { FieldsPanel } from './fields-panel';
import { PlacementPanel } from './placement-panel';
import { areaOf, printedInWords } from './words';

const PlacingStage = later(() => import('./placing-stage').then((m) => m.PlacingStage));

/** Placing one design by hand, or the rule of a sheet on an example. */
export function Placing() {
  const { get } = useAddress();
  const whole = useFeed('sheet', get('sheet'));
  if (!whole?.lines.length) {
    if (whole === undefined) return <Loading name="Placing" />;
    return <Head name="Placing" state="There is nothing to place: the sheet is gone, or empty." />;
  }
  return <Open whole={whole} />;
}

const EMPTY: AreaPlan = { background: null, layers: [] };

function Open({ whole }: { whole: WholeSheet }) {
  const { sheet, blank, lines } = whole;
  const { get, set } = useAddress();
  const router = useRouter();
  const area = blank.areas.find((a) => a.id === get('area')) ?? blank.areas[0]!;
  const own = lines.find((l) => l.design.id === get('design'));
  const example = own ?? lines.find((l) => l.design.id === get('on')) ?? lines[0]!;
  const byRule = !own;
  const colours = blank.colours.filter((c) => sheet.colours.includes(c.name));
  const colour = colours.find((c) => c.name === get('colour')) ?? colours[0] ?? blank.colours[0]!;
  const stored: AreaPlan = (byRule ? sheet.plan[area.id] : own.plan[area.id]) ?? EMPTY;
  // While a hand moves something it is drawn ahead of what is stored.
  const [draft, setDraft] = useState<AreaPlan | null>(null);
  const plan = draft ?? stored;
  const mark = JSON.stringify(stored);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is stored is another: the draft was taken, or it was undone
  useEffect(() => setDraft(null), [mark]);
  const [layerId, setLayerId] = useState('');
  const [fieldId, setFieldId] = useState('');
  const layer = plan.layers.find((l) => l.id === layerId) ?? plan.layers.at(-1);
  const others = useMemo(
    () => [...new Set(plan.layers.map((l) => l.design).filter((d) => d !== ANY_DESIGN))],
    [plan],
  );
  const more = useAnswer(() => Promise.all(others.map((id) => theShop().design(id))), [others.join(' ')]);
  const designOf = useCallback(
    (id: string): DesignRow | undefined =>
      id === ANY_DESIGN || id === example.design.id
        ? example.design
        : (more?.find((d) => d?.id === id) ?? undefined),
    [example, more],
  );
  const field = fieldOf(area, sheet.size)!;
  const save = async (next: AreaPlan) => {
    setDraft(next);
    await theShop().placeArea(sheet.id, byRule ? null : own.design.id, area.id, next);
  };
  const withLayer = (id: string, change: Partial<Layer>): AreaPlan => ({
    ...plan,
    layers: plan.layers.map((l) => (l.id === id ? { ...l, ...change } : l)),
  });
  const place = (placement: Placement, keep: boolean) => {
    if (!layer) return;
    const next = withLayer(layer.id, { placement });
    if (keep) void save(next);
    else setDraft(next);
  };
  const concrete = {
    ...plan,
    layers: plan.layers.map((l) => (l.design === ANY_DESIGN ? { ...l, design: example.design.id } : l)),
  };
  const findings = findingsOf(
    area,
    sheet.size,
    concrete,
    (id) => {
      const design = designOf(id);
      return design && { ...design, bounds: design.look.bounds };
    },
    colours,
  );
  const fields = plan.fields ?? [];
  const wholePlan = { ...(byRule ? sheet.plan : own.plan), [area.id]: plan };
  const preview = useAnswer(
    async () => (fields.length ? theShop().examplesDrawn(wholePlan, area.id, field) : null),
    [JSON.stringify(wholePlan), area.id, field.width],
  );
  const saveFields = (next: readonly BuyerField[]) => void save({ ...plan, fields: next });
  const withBox = (id: string, next: FieldBox) => fields.map((f) => (f.id === id ? { ...f, box: next } : f));
  const design = layer && designOf(layer.design);
  const natural = layer && design && naturalOf(layer, { ...design, bounds: design.look.bounds });
  const box = layer && natural && boxOf(layer.placement, field, natural);
  const back = `/print-room/sheet?id=${encodeURIComponent(sheet.id)}${byRule ? '' : `&row=${own.design.id}`}`;
  const addLayer = () => {
    const id = `layer-${plan.layers.length + 1}-${Date.now().toString(36)}`;
    const first = byRule ? ANY_DESIGN : own.design.id;
    void save({ ...plan, layers: [...plan.layers, { id, design: first, trim: false, placement: CENTRED }] });
    setLayerId(id);
  };
  const neighbours = lines.map((l) => l.design.id);
  const step = (by: number) => {
    const at = neighbours.indexOf(example.design.id);
    const next = neighbours[(at + by + neighbours.length) % neighbours.length]!;
    set(byRule ? { on: next } : { design: next });
  };
  return (
    <section className="flex min-w-0 grow flex-col">
      <Head
        name={byRule ? `Rule of ${sheet.name}` : example.design.name}
        state={
          <>
            {byRule
              ? 'Holds for every design that is not placed by hand. '
              : 'Placed by hand from the first change on. '}
            {area.name}: {areaOf(field)}, {area.technique.name.toLowerCase()}.
          </>
        }
      >
        <Button onClick={() => step(-1)}>Previous design</Button>
        <Button onClick={() => step(1)}>Next design</Button>
        <Button kind="main" onClick={() => router.push(back)}>
          Back to the sheet
        </Button>
      </Head>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-4 pb-2 text-[13px]">
        {byRule && <span className="text-muted">Seen on {example.design.name}</span>}
        {blank.areas.length > 1 && (
          <label className="flex items-center gap-1.5">
            <span className="text-muted">Area</span>
            <select
              value={area.id}
              onChange={(e) => set({ area: e.target.value })}
              className="rounded-sm border border-edge bg-surface px-1 py-0.5"
            >
              {blank.areas.map((a) => (
                <option key={a.id} value={a.id}>
                  {a.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {colours.length > 1 && (
          <label className="flex items-center gap-1.5">
            <span className="text-muted">On</span>
            <select
              value={colour.name}
              onChange={(e) => set({ colour: e.target.value })}
              className="rounded-sm border border-edge bg-surface px-1 py-0.5"
            >
              {colours.map((c) => (
                <option key={c.name}>{c.name}</option>
              ))}
            </select>
          </label>
        )}
        <span role="status" className="font-semibold">
          {box && natural && design ? printedInWords(box, design, natural) : 'Nothing is printed here.'}
        </span>
        {!byRule && (
          <Link
            href={`/print-room/placing?sheet=${encodeURIComponent(sheet.id)}&area=${area.id}&on=${example.design.id}`}
            className="text-river hover:underline"
          >
            Change the rule instead
          </Link>
        )}
      </div>
      <div className="flex min-h-0 grow border-t border-rule">
        <div className="flex min-w-0 grow flex-col bg-raised">
          <PlacingStage
            words={preview?.layers ?? []}
            chosenField={fieldId}
            onField={setFieldId}
            onFieldBox={(id, next) => saveFields(withBox(id, next))}
            field={field}
            ellipse={area.shape === 'ellipse'}
            ground={colour.hex}
            plan={concrete}
            chosen={layer?.id ?? ''}
            designOf={designOf}
            onChoose={(id) => {
              setLayerId(id);
              setFieldId('');
            }}
            onPlace={place}
          />
          <div className="max-h-32 shrink-0 overflow-auto px-4">
            {preview?.problems.map((p) => (
              <Notice key={JSON.stringify(p)}>
                {problemInWords(p, fields.find((f) => f.id === p.field)?.name ?? '')}
              </Notice>
            ))}
            {findings.map((f) => (
              <Notice key={JSON.stringify(f)}>{findingInWords(f)}</Notice>
            ))}
          </div>
        </div>
        <PlacementPanel
          field={field}
          plan={plan}
          layer={fieldId ? undefined : layer}
          box={fieldId ? undefined : box}
          natural={natural}
          designOf={designOf}
          onLayer={setLayerId}
          onPlace={place}
          onTrim={(trim) => layer && void save(withLayer(layer.id, { trim }))}
          onBackground={(background) => void save({ ...plan, background })}
          onAdd={addLayer}
          onDesign={(id) => layer && void save(withLayer(layer.id, { design: id }))}
          onRemove={() => layer && void save({ ...plan, layers: plan.layers.filter((l) => l !== layer) })}
          choices={lines.map((l) => l.design)}
          rule={byRule}
        >
          <FieldsPanel
            fields={fields}
            chosen={fieldId}
            across={field.across}
            down={field.down}
            names={fieldsIn(wholePlan).map((f) => f.name)}
            designs={lines.map((l) => l.design)}
            onChoose={setFieldId}
            onFields={saveFields}
          />
        </PlacementPanel>
      </div>
    </section>
  );
}
