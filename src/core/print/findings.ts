import { isSeen } from '../personal';
import { type BlankArea, type BlankColour, type Field, fieldOf } from './blank';
import { type AreaPlan, densityIn, isPrinted, naturalOf, type PlacedDesign } from './layers';
import { contrastOn, type Look } from './look';

import { type Box, beyond, boundsOf, boxOf, covers } from './placement';

/** Pixels an inch below which print looks soft; below half of it, coarse. */
export const SHARP = 150;
/** Contrast below which a design is hardly seen on its blank. */
export const LEAST_CONTRAST = 1.6;
/** Half-transparent pixels beyond this share are more than smooth edges. */
const EDGES = 0.05;
/** mm within which a line counts as met. */
const NEAR = 0.05;

/** What a printer would say of a placement. Lengths in mm. */
export type Finding =
  | { readonly kind: 'missing'; readonly design: string }
  | { readonly kind: 'soft'; readonly dpi: number; readonly width: number; readonly height: number }
  | { readonly kind: 'over the safe line'; readonly by: number }
  | { readonly kind: 'bleeds short'; readonly by: number }
  | { readonly kind: 'half transparent'; readonly share: number }
  | { readonly kind: 'not opaque' }
  | { readonly kind: 'fine lines'; readonly width: number; readonly finest: number }
  | { readonly kind: 'hardly seen'; readonly colour: string; readonly contrast: number }
  | { readonly kind: 'empty' }
  /** A field of the buyer's, by its name. */
  | { readonly kind: 'field over the safe line'; readonly field: string; readonly by: number };

/** Findings that a maker refuses a file for; others print, but badly. */
export const isRefused = ({ kind }: Finding): boolean =>
  kind === 'missing' || kind === 'empty' || kind === 'not opaque';

/** A design with all that is known of it. */
export interface LookedAt extends PlacedDesign {
  readonly look: Look;
}

/** mm that are missing between a box and the edge of the file, on sides that it reaches into the bleed but not through it. */
function shortOf(box: Box, field: Field): number {
  const b = boundsOf(box);
  const left = box.cx - b.width / 2;
  const top = box.cy - b.height / 2;
  const gaps = [left, top, field.across - left - b.width, field.down - top - b.height];
  return Math.max(0, ...gaps.map((gap) => (gap > NEAR && gap < field.bleed ? gap : 0)));
}

/**
 * Checks an area as its printer would, before the printer does.
 * @param colours of the blank that it is printed on
 */
export function findingsOf(
  area: BlankArea,
  size: string,
  plan: AreaPlan,
  designOf: (id: string) => LookedAt | undefined,
  colours: readonly BlankColour[],
): Finding[] {
  const field = fieldOf(area, size);
  if (!field) return [{ kind: 'missing', design: '' }];
  if (!isPrinted(plan)) return [{ kind: 'empty' }];
  const { technique } = area;
  const found: Finding[] = [];
  let covered = plan.background !== null;
  for (const layer of plan.layers) {
    const design = designOf(layer.design);
    if (!design) {
      found.push({ kind: 'missing', design: layer.design });
      continue;
    }
    const natural = naturalOf(layer, design);
    const box = boxOf(layer.placement, field, natural);
    const over = covers(box, field) || layer.placement.repeat !== null;
    if (over && !design.look.transparent) covered = true;
    const dpi = densityIn(box, natural, design.drawing);
    if (dpi !== null && dpi < SHARP)
      found.push({
        kind: 'soft',
        dpi: Math.floor(dpi),
        width: (natural.width / SHARP) * 25.4,
        height: (natural.height / SHARP) * 25.4,
      });
    if (!over) {
      const outside = beyond(box, field, field.safe);
      if (outside > NEAR) found.push({ kind: 'over the safe line', by: outside });
      const short = shortOf(box, field);
      if (short > 0) found.push({ kind: 'bleeds short', by: short });
    }
    if (!technique.halfTones && design.look.half > EDGES)
      found.push({ kind: 'half transparent', share: design.look.half });
    if (design.look.finest !== null) {
      const width = design.look.finest * (box.width * (design.width / natural.width));
      if (width < technique.finestLine)
        found.push({ kind: 'fine lines', width, finest: technique.finestLine });
    }
    if (plan.background === null && !covered)
      for (const { name, hex } of colours) {
        const contrast = contrastOn(design.look.palette, hex);
        if (contrast < LEAST_CONTRAST) found.push({ kind: 'hardly seen', colour: name, contrast });
      }
  }
  for (const f of plan.fields ?? []) {
    if (!isSeen(f)) continue;
    const { x, y, width, height, turn } = f.box;
    const box = {
      ...{ cx: (x + width / 2) * field.across, cy: (y + height / 2) * field.down, mirror: false },
      ...{ width: width * field.across, height: height * field.down, turn },
    };
    const outside = beyond(box, field, field.safe);
    if (outside > NEAR) found.push({ kind: 'field over the safe line', field: f.name, by: outside });
  }
  if (technique.opaque && !covered) found.push({ kind: 'not opaque' });
  return found;
}

const mm = (length: number) => (length < 10 ? length.toFixed(1) : String(Math.round(length)));

/** A finding in a sentence. */
export function findingInWords(finding: Finding): string {
  switch (finding.kind) {
    case 'missing':
      return finding.design
        ? 'A design of it is not in this browser any more.'
        : 'The maker names no file for this size.';
    case 'empty':
      return 'Nothing is printed here.';
    case 'soft':
      return `${finding.dpi} DPI, prints ${finding.dpi < SHARP / 2 ? 'coarse' : 'soft'}; sharp up to ${mm(finding.width)} × ${mm(finding.height)} mm.`;
    case 'over the safe line':
      return `Reaches ${mm(finding.by)} mm over the safe line: it may be cut, or look off centre.`;
    case 'field over the safe line':
      return `The field “${finding.field}” reaches ${mm(finding.by)} mm over the safe line.`;
    case 'bleeds short':
      return `Ends ${mm(finding.by)} mm before the edge: a rim of the blank shows when it is cut. Fill the file, or stay inside the safe line.`;
    case 'half transparent':
      return `${Math.round(finding.share * 100)} % of it is half transparent; here that is printed full or not at all.`;
    case 'not opaque':
      return 'The maker takes only files without transparency here: choose a background, or fill the file.';
    case 'fine lines':
      return `Lines of ${finding.width.toFixed(2)} mm; the finest that come out have ${finding.finest} mm.`;
    case 'hardly seen':
      return `Hardly seen on ${finding.colour}: contrast ${finding.contrast.toFixed(1)} to 1.`;
  }
}
