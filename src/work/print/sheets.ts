import {
  ANY_DESIGN,
  type AreaPlan,
  CENTRED,
  designsIn,
  type Finding,
  findingsOf,
  isPrinted,
  isRefused,
  largestSize,
  type PrintPlan,
  withDesign,
} from '../../core/print';
import { countOf } from '../../core/units';
import { addAll, applyChange, type BlankRow, type DesignRow, type SheetRow } from '../../store';
import { nowOf, type Work } from '../context/work';

/** A design of a sheet as it lies, with what a printer would say of it. */
export interface SheetLine {
  readonly design: DesignRow;
  /** By area, with the design put in. */
  readonly plan: PrintPlan;
  /** Areas that were mended by hand. */
  readonly mended: readonly string[];
  readonly findings: readonly { readonly area: string; readonly finding: Finding }[];
  /** The maker would refuse it. */
  readonly refused: boolean;
}

/** A sheet with all that lies on it, those with warnings first. */
export interface WholeSheet {
  readonly sheet: SheetRow;
  readonly blank: BlankRow;
  readonly lines: readonly SheetLine[];
  /** Designs that are not there any more. */
  readonly missing: number;
}

const writing = ({ db }: Pick<Work, 'db'>) => [db.sheets, db.changes, db.edits, db.earlier];

/** The rule of a new sheet: in the middle of the first area, inside the safe line; to the edge where the maker takes no transparency. */
const firstPlan = (blank: BlankRow): PrintPlan => {
  const area = blank.areas[0]!;
  const placement = area.technique.opaque ? ({ ...CENTRED, how: 'fill', within: 'file' } as const) : CENTRED;
  const background = area.technique.opaque ? '#ffffff' : null;
  return {
    [area.id]: { background, layers: [{ id: 'design', design: ANY_DESIGN, trim: false, placement }] },
  };
};

/** Places designs on a blank. @returns the id of the sheet; null where the blank is not there */
export async function makeSheet(
  work: Work,
  blankId: string,
  designs: readonly string[],
  name?: string,
): Promise<string | null> {
  const { db } = work;
  const blank = await db.blanks.get(blankId);
  if (!blank) return null;
  const id = work.newId();
  const sheet: SheetRow = {
    id,
    name: name ?? blank.name,
    blank: blankId,
    size: largestSize(blank.areas[0]!, blank.sizes),
    plan: firstPlan(blank),
    designs: [...new Set(designs)],
    mended: {},
    colours: blank.colours.map((c) => c.name),
    at: work.clock(),
  };
  await db.transaction('rw', writing(work), () =>
    addAll(
      db,
      { by: 'person', name: `Place ${countOf(sheet.designs.length, 'design')} on ${blank.name}` },
      [{ table: 'sheets', rows: [sheet] }],
      nowOf(work),
    ),
  );
  return id;
}

/** Fields of a sheet that are set as they are. */
export type SheetEdit = Partial<Pick<SheetRow, 'name' | 'size' | 'plan' | 'designs' | 'mended' | 'colours'>>;

/** Changes a sheet as one change that can be taken back. @param name what it is called */
export async function editSheet(work: Work, id: string, set: SheetEdit, name: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', writing(work), () =>
    applyChange(db, { by: 'person', name }, [{ table: 'sheets', id, set, says: name }], nowOf(work)),
  );
}

export async function removeSheet(work: Work, id: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', writing(work), async () => {
    const sheet = await db.sheets.get(id);
    if (!sheet) return;
    const name = `Sheet “${sheet.name}” removed`;
    await applyChange(db, { by: 'person', name }, [{ table: 'sheets', remove: id }], nowOf(work));
  });
}

/** Puts designs on a sheet behind those that are there. @returns how many are new on it */
export async function putOnSheet(work: Work, id: string, designs: readonly string[]): Promise<number> {
  const sheet = await work.db.sheets.get(id);
  if (!sheet) return 0;
  const fresh = designs.filter((d) => !sheet.designs.includes(d));
  if (fresh.length)
    await editSheet(
      work,
      id,
      { designs: [...sheet.designs, ...fresh] },
      `${countOf(fresh.length, 'design')} on ${sheet.name}`,
    );
  return fresh.length;
}

