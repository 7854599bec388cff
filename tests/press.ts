import { deflateSync } from 'node:zlib';
import { RATE_ONE } from '@/core/money';
import { lookAt, type PrintPlan, type Scene, withResolution } from '@/core/print';
import { marketById } from '@/store';
import { connectSupplier } from '@/work/connections/connections';
import type { AreaJob, Draw, MockUpJob } from '@/work/context/draw';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { saveRate } from '@/work/pricing/rates';
import { addDesigns } from '@/work/print/designs';
import { makeProducts } from '@/work/print/products';
import { makeSheet, placeArea } from '@/work/print/sheets';
import { shippedLettering } from '../demo/lettering';
import { BRACKWATER, setOut, type Voyage } from './voyage';

/** A PNG of one bit a pixel: as large as asked, and small. */
export function png(width: number, height: number, dpi: number, fill = 0): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    // Nobody here looks at the sum.
    return Buffer.concat([length, Buffer.from(type, 'latin1'), data, Buffer.alloc(4)]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([1, 0], 8);
  const body = deflateSync(Buffer.alloc(height * (1 + Math.ceil(width / 8)), fill));
  const plain = Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk('IHDR', head),
    chunk('IDAT', body),
    chunk('IEND', Buffer.alloc(0)),
  ]);
  return Buffer.concat(withResolution(plain, dpi));
}

const SCENE: Scene = {
  ...{ form: 'sampan-scene', version: 1, id: 'flat', name: 'Laid flat', kind: 'flat', blanks: ['tea-towel'] },
  ...{ width: 600, height: 600, ground: '', goods: '', areas: [] },
};

/** Something that differs with what is drawn. */
const inkOf = ({ layers }: AreaJob): number =>
  layers.length > 1
    ? [...JSON.stringify(layers.map((l) => l.key))].reduce((n, s) => (n * 31 + s.charCodeAt(0)) % 251, 7)
    : 0;

/** Draws nothing and says what it was asked to draw. */
export function paper(): Draw & { readonly drawn: AreaJob[]; wrong: boolean } {
  const drawn: AreaJob[] = [];
  const one = {
    drawn,
    wrong: false,
    openDesign: async (file: Blob, name: string) => {
      const text = await file.text();
      if (!text.startsWith('design') && !text.includes('PNG'))
        return { ok: false as const, reason: `${name}: it is no design.` };
      const data = new Uint8ClampedArray(64 * 64 * 4).map((_, k) =>
        k % 4 === 3 ? 255 : (k * text.length) % 90,
      );
      return {
        ok: true as const,
        ...{ type: 'image/png', width: 4_000, height: 5_600, drawing: false, dpi: 300, notes: [] },
        look: lookAt({ width: 64, height: 64, data }),
        small: new Blob([`small ${text}`], { type: 'image/webp' }),
        large: new Blob([`large ${text}`], { type: 'image/webp' }),
      };
    },
    printFile: async (job: AreaJob) => {
      drawn.push(job);
      const { width, height, dpi } = job.field;
      return new Blob([new Uint8Array(png(one.wrong ? width - 1 : width, height, dpi, inkOf(job)))], {
        type: 'image/png',
      });
    },
    areaPicture: async (job: AreaJob) => new Blob([`area ${job.layers.map((l) => l.key).join()}`]),
    lettering: shippedLettering(),
    scenes: async () => [SCENE],
    mockUp: async ({ colour, areas }: MockUpJob) =>
      new Blob([`picture of ${areas.front!.layers.map((l) => l.key).join()} on ${colour}`], {
        type: 'image/jpeg',
      }),
  };
  return one;
}

export const designFile = (name: string, text = `design ${name}`) => ({
  name: `${name}.png`,
  file: new Blob([text]),
});

/** A voyage with a printer, and what it drew. */
export async function withPrinter(): Promise<{
  readonly v: Voyage;
  readonly draw: ReturnType<typeof paper>;
}> {
  const v = await setOut({ items: 40 });
  const draw = paper();
  v.work = { ...v.work, draw };
  await saveRate(v.work, { currency: 'EUR', day: '2026-11-01', value: 0.87 * RATE_ONE, origin: 'typed' });
  const tinloft = { ...BRACKWATER, id: 'tinloft', name: 'Tinloft Print Works' };
  const connected = await connectSupplier(v.work, tinloft, 'TP-2093', 'loft-ember-17');
  if (!connected.ok) throw new Error(connected.reason);
  await v.settle();
  return { v, draw };
}

/** A category of Pennywharf that asks for no barcode. */
export const freeCategory = async ({ work }: Voyage): Promise<string> =>
  (await marketById(work.db, 'pennywharf'))!.site.categories.find((c) => !c.needsGtin)!.id;

/** Approves and publishes all listings, with a picture that the site asks for. */
export async function putOnSale({ work, settle }: Voyage): Promise<void> {
  await work.db.products.toCollection().modify((p) => {
    if (p.id.startsWith('print:')) Object.assign(p, { pictures: ['https://pictures.example/a.jpg'] });
  });
  const ids = (await work.db.listings.toArray()).map((l) => l.id);
  await approve(work, ids);
  await publish(work, ids);
  await settle();
}

/** Puts designs on sale on a blank, printed by a plan. @returns their ids, and the SKUs of their listings */
export async function sellPrinted(v: Voyage, blank: string, names: readonly string[], plan: PrintPlan) {
  const { work } = v;
  const { added } = await addDesigns(
    work,
    names.map((n) => designFile(n)),
    '',
  );
  const sheet = (await makeSheet(work, `tinloft:${blank}`, added))!;
  for (const [area, own] of Object.entries(plan)) await placeArea(work, sheet, null, area, own);
  const row = (await work.db.blanks.get(`tinloft:${blank}`))!;
  const made = await makeProducts(work, {
    ...{ sheet, colours: row.colours.map((c) => c.name), sizes: row.sizes, markets: ['pennywharf'] },
    categories: { pennywharf: await freeCategory(v) },
    ...{ copy: null, scenes: [], except: [] },
  });
  if (made.failed.length) throw new Error(made.failed[0]);
  await putOnSale(v);
  const skus = (await work.db.listings.toArray()).filter((l) => l.state === 'live').map((l) => l.sku);
  return { designs: added, skus };
}
