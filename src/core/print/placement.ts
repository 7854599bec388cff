import type { Field } from './blank';

export const HOWS = ['fit', 'fill', 'width', 'height'] as const;
/** Into the area, over all of it, as wide as it, or as high as it. */
export type How = (typeof HOWS)[number];

export const REPEATS = ['grid', 'brick', 'half-drop', 'mirror'] as const;
export type RepeatKind = (typeof REPEATS)[number];

/** Where along each axis a design is held: −1 left or top, 0 in the middle, 1 right or bottom. */
export type Held = -1 | 0 | 1;

/**
 * How a design lies in an area, in words that hold for every design and every area: what is laid by hand is one of them, too,
 * so that it can be carried over.
 */
export interface Placement {
  readonly how: How;
  /** Measured against the whole file, or against what is inside the safe line. */
  readonly within: 'file' | 'safe';
  /** Times the size that `how` gives; 1 for just that. */
  readonly scale: number;
  readonly holdX: Held;
  readonly holdY: Held;
  /** Moved from there, as a share of the file's width and height. */
  readonly x: number;
  readonly y: number;
  /** Degrees, clockwise. */
  readonly turn: number;
  readonly mirror: boolean;
  /** Laid side by side over the whole area. The gap is a share of the design's width. */
  readonly repeat: { readonly kind: RepeatKind; readonly gap: number } | null;
}

export const CENTRED: Placement = {
  how: 'fit',
  within: 'safe',
  scale: 1,
  holdX: 0,
  holdY: 0,
  x: 0,
  y: 0,
  turn: 0,
  mirror: false,
  repeat: null,
};

/** A design's own size; only the ratio counts. */
export interface Natural {
  readonly width: number;
  readonly height: number;
}

/** A design as it lies: mm from the upper left of the file. */
export interface Box {
  /** Its middle. */
  readonly cx: number;
  readonly cy: number;
  /** Before it is turned. */
  readonly width: number;
  readonly height: number;
  /** Degrees, clockwise, about its middle. */
  readonly turn: number;
  readonly mirror: boolean;
}

/** Cosine and sine of whole quarters exactly, so that four of them are none. */
export function turnOf(degrees: number): { readonly cos: number; readonly sin: number } {
  const quarter = ((degrees % 360) + 360) % 360;
  if (quarter % 90 === 0) return { cos: [1, 0, -1, 0][quarter / 90]!, sin: [0, 1, 0, -1][quarter / 90]! };
  const rad = (degrees * Math.PI) / 180;
  return { cos: Math.cos(rad), sin: Math.sin(rad) };
}

/** The upright rectangle around a turned one. */
export function boundsOf({ width, height, turn }: Pick<Box, 'width' | 'height' | 'turn'>): Natural {
  const { cos, sin } = turnOf(turn);
  const [c, s] = [Math.abs(cos), Math.abs(sin)];
  return { width: width * c + height * s, height: width * s + height * c };
}

/** mm that are left between the lines that a placement is measured against. */
function roomOf(field: Field, within: Placement['within']): Natural & { readonly inset: number } {
  const least = Math.min(field.across, field.down);
  const inset = within === 'safe' ? Math.min(field.safe, least / 4) : 0;
  return { inset, width: field.across - 2 * inset, height: field.down - 2 * inset };
}

/** mm of the design's width at the scale 1. */
function widthAt({ how, within, turn }: Placement, field: Field, natural: Natural): number {
  const room = roomOf(field, within);
  const ratio = natural.height / natural.width;
  const one = boundsOf({ width: 1, height: ratio, turn });
  switch (how) {
    case 'fit':
      return Math.min(room.width / one.width, room.height / one.height);
    case 'width':
      return room.width / one.width;
    case 'height':
      return room.height / one.height;
    case 'fill': {
      // The room, seen from the turned design, must lie within it.
      const seen = boundsOf({ width: room.width, height: room.height, turn });
      return Math.max(seen.width, seen.height / ratio);
    }
  }
}

/** Where a design lies in an area. */
export function boxOf(placement: Placement, field: Field, natural: Natural): Box {
  const { within, scale, holdX, holdY, x, y, turn, mirror } = placement;
  const room = roomOf(field, within);
  const width = widthAt(placement, field, natural) * scale;
  const height = (width * natural.height) / natural.width;
  const bounds = boundsOf({ width, height, turn });
  return {
    cx: field.across / 2 + (holdX * (room.width - bounds.width)) / 2 + x * field.across,
    cy: field.down / 2 + (holdY * (room.height - bounds.height)) / 2 + y * field.down,
    ...{ width, height, turn, mirror },
  };
}

