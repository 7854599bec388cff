import { imageSize } from 'image-size';
import { countOf } from '../core/units';
import type { ReadPicture } from '../work/editing/pictures';

/** A part of a picture, in percent of the whole. */
export interface PictureArea {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export type PictureRead =
  | { readonly ok: true; readonly picture: ReadPicture; readonly note: string | null }
  | { readonly ok: false; readonly reason: string };

/** Bytes of a file that are taken at most, and how much of it tells its size. */
const LARGEST = 40_000_000;
const HEADER = 600_000;
/** Pixels that are opened at most: more fill the memory of a small machine. */
const MOST_PIXELS = 60_000_000;
/** Longest side that is sent, and bytes that a marketplace takes in one request. */
const LONGEST_SIDE = 1600;
const MOST_SENT = 1_400_000;

const KINDS: Readonly<Record<string, string>> = {
  jpg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  gif: 'image/gif',
  avif: 'image/avif',
  bmp: 'image/bmp',
};

/**
 * Reads a file as a picture: what it is is found out by its bytes, not its name; its size before it is opened. It is made
 * upright, at most 1,600 pixels long, in ordinary colours on white, without what a camera wrote into it.
 */
export async function readPicture(file: File): Promise<PictureRead> {
  const name = file.name.slice(0, 80) || 'The picture';
  const no = (reason: string): PictureRead => ({ ok: false, reason: `${name}: ${reason}` });
  if (file.size > LARGEST)
    return no(`it has ${Math.round(file.size / 1e6)} MB, at most ${LARGEST / 1e6} are taken.`);
  let said: { width: number; height: number; type?: string };
  try {
    said = imageSize(new Uint8Array(await file.slice(0, HEADER).arrayBuffer()));
  } catch {
    return no('it is no picture that can be read. JPEG, PNG, WebP, AVIF and GIF are.');
  }
  const kind = KINDS[said.type ?? ''];
  if (!kind) return no(`${(said.type ?? 'this kind').toUpperCase()} cannot be sent. Save it as JPEG or PNG.`);
  if (said.width * said.height > MOST_PIXELS)
    return no(
      `it has ${said.width} × ${said.height} pixels, at most ${MOST_PIXELS / 1e6} million are opened. Make it smaller first.`,
    );
  const frames = await framesOf(file, kind);
  try {
    const picture = await drawn(file, null, file.name, 'fit');
    return {
      ok: true,
      picture,
      note: frames > 1 ? `${name} moves (${countOf(frames, 'frame')}): its first frame is used.` : null,
    };
  } catch {
    return no('it is broken: it begins like a picture and cannot be opened.');
  }
}

/** Frames of a picture that may move; 1 where that cannot be told. */
async function framesOf(file: Blob, type: string): Promise<number> {
  if (type !== 'image/gif' && type !== 'image/webp' && type !== 'image/png') return 1;
  const { ImageDecoder } = globalThis as unknown as {
    ImageDecoder?: new (of: {
      data: ArrayBuffer;
      type: string;
    }) => {
      tracks: { ready: Promise<void>; selectedTrack: { frameCount: number } | null };
      close(): void;
    };
  };
  if (!ImageDecoder) return 1;
  try {
    const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type });
    await decoder.tracks.ready;
    const frames = decoder.tracks.selectedTrack?.frameCount ?? 1;
    decoder.close();
    return frames;
  } catch {
    return 1;
  }
}

/**
 * Draws a picture, or a part of it, in ordinary colours on white.
 * @param shape `square` puts white around it until it is as high as wide
 * @throws where it cannot be opened
 */
export async function drawn(
  file: Blob,
  area: PictureArea | null,
  name: string,
  shape: 'fit' | 'square',
): Promise<ReadPicture> {
  const whole = await opened(file);
  const { x, y, width: wide, height: high } = area ?? { x: 0, y: 0, width: 100, height: 100 };
  const from = {
    x: (x * whole.width) / 100,
    y: (y * whole.height) / 100,
    width: (wide * whole.width) / 100,
    height: (high * whole.height) / 100,
  };
  const scale = Math.min(1, LONGEST_SIDE / Math.max(from.width, from.height));
  const [width, height] = [from.width, from.height].map((n) => Math.max(1, Math.round(n * scale))) as [
    number,
    number,
  ];
  const side = Math.max(width, height);
  const [w, h] = shape === 'square' ? [side, side] : [width, height];
  const canvas = new OffscreenCanvas(w, h);
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, w, h);
  context.drawImage(
    whole.source,
    from.x,
    from.y,
    from.width,
    from.height,
    (w - width) / 2,
    (h - height) / 2,
    width,
    height,
  );
  whole.close();
  for (const quality of [0.9, 0.8, 0.65]) {
    const jpeg = await canvas.convertToBlob({ type: 'image/jpeg', quality });
    if (jpeg.size <= MOST_SENT || quality === 0.65) return { file: jpeg, name, width: w, height: h };
  }
  throw new Error('unreachable');
}

/** A picture opened, upright. Drawings have no pixels of their own and are opened through an element. */
async function opened(file: Blob) {
  if (!file.type.startsWith('image/svg')) {
    const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
    return { source: bitmap, width: bitmap.width, height: bitmap.height, close: () => bitmap.close() };
  }
  const element = new Image();
  const address = URL.createObjectURL(file);
  element.src = address;
  await element.decode();
  const ratio = (element.naturalHeight || 1) / (element.naturalWidth || 1);
  const width = 1200;
  const height = Math.round(width * ratio);
  [element.width, element.height] = [width, height];
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.drawImage(element, 0, 0, width, height);
  URL.revokeObjectURL(address);
  return { source: canvas, width, height, close: () => {} };
}
