import { ZipFile } from '../../connect/files';
import { designsIn, fieldOf, fileNameBy } from '../../core/print';
import type { SheetRow } from '../../store';
import type { Work } from '../context/work';
import { drawOf } from './designs';
import { areaJob, DesignFiles } from './jobs';
import { lookedDesign, wholeSheet } from './sheets';

export interface PrintFilesMade {
  /** A zip; null where none could be made. */
  readonly file: Blob | null;
  readonly made: number;
  /** Files that could not be made, and why. */
  readonly failed: readonly string[];
  readonly stopped: boolean;
}

/** Files that are drawn at the same time. */
const AT_ONCE = 2;

/**
 * Makes the print files of a sheet as a zip, each at the maker's pixels. Drawn side by side, written in their order, so that
 * the zip is the same whoever is faster.
 * @param tell hears how many are made of how many @returns whether to stop
 */
export async function printFilesOf(
  work: Work,
  id: SheetRow['id'],
  sizes: readonly string[],
  pattern: string,
  tell: (done: number, total: number) => boolean | Promise<boolean>,
): Promise<PrintFilesMade> {
  const whole = await wholeSheet(work, id);
  const failed: string[] = [];
  if (!whole) return { file: null, made: 0, failed: ['The sheet is not there any more.'], stopped: false };
  const { blank, lines } = whole;
  const used = new Set<string>();
  const wanted = lines.flatMap((line) =>
    blank.areas.flatMap((area) => {
      if (!line.plan[area.id]) return [];
      const measured = new Map(sizes.map((size) => [JSON.stringify(fieldOf(area, size)), size]));
      return [...measured.values()].map((size) => {
        const fields = {
          design: line.design.name,
          blank: blank.name,
          area: area.name,
          size,
          set: line.design.set,
        };
        return { line, area, size, name: fileNameBy(pattern, fields, 'png', used) };
      });
    }),
  );
  const zip = new ZipFile();
  const files = new DesignFiles(work);
  let [made, done, stopped] = [0, 0, false];
  type Wanted = (typeof wanted)[number];
  const make = async ({ line, area, size, name }: Wanted) => {
    if (line.refused) {
      failed.push(`${name}: the maker would refuse it; see what its sheet says.`);
      return null;
    }
    const designs = new Map(
      (await work.db.designs.bulkGet(designsIn(line.plan))).flatMap((d) =>
        d ? [[d.id, lookedDesign(d)] as const] : [],
      ),
    );
    try {
      return await drawOf(work).printFile(await areaJob(area, size, line.plan, designs, files));
    } catch (error) {
      failed.push(`${name}: ${(error as Error).message}`);
      return null;
    }
  };
  const ahead: Promise<Blob | null>[] = [];
  for (let k = 0; k < wanted.length && !stopped; k++) {
    while (ahead.length < AT_ONCE && k + ahead.length < wanted.length)
      ahead.push(make(wanted[k + ahead.length]!));
    const file = await ahead.shift()!;
    if (file) {
      zip.bytes(wanted[k]!.name, new Uint8Array(await file.arrayBuffer()));
      made++;
    }
    done++;
    stopped = await tell(done, wanted.length);
  }
  return { file: made ? zip.end() : null, made, failed, stopped };
}
