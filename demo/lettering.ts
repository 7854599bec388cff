import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type PlaceRow, PRINT_FONTS, placesIn, printFontFile, type SkyChart } from '../src/core/personal';
import type { Draw } from '../src/work/context/draw';
import { faceOf } from '../src/work/print/faces';

const shipped = (path: string) => readFileSync(join(process.cwd(), 'public', path));

/** What words are set with, read from what ships with Sampan. */
export function shippedLettering(): Draw['lettering'] {
  const places = placesIn(JSON.parse(shipped('sky/places.json').toString()) as PlaceRow[]);
  const chart = JSON.parse(shipped('sky/chart.json').toString()) as SkyChart;
  const faces = new Map<string, ReturnType<typeof faceOf>>();
  return async (fonts) => {
    for (const id of fonts) {
      const font = PRINT_FONTS.find((f) => f.id === id);
      if (font && !faces.has(id))
        faces.set(
          id,
          faceOf(
            font,
            font.parts.map((part) => shipped(printFontFile(id, part))),
          ),
        );
    }
    return { face: (id) => faces.get(id) ?? null, places, chart };
  };
}
