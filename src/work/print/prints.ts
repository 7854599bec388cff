import type { Trouble } from '../../connect/reach';
import { readWords, type Values } from '../../core/personal';
import {
  designsIn,
  fieldOf,
  fieldsIn,
  isPersonal,
  type PlacedDesign,
  type PrintPlan,
} from '../../core/print';
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

/** What printing further areas of a blank, and a buyer's words, costs besides the item, minor units of the maker. */
export const extraOf = (
  { areas, personal = 0 }: Pick<BlankRow, 'areas' | 'personal'>,
  plan: PrintPlan,
): number =>
  areas.reduce((sum, area) => (plan[area.id] ? sum + area.extra : sum), isPersonal(plan) ? personal : 0);

/** The print files of lines that are bought, by line: what the maker calls each of them. */
export type GivenPrints = ReadonlyMap<string, readonly { readonly area: string; readonly file: string }[]>;

type Given =
  | { readonly ok: true; readonly prints: GivenPrints }
  /** `says` is why no file can be made; `trouble` why the maker has none of it yet. */
  | { readonly ok: false; readonly says: string }
  | { readonly ok: false; readonly trouble: Trouble };

/** A print with the blank and the size that a supplier's item of it has; null where one of them is not known any more. */
export async function printedItem({ db }: Pick<Work, 'db'>, id: string, supplier: string, sku: string) {
  const print = await db.prints.get(id);
  const blank = print && (await db.blanks.get(print.blank));
  const item = blank?.supplier === supplier ? blank.items.find((one) => one.sku === sku) : undefined;
  return print && blank && item ? { print, blank, item } : null;
}

/** A print file of an area. */
export interface MadeFile {
  readonly area: string;
  readonly file: Blob;
  /** SHA-256, in hex. */
  readonly hash: string;
}

/** Makes the files of a print with a buyer's words, or as it is where it has no room for any. @throws in a person's words where something of it cannot be made */
export async function personalFiles(
  work: Work,
  { print, blank, item }: NonNullable<Awaited<ReturnType<typeof printedItem>>>,
  values: Values | null,
  files = new DesignFiles(work),
): Promise<MadeFile[]> {
  const designs = new Map(print.designs.map((d) => [d.id, d]));
  const made: MadeFile[] = [];
  for (const area of blank.areas) {
    if (!print.plan[area.id]) continue;
    const job = await areaJob(area, item.size, print.plan, designs, files, values);
    const file = await drawOf(work).printFile(job);
    made.push({ area: area.id, file, hash: await hashOfFile(file) });
  }
  return made;
}

/**
 * Gives a maker the print files of a purchase that it does not have yet. They are made when they are needed first: the
 * same print gives the same file. One with a buyer's words is made as it was approved, or not at all.
 */
export async function givePrints(
  work: Work,
  c: SupplierConnection,
  lines: OutboxBodies['buy']['lines'],
  wordsOf: (line: OutboxBodies['buy']['lines'][number]) => PersonalWords | null,
): Promise<Given> {
  const { db } = work;
  const given = new Map<string, { area: string; file: string }[]>();
  const files = new DesignFiles(work);
  const adapter = await supplierAdapter(work, c);
  for (const one of lines) {
    const { line, sku, print: id } = one;
    if (id === undefined) continue;
    const known = await printedItem(work, id, c.id, sku);
    if (!known) return { ok: false, says: `It is not known any more what is printed on ${sku}.` };
    const { print, blank, item } = known;
    const own: { area: string; file: string }[] = [];
    const give = async (key: string, make: () => Promise<Blob>): Promise<Given | string> => {
      const before = (await db.prints.get(id))?.files?.[key];
      if (before) return before;
      let made: Blob;
      try {
        made = await make();
      } catch (error) {
        return { ok: false, says: `The print file of ${sku} cannot be made: ${(error as Error).message}` };
      }
      const answer = await adapter.printFile(made);
      if (answer.ok) {
        await notePrintFile(work, id, key, answer.value);
        return answer.value;
      }
      return answer.trouble.kind === 'refused'
        ? { ok: false, says: answer.trouble.says }
        : { ok: false, trouble: answer.trouble };
    };
    const words = isPersonal(print.plan) ? wordsOf(one) : null;
    if (isPersonal(print.plan) && !words)
      return { ok: false, says: `The buyer’s words for ${sku} are not known any more.` };
    const designs = new Map(print.designs.map((d) => [d.id, d]));
    for (const area of blank.areas) {
      const field = print.plan[area.id] && fieldOf(area, item.size);
      if (!field) continue;
      const approved = words?.approved[area.id];
      const file = await give(
        approved ? `${area.id} ${approved}` : printFileKey(area.id, field),
        async () => {
          const values = words && readWords(words.text, fieldsIn(print.plan)).values;
          const made = await drawOf(work).printFile(
            await areaJob(area, item.size, print.plan, designs, files, values),
          );
          if (words && (await hashOfFile(made)) !== approved)
            throw new Error('it came out otherwise than it was approved. Approve its proof again.');
          return made;
        },
      );
      if (typeof file !== 'string') return file;
      own.push({ area: area.id, file });
    }
    given.set(line, own);
  }
  return { ok: true, prints: given };
}

/** A buyer's words as they were approved. */
export interface PersonalWords {
  readonly text: string;
  /** Hashes of the files, by area. */
  readonly approved: Readonly<Record<string, string>>;
}

/** Names of files that are kept of a print: those with a buyer's words are seldom asked for again. */
const MOST_NAMES = 200;

/** Notes what a maker calls a file of a print. */
async function notePrintFile({ db }: Work, id: string, key: string, file: string): Promise<void> {
  await db.transaction('rw', db.prints, async () => {
    const now = await db.prints.get(id);
    if (!now) return;
    const names = Object.entries({ ...now.files, [key]: file });
    await db.prints.update(id, { files: Object.fromEntries(names.slice(-MOST_NAMES)) });
  });
}

/** Prints that are not stored yet: one that is has the maker's names of its files. */
export async function freshPrints({ db }: Work, prints: readonly PrintRow[]): Promise<PrintRow[]> {
  const known = await db.prints.bulkGet(prints.map((p) => p.id));
  return [...new Map(prints.flatMap((p, k) => (known[k] ? [] : [[p.id, p] as const]))).values()];
}
