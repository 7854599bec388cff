import type { Part } from './layers';
import type { Pixels } from './look';
import { type Lies, sample, type Warp } from './warp';

/** Where an area of the blank is seen in a scene. */
export interface SceneArea {
  /** Its id on the blank. */
  readonly area: string;
  readonly lies: Lies;
  /** The part of the area that is seen, as shares; missing for all of it. */
  readonly part?: Part;
}

export const SCENE_KINDS = ['flat', 'in use', 'detail'] as const;
export type SceneKind = (typeof SCENE_KINDS)[number];

/**
 * A picture that designs are put into; the form is in `docs/scenes.md`. Its parts are pictures of one size, each an SVG
 * or a data address of a PNG or JPEG, and lie over each other in this order.
 */
export interface Scene {
  readonly form: 'sampan-scene';
  readonly version: 1;
  readonly id: string;
  readonly name: string;
  readonly kind: SceneKind;
  /** Ids of the blanks it shows. */
  readonly blanks: readonly string[];
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** What is behind the goods. */
  readonly ground: string;
  /** The goods in white: they take the colour of the blank, and only on them is printed. */
  readonly goods: string;
  /** Greys by which goods and print are darkened; missing for none. */
  readonly shade?: string;
  /** What shines on them; missing for nothing. */
  readonly light?: string;
  /** What stands before them; missing for nothing. */
  readonly front?: string;
  readonly areas: readonly SceneArea[];
}

/** The parts of a scene as pixels, made once for many pictures. */
export interface SceneParts {
  readonly ground: Pixels;
  readonly goods: Pixels;
  readonly shade: Pixels | null;
  readonly light: Pixels | null;
  readonly front: Pixels | null;
}

/** A printed area on its way into a scene. */
export interface Printed {
  readonly warp: Warp;
  readonly pixels: Pixels;
}

const channelsOf = (hex: string): readonly [number, number, number] => {
  const n = Number.parseInt(hex.slice(1), 16);
  return [n >> 16, (n >> 8) & 255, n & 255];
};

/**
 * Puts prints into a scene: ground, goods in the colour of the blank, prints as they lie (only where there are goods),
 * darkened by the shade, lit by the light, and what stands in front.
 * @param colour of the blank, `#rrggbb`
 * @returns opaque pixels
 */
export function mockUp(parts: SceneParts, printed: readonly Printed[], colour: string): Pixels {
  const { width, height, data: ground } = parts.ground;
  const out = new Uint8ClampedArray(ground.length);
  const goods = parts.goods.data;
  const tint = channelsOf(colour);
  for (let at = 0; at < out.length; at += 4) {
    const alpha = goods[at + 3]! / 255;
    for (let k = 0; k < 3; k++)
      out[at + k] = ground[at + k]! * (1 - alpha) + ((goods[at + k]! * tint[k]!) / 255) * alpha;
    out[at + 3] = 255;
  }
  const seen = new Float32Array(4);
  for (const { warp, pixels } of printed) {
    for (let y = 0, from = 0; y < warp.height; y++)
      for (let x = 0; x < warp.width; x++, from += 2) {
        const [u, v] = [warp.uv[from]!, warp.uv[from + 1]!];
        if (Number.isNaN(u)) continue;
        const at = ((warp.y + y) * width + warp.x + x) * 4;
        const mask = goods[at + 3]!;
        if (mask === 0) continue;
        sample(pixels, u, v, seen);
        // The last pixel of an edge is covered in part.
        const edge =
          Math.min(1, Math.max(0, 0.5 + Math.min(u, 1 - u) * warp.across)) *
          Math.min(1, Math.max(0, 0.5 + Math.min(v, 1 - v) * warp.down));
        const alpha = seen[3]! * edge * (mask / 255);
        if (alpha <= 0) continue;
        for (let k = 0; k < 3; k++) out[at + k] = out[at + k]! * (1 - alpha) + seen[k]! * alpha;
      }
  }
  const { shade, light, front } = parts;
  for (let at = 0; at < out.length; at += 4) {
    const alpha = goods[at + 3]! / 255;
    for (let k = 0; k < 3; k++) {
      let value = out[at + k]!;
      if (shade && alpha > 0)
        value *= 1 - alpha * (shade.data[at + 3]! / 255) * (1 - shade.data[at + k]! / 255);
      if (light && alpha > 0)
        value = 255 - (255 - value) * (1 - alpha * (light.data[at + 3]! / 255) * (light.data[at + k]! / 255));
      if (front) {
        const over = front.data[at + 3]! / 255;
        value = value * (1 - over) + front.data[at + k]! * over;
      }
      out[at + k] = value;
    }
  }
  return { width, height, data: out };
}
