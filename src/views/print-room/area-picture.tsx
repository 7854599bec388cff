'use client';
import type { PersonalLayer } from '../../core/personal';
import {
  type AreaPlan,
  type BlankArea,
  boxOf,
  type Field,
  fieldOf,
  naturalOf,
  partOf,
  tilesOf,
} from '../../core/print';
import { useAnswer } from '../../ui/answer';
import { theShop } from '../../work/desk/client';
import type { DesignRow } from '../../work/model';
import { useAsset } from './asset-picture';
import { useSvgAddress } from './svg-address';

interface Props {
  readonly area: BlankArea;
  readonly size: string;
  readonly plan: AreaPlan | undefined;
  /** The design of the sheet, and whichever else lies in the area. */
  readonly designs: readonly DesignRow[];
  /** The colour of the blank. */
  readonly ground: string;
  readonly label: string;
  /** Draws the lines within which a design should stay. */
  readonly lines?: boolean;
  readonly className?: string;
}

/** An area of a blank with what is printed in it, as it lies; drawn of small pictures. */
export function AreaPicture({
  area,
  size,
  plan,
  designs,
  ground,
  label,
  lines = true,
  className = '',
}: Props) {
  const field = fieldOf(area, size);
  if (!field) return null;
  const { across, down, bleed, safe } = field;
  return (
    <svg
      role="img"
      aria-label={label}
      viewBox={`0 0 ${across} ${down}`}
      className={`mx-auto block w-auto max-w-full border border-rule ${className}`}
      style={{ aspectRatio: `${across} / ${down}` }}
    >
      <rect width={across} height={down} fill={ground} />
      {plan?.background && <rect width={across} height={down} fill={plan.background} />}
      {plan?.layers.map((layer) => {
        const design = designs.find((d) => d.id === layer.design);
        return design ? <LayerPicture key={layer.id} layer={layer} design={design} field={field} /> : null;
      })}
      {plan?.fields?.length ? <ExampleWords area={area} plan={plan} field={field} /> : null}
      {lines && (
        <g fill="none" strokeWidth={across / 320} aria-hidden>
          {bleed > 0 && (
            <rect
              x={bleed}
              y={bleed}
              width={across - 2 * bleed}
              height={down - 2 * bleed}
              className="stroke-loss"
              strokeDasharray={`${across / 40} ${across / 80}`}
            />
          )}
          {safe > bleed && (
            <rect
              x={safe}
              y={safe}
              width={across - 2 * safe}
              height={down - 2 * safe}
              className="stroke-river"
              strokeOpacity=".6"
            />
          )}
        </g>
      )}
    </svg>
  );
}

/** What buyers say, with the examples. */
function ExampleWords({ area, plan, field }: { area: BlankArea; plan: AreaPlan; field: Field }) {
  const drawn = useAnswer(
    () => theShop().examplesDrawn({ [area.id]: plan }, area.id, field),
    [JSON.stringify(plan.fields), field.width],
  );
  return (
    <>
      {drawn?.layers.map((one) =>
        one.kind === 'drawing' ? (
          <ExampleDrawing key={JSON.stringify(one.box)} layer={one} field={field} />
        ) : null,
      )}
    </>
  );
}

function ExampleDrawing({
  layer: { box, svg },
  field,
}: {
  layer: Extract<PersonalLayer, { kind: 'drawing' }>;
  field: Field;
}) {
  const address = useSvgAddress(svg);
  if (!address) return null;
  const [width, height] = [box.width * field.across, box.height * field.down];
  const [cx, cy] = [box.x * field.across + width / 2, box.y * field.down + height / 2];
  return (
    <image
      href={address}
      x={-width / 2}
      y={-height / 2}
      width={width}
      height={height}
      transform={`translate(${cx} ${cy}) rotate(${box.turn})`}
      preserveAspectRatio="none"
    />
  );
}

/** Repeats drawn in a small picture: more are grey anyway. */
const MOST_DRAWN = 400;

function LayerPicture({
  layer,
  design,
  field,
}: {
  layer: AreaPlan['layers'][number];
  design: DesignRow;
  field: Field;
}) {
  const address = useAsset(design.small);
  if (!address) return null;
  const looked = { ...design, bounds: design.look.bounds };
  const natural = naturalOf(layer, looked);
  const box = boxOf(layer.placement, field, natural);
  const [left, top, right, bottom] = partOf(layer, looked);
  const tiles = layer.placement.repeat
    ? tilesOf(box, layer.placement.repeat, { width: field.across, height: field.down }).slice(0, MOST_DRAWN)
    : [{ cx: box.cx, cy: box.cy, mirrorX: false, mirrorY: false }];
  return (
    <g>
      {tiles.map((tile) => (
        <g
          key={`${tile.cx} ${tile.cy}`}
          transform={`translate(${tile.cx} ${tile.cy}) rotate(${box.turn}) scale(${box.mirror !== tile.mirrorX ? -1 : 1} ${tile.mirrorY ? -1 : 1})`}
        >
          <svg
            x={-box.width / 2}
            y={-box.height / 2}
            width={box.width}
            height={box.height}
            viewBox={`${left} ${top} ${right - left} ${bottom - top}`}
            preserveAspectRatio="none"
            aria-hidden
          >
            <image href={address} width={1} height={1} preserveAspectRatio="none" />
          </svg>
        </g>
      ))}
    </g>
  );
}
