import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import { encode } from 'jpeg-js';
import {
  boxOf,
  lookAt,
  mockUp,
  type Pixels,
  type Scene,
  type SceneParts,
  type Stage,
  stageOf,
  type Warp,
  WHOLE_DESIGN,
  warpOf,
  withResolution,
} from '../src/core/print';
import type { AreaJob, Draw } from '../src/work/context/draw';
import { shippedLettering } from './lettering';

/** Pictures of goods in the past are made so large: what a site asks at least, so that a browser loads them soon. */
const SIDE = 600;
const SMALL = 320;
const LARGE = 900;

const scenesFolder = join(import.meta.dirname, '..', 'public', 'scenes');

function drawn(svg: string, width: number): Pixels {
  const image = new Resvg(svg, { fitTo: { mode: 'width', value: Math.max(1, Math.round(width)) } }).render();
  const data = new Uint8ClampedArray(image.pixels);
  for (let at = 0; at < data.length; at += 4) {
    const alpha = data[at + 3]!;
    if (alpha > 0 && alpha < 255)
      for (let k = 0; k < 3; k++) data[at + k] = Math.round((data[at + k]! * 255) / alpha);
  }
  return { width: image.width, height: image.height, data };
}

const pngOf = (svg: string, width: number) =>
  new Blob(
    [new Uint8Array(new Resvg(svg, { fitTo: { mode: 'width', value: Math.round(width) } }).render().asPng())],
    { type: 'image/png' },
  );

/** An area as one drawing, its designs put in as they lie. */
async function areaSvg({ field, background, layers }: AreaJob): Promise<string> {
  const parts = await Promise.all(
    layers.map(async ({ file, part, natural, placement }) => {
      const box = boxOf(placement, field, natural);
      const inner = (await file.text()).replace(/^[\s\S]*?<svg[^>]*>/, '').replace(/<\/svg>\s*$/, '');
      const whole = {
        width: natural.width / (part[2] - part[0]),
        height: natural.height / (part[3] - part[1]),
      };
      const scale = box.width / natural.width;
      return `<g transform="translate(${box.cx} ${box.cy}) rotate(${box.turn}) scale(${box.mirror ? -scale : scale} ${scale}) translate(${-natural.width / 2 - part[0] * whole.width} ${-natural.height / 2 - part[1] * whole.height})">${inner}</g>`;
    }),
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${field.across} ${field.down}">${background ? `<rect width="100%" height="100%" fill="${background}"/>` : ''}${parts.join('')}</svg>`;
}

/** A PNG of the right size with nothing on it: of a file of the past the maker keeps the size alone. */
function blankPng(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    return Buffer.concat([length, Buffer.from(type, 'latin1'), data, Buffer.alloc(4)]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head[8] = 1;
  return Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(height * (1 + Math.ceil(width / 8))))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** Draws what the shop's past shows, without a browser: drawings alone, which all of its designs are. */
export async function pastDraw(): Promise<Draw> {
  const wasm = createRequire(import.meta.url).resolve('@resvg/resvg-wasm/index_bg.wasm');
  await initWasm(readFileSync(wasm));
  const names = JSON.parse(readFileSync(join(scenesFolder, 'index.json'), 'utf8')) as string[];
  const scenes = names.map(
    (name) => JSON.parse(readFileSync(join(scenesFolder, `${name}.json`), 'utf8')) as Scene,
  );
  const known = new Map<string, { parts: SceneParts; warps: Warp[] }>();
  const stages = new Map<string, Stage>();
  const ready = (scene: Scene) => {
    let made = known.get(scene.id);
    if (!made) {
      const one = (text: string | undefined) => (text ? drawn(text, SIDE) : null);
      made = {
        parts: {
          ground: drawn(scene.ground, SIDE),
          goods: drawn(scene.goods, SIDE),
          ...{ shade: one(scene.shade), light: one(scene.light), front: one(scene.front) },
        },
        warps: scene.areas.map(({ lies }) =>
          warpOf(scaled(lies, SIDE / scene.width), { width: SIDE, height: SIDE }),
        ),
      };
      known.set(scene.id, made);
    }
    return made;
  };
  return {
    scenes: async () => scenes.map((s) => ({ ...s, width: SIDE, height: SIDE })),
    openDesign: async (file) => {
      const svg = await file.text();
      const { width, height } = new Resvg(svg);
      const longest = Math.max(width, height);
      return {
        ok: true,
        ...{ type: 'image/svg+xml', width, height, drawing: true, dpi: null, notes: [] },
        look: lookAt(drawn(svg, (560 * width) / longest)),
        small: pngOf(svg, (SMALL * width) / longest),
        large: pngOf(svg, (LARGE * width) / longest),
      };
    },
    lettering: shippedLettering(),
    areaPicture: async (job, ground, longest) => {
      const { across, down } = job.field;
      const { width, height, data } = drawn(
        await areaSvg({ ...job, background: job.background ?? ground }),
        (longest * across) / Math.max(across, down),
      );
      const jpeg = encode({ width, height, data: Buffer.from(data.buffer) }, 86);
      return new Blob([new Uint8Array(jpeg.data)], { type: 'image/jpeg' });
    },
    printFile: async ({ field }) =>
      new Blob(withResolution(blankPng(field.width, field.height), field.dpi) as BlobPart[], {
        type: 'image/png',
      }),
    mockUp: async ({ scene: { id }, colour, areas }) => {
      const scene = scenes.find((s) => s.id === id)!;
      const { parts, warps } = ready(scene);
      const printed = [];
      for (const [k, { area, part = WHOLE_DESIGN }] of scene.areas.entries()) {
        const job = areas[area];
        if (!job) continue;
        const warp = warps[k]!;
        const whole = drawn(await areaSvg(job), warp.across / (part[2] - part[0]));
        printed.push({ warp, pixels: cut(whole, part) });
      }
      const key = `${id} ${colour}`;
      const stage = stages.get(key) ?? stageOf(parts, colour);
      stages.set(key, stage);
      const { width, height, data } = mockUp(stage, printed);
      const jpeg = encode({ width, height, data: Buffer.from(data.buffer) }, 82);
      return new Blob([new Uint8Array(jpeg.data)], { type: 'image/jpeg' });
    },
  };
}

type Lies = Scene['areas'][number]['lies'];

const scaled = (lies: Lies, k: number): Lies => {
  switch (lies.kind) {
    case 'flat':
      return { ...lies, x: lies.x * k, y: lies.y * k, width: lies.width * k, height: lies.height * k };
    case 'cylinder':
      return {
        ...lies,
        x: lies.x * k,
        y: lies.y * k,
        radius: lies.radius * k,
        height: lies.height * k,
        sink: lies.sink * k,
      };
    default:
      return { ...lies, points: lies.points.map((p) => ({ x: p.x * k, y: p.y * k })) };
  }
};

function cut(
  { width, height, data }: Pixels,
  [left, top, right, bottom]: readonly [number, number, number, number],
): Pixels {
  const [x, y] = [Math.round(left * width), Math.round(top * height)];
  const [w, h] = [Math.max(1, Math.round(right * width) - x), Math.max(1, Math.round(bottom * height) - y)];
  const out = new Uint8ClampedArray(w * h * 4);
  for (let row = 0; row < h; row++) {
    const from = ((y + row) * width + x) * 4;
    out.set(data.subarray(from, from + w * 4), row * w * 4);
  }
  return { width: w, height: h, data: out };
}
