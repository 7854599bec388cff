'use client';
import type { ReactNode } from 'react';
import {
  ANY_DESIGN,
  type AreaPlan,
  type Box,
  type Field,
  type Held,
  HOWS,
  type How,
  type Layer,
  type Natural,
  type Placement,
  placementAt,
  REPEATS,
  type RepeatKind,
} from '../../core/print';
import { Button } from '../../ui/button';
import { Section } from '../../ui/head';
import type { DesignRow } from '../../work/model';
import { NumberField } from './number-field';

interface Props {
  readonly field: Field;
  readonly plan: AreaPlan;
  readonly layer: Layer | undefined;
  readonly box: Box | undefined;
  readonly natural: Natural | undefined;
  readonly designOf: (id: string) => DesignRow | undefined;
  readonly choices: readonly DesignRow[];
  /** The rule of a sheet is placed, not one design. */
  readonly rule: boolean;
  readonly onLayer: (id: string) => void;
  readonly onPlace: (placement: Placement, keep: boolean) => void;
  readonly onTrim: (trim: boolean) => void;
  readonly onBackground: (colour: string | null) => void;
  readonly onAdd: () => void;
  readonly onDesign: (id: string) => void;
  readonly onRemove: () => void;
  readonly children: ReactNode;
}

const HOW_WORDS: Readonly<Record<How, string>> = {
  fit: 'Fit in',
  fill: 'Fill',
  width: 'Fit width',
  height: 'Fit height',
};
const REPEAT_WORDS: Readonly<Record<RepeatKind, string>> = {
  grid: 'In a grid',
  brick: 'Like bricks',
  'half-drop': 'Half-drop',
  mirror: 'Mirrored',
};
const HELD: readonly Held[] = [-1, 0, 1];
const HELD_X = { '-1': 'left', '0': 'centre', '1': 'right' } as const;
const HELD_Y = { '-1': 'top', '0': 'middle', '1': 'bottom' } as const;

const chip = (on: boolean) =>
  `rounded-sm border px-2 py-0.5 text-[13px] ${on ? 'border-river bg-river-soft font-semibold' : 'border-rule hover:border-edge'}`;

