/** A colour that takes up much of a design. */
export interface PaletteColour {
  readonly r: number;
  readonly g: number;
  readonly b: number;
  /** Of all pixels that are printed, 0 to 1. */
  readonly share: number;
}

/** What is seen of a design in its pixels. */
export interface Look {
  /** Pixels that are neither full nor empty, and no smooth edge of something full, as a share of all that are not empty. */
  readonly half: number;
  readonly transparent: boolean;
  /** What is not empty, as shares of width and height: left, top, right, bottom. */
  readonly bounds: readonly [number, number, number, number];
  /** Its main colours, the largest first. */
  readonly palette: readonly PaletteColour[];
  /** The width of its finest lines, as a share of the design's width; null where nothing is fine. */
  readonly finest: number | null;
  /** 64 signs of brightness, as 16 hex digits: alike designs differ in few of them. */
  readonly hash: string;
}

/** Pixels as rows of red, green, blue and alpha, not multiplied by alpha. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray | Uint8Array;
}

const FULL = 250;
const EMPTY = 6;
const COLOURS = 8;
/** Runs longer than this share of the width are no lines. */
const LINE = 0.04;
/** The share of printed pixels that must lie in such lines before they count. */
const ENOUGH = 0.002;

const touchesEmpty = ({ width, height, data }: Pixels, x: number, y: number): boolean => {
  const alphaAt = (px: number, py: number) =>
    px < 0 || py < 0 || px >= width || py >= height ? 0 : data[(py * width + px) * 4 + 3]!;
  return [alphaAt(x - 1, y), alphaAt(x + 1, y), alphaAt(x, y - 1), alphaAt(x, y + 1)].some((a) => a <= EMPTY);
};

/** Looks through pixels once. Some 500 × 500 tell enough. */
export function lookAt(pixels: Pixels): Look {
  const { width, height, data } = pixels;
  let [left, top, right, bottom] = [width, height, -1, -1];
  let [half, printed] = [0, 0];
  const bins = new Map<number, [number, number, number, number]>();
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const alpha = data[at + 3]!;
      if (alpha <= EMPTY) continue;
      printed++;
      // A half pixel beside an empty one is the smooth edge of something full.
      if (alpha < FULL && !touchesEmpty(pixels, x, y)) half++;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
      const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!];
      const bin = ((r >> 5) << 6) | ((g >> 5) << 3) | (b >> 5);
      const sum = bins.get(bin);
      if (sum) {
        sum[0] += r;
        sum[1] += g;
        sum[2] += b;
        sum[3]++;
      } else bins.set(bin, [r, g, b, 1]);
    }
  const palette = [...bins.values()]
    .sort((a, b) => b[3] - a[3])
    .slice(0, COLOURS)
    .map(([r, g, b, n]) => ({
      r: Math.round(r / n),
      g: Math.round(g / n),
      b: Math.round(b / n),
      share: n / printed,
    }));
  return {
    half: printed ? half / printed : 0,
    transparent: printed < width * height || half > 0,
    bounds: printed ? [left / width, top / height, (right + 1) / width, (bottom + 1) / height] : [0, 0, 1, 1],
    palette,
    finest: finestLine(pixels, printed),
    hash: differenceHash(pixels),
  };
}

/** Lengths of runs of printed pixels, along rows or along columns, by pixel. */
function runs({ width, height, data }: Pixels, alongRows: boolean): Uint16Array {
  const out = new Uint16Array(width * height);
  const [lines, length] = alongRows ? [height, width] : [width, height];
  const placeOf = (line: number, k: number) => (alongRows ? line * width + k : k * width + line);
  for (let line = 0; line < lines; line++)
    for (let k = 0, from = -1; k <= length; k++) {
      const on = k < length && data[placeOf(line, k) * 4 + 3]! > 127;
      if (on && from < 0) from = k;
      if (on || from < 0) continue;
      for (let at = from; at < k; at++) out[placeOf(line, at)] = Math.min(65_535, k - from);
      from = -1;
    }
  return out;
}

