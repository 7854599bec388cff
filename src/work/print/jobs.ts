import {
  type AreaPlan,
  type BlankArea,
  fieldOf,
  naturalOf,
  type PlacedDesign,
  type PrintPlan,
  partOf,
} from '../../core/print';
import { type BlankRow, readAsset, type SampanDatabase } from '../../store';
import type { AreaJob, LayerJob } from '../context/draw';

/** The files of designs, read once for a batch. */
export class DesignFiles {
  private readonly files = new Map<string, Promise<Blob>>();

  constructor(private readonly db: SampanDatabase) {}

  /** @throws where the file is not in this browser any more */
  get(id: string): Promise<Blob> {
    let known = this.files.get(id);
    if (!known) {
      known = readAsset(this.db, id).then((asset) => {
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
 * @throws where a design or its file is missing, or the maker names no file for the size
 */
export async function areaJob(
  area: BlankArea,
  size: string,
  plan: AreaPlan,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
): Promise<AreaJob> {
  const field = fieldOf(area, size);
  if (!field) throw new Error(`The maker names no file of ${area.name} for the size ${size}.`);
  const layers: LayerJob[] = [];
  for (const layer of plan.layers) {
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
  return { field, background: plan.background, layers };
}

/** What draws each printed area of a plan. @throws as {@link areaJob} */
export async function areaJobs(
  blank: Pick<BlankRow, 'areas'>,
  size: string,
  plan: PrintPlan,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
): Promise<Record<string, AreaJob>> {
  const jobs: Record<string, AreaJob> = {};
  for (const area of blank.areas) {
    const own = plan[area.id];
    if (own) jobs[area.id] = await areaJob(area, size, own, designs, files);
  }
  return jobs;
}
