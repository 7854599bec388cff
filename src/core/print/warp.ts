import type { Pixels } from './look';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Where a printed area lies in a picture, in its pixels. */
export type Lies =
  | {
      readonly kind: 'flat';
      readonly x: number;
      readonly y: number;
      readonly width: number;
      readonly height: number;
    }
  /** Seen at an angle: upper left, upper right, lower right, lower left. */
  | { readonly kind: 'corners'; readonly points: readonly Point[] }
  /** On cloth: rows of points, from the upper left; one more each way than there are cells. */
  | {
      readonly kind: 'mesh';
      readonly columns: number;
      readonly rows: number;
      readonly points: readonly Point[];
    }
  /** Around an upright cylinder: the area reaches over so many degrees, 0 being nearest to the eye. */
  | {
      readonly kind: 'cylinder';
      /** The middle of its axis. */
      readonly x: number;
      readonly y: number;
      readonly radius: number;
      readonly height: number;
      readonly from: number;
      readonly to: number;
      /** How far the rim sinks in the middle, seen from above: pixels. */
      readonly sink: number;
    };

/** The eight figures of a homography, after Heckbert, “Fundamentals of Texture Mapping” (1989), section 2.2.3. */
function projective([p0, p1, p2, p3]: readonly Point[]): (u: number, v: number) => Point {
  const [a, b, c, d] = [p0!, p1!, p2!, p3!];
  const [dx1, dx2, dx3] = [b.x - c.x, d.x - c.x, a.x - b.x + c.x - d.x];
  const [dy1, dy2, dy3] = [b.y - c.y, d.y - c.y, a.y - b.y + c.y - d.y];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (dx3 * dy2 - dx2 * dy3) / det;
  const h = (dx1 * dy3 - dx3 * dy1) / det;
  return (u, v) => {
    const w = g * u + h * v + 1;
    return {
      x: ((b.x - a.x + g * b.x) * u + (d.x - a.x + h * d.x) * v + a.x) / w,
      y: ((b.y - a.y + g * b.y) * u + (d.y - a.y + h * d.y) * v + a.y) / w,
    };
  };
}

const mix = (a: number, b: number, t: number) => a + (b - a) * t;

/** Where a point of an area, as shares of its width and height, is seen in the picture. */
export function seenAt(lies: Lies): (u: number, v: number) => Point {
  switch (lies.kind) {
    case 'flat':
      return (u, v) => ({ x: lies.x + u * lies.width, y: lies.y + v * lies.height });
    case 'corners':
      return projective(lies.points);
    case 'mesh': {
      const { columns, rows, points } = lies;
      return (u, v) => {
        const i = Math.min(columns - 1, Math.max(0, Math.floor(u * columns)));
        const j = Math.min(rows - 1, Math.max(0, Math.floor(v * rows)));
        const [s, t] = [u * columns - i, v * rows - j];
        const at = (k: number, l: number) => points[(j + l) * (columns + 1) + i + k]!;
        return {
          x: mix(mix(at(0, 0).x, at(1, 0).x, s), mix(at(0, 1).x, at(1, 1).x, s), t),
          y: mix(mix(at(0, 0).y, at(1, 0).y, s), mix(at(0, 1).y, at(1, 1).y, s), t),
        };
      };
    }
    case 'cylinder': {
      const { x, y, radius, height, from, to, sink } = lies;
      return (u, v) => {
        const angle = (mix(from, to, u) * Math.PI) / 180;
        return { x: x + radius * Math.sin(angle), y: y + (v - 0.5) * height + sink * Math.cos(angle) };
      };
    }
  }
}

/** For each pixel of a rectangle of a picture, which point of an area is seen there. */
export interface Warp {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** u and v in turn; NaN where the area is not seen. */
  readonly uv: Float32Array;
  /** Pixels that the area is wide and high, about: what is drawn larger is lost. */
  readonly across: number;
  readonly down: number;
}

/** Cells each way: within them the formula is followed by straight lines, to less than half a pixel. */
const CELLS = 48;
/** The share by which the outermost cells reach over the edge, so that it can be drawn smooth. */
const OVER = 0.004;

