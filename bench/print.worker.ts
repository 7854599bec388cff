import { expose } from 'comlink';
import { CENTRED, type Field, type Scene } from '../src/core/print';
import { printFile } from '../src/work/browser/draw/draw-area';
import { mockUp } from '../src/work/browser/draw/mock-up';
import type { AreaJob } from '../src/work/context/draw';

/** A picture with shapes and shades, as a design is; the same on every machine. */
async function designOf(side: number): Promise<Blob> {
  const canvas = new OffscreenCanvas(side, side);
  const context = canvas.getContext('2d')!;
  for (let k = 0; k < 400; k++) {
    context.fillStyle = `hsl(${(k * 47) % 360} 60% ${30 + ((k * 13) % 50)}% / ${0.4 + (k % 6) / 10})`;
    context.beginPath();
    context.arc((k * 733) % side, (k * 419) % side, 20 + ((k * 31) % 260), 0, 7);
    context.fill();
  }
  return canvas.convertToBlob({ type: 'image/png' });
}

const WIDTH = 2700;
const HEIGHT = 2500;
const DPI = 150;
const field: Field = {
  ...{ width: WIDTH, height: HEIGHT, dpi: DPI, bleed: 0, safe: 0 },
  across: (WIDTH / DPI) * 25.4,
  down: (HEIGHT / DPI) * 25.4,
};

let design: Blob;
const jobOf = (key: string): AreaJob => ({
  field,
  background: null,
  layers: [
    {
      ...{ key, file: design, drawing: false, part: [0, 0, 1, 1] },
      natural: { width: 3000, height: 3000 },
      placement: { ...CENTRED, within: 'file' },
    },
  ],
});

const timed = async (doing: () => Promise<unknown>) => {
  const begun = performance.now();
  await doing();
  return performance.now() - begun;
};

/** The bare tools: decode, draw, encode. */
async function bare(): Promise<Blob> {
  const bitmap = await createImageBitmap(design, { imageOrientation: 'from-image' });
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 100, 0, HEIGHT, HEIGHT);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/png' });
}

/** Slices of a wave, darkened by a gradient: what a canvas does of a mock-up by itself. */
async function bareMockUp(): Promise<Blob> {
  const bitmap = await createImageBitmap(design, { imageOrientation: 'from-image' });
  const side = 1200;
  const canvas = new OffscreenCanvas(side, side);
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.fillStyle = '#ddd';
  context.fillRect(0, 0, side, side);
  for (let x = 0; x < 490; x++) {
    const from = (x / 490) * bitmap.width;
    context.drawImage(
      bitmap,
      from,
      0,
      bitmap.width / 490,
      bitmap.height,
      356 + x,
      250 + Math.sin(x / 26) * 13,
      1,
      720,
    );
  }
  context.globalCompositeOperation = 'multiply';
  const shade = context.createLinearGradient(356, 0, 846, 0);
  for (let k = 0; k <= 24; k++) shade.addColorStop(k / 24, k % 2 ? '#aaa' : '#fff');
  context.fillStyle = shade;
  context.fillRect(356, 250, 490, 720);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
}

let runs = 0;
const api = {
  prepare: async () => {
    design = await designOf(3000);
    return design.size;
  },
  bareFile: () => timed(bare),
  /** @param fresh whether the design is decoded anew */
  file: (fresh: boolean) => timed(() => printFile(jobOf(fresh ? `d${++runs}` : 'd'))),
  bareMockUp: () => timed(bareMockUp),
  mockUp: (scene: Scene, fresh: boolean) =>
    timed(() =>
      mockUp({
        scene,
        colour: '#efe6d2',
        areas: {
          front: { ...jobOf(fresh ? `m${++runs}` : 'm'), field: { ...field, down: field.across * 1.4 } },
        },
      }),
    ),
};
export type PrintBench = typeof api;
expose(api);
