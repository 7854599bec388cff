'use client';
import { type KeyboardEvent, useLayoutEffect, useRef, useState } from 'react';
import { Ellipse, Group, Layer as KonvaLayer, Line, Rect, Stage } from 'react-konva';
import { type FieldBox, isSeen, type PersonalLayer } from '../../core/personal';
import {
  type AreaPlan,
  type Box,
  boxOf,
  type Field,
  naturalOf,
  type Placement,
  placementAt,
} from '../../core/print';
import type { DesignRow } from '../../work/model';

import { Laid } from './laid-design';
import { DrawnField, FieldFrame } from './laid-field';

interface Props {
  readonly field: Field;
  readonly ellipse: boolean;
  readonly ground: string;
  readonly plan: AreaPlan;
  readonly chosen: string;
  readonly designOf: (id: string) => DesignRow | undefined;
  /** The buyer's words as they lie with the examples. */
  readonly words: readonly PersonalLayer[];
  readonly chosenField: string;
  readonly onField: (id: string) => void;
  readonly onFieldBox: (id: string, box: FieldBox) => void;
  readonly onChoose: (layer: string) => void;
  /** @param keep whether the hand has let go */
  readonly onPlace: (placement: Placement, keep: boolean) => void;
}

/** Pixels around the area. */
const MARGIN = 36;
/** Milliseconds after the last key after which a place is kept. */
const RESTS = 350;