/** Works out a warp once; many designs are drawn by it. Only what faces the eye is seen. */
export function warpOf(lies: Lies, picture: { readonly width: number; readonly height: number }): Warp {
  const seen = seenAt(lies);
  const [columns, rows] =
    lies.kind === 'mesh'
      ? [Math.ceil(CELLS / lies.columns) * lies.columns, Math.ceil(CELLS / lies.rows) * lies.rows]
      : [CELLS, CELLS];
  const reach = (k: number, of: number) => (k === 0 ? -OVER : k === of ? 1 + OVER : k / of);
  const grid: (Point & { u: number; v: number })[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [u, v] = [reach(i, columns), reach(j, rows)];
      grid.push({ ...seen(u, v), u, v });
    }
  const clamp = (n: number, most: number) => Math.min(most, Math.max(0, n));
  const xs = grid.map((p) => p.x);
  const ys = grid.map((p) => p.y);
  const x = clamp(Math.floor(Math.min(...xs)), picture.width);
  const y = clamp(Math.floor(Math.min(...ys)), picture.height);
  const width = clamp(Math.ceil(Math.max(...xs)), picture.width) - x;
  const height = clamp(Math.ceil(Math.max(...ys)), picture.height) - y;
  const uv = new Float32Array(width * height * 2).fill(Number.NaN);
  const draw = (a: (typeof grid)[0], b: (typeof grid)[0], c: (typeof grid)[0]) => {
    const area = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    // Seen from behind, or edge on.
    if (!(area > 1e-9)) return;
    const fromY = Math.max(y, Math.ceil(Math.min(a.y, b.y, c.y) - 0.5));
    const toY = Math.min(y + height - 1, Math.floor(Math.max(a.y, b.y, c.y) - 0.5));
    const fromX = Math.max(x, Math.ceil(Math.min(a.x, b.x, c.x) - 0.5));
    const toX = Math.min(x + width - 1, Math.floor(Math.max(a.x, b.x, c.x) - 0.5));
    for (let py = fromY; py <= toY; py++)
      for (let px = fromX; px <= toX; px++) {
        const [qx, qy] = [px + 0.5, py + 0.5];
        const s = ((qx - a.x) * (c.y - a.y) - (c.x - a.x) * (qy - a.y)) / area;
        const t = ((b.x - a.x) * (qy - a.y) - (qx - a.x) * (b.y - a.y)) / area;
        if (s < -1e-6 || t < -1e-6 || s + t > 1 + 1e-6) continue;
        const at = ((py - y) * width + px - x) * 2;
        uv[at] = a.u + s * (b.u - a.u) + t * (c.u - a.u);
        uv[at + 1] = a.v + s * (b.v - a.v) + t * (c.v - a.v);
      }
  };
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = j * (columns + 1) + i;
      const [a, b, c, d] = [grid[at]!, grid[at + 1]!, grid[at + columns + 2]!, grid[at + columns + 1]!];
      draw(a, b, c);
      draw(a, c, d);
    }
  const length = (a: Point, b: Point) => Math.hypot(a.x - b.x, a.y - b.y);
  return {
    ...{ x, y, width, height, uv },
    across: Math.max(1, length(seen(0, 0.5), seen(0.5, 0.5)) + length(seen(0.5, 0.5), seen(1, 0.5))),
    down: Math.max(1, length(seen(0.5, 0), seen(0.5, 0.5)) + length(seen(0.5, 0.5), seen(0.5, 1))),
  };
}

/** What is printed in an area, seen at a point of it: between the four pixels around it, into `out`. */
export function sample({ width, height, data }: Pixels, u: number, v: number, out: Float32Array): void {
  const x = Math.min(width - 1, Math.max(0, u * width - 0.5));
  const y = Math.min(height - 1, Math.max(0, v * height - 0.5));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [x - x0, y - y0];
  const [w00, w10, w01, w11] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
  const [p00, p10] = [(y0 * width + x0) * 4, (y0 * width + x1) * 4];
  const [p01, p11] = [(y1 * width + x0) * 4, (y1 * width + x1) * 4];
  // Weighted by alpha: what is empty has no colour.
  const [a00, a10] = [data[p00 + 3]! * w00, data[p10 + 3]! * w10];
  const [a01, a11] = [data[p01 + 3]! * w01, data[p11 + 3]! * w11];
  const alpha = a00 + a10 + a01 + a11;
  out[3] = alpha / 255;
  if (alpha <= 0) return;
  for (let k = 0; k < 3; k++)
    out[k] =
      (data[p00 + k]! * a00 + data[p10 + k]! * a10 + data[p01 + k]! * a01 + data[p11 + k]! * a11) / alpha;
}
