import { boxOf, type Natural, tilesOf, withResolution } from '../../../core/print';
import type { AreaJob, LayerJob } from '../../context/draw';
import { drawSvg } from './drawings';

/** A design as it is drawn from. */
interface Opened {
  readonly source: CanvasImageSource;
  readonly width: number;
  readonly height: number;
}

/** Designs that were opened last: a batch draws each several times, and a print has some layers. */
const OPENED = 6;
const opened = new Map<string, Promise<Opened>>();

async function open({ file, drawing }: LayerJob, width: number): Promise<Opened> {
  if (!drawing) {
    const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
    return { source: bitmap, width: bitmap.width, height: bitmap.height };
  }
  const drawn = await drawSvg(await file.text(), width);
  const canvas = new OffscreenCanvas(drawn.width, drawn.height);
  canvas.getContext('2d')!.putImageData(new ImageData(drawn.data, drawn.width, drawn.height), 0, 0);
  return { source: canvas, width: drawn.width, height: drawn.height };
}

/** Opens the design of a layer, a drawing as wide as it is drawn, and keeps it for the next job. */
function openLayer(layer: LayerJob, width: number): Promise<Opened> {
  const key = layer.drawing ? `${layer.key} ${Math.round(width)}` : layer.key;
  const known = opened.get(key);
  const design = known ?? open(layer, width);
  opened.delete(key);
  opened.set(key, design);
  design.catch(() => opened.delete(key));
  for (const [old, was] of opened) {
    if (opened.size <= OPENED) break;
    opened.delete(old);
    was.then(
      ({ source }) => source instanceof ImageBitmap && source.close(),
      () => {},
    );
  }
  return design;
}

/** Whole pixels from edge to edge: an upright design has sharp edges, and neighbours meet. */
function snapped(cx: number, cy: number, { width, height }: Natural) {
  const [left, top] = [Math.round(cx - width / 2), Math.round(cy - height / 2)];
  return {
    left,
    top,
    width: Math.max(1, Math.round(cx + width / 2) - left),
    height: Math.max(1, Math.round(cy + height / 2) - top),
  };
}

type Context = OffscreenCanvasRenderingContext2D;

async function drawLayer(
  context: Context,
  layer: LayerJob,
  { field }: AreaJob,
  scale: number,
): Promise<void> {
  const { part, natural, placement } = layer;
  const mm = boxOf(placement, field, natural);
  const box = {
    ...mm,
    ...{ cx: mm.cx * scale, cy: mm.cy * scale, width: mm.width * scale, height: mm.height * scale },
  };
  const [left, top, right, bottom] = part;
  const design = await openLayer(layer, box.width / (right - left));
  const from = {
    x: left * design.width,
    y: top * design.height,
    width: (right - left) * design.width,
    height: (bottom - top) * design.height,
  };
  const upright = box.turn % 180 === 0;
  const tiles = placement.repeat
    ? tilesOf(box, placement.repeat, context.canvas, Math.round)
    : [{ cx: box.cx, cy: box.cy, mirrorX: false, mirrorY: false }];
  const size = placement.repeat
    ? { width: Math.max(1, Math.round(box.width)), height: Math.max(1, Math.round(box.height)) }
    : box;
  for (const tile of tiles) {
    context.save();
    if (upright) {
      const at = snapped(tile.cx, tile.cy, size);
      context.translate(at.left + at.width / 2, at.top + at.height / 2);
      context.rotate((box.turn * Math.PI) / 180);
      context.scale(box.mirror !== tile.mirrorX ? -1 : 1, tile.mirrorY ? -1 : 1);
      context.drawImage(
        design.source,
        from.x,
        from.y,
        from.width,
        from.height,
        -at.width / 2,
        -at.height / 2,
        at.width,
        at.height,
      );
    } else {
      context.translate(tile.cx, tile.cy);
      context.rotate((box.turn * Math.PI) / 180);
      context.scale(box.mirror !== tile.mirrorX ? -1 : 1, tile.mirrorY ? -1 : 1);
      context.drawImage(
        design.source,
        from.x,
        from.y,
        from.width,
        from.height,
        -size.width / 2,
        -size.height / 2,
        size.width,
        size.height,
      );
    }
    context.restore();
  }
}

/** Draws an area so many pixels wide. */
export async function drawArea(job: AreaJob, width: number, height: number): Promise<OffscreenCanvas> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  if (job.background) {
    context.fillStyle = job.background;
    context.fillRect(0, 0, width, height);
  }
  for (const layer of job.layers) await drawLayer(context, layer, job, width / job.field.across);
  return canvas;
}

/** `Draw.printFile` in a worker. */
export async function printFile(job: AreaJob): Promise<Blob> {
  const { width, height, dpi } = job.field;
  const canvas = await drawArea(job, width, height);
  const png = await canvas.convertToBlob({ type: 'image/png' });
  const pieces = withResolution(new Uint8Array(await png.arrayBuffer()), dpi);
  return new Blob(pieces as BlobPart[], { type: 'image/png' });
}

/** `Draw.areaPicture` in a worker. */
export async function areaPicture(job: AreaJob, ground: string, longest: number): Promise<Blob> {
  const { across, down } = job.field;
  const scale = longest / Math.max(across, down);
  const canvas = await drawArea(
    { ...job, background: job.background ?? ground },
    Math.max(1, Math.round(across * scale)),
    Math.max(1, Math.round(down * scale)),
  );
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
}
