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

/** A scene in one colour of its blank, with nothing printed: made once for all designs in that colour. */
export interface Stage {
  readonly parts: SceneParts;
  /** Ground and goods, before shade and light. */
  readonly bare: Uint8ClampedArray;
  /** As it is seen. */
  readonly seen: Uint8ClampedArray;
}

/** What the eye sees of a value of the goods: darkened by the shade, lit by the light, behind what stands in front. */
function lit({ goods, shade, light, front }: SceneParts, at: number, k: number, value: number): number {
  const alpha = goods.data[at + 3]! / 255;
  let out = value;
  if (alpha > 0) {
    if (shade) out *= 1 - alpha * (shade.data[at + 3]! / 255) * (1 - shade.data[at + k]! / 255);
    if (light)
      out = 255 - (255 - out) * (1 - alpha * (light.data[at + 3]! / 255) * (light.data[at + k]! / 255));
  }
  if (!front) return out;
  const over = front.data[at + 3]! / 255;
  return out * (1 - over) + front.data[at + k]! * over;
}

/** Prepares a scene for a colour of its blank, `#rrggbb`. */
export function stageOf(parts: SceneParts, colour: string): Stage {
  const ground = parts.ground.data;
  const goods = parts.goods.data;
  const tint = channelsOf(colour);
  const bare = new Uint8ClampedArray(ground.length);
  const seen = new Uint8ClampedArray(ground.length);
  for (let at = 0; at < bare.length; at += 4) {
    const alpha = goods[at + 3]! / 255;
    for (let k = 0; k < 3; k++) {
      bare[at + k] = ground[at + k]! * (1 - alpha) + ((goods[at + k]! * tint[k]!) / 255) * alpha;
      seen[at + k] = lit(parts, at, k, bare[at + k]!);
    }
    bare[at + 3] = 255;
    seen[at + 3] = 255;
  }
  return { parts, bare, seen };
}

/**
 * Puts prints into a scene: as they lie, only where there are goods, under the scene's shade and light. Only pixels that
 * are printed are worked out again.
 * @returns opaque pixels
 */
export function mockUp({ parts, bare, seen }: Stage, printed: readonly Printed[]): Pixels {
  const { width, height } = parts.ground;
  const goods = parts.goods.data;
  const out = seen.slice();
  // Two prints may lie over each other.
  const under = printed.length > 1 ? bare.slice() : bare;
  const there = new Float32Array(4);
  for (const { warp, pixels } of printed)
    for (let y = 0, from = 0; y < warp.height; y++)
      for (let x = 0; x < warp.width; x++, from += 2) {
        const u = warp.uv[from]!;
        if (Number.isNaN(u)) continue;
        const v = warp.uv[from + 1]!;
        const at = ((warp.y + y) * width + warp.x + x) * 4;
        const mask = goods[at + 3]!;
        if (mask === 0) continue;
        sample(pixels, u, v, there);
        if (there[3] === 0) continue;
        // The last pixel of an edge is covered in part.
        const across = Math.min(1, Math.max(0, 0.5 + Math.min(u, 1 - u) * warp.across));
        const down = Math.min(1, Math.max(0, 0.5 + Math.min(v, 1 - v) * warp.down));
        const alpha = there[3]! * across * down * (mask / 255);
        for (let k = 0; k < 3; k++) {
          const value = under[at + k]! * (1 - alpha) + there[k]! * alpha;
          if (under !== bare) under[at + k] = value;
          out[at + k] = lit(parts, at, k, value);
        }
      }
  return { width, height, data: out };
}
