import type { BuyerField } from '../personal';
import type { Box, Natural, Placement } from './placement';

/** The part of a design that is printed, as shares: left, top, right, bottom. */
export type Part = readonly [number, number, number, number];

export const WHOLE_DESIGN: Part = [0, 0, 1, 1];

/** A design in an area. `*` stands for whichever design a sheet places. */
export interface Layer {
  readonly id: string;
  readonly design: string;
  /** Empty margins are left away. */
  readonly trim: boolean;
  readonly placement: Placement;
}

/** What is printed in an area: layers from the lowest up, on a background where there is one. */
export interface AreaPlan {
  /** `#rrggbb`; null for the blank itself. */
  readonly background: string | null;
  readonly layers: readonly Layer[];
  /** What the buyer says, over the layers; missing for nothing. */
  readonly fields?: readonly BuyerField[];
}

/** By area; what is not named is not printed. */
export type PrintPlan = Readonly<Record<string, AreaPlan>>;

/** Which layer a sheet's own design lies in. */
export const ANY_DESIGN = '*';

/** A design as far as placing it matters. */
export interface PlacedDesign {
  readonly id: string;
  /** Pixels; of a drawing without any, in its own units. */
  readonly width: number;
  readonly height: number;
  /** Drawn sharp at any size. */
  readonly drawing: boolean;
  readonly bounds: Part;
}

export const partOf = (layer: Pick<Layer, 'trim'>, { bounds }: Pick<PlacedDesign, 'bounds'>): Part =>
  layer.trim ? bounds : WHOLE_DESIGN;

/** The size of the part of a design that a layer prints. */
export function naturalOf(layer: Pick<Layer, 'trim'>, design: PlacedDesign): Natural {
  const [left, top, right, bottom] = partOf(layer, design);
  return { width: design.width * (right - left), height: design.height * (bottom - top) };
}

/** Pixels an inch at which a design is printed in a box; null for a drawing. */
export const densityIn = (box: Pick<Box, 'width'>, natural: Natural, drawing: boolean): number | null =>
  drawing ? null : natural.width / (box.width / 25.4);

/** A plan with the sheet's own design put in. */
export const withDesign = (plan: PrintPlan, design: string): PrintPlan =>
  Object.fromEntries(
    Object.entries(plan).map(([area, own]) => [
      area,
      { ...own, layers: own.layers.map((l) => (l.design === ANY_DESIGN ? { ...l, design } : l)) },
    ]),
  );

/** All that a buyer is asked for, area by area. */
export const fieldsIn = (plan: PrintPlan): BuyerField[] => Object.values(plan).flatMap((a) => a.fields ?? []);

/** Whether something of a plan is the buyer's own. */
export const isPersonal = (plan: PrintPlan): boolean => fieldsIn(plan).length > 0;

/** Whether anything is printed in an area. */
export const isPrinted = ({ layers, background, fields }: AreaPlan): boolean =>
  layers.length > 0 || background !== null || (fields?.length ?? 0) > 0;

const motifsOf = (f: BuyerField): string[] =>
  f.kind === 'choice' && f.of === 'motif' ? f.choices.map((c) => c.value).filter(Boolean) : [];

/** Designs that a plan prints, or may print as a buyer chooses. */
export const designsIn = (plan: PrintPlan): string[] => [
  ...new Set([
    ...Object.values(plan).flatMap(({ layers }) => layers.map((l) => l.design)),
    ...fieldsIn(plan).flatMap(motifsOf),
  ]),
];