/** Takes designs off a sheet. */
export async function takeOffSheet(work: Work, id: string, designs: readonly string[]): Promise<void> {
  const sheet = await work.db.sheets.get(id);
  if (!sheet) return;
  const going = new Set(designs);
  await editSheet(
    work,
    id,
    {
      designs: sheet.designs.filter((d) => !going.has(d)),
      mended: Object.fromEntries(Object.entries(sheet.mended).filter(([d]) => !going.has(d))),
    },
    `${countOf(designs.length, 'design')} off ${sheet.name}`,
  );
}

/**
 * Places an area: by the rule, for all designs that were not mended in it, or by hand for one.
 * @param plan null takes back what was mended: the rule holds again
 */
export async function placeArea(
  work: Work,
  id: string,
  design: string | null,
  area: string,
  plan: AreaPlan | null,
): Promise<void> {
  const sheet = await work.db.sheets.get(id);
  if (!sheet) return;
  if (design === null) {
    const { [area]: _, ...others } = sheet.plan;
    const printed = plan && isPrinted(plan);
    await editSheet(
      work,
      id,
      { plan: printed ? { ...others, [area]: plan } : others },
      `Rule of ${sheet.name}`,
    );
    return;
  }
  const { [area]: __, ...areas } = sheet.mended[design] ?? {};
  const own = plan ? { ...areas, [area]: plan } : areas;
  const { [design]: ___, ...rest } = sheet.mended;
  const mended = Object.keys(own).length ? { ...rest, [design]: own } : rest;
  await editSheet(
    work,
    id,
    { mended },
    plan ? `One design placed by hand on ${sheet.name}` : 'The rule holds again',
  );
}

/** How a design lies on a sheet, and what a printer would say. */
export function lineOf(
  sheet: SheetRow,
  blank: BlankRow,
  design: DesignRow,
  designOf: (id: string) => LookedDesign | undefined,
): SheetLine {
  const own = sheet.mended[design.id] ?? {};
  const plan = withDesign({ ...sheet.plan, ...own }, design.id);
  const colours = blank.colours.filter((c) => sheet.colours.includes(c.name));
  const findings = blank.areas.flatMap((area) =>
    plan[area.id]
      ? findingsOf(area, sheet.size, plan[area.id]!, designOf, colours).map((finding) => ({
          area: area.id,
          finding,
        }))
      : [],
  );
  return {
    design,
    plan,
    mended: Object.keys(own),
    findings,
    refused: Object.keys(plan).length === 0 || findings.some((f) => isRefused(f.finding)),
  };
}

/** A design as findings look at it. */
export type LookedDesign = DesignRow & { readonly bounds: DesignRow['look']['bounds'] };

export const lookedDesign = (design: DesignRow): LookedDesign => ({ ...design, bounds: design.look.bounds });

const weight = ({ refused, findings }: SheetLine) => (refused ? 1_000 : 0) + findings.length;

/** Everything on a sheet; null where it is not there. */
export async function wholeSheet({ db }: Pick<Work, 'db'>, id: string): Promise<WholeSheet | null> {
  const sheet = await db.sheets.get(id);
  const blank = sheet && (await db.blanks.get(sheet.blank));
  if (!sheet || !blank) return null;
  const others = [sheet.plan, ...Object.values(sheet.mended)].flatMap(designsIn);
  const ids = [...new Set([...sheet.designs, ...others.filter((d) => d !== ANY_DESIGN)])];
  const known = new Map(
    (await db.designs.bulkGet(ids)).flatMap((d) => (d ? [[d.id, lookedDesign(d)] as const] : [])),
  );
  const lines = sheet.designs.flatMap((d) => {
    const design = known.get(d);
    return design ? [lineOf(sheet, blank, design, (one) => known.get(one))] : [];
  });
  return {
    sheet,
    blank,
    lines: lines
      .map((line, k) => ({ line, k }))
      .sort((a, b) => weight(b.line) - weight(a.line) || a.k - b.k)
      .map(({ line }) => line),
    missing: sheet.designs.length - lines.length,
  };
}
