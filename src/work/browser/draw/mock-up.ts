import {
  mockUp as compose,
  type Pixels,
  type Scene,
  type SceneParts,
  type Stage,
  stageOf,
  type Warp,
  warpOf,
} from '../../../core/print';
import type { MockUpJob } from '../../context/draw';
import { drawArea } from './draw-area';
import { drawSvg } from './drawings';

interface Ready {
  readonly parts: SceneParts;
  readonly warps: readonly Warp[];
  /** In the colour that was used last. */
  stage: { readonly colour: string; readonly made: Stage } | null;
}

/** Scenes that were used last: a batch uses each for all of its designs. */
const KEPT = 6;
const ready = new Map<string, Promise<Ready>>();

/** A part of a scene in the size of the scene. */
async function partOf(text: string, { width, height }: Scene): Promise<Pixels> {
  if (!text.startsWith('data:')) {
    const drawn = await drawSvg(text, width);
    if (drawn.height === height) return drawn;
  }
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  const file = text.startsWith('data:') ? dataOf(text) : null;
  if (!file) throw new Error('A part of the scene has another shape than the scene.');
  const bitmap = await createImageBitmap(file);
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width, height);
  return { width, height, data };
}

/** The bytes of a data address, without fetching anything. */
function dataOf(text: string): Blob | null {
  const found = /^data:(image\/(?:png|jpeg|webp));base64,([A-Za-z0-9+/=\s]*)$/.exec(text);
  if (!found) return null;
  const bytes = Uint8Array.from(atob(found[2]!), (sign) => sign.charCodeAt(0));
  return new Blob([bytes], { type: found[1]! });
}

async function prepare(scene: Scene): Promise<Ready> {
  const [ground, goods, ...others] = await Promise.all([
    partOf(scene.ground, scene),
    partOf(scene.goods, scene),
    ...[scene.shade, scene.light, scene.front].map((text) => (text ? partOf(text, scene) : null)),
  ]);
  const [shade = null, light = null, front = null] = others;
  return {
    parts: { ground: ground!, goods: goods!, shade, light, front },
    warps: scene.areas.map(({ lies }) => warpOf(lies, scene)),
    stage: null,
  };
}

function readyFor(scene: Scene): Promise<Ready> {
  const known = ready.get(scene.id) ?? prepare(scene);
  ready.delete(scene.id);
  ready.set(scene.id, known);
  known.catch(() => ready.delete(scene.id));
  for (const old of ready.keys()) {
    if (ready.size <= KEPT) break;
    ready.delete(old);
  }
  return known;
}

/** Pixels of an area that is drawn for a scene, at most on each side. */
const MOST = 2_400;

/** `Draw.mockUp` in a worker. */
export async function mockUp({ scene, colour, areas }: MockUpJob): Promise<Blob> {
  const own = await readyFor(scene);
  const { parts, warps } = own;
  if (own.stage?.colour !== colour) own.stage = { colour, made: stageOf(parts, colour) };
  const stage = own.stage.made;
  const printed = [];
  for (const [k, { area, part = [0, 0, 1, 1] }] of scene.areas.entries()) {
    const job = areas[area];
    if (!job) continue;
    const [left, top, right, bottom] = part;
    const warp = warps[k]!;
    const width = Math.min(MOST, Math.max(16, Math.round(warp.across / (right - left))));
    const height = Math.max(16, Math.round((width * job.field.down) / job.field.across));
    const canvas = await drawArea(job, width, height);
    const x = Math.round(left * width);
    const y = Math.round(top * height);
    const pixels = canvas
      .getContext('2d')!
      .getImageData(
        x,
        y,
        Math.max(1, Math.round(right * width) - x),
        Math.max(1, Math.round(bottom * height) - y),
      );
    printed.push({ warp, pixels: { width: pixels.width, height: pixels.height, data: pixels.data } });
  }
  const { width, height, data } = compose(stage, printed);
  const canvas = new OffscreenCanvas(width, height);
  canvas
    .getContext('2d')!
    .putImageData(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height), 0, 0);
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
}