/** A pixel is as fine as the shorter of its two runs; the finest one in two hundred of such pixels counts. */
function finestLine(pixels: Pixels, printed: number): number | null {
  if (!printed || printed === pixels.width * pixels.height) return null;
  const across = runs(pixels, true);
  const down = runs(pixels, false);
  const most = Math.max(2, Math.round(pixels.width * LINE));
  const counts = new Uint32Array(most + 1);
  let lines = 0;
  for (let k = 0; k < across.length; k++) {
    const fine = Math.min(across[k]!, down[k]!);
    if (fine === 0 || fine > most) continue;
    counts[fine]!++;
    lines++;
  }
  if (lines < printed * ENOUGH) return null;
  let seen = 0;
  for (let width = 1; width <= most; width++) {
    seen += counts[width]!;
    if (seen >= Math.max(lines * 0.05, printed * ENOUGH)) return width / pixels.width;
  }
  return null;
}

/** Whether each of 8 × 8 places is darker than the one on its right, over white; a copy in another size has the same. */
function differenceHash({ width, height, data }: Pixels): string {
  const sums = new Float64Array(72);
  const counts = new Uint32Array(72);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const alpha = data[at + 3]! / 255;
      const grey = 0.299 * data[at]! + 0.587 * data[at + 1]! + 0.114 * data[at + 2]!;
      const place = Math.floor((y * 8) / height) * 9 + Math.floor((x * 9) / width);
      sums[place]! += grey * alpha + 255 * (1 - alpha);
      counts[place]!++;
    }
  let hash = '';
  for (let y = 0; y < 8; y++) {
    let byte = 0;
    for (let x = 0; x < 8; x++) {
      const [a, b] = [y * 9 + x, y * 9 + x + 1];
      byte = (byte << 1) | (sums[a]! / (counts[a]! || 1) < sums[b]! / (counts[b]! || 1) ? 1 : 0);
    }
    hash += byte.toString(16).padStart(2, '0');
  }
  return hash;
}

const ones = (n: number): number => {
  let count = 0;
  for (let rest = n >>> 0; rest; rest &= rest - 1) count++;
  return count;
};

/** In how many of 64 signs two designs differ. */
export function differenceOf(a: string, b: string): number {
  const part = (hash: string, k: number) => Number.parseInt(hash.slice(k * 8, k * 8 + 8), 16);
  return ones(part(a, 0) ^ part(b, 0)) + ones(part(a, 1) ^ part(b, 1));
}

/** Designs that differ in no more of 64 signs look alike. */
export const ALIKE = 4;

/** Relative luminance of WCAG 2.2, 0 to 1. */
export function luminanceOf(r: number, g: number, b: number): number {
  const [lr, lg, lb] = [r, g, b].map((v) => {
    const s = v / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * lr + 0.7152 * lg + 0.0722 * lb;
}

const channels = (hex: string) => {
  const n = Number.parseInt(hex.slice(1), 16);
  return [n >> 16, (n >> 8) & 255, n & 255] as const;
};

/** Contrast ratio of WCAG 2.2 between a design's colours and a ground, as the median over what is printed; 1 to 21. */
export function contrastOn(palette: readonly PaletteColour[], ground: string): number {
  const under = luminanceOf(...channels(ground));
  const all = palette
    .map(({ r, g, b, share }) => {
      const over = luminanceOf(r, g, b);
      return { ratio: (Math.max(over, under) + 0.05) / (Math.min(over, under) + 0.05), share };
    })
    .sort((a, b) => a.ratio - b.ratio);
  const whole = all.reduce((sum, c) => sum + c.share, 0);
  let seen = 0;
  for (const { ratio, share } of all) {
    seen += share;
    if (seen * 2 >= whole) return ratio;
  }
  return 21;
}
