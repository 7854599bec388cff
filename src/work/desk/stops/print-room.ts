import { examplesOf } from '../../../core/personal';
import { designsIn, type Field, fieldsIn, type PrintPlan } from '../../../core/print';
import { readAsset } from '../../../store';
import { work } from '../../browser/browser';
import { allBlanks, refusedBlanks } from '../../print/blanks';
import type { NamedFile } from '../../print/design-files';
import { DesignList, type DesignQuestion } from '../../print/design-list';
import { addDesigns, type DesignEdit, drawOf, editDesigns, removeDesigns } from '../../print/designs';
import { DesignFiles } from '../../print/jobs';
import { drawShot, type SceneLine, scenesOf } from '../../print/mock-ups';
import { printFilesOf } from '../../print/print-files';
import type { ProductsWanted } from '../../print/product-draft';
import { planProducts } from '../../print/product-plan';
import { makeProducts, productsByDesign } from '../../print/products';
import {
  editSheet,
  lookedDesign,
  makeSheet,
  placeArea,
  putOnSheet,
  removeSheet,
  takeOffSheet,
  wholeSheet,
} from '../../print/sheets';
import { planSwap, swapDesign } from '../../print/swap';
import { Wording } from '../../print/words';
import { bound } from '../bound';
import { stored } from '../feed';
import { built } from '../memory';

const designs = new DesignList(work.db, async () => {
  await built();
  return productsByDesign(work);
});

const wording = () => new Wording(work.db, drawOf(work));

/** How often something long was begun or stopped: it goes on while it is the last one. */
let turn = 0;

type Tell = (done: number, total: number) => void;

const going = (tell: Tell) => {
  const own = ++turn;
  return (done: number, total: number) => {
    tell(done, total);
    return own !== turn;
  };
};

/** Questions and acts of the print room. */
export const printDesk = {
  designs: (q: DesignQuestion) => designs.search(q),
  designsBetween: (q: DesignQuestion) => designs.range(q),
  design: async (id: string) => (await work.db.designs.get(id)) ?? null,
  /** A file that is kept, to be shown; null where it is not in this browser. */
  assetFile: async (id: string) => (await readAsset(work.db, id))?.file ?? null,
  /** @param tell hears how many files are done */
  addDesigns: (files: readonly NamedFile[], set: string, tell: (done: number) => void) => {
    const go = going((done) => tell(done));
    return addDesigns(work, files, set, (done) => go(done, files.length));
  },
  editDesigns: (ids: readonly string[], set: DesignEdit) => editDesigns(work, ids, set),
  removeDesigns: bound(removeDesigns),
  makeSheet: bound(makeSheet),
  editSheet: bound(editSheet),
  removeSheet: bound(removeSheet),
  putOnSheet: bound(putOnSheet),
  /** What buyers' fields of an area look like with their examples. */
  examplesDrawn: (plan: PrintPlan, area: string, field: Field) =>
    wording().drawn(plan, area, examplesOf(fieldsIn(plan)), field),
  takeOffSheet: bound(takeOffSheet),
  placeArea: bound(placeArea),
  /** Makes the print files of a sheet as one zip. @param tell hears how many are made */
  printFiles: (sheet: string, sizes: readonly string[], pattern: string, tell: Tell) =>
    printFilesOf(work, sheet, sizes, pattern, going(tell)),
  /** The scenes that show a blank. */
  scenes: async (blank: string): Promise<SceneLine[]> => {
    const row = await work.db.blanks.get(blank);
    const all = (await work.draw?.scenes()) ?? [];
    return row ? scenesOf(all, row).map(({ id, name, kind }) => ({ id, name, kind })) : [];
  },
  /** A picture of a design of a sheet in a scene; null where one of them is not there. */
  mockUp: async (sheet: string, design: string, sceneId: string, colour: string): Promise<Blob | null> => {
    const whole = await wholeSheet(work, sheet);
    const line = whole?.lines.find((l) => l.design.id === design);
    const scene = (await work.draw?.scenes())?.find((s) => s.id === sceneId);
    const own = whole?.blank.colours.find((c) => c.name === colour) ?? whole?.blank.colours[0];
    if (!whole || !line || !scene || !own) return null;
    const rows = await work.db.designs.bulkGet(designsIn(line.plan));
    const known = new Map(rows.flatMap((d) => (d ? [[d.id, lookedDesign(d)] as const] : [])));
    return drawShot(work, whole.blank, whole.sheet.size, line, known, new DesignFiles(work), {
      scene,
      colour: own,
    });
  },
  planProducts: async (wanted: ProductsWanted) => {
    await built();
    return planProducts(work, wanted);
  },
  makeProducts: async (wanted: ProductsWanted, tell: Tell) => {
    await built();
    return makeProducts(work, wanted, going(tell));
  },
  planSwap: async (from: string, to: string) => {
    await built();
    return planSwap(work, from, to);
  },
  swapDesign: async (from: string, to: string, tell: Tell) => {
    await built();
    return swapDesign(work, from, to, going(tell));
  },
  /** Ends what was begun last; what is done of it stays. */
  stopPrinting: () => {
    turn++;
  },
};

/** Grows whenever designs, or what they are used in, changed. */
let version = 0;

export const printFeeds = {
  designsVersion: stored(async (w) => {
    // Read so that it is told again when they change.
    await Promise.all([w.db.designs.count(), w.db.sheets.count(), w.db.prints.count()]);
    designs.stale();
    return ++version;
  }),
  blanks: stored(allBlanks),
  refusedBlanks: stored(refusedBlanks),
  sheets: stored(async (w) =>
    (await w.db.sheets.toArray())
      .sort((a, b) => b.at - a.at)
      .map(({ id, name, blank, designs: on }) => ({ id, name, blank, designs: on.length })),
  ),
  sheet: stored((w, id: string) => wholeSheet(w, id)),
};
