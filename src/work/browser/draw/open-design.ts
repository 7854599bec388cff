import { imageSize } from 'image-size';
import { lookAt, type Pixels } from '../../../core/print';
import type { DesignNote } from '../../../store';
import type { DesignRead } from '../../context/draw';
import { drawingSize, drawSvg } from './drawings';
import { headNotes } from './head-notes';

/** Bytes that are taken at most; of a drawing fewer, as it is read whole. */
const LARGEST = 80_000_000;
const LARGEST_DRAWING = 8_000_000;
/** Pixels that are opened at most: more fill the memory of a small machine. */
const MOST_PIXELS = 100_000_000;
const LEAST_SIDE = 16;
/** Sides of a drawing beyond which it cannot be drawn sensibly: one to so many. */
const MOST_RATIO = 40;
/** How much of a file tells its size. */
const HEADER = 600_000;
const KINDS: Readonly<Record<string, string>> = { png: 'image/png', jpg: 'image/jpeg', webp: 'image/webp' };

/** Longest sides of the pictures that are kept of a design, and of what is looked through. */
const SMALL = 320;
const LARGE = 1600;
const LOOKED = 560;

/** A canvas with something drawn on it as large as it fits. */
function fitted(source: CanvasImageSource, width: number, height: number, longest: number): OffscreenCanvas {
  const scale = Math.min(1, longest / Math.max(width, height));
  const canvas = new OffscreenCanvas(
    Math.max(1, Math.round(width * scale)),
    Math.max(1, Math.round(height * scale)),
  );
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(source, 0, 0, canvas.width, canvas.height);
  return canvas;
}

const pixelsOf = (canvas: OffscreenCanvas): Pixels => {
  const { width, height, data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
  return { width, height, data };
};

/** Looks at a design that is drawn, and makes its small pictures. */
async function looked(source: CanvasImageSource, width: number, height: number) {
  const large = fitted(source, width, height, LARGE);
  const look = lookAt(pixelsOf(fitted(large, width, height, LOOKED)));
  const small = fitted(large, width, height, SMALL);
  const type = look.transparent ? 'image/webp' : 'image/jpeg';
  const [smallFile, largeFile] = await Promise.all(
    [small, large].map((canvas) => canvas.convertToBlob({ type, quality: 0.88 })),
  );
  return { look, small: smallFile!, large: largeFile! };
}

async function openDrawing(file: Blob, no: (reason: string) => DesignRead): Promise<DesignRead> {
  if (file.size > LARGEST_DRAWING)
    return no(
      `a drawing has at most ${LARGEST_DRAWING / 1e6} MB. Pictures in it are better kept as pictures.`,
    );
  const svg = await file.text();
  let size: { width: number; height: number };
  try {
    size = await drawingSize(svg);
  } catch (error) {
    return no(
      `it cannot be read as a drawing: ${String(error)
        .replace(/^Error: /, '')
        .slice(0, 160)}.`,
    );
  }
  const { width, height } = size;
  if (!(width > 0 && height > 0) || Math.max(width / height, height / width) > MOST_RATIO)
    return no('the drawing has no size, or is far longer than wide. Give it a viewBox.');
  const notes: DesignNote[] = [];
  if (/<(?:\w+:)?(?:text|foreignObject)[\s>]/.test(svg)) notes.push('letters');
  if (!/<svg[^>]*\b(?:width|viewBox)\s*=/.test(svg)) notes.push('no size');
  const longest = Math.max(width, height);
  const drawn = await drawSvg(svg, (LARGE * width) / longest);
  const canvas = new OffscreenCanvas(drawn.width, drawn.height);
  canvas.getContext('2d')!.putImageData(new ImageData(drawn.data, drawn.width, drawn.height), 0, 0);
  return {
    ok: true,
    ...{ type: 'image/svg+xml', width, height, drawing: true, dpi: null, notes },
    ...(await looked(canvas, drawn.width, drawn.height)),
  };
}

/** `Draw.openDesign` in a worker: what a file is is found out by its bytes, not its name. */
export async function openDesign(file: Blob, fileName: string): Promise<DesignRead> {
  const name = fileName.slice(0, 80) || 'The file';
  const no = (reason: string): DesignRead => ({ ok: false, reason: `${name}: ${reason}` });
  if (file.size === 0) return no('it is empty.');
  if (file.size > LARGEST)
    return no(`it has ${Math.round(file.size / 1e6)} MB, at most ${LARGEST / 1e6} are taken.`);
  const head = new Uint8Array(await file.slice(0, HEADER).arrayBuffer());
  const begins = new TextDecoder().decode(head.subarray(0, 4_096));
  if (
    /^\uFEFF?\s*(?:<\?xml|<!--|<!DOCTYPE|<svg)/i.test(begins) &&
    /<svg[\s>]/i.test(new TextDecoder().decode(head))
  )
    return openDrawing(file, no);
  if (begins.startsWith('%PDF-'))
    return no('PDF is not read. Save its page as SVG, or as PNG in the size it is printed.');
  let said: { width: number; height: number; type?: string };
  try {
    said = imageSize(head);
  } catch {
    return no('it is no design that can be read. PNG, JPEG, WebP and SVG are.');
  }
  const type = KINDS[said.type ?? ''];
  if (!type) return no(`${(said.type ?? 'this kind').toUpperCase()} cannot be printed. Save it as PNG.`);
  if (said.width * said.height > MOST_PIXELS)
    return no(
      `it has ${said.width} × ${said.height} pixels, at most ${MOST_PIXELS / 1e6} million are opened. Make it smaller first.`,
    );
  if (Math.min(said.width, said.height) < LEAST_SIDE)
    return no(`it has ${said.width} × ${said.height} pixels: there is nothing to print.`);
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    return no('it is broken: it begins like a picture and cannot be opened.');
  }
  try {
    const { dpi, notes } = headNotes(head);
    return {
      ok: true,
      ...{ type, width: bitmap.width, height: bitmap.height, drawing: false, dpi, notes },
      ...(await looked(bitmap, bitmap.width, bitmap.height)),
    };
  } finally {
    bitmap.close();
  }
}