/** The area with its layers, on which a design is moved, sized and turned by hand or by keys. */
export function PlacingStage({
  field,
  ellipse,
  ground,
  plan,
  words,
  chosen,
  chosenField,
  designOf,
  onChoose,
  onPlace,
  onField,
  onFieldBox,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const { current } = box;
    if (!current) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: current.clientWidth, height: current.clientHeight }),
    );
    observer.observe(current);
    return () => observer.disconnect();
  }, []);
  const scale = Math.max(
    0.01,
    Math.min((size.width - 2 * MARGIN) / field.across, (size.height - 2 * MARGIN) / field.down),
  );
  const [guides, setGuides] = useState<{ x: number | null; y: number | null }>({ x: null, y: null });
  const layer = plan.layers.find((l) => l.id === chosen);
  const design = layer && designOf(layer.design);
  const keys = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);

  const byKey = (e: KeyboardEvent) => {
    if (!layer || !design || e.ctrlKey || e.metaKey || e.altKey) return;
    const natural = naturalOf(layer, { ...design, bounds: design.look.bounds });
    const now = boxOf(layer.placement, field, natural);
    const far = e.shiftKey ? 10 : 1;
    const moved: Partial<Box> | null =
      e.key === 'ArrowLeft'
        ? { cx: now.cx - far }
        : e.key === 'ArrowRight'
          ? { cx: now.cx + far }
          : e.key === 'ArrowUp'
            ? { cy: now.cy - far }
            : e.key === 'ArrowDown'
              ? { cy: now.cy + far }
              : e.key === '+' || e.key === '='
                ? { width: now.width * (1 + far / 100), height: now.height * (1 + far / 100) }
                : e.key === '-' || e.key === '_'
                  ? { width: now.width / (1 + far / 100), height: now.height / (1 + far / 100) }
                  : e.key === '.' || e.key === '>'
                    ? { turn: now.turn + far }
                    : e.key === ',' || e.key === '<'
                      ? { turn: now.turn - far }
                      : null;
    if (!moved) return;
    e.preventDefault();
    e.stopPropagation();
    const next = placementAt({ ...now, ...moved }, layer.placement, field, natural);
    onPlace(next, false);
    // Kept as one change once the keys rest.
    clearTimeout(keys.current);
    keys.current = setTimeout(() => onPlace(next, true), RESTS);
  };

  const offset = {
    x: (size.width - field.across * scale) / 2,
    y: (size.height - field.down * scale) / 2,
  };
  return (
    <div
      ref={box}
      role="application"
      aria-roledescription="Printed area"
      aria-label="Printed area: arrows move by a millimetre, with Shift by ten; plus and minus size it, comma and full stop turn it"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is moved by keys
      tabIndex={0}
      onKeyDown={byKey}
      className="min-h-0 grow overflow-hidden outline-offset-[-3px]"
    >
      {size.width > 0 && (
        <Stage
          width={size.width}
          height={size.height}
          onMouseDown={(e) => e.target === e.target.getStage() && onChoose('')}
        >
          <KonvaLayer x={offset.x} y={offset.y} scaleX={scale} scaleY={scale}>
            <Rect
              width={field.across}
              height={field.down}
              fill={ground}
              shadowColor="#12232b"
              shadowOpacity={0.25}
              shadowBlur={14}
              listening={false}
            />
            {plan.background && (
              <Rect width={field.across} height={field.down} fill={plan.background} listening={false} />
            )}
            <Group
              clipFunc={(context) => {
                if (ellipse)
                  context.ellipse(
                    field.across / 2,
                    field.down / 2,
                    field.across / 2,
                    field.down / 2,
                    0,
                    0,
                    2 * Math.PI,
                  );
                else context.rect(0, 0, field.across, field.down);
              }}
            >
              {plan.layers.map((one) => {
                const its = designOf(one.design);
                return its ? (
                  <Laid
                    key={`${one.id} ${its.id}`}
                    layer={one}
                    design={its}
                    field={field}
                    faint
                    scale={scale}
                    onGuides={setGuides}
                    onChoose={() => onChoose(one.id)}
                    onPlace={onPlace}
                    chosen={false}
                  />
                ) : null;
              })}
              {words.map((one) =>
                one.kind === 'drawing' ? (
                  <DrawnField key={JSON.stringify(one.box)} layer={one} field={field} />
                ) : null,
              )}
            </Group>
            <Lines field={field} ellipse={ellipse} scale={scale} />
            {guides.x !== null && (
              <Line
                points={[guides.x, -20, guides.x, field.down + 20]}
                stroke="#b45309"
                strokeWidth={1}
                strokeScaleEnabled={false}
                listening={false}
              />
            )}
            {guides.y !== null && (
              <Line
                points={[-20, guides.y, field.across + 20, guides.y]}
                stroke="#b45309"
                strokeWidth={1}
                strokeScaleEnabled={false}
                listening={false}
              />
            )}
            {(plan.fields ?? []).filter(isSeen).map((one) => (
              <FieldFrame
                key={one.id}
                one={one}
                field={field}
                chosen={one.id === chosenField}
                scale={scale}
                onChoose={() => onField(one.id)}
                onBox={(next) => onFieldBox(one.id, next)}
              />
            ))}
            {layer && design && !chosenField && (
              <Laid
                key={`hand ${layer.id} ${design.id}`}
                layer={layer}
                design={design}
                field={field}
                chosen
                scale={scale}
                onGuides={setGuides}
                onChoose={() => {}}
                onPlace={onPlace}
              />
            )}
          </KonvaLayer>
        </Stage>
      )}
    </div>
  );
}

function Lines({ field, ellipse, scale }: { field: Field; ellipse: boolean; scale: number }) {
  const inset = (by: number, stroke: string, dash: number[]) => {
    const common = {
      stroke,
      strokeWidth: 1,
      strokeScaleEnabled: false,
      dash: dash.map((d) => d / scale),
      listening: false,
    };
    return ellipse ? (
      <Ellipse
        x={field.across / 2}
        y={field.down / 2}
        radiusX={field.across / 2 - by}
        radiusY={field.down / 2 - by}
        {...common}
      />
    ) : (
      <Rect x={by} y={by} width={field.across - 2 * by} height={field.down - 2 * by} {...common} />
    );
  };
  return (
    <>
      {inset(0, '#52656f', [])}
      {field.bleed > 0 && inset(field.bleed, '#a3262a', [6, 4])}
      {field.safe > field.bleed && inset(field.safe, '#0b6170', [])}
    </>
  );
}
