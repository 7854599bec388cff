import type { Values } from '../../core/personal';
import {
  type BlankArea,
  fieldOf,
  naturalOf,
  type PlacedDesign,
  type PrintPlan,
  partOf,
} from '../../core/print';
import { type BlankRow, readAsset } from '../../store';
import type { AreaJob, LayerJob } from '../context/draw';
import type { Work } from '../context/work';
import { drawOf } from './designs';
import { Wording, wordLayers } from './words';

/** The files of designs, and what words are set with, read once for a batch. */
export class DesignFiles {
  private readonly files = new Map<string, Promise<Blob>>();

  private words: Wording | null = null;

  constructor(private readonly work: Pick<Work, 'db' | 'draw'>) {}

  get wording(): Wording {
    this.words ??= new Wording(this.work.db, drawOf(this.work));
    return this.words;
  }

  /** @throws where the file is not in this browser any more */
  get(id: string): Promise<Blob> {
    let known = this.files.get(id);
    if (!known) {
      known = readAsset(this.work.db, id).then((asset) => {
        if (!asset) throw new Error('The file of a design is not in this browser any more.');
        return asset.file;
      });
      this.files.set(id, known);
    }
    return known;
  }
}

/**
 * What draws an area of a print in a size of its blank.
 * @param values what a buyer said; null for the examples
 * @param draft leaves out what cannot be made of them, instead of failing
 * @throws where a design or its file is missing, or the maker names no file for the size
 */
export async function areaJob(
  area: BlankArea,
  size: string,
  plan: PrintPlan,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
  values: Values | null = null,
  draft = false,
): Promise<AreaJob> {
  const own = plan[area.id];
  if (!own) throw new Error(`Nothing is printed on ${area.name}.`);
  const field = fieldOf(area, size);
  if (!field) throw new Error(`The maker names no file of ${area.name} for the size ${size}.`);
  const layers: LayerJob[] = [];
  for (const layer of own.layers) {
    const design = designs.get(layer.design);
    if (!design) throw new Error('A design of the print is not there any more.');
    layers.push({
      key: design.id,
      file: await files.get(design.id),
      drawing: design.drawing,
      part: partOf(layer, design),
      natural: naturalOf(layer, design),
      placement: layer.placement,
    });
  }
  if (own.fields?.length)
    layers.push(
      ...(await wordLayers(
        files.wording,
        plan,
        area.id,
        values,
        field,
        designs,
        (id) => files.get(id),
        draft,
      )),
    );
  return { field, background: own.background, layers };
}

/** What draws each printed area of a plan. @throws as {@link areaJob} */
export async function areaJobs(
  blank: Pick<BlankRow, 'areas'>,
  size: string,
  plan: PrintPlan,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
  values: Values | null = null,
): Promise<Record<string, AreaJob>> {
  const jobs: Record<string, AreaJob> = {};
  for (const area of blank.areas) {
    if (plan[area.id]) jobs[area.id] = await areaJob(area, size, plan, designs, files, values);
  }
  return jobs;
}
