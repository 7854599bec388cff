/** How a maker prints on a blank, as far as a design has to mind it. */
export interface Technique {
  readonly name: string;
  /** Half-transparent pixels come out as they are; else they come out full or not at all. */
  readonly halfTones: boolean;
  /** The file must be opaque: the colour of the blank does not show through. */
  readonly opaque: boolean;
  /** White is printed under the design, so that it covers a dark blank. */
  readonly underprint: boolean;
  /** The finest line that comes out, mm. */
  readonly finestLine: number;
}

/** The file that a maker takes for an area. */
export interface FileSize {
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** Pixels an inch. */
  readonly dpi: number;
}

/** A place on a blank that is printed. Lengths in mm from the edge of the file. */
export interface BlankArea {
  readonly id: string;
  readonly name: string;
  readonly shape: 'rectangle' | 'ellipse';
  readonly technique: Technique;
  /** What lies nearer to the edge may be cut off. */
  readonly bleed: number;
  /** What must not be cut, nor look off centre, stays this far from the edge. */
  readonly safe: number;
  /** What printing it costs besides, minor units of the maker; 0 for the area that the item's cost includes. */
  readonly extra: number;
  /** By the size of the blank; `*` for all that are not named. */
  readonly files: Readonly<Record<string, FileSize>>;
}

export interface BlankColour {
  readonly name: string;
  /** `#rrggbb` */
  readonly hex: string;
}

/** Goods that a maker prints on: its items are its colours in its sizes. */
export interface Blank {
  /** The maker's own number of it. */
  readonly id: string;
  readonly name: string;
  readonly category: string;
  readonly care: string;
  readonly forbidden: readonly string[];
  readonly colours: readonly BlankColour[];
  /** In order; one of '' where it has no sizes. */
  readonly sizes: readonly string[];
  readonly areas: readonly BlankArea[];
  /** What a piece costs besides that is made for one order alone, minor units of the maker; missing for nothing. */
  readonly personal?: number;
  readonly items: readonly { readonly sku: string; readonly colour: string; readonly size: string }[];
}

const MM_PER_INCH = 25.4;

/** A printed area in one size of its blank, as a rectangle in mm with its origin at the upper left. */
export interface Field extends FileSize {
  /** mm */
  readonly across: number;
  readonly down: number;
  readonly bleed: number;
  readonly safe: number;
}

export const mmOf = (pixels: number, dpi: number): number => (pixels / dpi) * MM_PER_INCH;
export const pixelsOf = (mm: number, dpi: number): number => (mm / MM_PER_INCH) * dpi;

/** The file of an area in a size of its blank; null where the maker names none. */
export function fieldOf(area: BlankArea, size: string): Field | null {
  const file = area.files[size] ?? area.files['*'];
  if (!file) return null;
  const { width, height, dpi } = file;
  return {
    ...{ width, height, dpi },
    across: mmOf(width, dpi),
    down: mmOf(height, dpi),
    bleed: area.bleed,
    safe: area.safe,
  };
}

/** The size with the most pixels: what is placed there is sharp in the others, too. */
export const largestSize = (area: BlankArea, sizes: readonly string[]): string =>
  [...sizes].sort((a, b) => (fieldOf(area, b)?.width ?? 0) - (fieldOf(area, a)?.width ?? 0))[0] ?? '';
