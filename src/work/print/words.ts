import {
  type BuyerField,
  drawWords,
  examplesOf,
  isWarning,
  type PersonalLayer,
  type Problem,
  problemInWords,
  type Values,
} from '../../core/personal';
import {
  CENTRED,
  type Field,
  fieldsIn,
  type Natural,
  type PlacedDesign,
  type PrintPlan,
  placementAt,
  SHARP,
  WHOLE_DESIGN,
} from '../../core/print';
import { type SampanDatabase, settingsOf } from '../../store';
import type { Draw, LayerJob, LetteringKit } from '../context/draw';

/** Fonts that a print may need. */
const fontsIn = (fields: readonly BuyerField[]): string[] => [
  ...new Set(
    fields.flatMap((f) => {
      if (f.kind === 'choice') return f.of === 'font' ? f.choices.map((c) => c.value) : [];
      return 'lettering' in f ? [f.lettering.font] : [];
    }),
  ),
];

/** A buyer's words on their way onto goods: what they are set with is loaded once for a batch. */
export class Wording {
  private readonly kits = new Map<string, Promise<LetteringKit>>();
  private forbidden: Promise<readonly string[]> | null = null;

  constructor(
    private readonly db: SampanDatabase,
    private readonly draw: Draw,
  ) {}

  private kit(fields: readonly BuyerField[]): Promise<LetteringKit> {
    const fonts = fontsIn(fields);
    const places = fields.some((f) => f.kind === 'place');
    const key = `${fonts.join()} ${places}`;
    let kit = this.kits.get(key);
    if (!kit) {
      kit = this.draw.lettering(fonts, places);
      this.kits.set(key, kit);
    }
    return kit;
  }

  /** What the fields of an area look like with the values, and what is wrong with them. */
  async drawn(plan: PrintPlan, area: string, values: Values, field: Field) {
    const fields = fieldsIn(plan);
    this.forbidden ??= settingsOf(this.db).then((s) => s.personal?.forbidden ?? []);
    const world = { ...(await this.kit(fields)), forbidden: await this.forbidden };
    return drawWords(fields, plan[area]?.fields ?? [], values, field, world);
  }

  /** Everything that is wrong with values in all areas. */
  async problems(
    plan: PrintPlan,
    values: Values,
    fieldOf: (area: string) => Field | null,
  ): Promise<Problem[]> {
    const all: Problem[] = [];
    for (const area of Object.keys(plan)) {
      const field = fieldOf(area);
      if (!field) continue;
      all.push(...(await this.drawn(plan, area, values, field)).problems);
      for (const f of plan[area]?.fields ?? []) all.push(...pictureProblem(f, values[f.id] ?? '', field));
    }
    return all;
  }
}

/** How a picture of the buyer's is named among values: the hash of its file and its pixels. */
const PICTURE = /^([0-9a-f]{64})@(\d{1,5})x(\d{1,5})$/;

export const pictureName = ({ id, width, height }: { id: string; width: number; height: number }): string =>
  `${id}@${width}x${height}`;

/** A picture of the buyer's that is not there, or has too few pixels for its box. */
function pictureProblem(f: BuyerField, value: string, { across, down }: Field): Problem[] {
  if (f.kind !== 'picture' || !value) return [];
  const [, , wide, high] = PICTURE.exec(value) ?? [];
  if (!wide) return [{ field: f.id, kind: 'no picture' }];
  const [x, y] = [(f.box.width * across) / Number(wide), (f.box.height * down) / Number(high)];
  const dpi = Math.floor(25.4 / (f.how === 'fill' ? Math.max(x, y) : Math.min(x, y)));
  return dpi < SHARP ? [{ field: f.id, kind: 'soft', dpi }] : [];
}

/** A layer over a box, as large as it fits or so that it fills it. */
function over(
  layer: PersonalLayer,
  field: Field,
  natural: Natural,
  how: 'fit' | 'fill',
): Pick<LayerJob, 'part' | 'natural' | 'placement'> {
  const { x, y, turn } = layer.box;
  const room = { width: layer.box.width * field.across, height: layer.box.height * field.down };
  const middle = {
    cx: (x + layer.box.width / 2) * field.across,
    cy: (y + layer.box.height / 2) * field.down,
  };
  const ratio = natural.width / natural.height;
  let part = WHOLE_DESIGN;
  let seen = natural;
  let size = room;
  if (how === 'fill') {
    // What stands over is cut off on both sides.
    const wide = ratio > room.width / room.height;
    const share = wide ? room.width / room.height / ratio : ratio / (room.width / room.height);
    const [from, to] = [(1 - share) / 2, (1 + share) / 2];
    part = wide ? [from, 0, to, 1] : [0, from, 1, to];
    seen = {
      width: natural.width * (part[2] - part[0]),
      height: natural.height * (part[3] - part[1]),
    };
  } else {
    const width = Math.min(room.width, room.height * ratio);
    size = { width, height: width / ratio };
  }
  const box = { ...middle, ...size, turn, mirror: false };
  return { part, natural: seen, placement: placementAt(box, { ...CENTRED, within: 'file' }, field, seen) };
}

/** Layers of an area with what a buyer said. @param draft leaves out what cannot be made @throws in a person's words, where something of it cannot be made */
export async function wordLayers(
  wording: Wording,
  plan: PrintPlan,
  area: string,
  values: Values | null,
  field: Field,
  designs: ReadonlyMap<string, PlacedDesign>,
  fileOf: (id: string) => Promise<Blob>,
  draft: boolean,
): Promise<LayerJob[]> {
  const fields = fieldsIn(plan);
  const { layers, problems } = await wording.drawn(plan, area, values ?? examplesOf(fields), field);
  const wrong = values && !draft && problems.find((p) => !isWarning(p));
  if (wrong) throw new Error(problemInWords(wrong, fields.find((f) => f.id === wrong.field)?.name ?? ''));
  const jobs: LayerJob[] = [];
  for (const layer of layers)
    if (layer.kind === 'drawing') {
      const natural = { width: layer.box.width * field.across, height: layer.box.height * field.down };
      const file = new Blob([layer.svg], { type: 'image/svg+xml' });
      jobs.push({ key: layer.svg, file, drawing: true, ...over(layer, field, natural, 'fit') });
    } else if (layer.kind === 'motif') {
      const design = designs.get(layer.design);
      if (!design) throw new Error('A motif of the print is not there any more.');
      const { drawing } = design;
      jobs.push({
        ...{ key: design.id, file: await fileOf(design.id), drawing },
        ...over(layer, field, design, 'fit'),
      });
    } else {
      const [, id, width, height] = PICTURE.exec(layer.file) ?? [];
      if (!id && draft) continue;
      if (!id) throw new Error('The buyer’s picture was not fetched yet.');
      const natural = { width: Number(width), height: Number(height) };
      jobs.push({
        key: id,
        file: await fileOf(id),
        drawing: false,
        ...over(layer, field, natural, layer.how),
      });
    }
  return jobs;
}
