import { ownPictureName } from '../../core/checks';
import type { PlacedDesign, Scene, SceneKind } from '../../core/print';
import { type BlankRow, keepAsset } from '../../store';
import type { Work } from '../context/work';
import { drawOf } from './designs';
import { areaJobs, type DesignFiles } from './jobs';
import type { SheetLine } from './sheets';

/** A scene as it is chosen: without its pictures. */
export interface SceneLine {
  readonly id: string;
  readonly name: string;
  readonly kind: SceneKind;
}

/** Scenes that show a blank. */
export const scenesOf = (scenes: readonly Scene[], blank: Pick<BlankRow, 'blank'>): Scene[] =>
  scenes.filter((s) => s.blanks.includes(blank.blank));

/** A picture that is to be made of each design. */
export interface Shot {
  readonly scene: Scene;
  readonly colour: BlankRow['colours'][number];
}

/** The pictures of a product: its first scene in each colour, the others in the first one. */
export function shotsOf(scenes: readonly Scene[], colours: BlankRow['colours']): Shot[] {
  const [first, ...others] = scenes;
  const [main] = colours;
  if (!first || !main) return [];
  return [
    ...colours.map((colour) => ({ scene: first, colour })),
    ...others.map((scene) => ({ scene, colour: main })),
  ];
}

/** A picture that was made, by its name among pictures, and what it shows. */
export interface ShotMade {
  readonly name: string;
  readonly alt: string;
  /** Id of its scene, and the colour of the blank. */
  readonly scene: string;
  readonly colour: string;
}

/** What a picture shows, for buyers who do not see it. */
const altOf = (design: string, blank: string, { scene, colour }: Shot, colours: number): string =>
  `${design} on a ${blank.split(',')[0]!.toLowerCase()}${colours > 1 ? ` in ${colour.name.toLowerCase()}` : ''}, ${scene.name.toLowerCase()}`.slice(
    0,
    250,
  );

/** The size in which a plan is drawn for a scene. @throws where a design or its file is missing */
export async function drawShot(
  work: Work,
  blank: BlankRow,
  size: string,
  line: Pick<SheetLine, 'plan'>,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
  { scene, colour }: Shot,
): Promise<Blob> {
  const areas = await areaJobs(blank, size, line.plan, designs, files);
  return drawOf(work).mockUp({ scene, colour: colour.hex, areas });
}

/** Makes the pictures of a product, and keeps them as pictures of our own. @throws as {@link drawShot} */
export async function makeShots(
  work: Work,
  blank: BlankRow,
  size: string,
  line: Pick<SheetLine, 'design' | 'plan'>,
  designs: ReadonlyMap<string, PlacedDesign>,
  files: DesignFiles,
  shots: readonly Shot[],
): Promise<ShotMade[]> {
  const colours = new Set(shots.map((s) => s.colour.name)).size;
  const made: ShotMade[] = [];
  for (const shot of shots) {
    const file = await drawShot(work, blank, size, line, designs, files, shot);
    const name = `${line.design.name}, ${shot.scene.name}.jpg`;
    const hash = await keepAsset(work.db, file, {
      kind: 'picture',
      name,
      at: work.clock(),
      madeOf: line.design.id,
    });
    const { width, height } = shot.scene;
    made.push({
      name: ownPictureName({ width, height, hash, fitted: false }),
      alt: altOf(line.design.name, blank.name, shot, colours),
      scene: shot.scene.id,
      colour: shot.colour.name,
    });
  }
  return made;
}
