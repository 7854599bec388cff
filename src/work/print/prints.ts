import type { Trouble } from '../../connect/reach';
import { designsIn, fieldOf, type PlacedDesign, type PrintPlan } from '../../core/print';
import {
  type BlankRow,
  hashOfFile,
  type OutboxBodies,
  type PrintRow,
  printFileKey,
  type SupplierConnection,
} from '../../store';
import { supplierAdapter } from '../context/adapters';
import type { Work } from '../context/work';
import { drawOf } from './designs';
import { areaJob, DesignFiles } from './jobs';

/** A value with its fields in one order, so that equal ones are written the same. */
function ordered(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(ordered);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, one]) => [name, ordered(one)]),
  );
}

/** A print as it is now: the same plan with the same designs is the same one. */
export async function printOf(
  blank: string,
  plan: PrintPlan,
  designOf: (id: string) => PlacedDesign | undefined,
): Promise<PrintRow> {
  const designs = designsIn(plan).map((id) => {
    const design = designOf(id);
    if (!design) throw new Error('A design of the print is not there any more.');
    const { width, height, drawing, bounds } = design;
    return { id, width, height, drawing, bounds };
  });
  const held = { blank, plan, designs };
  const id = await hashOfFile(new Blob([JSON.stringify(ordered(held))]));
  return { id, ...held };
}

/** What printing further areas of a blank costs besides the item, minor units of the maker. */
export const extraOf = ({ areas }: Pick<BlankRow, 'areas'>, plan: PrintPlan): number =>
  areas.reduce((sum, area) => (plan[area.id] ? sum + area.extra : sum), 0);

/** The print files of lines that are bought, by line: what the maker calls each of them. */
export type GivenPrints = ReadonlyMap<string, readonly { readonly area: string; readonly file: string }[]>;

type Given =
  | { readonly ok: true; readonly prints: GivenPrints }
  /** `says` is why no file can be made; `trouble` why the maker has none of it yet. */
  | { readonly ok: false; readonly says: string }
  | { readonly ok: false; readonly trouble: Trouble };

/**
 * Gives a maker the print files of a purchase that it does not have yet. They are made when they are needed first: the
 * same print gives the same file.
 */
export async function givePrints(
  work: Work,
  c: SupplierConnection,
  lines: OutboxBodies['buy']['lines'],
): Promise<Given> {
  const { db } = work;
  const given = new Map<string, { area: string; file: string }[]>();
  const files = new DesignFiles(db);
  for (const { line, sku, print: id } of lines) {
    if (id === undefined) continue;
    const print = await db.prints.get(id);
    const blank = print && (await db.blanks.get(print.blank));
    const item = blank?.items.find((one) => one.sku === sku);
    if (!print || !blank || !item)
      return { ok: false, says: `It is not known any more what is printed on ${sku}.` };
    const designs = new Map(print.designs.map((d) => [d.id, d]));
    const own: { area: string; file: string }[] = [];
    for (const area of blank.areas) {
      const plan = print.plan[area.id];
      const field = plan && fieldOf(area, item.size);
      if (!plan || !field) continue;
      const key = printFileKey(area.id, field);
      let file = (await db.prints.get(id))?.files?.[key];
      if (!file) {
        let made: Blob;
        try {
          made = await drawOf(work).printFile(await areaJob(area, item.size, plan, designs, files));
        } catch (error) {
          return { ok: false, says: `The print file of ${sku} cannot be made: ${(error as Error).message}` };
        }
        const answer = await (await supplierAdapter(work, c)).printFile(made);
        if (!answer.ok)
          return answer.trouble.kind === 'refused'
            ? { ok: false, says: answer.trouble.says }
            : { ok: false, trouble: answer.trouble };
        file = answer.value;
        await notePrintFile(work, id, key, file);
      }
      own.push({ area: area.id, file });
    }
    given.set(line, own);
  }
  return { ok: true, prints: given };
}

/** Notes what a maker calls a file of a print. */
async function notePrintFile({ db }: Work, id: string, key: string, file: string): Promise<void> {
  await db.transaction('rw', db.prints, async () => {
    const now = await db.prints.get(id);
    if (now) await db.prints.update(id, { files: { ...now.files, [key]: file } });
  });
}

/** Prints that are not stored yet: one that is has the maker's names of its files. */
export async function freshPrints({ db }: Work, prints: readonly PrintRow[]): Promise<PrintRow[]> {
  const known = await db.prints.bulkGet(prints.map((p) => p.id));
  return [...new Map(prints.flatMap((p, k) => (known[k] ? [] : [[p.id, p] as const]))).values()];
}