/** A placement in figures. */
export function PlacementPanel({
  field,
  plan,
  layer,
  box,
  natural,
  designOf,
  choices,
  rule,
  onLayer,
  onPlace,
  onTrim,
  onBackground,
  onAdd,
  onDesign,
  onRemove,
  children,
}: Props) {
  const placement = layer?.placement;
  const set = (change: Partial<Placement>) => placement && onPlace({ ...placement, ...change }, true);
  const setBox = (change: Partial<Box>) =>
    placement &&
    box &&
    natural &&
    onPlace(placementAt({ ...box, ...change }, placement, field, natural), true);
  return (
    <aside
      aria-label="Placement in figures"
      className="w-[300px] shrink-0 overflow-auto border-l border-rule bg-surface px-4 pb-6"
    >
      <Section
        title="Layers"
        aside={
          <Button kind="text" onClick={onAdd}>
            Add
          </Button>
        }
      >
        <ol className="space-y-1 text-[13.5px]">
          {[...plan.layers].reverse().map((l) => (
            <li key={l.id}>
              <button
                type="button"
                aria-pressed={l.id === layer?.id}
                onClick={() => onLayer(l.id)}
                className={`${chip(l.id === layer?.id)} w-full truncate text-left`}
              >
                {l.design === ANY_DESIGN ? 'The design itself' : (designOf(l.design)?.name ?? 'A design')}
              </button>
            </li>
          ))}
          {!plan.layers.length && <li className="text-muted">None: nothing is printed here.</li>}
        </ol>
        {layer && (
          <div className="mt-1.5 flex items-center gap-2">
            <select
              aria-label="Design of the layer"
              value={layer.design}
              onChange={(e) => onDesign(e.target.value)}
              className="min-w-0 grow rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px]"
            >
              {rule && <option value={ANY_DESIGN}>The design itself</option>}
              {choices.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
            </select>
            <Button kind="text" onClick={onRemove}>
              Remove
            </Button>
          </div>
        )}
      </Section>
      {placement && box && (
        <>
          <Section title="Size">
            <div className="flex flex-wrap gap-1">
              {HOWS.map((how) => (
                <button
                  key={how}
                  type="button"
                  aria-pressed={placement.how === how && placement.scale === 1}
                  className={chip(placement.how === how)}
                  onClick={() =>
                    set({ how, scale: 1, x: 0, y: 0, ...(how === 'fill' && { within: 'file' }) })
                  }
                >
                  {HOW_WORDS[how]}
                </button>
              ))}
            </div>
            <label className="mt-1 flex items-center gap-1.5 py-1 text-[13px]">
              <input
                type="checkbox"
                checked={placement.within === 'safe'}
                onChange={(e) => set({ within: e.target.checked ? 'safe' : 'file' })}
                className="size-3.5 accent-river"
              />
              Inside the safe line
            </label>
            <label className="flex items-center gap-1.5 py-1 text-[13px]">
              <input
                type="checkbox"
                checked={layer.trim}
                onChange={(e) => onTrim(e.target.checked)}
                className="size-3.5 accent-river"
              />
              Without its empty margins
            </label>
            <div className="mt-1 grid grid-cols-3 gap-2">
              <NumberField
                label="Scale %"
                value={placement.scale * 100}
                digits={1}
                least={1}
                most={2_000}
                onCommit={(n) => set({ scale: n / 100 })}
              />
              <NumberField
                label="Width mm"
                value={box.width}
                digits={1}
                least={1}
                most={5_000}
                onCommit={(n) => setBox({ width: n, height: (n * box.height) / box.width })}
              />
              <NumberField
                label="Height mm"
                value={box.height}
                digits={1}
                least={1}
                most={5_000}
                onCommit={(n) => setBox({ height: n, width: (n * box.width) / box.height })}
              />
            </div>
          </Section>
          <Section title="Place">
            <fieldset className="grid w-24 grid-cols-3 gap-1">
              <legend className="sr-only">Held at</legend>
              {HELD.flatMap((y) =>
                HELD.map((x) => {
                  const on = placement.holdX === x && placement.holdY === y;
                  return (
                    <button
                      key={`${x} ${y}`}
                      type="button"
                      aria-label={`${HELD_Y[y]} ${HELD_X[x]}`}
                      title={`${HELD_Y[y]} ${HELD_X[x]}`}
                      aria-pressed={on}
                      onClick={() => set({ holdX: x, holdY: y, x: 0, y: 0 })}
                      className={`h-6 rounded-sm border ${on ? 'border-river bg-river' : 'border-edge bg-raised hover:bg-river-soft'}`}
                    />
                  );
                }),
              )}
            </fieldset>
            <div className="mt-1 grid grid-cols-3 gap-2">
              <NumberField
                label="Centre x mm"
                value={box.cx}
                digits={1}
                least={-2_000}
                most={5_000}
                onCommit={(n) => setBox({ cx: n })}
              />
              <NumberField
                label="Centre y mm"
                value={box.cy}
                digits={1}
                least={-2_000}
                most={5_000}
                onCommit={(n) => setBox({ cy: n })}
              />
              <NumberField
                label="Turn °"
                value={placement.turn}
                digits={1}
                least={-360}
                most={360}
                onCommit={(n) => set({ turn: n })}
              />
            </div>
            <div className="mt-1.5 flex flex-wrap gap-1">
              <button
                type="button"
                className={chip(false)}
                onClick={() => set({ turn: (placement.turn + 90) % 360 })}
              >
                Turn by 90°
              </button>
              <button
                type="button"
                aria-pressed={placement.mirror}
                className={chip(placement.mirror)}
                onClick={() => set({ mirror: !placement.mirror })}
              >
                Mirror
              </button>
            </div>
          </Section>
          <Section title="Repeat">
            <div className="flex flex-wrap gap-1">
              <button
                type="button"
                aria-pressed={!placement.repeat}
                className={chip(!placement.repeat)}
                onClick={() => set({ repeat: null })}
              >
                Once
              </button>
              {REPEATS.map((kind) => (
                <button
                  key={kind}
                  type="button"
                  aria-pressed={placement.repeat?.kind === kind}
                  className={chip(placement.repeat?.kind === kind)}
                  onClick={() =>
                    set({
                      repeat: { kind, gap: placement.repeat?.gap ?? 0 },
                      ...(placement.scale === 1 && placement.how !== 'fill' && { scale: 0.3 }),
                    })
                  }
                >
                  {REPEAT_WORDS[kind]}
                </button>
              ))}
            </div>
            {placement.repeat && (
              <div className="mt-1 w-24">
                <NumberField
                  label="Gap %"
                  value={placement.repeat.gap * 100}
                  digits={0}
                  least={0}
                  most={400}
                  onCommit={(n) => set({ repeat: { ...placement.repeat!, gap: n / 100 } })}
                />
              </div>
            )}
          </Section>
        </>
      )}
      {children}
      <Section title="Background">
        <div className="flex items-center gap-2 text-[13px]">
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={plan.background !== null}
              onChange={(e) => onBackground(e.target.checked ? '#ffffff' : null)}
              className="size-3.5 accent-river"
            />
            Printed
          </label>
          {plan.background !== null && (
            <input
              type="color"
              aria-label="Colour of the background"
              value={plan.background}
              onChange={(e) => onBackground(e.target.value)}
              className="h-7 w-12 rounded-sm border border-edge bg-surface"
            />
          )}
        </div>
      </Section>
    </aside>
  );
}
