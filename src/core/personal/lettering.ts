import type { Lettering, PrintFont } from './fields';

/** Part of an outline: a letter of SVG's path data in capitals (M, L, Q, C, Z) with its points. */
export interface Stroke {
  readonly op: 'M' | 'L' | 'Q' | 'C' | 'Z';
  /** x and y by turns, in ems, y upwards from the baseline. */
  readonly at: readonly number[];
}

/** A letter, or several that are drawn as one. */
export interface Glyph {
  readonly outline: readonly Stroke[];
  /** How far the next one is, in ems. */
  readonly advance: number;
}

/** A font as far as setting words needs it. */
export interface Face {
  readonly font: PrintFont;
  readonly has: (codePoint: number) => boolean;
  /** A text in one line, in the order in which it is seen. */
  readonly shape: (text: string) => readonly Glyph[];
}

/** Words that are set: outlines in mm from the upper left of their box, y downwards. */
export interface SetWords {
  readonly outlines: readonly Stroke[];
  /** The size of the font, mm. */
  readonly size: number;
  readonly lines: readonly string[];
}

export type Setting =
  | { readonly ok: true; readonly words: SetWords }
  | { readonly ok: false; readonly why: 'lacking'; readonly letters: readonly string[] }
  /** It would fit at this size only. */
  | { readonly ok: false; readonly why: 'does not fit'; readonly size: number };

/** From one baseline to the next, in ems. */
const LEADING = 1.2;

interface Bounds {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

const nowhere = (): Bounds => ({
  left: Number.POSITIVE_INFINITY,
  top: Number.POSITIVE_INFINITY,
  right: Number.NEGATIVE_INFINITY,
  bottom: Number.NEGATIVE_INFINITY,
});

/** The rectangle around all points of outlines, those that bend a curve too: what is drawn lies within. */
export function boundsOfOutlines(outlines: readonly Stroke[]): Bounds {
  const b = nowhere();
  for (const { at } of outlines)
    for (let k = 0; k < at.length; k += 2) {
      b.left = Math.min(b.left, at[k]!);
      b.right = Math.max(b.right, at[k]!);
      b.top = Math.min(b.top, at[k + 1]!);
      b.bottom = Math.max(b.bottom, at[k + 1]!);
    }
  return b;
}

const widthOf = (glyphs: readonly Glyph[]): number => glyphs.reduce((sum, g) => sum + g.advance, 0);

/** Letters that a face lacks, once each. */
export function lettersLacking(face: Pick<Face, 'has'>, text: string): string[] {
  const lost = new Set<string>();
  for (const letter of text) if (!/\s/.test(letter) && !face.has(letter.codePointAt(0)!)) lost.add(letter);
  return [...lost];
}

/** Words in so many lines that the longest is as short as can be; null where there are fewer words than lines. */
function broken(words: readonly number[], space: number, lines: number): number[] | null {
  const n = words.length;
  if (lines > n) return null;
  const upTo = [0];
  for (const w of words) upTo.push(upTo.at(-1)! + w);
  const long = (from: number, to: number) => upTo[to]! - upTo[from]! + (to - from - 1) * space;
  // best[k][to]: the longest line of the first `to` words in k lines; cut[k][to]: where its last line begins.
  const best = [Array.from({ length: n + 1 }, (_, to) => (to === 0 ? 0 : Number.POSITIVE_INFINITY))];
  const cut: number[][] = [[]];
  for (let k = 1; k <= lines; k++) {
    const row = new Array<number>(n + 1).fill(Number.POSITIVE_INFINITY);
    const from = new Array<number>(n + 1).fill(0);
    for (let to = k; to <= n; to++)
      for (let begin = k - 1; begin < to; begin++) {
        const worst = Math.max(best[k - 1]![begin]!, long(begin, to));
        if (worst < row[to]!) {
          row[to] = worst;
          from[to] = begin;
        }
      }
    best.push(row);
    cut.push(from);
  }
  const ends: number[] = [];
  for (let k = lines, to = n; k > 0; k--) {
    ends.unshift(to);
    to = cut[k]![to]!;
  }
  return ends;
}

/** The ways in which a text may be broken into lines: as the buyer broke it, else at its words. */
function waysOf(text: string, most: number, face: Face): string[][] {
  if (text.includes('\n')) return [text.split('\n')];
  const words = text.split(' ').filter(Boolean);
  const widths = words.map((w) => widthOf(face.shape(w)));
  const space = widthOf(face.shape(' '));
  const ways: string[][] = [];
  for (let lines = 1; lines <= Math.min(most, words.length); lines++) {
    const ends = broken(widths, space, lines);
    if (ends) ways.push(ends.map((end, k) => words.slice(k ? ends[k - 1] : 0, end).join(' ')));
  }
  return ways;
}

/** A glyph's outline, moved and turned. @param turn radians, clockwise @param x of its origin, in ems, y downwards */
function laid(glyph: Glyph, x: number, y: number, turn: number, out: Stroke[]): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  for (const { op, at } of glyph.outline) {
    const moved = new Array<number>(at.length);
    for (let k = 0; k < at.length; k += 2) {
      const [u, v] = [at[k]!, -at[k + 1]!];
      moved[k] = x + u * cos - v * sin;
      moved[k + 1] = y + u * sin + v * cos;
    }
    out.push({ op, at: moved });
  }
}

