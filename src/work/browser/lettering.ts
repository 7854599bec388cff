import {
  type Face,
  type PlaceRow,
  PRINT_FONTS,
  placesIn,
  printFontFile,
  type SkyChart,
} from '../../core/personal';
import type { LetteringKit } from '../context/draw';
import { faceOf } from '../print/faces';

const kept = new Map<string, Promise<unknown>>();

/** Something that ships with Sampan, loaded once; again where it failed. */
function once<T>(path: string, read: (answer: Response) => Promise<T>): Promise<T> {
  let known = kept.get(path) as Promise<T> | undefined;
  if (!known) {
    known = fetch(path).then((answer) => {
      if (!answer.ok) throw new Error(`${path} could not be loaded: ${answer.status}.`);
      return read(answer);
    });
    known.catch(() => kept.delete(path));
    kept.set(path, known);
  }
  return known;
}

const faces = new Map<string, Promise<Face>>();

function face(id: string): Promise<Face> | null {
  const font = PRINT_FONTS.find((f) => f.id === id);
  if (!font) return null;
  let known = faces.get(id);
  if (!known) {
    known = Promise.all(
      font.parts.map((part) =>
        once(printFontFile(id, part), async (answer) => new Uint8Array(await answer.arrayBuffer())),
      ),
    ).then((files) => faceOf(font, files));
    known.catch(() => faces.delete(id));
    faces.set(id, known);
  }
  return known;
}

/** `Draw.lettering` in the browser. */
export async function shippedLettering(fonts: readonly string[], places: boolean): Promise<LetteringKit> {
  const [found, chart, ...own] = await Promise.all([
    places ? once('/sky/places.json', async (a) => placesIn((await a.json()) as PlaceRow[])) : () => [],
    places ? once('/sky/chart.json', async (a) => (await a.json()) as SkyChart) : { stars: [], lines: [] },
    ...fonts.map((id) => face(id)),
  ]);
  const known = new Map(own.flatMap((f) => (f ? [[f.font.id, f] as const] : [])));
  return { face: (id) => known.get(id) ?? null, places: found, chart };
}