/** The placement by which a design lies in a given box: what was moved by hand, in words that carry over. */
export function placementAt(box: Box, was: Placement, field: Field, natural: Natural): Placement {
  const turned = { ...was, turn: box.turn, mirror: box.mirror };
  const scale = box.width / widthAt(turned, field, natural);
  const unmoved = boxOf({ ...turned, scale, x: 0, y: 0 }, field, natural);
  return {
    ...turned,
    scale,
    x: (box.cx - unmoved.cx) / field.across,
    y: (box.cy - unmoved.cy) / field.down,
  };
}

/** One of the places at which a repeated design is drawn. */
export interface Tile {
  readonly cx: number;
  readonly cy: number;
  readonly mirrorX: boolean;
  readonly mirrorY: boolean;
}

/** Tiles at most: smaller ones are a grey area on any machine. */
export const MOST_TILES = 20_000;

const mod2 = (n: number) => ((n % 2) + 2) % 2;

/**
 * All places of a repeated design that touch an area of so many units, in the units of the box. Steps are the tile's size
 * and the gap, so that neighbours meet exactly.
 * @param step rounds a step: to whole pixels where there are such
 */
export function tilesOf(
  box: Box,
  { kind, gap }: NonNullable<Placement['repeat']>,
  area: Natural,
  step: (length: number) => number = (length) => length,
): Tile[] {
  const stepX = step(box.width * (1 + gap));
  const stepY = step(box.height + box.width * gap);
  if (!(stepX > 0 && stepY > 0)) return [];
  const { cos, sin } = turnOf(box.turn);
  // The corners of the area, seen from the turned box, say how far it has to be repeated.
  const corners = [
    [0, 0],
    [area.width, 0],
    [0, area.height],
    [area.width, area.height],
  ].map(([px, py]) => {
    const [dx, dy] = [px! - box.cx, py! - box.cy];
    return { u: dx * cos + dy * sin, v: -dx * sin + dy * cos };
  });
  const span = (values: number[], size: number, each: number) => [
    Math.floor((Math.min(...values) - size / 2) / each) - 1,
    Math.ceil((Math.max(...values) + size / 2) / each) + 1,
  ];
  const [fromI, toI] = span(
    corners.map((c) => c.u),
    box.width,
    stepX,
  ) as [number, number];
  const [fromJ, toJ] = span(
    corners.map((c) => c.v),
    box.height,
    stepY,
  ) as [number, number];
  if ((toI - fromI + 1) * (toJ - fromJ + 1) > MOST_TILES) return [];
  const tiles: Tile[] = [];
  for (let j = fromJ; j <= toJ; j++)
    for (let i = fromI; i <= toI; i++) {
      const u = i * stepX + (kind === 'brick' && mod2(j) ? step(stepX / 2) : 0);
      const v = j * stepY + (kind === 'half-drop' && mod2(i) ? step(stepY / 2) : 0);
      tiles.push({
        cx: box.cx + u * cos - v * sin,
        cy: box.cy + u * sin + v * cos,
        mirrorX: kind === 'mirror' && mod2(i) === 1,
        mirrorY: kind === 'mirror' && mod2(j) === 1,
      });
    }
  return tiles;
}

/** mm that a box reaches beyond a line drawn so far inside the edge of the file, on its worst side; 0 for none. */
export function beyond(box: Box, field: Field, inset: number): number {
  const b = boundsOf(box);
  return Math.max(
    0,
    inset - (box.cx - b.width / 2),
    inset - (box.cy - b.height / 2),
    box.cx + b.width / 2 - (field.across - inset),
    box.cy + b.height / 2 - (field.down - inset),
  );
}

/** Whether a box covers the whole file, as a design that bleeds must. A hair's breadth is rounding. */
export function covers(box: Box, field: Field): boolean {
  const { cos, sin } = turnOf(box.turn);
  return [
    [0, 0],
    [field.across, 0],
    [0, field.down],
    [field.across, field.down],
  ].every(([px, py]) => {
    const [dx, dy] = [px! - box.cx, py! - box.cy];
    return (
      Math.abs(dx * cos + dy * sin) <= box.width / 2 + 1e-6 &&
      Math.abs(-dx * sin + dy * cos) <= box.height / 2 + 1e-6
    );
  });
}