const HELD = { left: 0, centre: 0.5, right: 1 } as const;

/** Lines at one em, each as its glyphs lie. */
function atOneEm(lines: readonly string[], face: Face, { align, curve }: Lettering): Stroke[] {
  const out: Stroke[] = [];
  const shaped = lines.map((line) => face.shape(line));
  const widths = shaped.map(widthOf);
  const widest = Math.max(0, ...widths);
  const bend = (curve * Math.PI) / 180;
  for (const [k, glyphs] of shaped.entries()) {
    const width = widths[k]!;
    let x = (widest - width) * HELD[align];
    const y = k * LEADING;
    if (Math.abs(bend) < 1e-3 || width === 0) {
      for (const glyph of glyphs) {
        laid(glyph, x, y, 0, out);
        x += glyph.advance;
      }
      continue;
    }
    // On an arc that is as long as the line and turns by the bend: each glyph by its middle.
    const radius = width / bend;
    let along = 0;
    for (const glyph of glyphs) {
      const angle = (along + glyph.advance / 2 - width / 2) / radius;
      const cx = widest / 2 + radius * Math.sin(angle);
      const cy = y + radius * (1 - Math.cos(angle));
      const half = glyph.advance / 2;
      laid(glyph, cx - half * Math.cos(angle), cy - half * Math.sin(angle), angle, out);
      along += glyph.advance;
    }
  }
  return out;
}

/** Sizes are cut off to this, mm, so that rounding never pushes words over their box. */
const STEP = 0.01;

/**
 * Sets words as large as they fit a box, no larger than they may be: broken into at most so many lines, aligned, bent.
 * No point of an outline lies outside of the box.
 * @param text as `settable` leaves it @param box mm
 */
export function setWords(
  text: string,
  lines: number,
  lettering: Lettering,
  face: Face,
  box: { readonly width: number; readonly height: number },
): Setting {
  const lacking = lettersLacking(face, text);
  if (lacking.length) return { ok: false, why: 'lacking', letters: lacking };
  let best: { size: number; lines: string[]; outlines: Stroke[]; bounds: Bounds } | null = null;
  // A bent line is one: rows of an arch would run into each other.
  const ways = lettering.curve ? [[text.replaceAll('\n', ' ')]] : waysOf(text, lines, face);
  for (const way of ways) {
    const outlines = atOneEm(way, face, lettering);
    const bounds = boundsOfOutlines(outlines);
    if (!(bounds.right > bounds.left)) continue;
    const fits = Math.min(
      lettering.most,
      box.width / (bounds.right - bounds.left),
      box.height / Math.max(1e-6, bounds.bottom - bounds.top),
    );
    const size = Math.floor(fits / STEP) * STEP;
    if (!best || size > best.size + STEP / 2) best = { size, lines: way, outlines, bounds };
  }
  if (!best) return { ok: true, words: { outlines: [], size: lettering.most, lines: [] } };
  const { size, bounds } = best;
  if (size < lettering.least) return { ok: false, why: 'does not fit', size };
  const x = (box.width - (bounds.right - bounds.left) * size) * HELD[lettering.align] - bounds.left * size;
  const y = (box.height - (bounds.bottom - bounds.top) * size) / 2 - bounds.top * size;
  const outlines = best.outlines.map(
    ({ op, at }): Stroke => ({ op, at: at.map((v, k) => v * size + (k % 2 ? y : x)) }),
  );
  return { ok: true, words: { outlines, size, lines: best.lines } };
}

/** Path data of SVG 2, section 9.3, in units of a thousandth. */
export const pathOf = (outlines: readonly Stroke[]): string =>
  outlines.map(({ op, at }) => op + at.map((v) => Math.round(v * 1000) / 1000).join(' ')).join('');
