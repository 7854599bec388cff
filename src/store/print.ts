import type { Blank, Look, Part, PrintPlan } from '../core/print';
import type { Instant } from '../core/units';

/** A blank as its maker described it last. */
export interface BlankRow extends Blank {
  /** {@link blankKey} */
  readonly id: string;
  readonly supplier: string;
  /** The maker's own id of it. */
  readonly blank: string;
  readonly sites: readonly { readonly name: string; readonly country: string; readonly days: number }[];
  readonly at: Instant;
  /** The maker has it no longer. */
  readonly gone: boolean;
}

export const blankKey = (supplier: string, blank: string): string => `${supplier}:${blank}`;

/** What is to be known of a design's file before it is printed. */
export type DesignNote =
  | 'turned by EXIF'
  | 'another profile'
  | 'cmyk'
  | 'deep colour'
  | 'moves'
  | 'letters'
  | 'no size';

/** A design: its file is kept as it came. */
export interface DesignRow {
  /** The hash of its file, an asset. */
  readonly id: string;
  readonly name: string;
  /** Media type. */
  readonly type: string;
  readonly bytes: number;
  /** Pixels, upright; of a drawing in its own units. */
  readonly width: number;
  readonly height: number;
  readonly drawing: boolean;
  /** What its file says of its resolution; null where it says nothing. */
  readonly dpi: number | null;
  readonly notes: readonly DesignNote[];
  readonly look: Look;
  /** Pictures of it for lists and for placing, assets: at most 320 and 1,600 pixels long. */
  readonly small: string;
  readonly large: string;
  readonly keywords: readonly string[];
  /** A collection of the seller's; '' for none. */
  readonly set: string;
  /** Where it comes from and who may use it. */
  readonly rights: string;
  readonly at: Instant;
}

/** Designs on a blank, placed by one rule; those that differ by their own. */
export interface SheetRow {
  readonly id: string;
  readonly name: string;
  /** {@link BlankRow.id} */
  readonly blank: string;
  /** The size in which it is placed; others follow. */
  readonly size: string;
  /** The rule: its layers of {@link ANY_DESIGN} stand for each design. */
  readonly plan: PrintPlan;
  /** In order. */
  readonly designs: readonly string[];
  /** By design, areas that were mended by hand. */
  readonly mended: Readonly<Record<string, PrintPlan>>;
  /** Colours of the blank that are looked at, and sold. */
  readonly colours: readonly string[];
  readonly at: Instant;
}

/** A design in a print, as it was when that was made. */
export interface PrintedDesign {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly drawing: boolean;
  readonly bounds: Part;
}

/** What a product is printed with. Never changed: another placement is another print. */
export interface PrintRow {
  /** Hash of all that is in it. */
  readonly id: string;
  /** {@link BlankRow.id} */
  readonly blank: string;
  readonly plan: PrintPlan;
  readonly designs: readonly PrintedDesign[];
  /** The maker's name of each file that it has, by area and size (`printFileKey`). */
  readonly files?: Readonly<Record<string, string>>;
}

export const printFileKey = (
  area: string,
  { width, height, dpi }: { width: number; height: number; dpi: number },
) => `${area} ${width}x${height}@${dpi}`;
