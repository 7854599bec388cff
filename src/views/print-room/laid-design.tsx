'use client';
import type Konva from 'konva';
import { useEffect, useRef, useState } from 'react';
import { Image as KonvaImage, Transformer } from 'react-konva';
import {
  type Box,
  boundsOf,
  boxOf,
  type Field,
  type Layer,
  naturalOf,
  type Placement,
  partOf,
  placementAt,
  tilesOf,
} from '../../core/print';
import type { DesignRow } from '../../work/model';
import { useAsset } from './asset-picture';

/** Pixels within which an edge or the middle meets a line. */
const NEAR = 7;
/** A picture by its address, once it is loaded. */
export function useImage(address: string | null): HTMLImageElement | null {
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    if (!address) return;
    const element = new Image();
    element.onload = () => setImage(element);
    element.src = address;
  }, [address]);
  return image;
}

/** The lines that a design snaps to, mm: edges, safe line, middle. */
const linesOf = (length: number, safe: number) => [0, safe, length / 2, length - safe, length];

/** What is to be added so that an edge or the middle of a span meets the nearest line; 0 where none is near. */
function snap(
  middle: number,
  size: number,
  lines: readonly number[],
  near: number,
): { by: number; line: number | null } {
  let best = { by: 0, line: null as number | null, far: near };
  for (const edge of [middle - size / 2, middle, middle + size / 2])
    for (const line of lines) {
      const far = Math.abs(line - edge);
      if (far < best.far) best = { by: line - edge, line, far };
    }
  return best;
}

/** Repeats drawn while one places. */
const MOST_DRAWN = 600;

/** A design as it lies; the chosen one has handles, and snaps to edges, safe line and middle. */
export function Laid({
  layer,
  design,
  field,
  chosen,
  faint,
  scale,
  onGuides,
  onChoose,
  onPlace,
}: {
  layer: Layer;
  design: DesignRow;
  field: Field;
  chosen: boolean;
  faint?: boolean;
  scale: number;
  onGuides: (at: { x: number | null; y: number | null }) => void;
  onChoose: () => void;
  onPlace: (placement: Placement, keep: boolean) => void;
}) {
  const image = useImage(useAsset(design.large));
  const node = useRef<Konva.Image>(null);
  const handles = useRef<Konva.Transformer>(null);
  useEffect(() => {
    if (chosen && node.current && image) handles.current?.nodes([node.current]);
  }, [chosen, image]);
  if (!image) return null;
  const looked = { ...design, bounds: design.look.bounds };
  const natural = naturalOf(layer, looked);
  const box = boxOf(layer.placement, field, natural);
  const [left, top, right, bottom] = partOf(layer, looked);
  const crop = {
    x: left * image.naturalWidth,
    y: top * image.naturalHeight,
    width: (right - left) * image.naturalWidth,
    height: (bottom - top) * image.naturalHeight,
  };
  const shared = {
    image,
    crop,
    width: box.width,
    height: box.height,
    offsetX: box.width / 2,
    offsetY: box.height / 2,
    rotation: box.turn,
  };
  if (!chosen) {
    const tiles = layer.placement.repeat
      ? tilesOf(box, layer.placement.repeat, { width: field.across, height: field.down }).slice(0, MOST_DRAWN)
      : [{ cx: box.cx, cy: box.cy, mirrorX: false, mirrorY: false }];
    return (
      <>
        {tiles.map((tile) => (
          <KonvaImage
            key={`${tile.cx} ${tile.cy}`}
            {...shared}
            x={tile.cx}
            y={tile.cy}
            scaleX={box.mirror !== tile.mirrorX ? -1 : 1}
            scaleY={tile.mirrorY ? -1 : 1}
            listening={!faint || !layer.placement.repeat}
            onMouseDown={onChoose}
            onTap={onChoose}
          />
        ))}
      </>
    );
  }
  const near = NEAR / scale;
  const boxNow = (): Box => {
    const it = node.current!;
    return {
      cx: it.x(),
      cy: it.y(),
      width: box.width * Math.abs(it.scaleX()),
      height: box.height * Math.abs(it.scaleY()),
      turn: it.rotation(),
      mirror: box.mirror,
    };
  };
  const placed = (now: Box) => placementAt(now, layer.placement, field, natural);
  return (
    <>
      <KonvaImage
        ref={node}
        {...shared}
        x={box.cx}
        y={box.cy}
        scaleX={box.mirror ? -1 : 1}
        scaleY={1}
        // Drawn once below, cut at the edges; here it is only held.
        opacity={layer.placement.repeat ? 0.001 : 0.12}
        draggable
        onDragMove={(e) => {
          const around = boundsOf(box);
          const across = snap(e.target.x(), around.width, linesOf(field.across, field.safe), near);
          const down = snap(e.target.y(), around.height, linesOf(field.down, field.safe), near);
          if (!e.evt.altKey) e.target.position({ x: e.target.x() + across.by, y: e.target.y() + down.by });
          onGuides({ x: across.line, y: down.line });
          onPlace(placed({ ...box, cx: e.target.x(), cy: e.target.y() }), false);
        }}
        onDragEnd={(e) => {
          onGuides({ x: null, y: null });
          onPlace(placed({ ...box, cx: e.target.x(), cy: e.target.y() }), true);
        }}
        onTransformEnd={() => {
          const now = boxNow();
          const next = placed({ ...now, height: (now.width * natural.height) / natural.width });
          node.current!.scale({ x: box.mirror ? -1 : 1, y: 1 });
          onPlace(next, true);
        }}
      />
      <Transformer
        ref={handles}
        keepRatio
        flipEnabled={false}
        rotationSnaps={[0, 45, 90, 135, 180, 225, 270, 315]}
        rotationSnapTolerance={4}
        enabledAnchors={['top-left', 'top-right', 'bottom-left', 'bottom-right']}
        anchorStroke="#0b6170"
        anchorSize={10}
        anchorCornerRadius={2}
        borderStroke="#0b6170"
      />
    </>
  );
}
