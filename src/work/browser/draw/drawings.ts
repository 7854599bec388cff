import { initWasm, Resvg } from '@resvg/resvg-wasm';
import type { Pixels } from '../../../core/print';

let ready: Promise<void> | null = null;

/** Loads what draws SVG. It runs no scripts and fetches nothing, and draws the same everywhere. */
function load(): Promise<void> {
  ready ??= initWasm(fetch(new URL('@resvg/resvg-wasm/index_bg.wasm', import.meta.url)));
  return ready;
}

/** Colours as they are without alpha multiplied in. */
function unmultiplied(pixels: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(pixels);
  for (let at = 0; at < out.length; at += 4) {
    const alpha = out[at + 3]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let k = 0; k < 3; k++) out[at + k] = Math.round((out[at + k]! * 255) / alpha);
  }
  return out;
}

/** The size of a drawing in its own units. @throws where it cannot be read */
export async function drawingSize(svg: string): Promise<{ width: number; height: number }> {
  await load();
  const drawing = new Resvg(svg);
  try {
    return { width: drawing.width, height: drawing.height };
  } finally {
    drawing.free();
  }
}

/** Draws an SVG so many pixels wide. @throws where it cannot be read */
export async function drawSvg(
  svg: string,
  width: number,
): Promise<Pixels & { readonly data: Uint8ClampedArray<ArrayBuffer> }> {
  await load();
  const drawing = new Resvg(svg, { fitTo: { mode: 'width', value: Math.max(1, Math.round(width)) } });
  const drawn = drawing.render();
  try {
    return { width: drawn.width, height: drawn.height, data: unmultiplied(drawn.pixels) };
  } finally {
    drawn.free();
    drawing.free();
  }
}
