import { type DateField, newField, type PlaceField, type TextField } from '../src/core/personal';
import { type AreaPlan, CENTRED } from '../src/core/print';
import { connectSupplier } from '../src/work/connections/connections';
import type { Work } from '../src/work/context/work';
import { applyCells } from '../src/work/editing/bulk-edit';
import { approve } from '../src/work/listings/approve';
import { publish } from '../src/work/listings/publish';
import { addDesigns } from '../src/work/print/designs';
import { makeProducts } from '../src/work/print/products';
import { makeSheet, placeArea } from '../src/work/print/sheets';
import { drawDesigns } from './designs';

/** A blank, the scenes that its goods are shown in, how many designs are printed on it, and where they are sold. */
const GOODS = [
  ['tea-towel', ['tea-towel-rail', 'tea-towel-flat'], 24, ['Natural'], ['pennywharf', 'loomhall']],
  ['poster', ['poster-desk'], 20, ['White'], ['loomhall']],
  ['cushion', ['cushion-chair'], 16, ['White'], ['pennywharf']],
] as const;

const SKY_FIELDS: AreaPlan['fields'] = [
  {
    ...(newField('place', 'sky', 'Place') as PlaceField),
    ...{ as: 'sky', example: 'Whitby', box: { x: 0.1, y: 0.07, width: 0.8, height: 0.57, turn: 0 } },
  },
  {
    ...(newField('text', 'names', 'Names') as TextField),
    ...{ most: 32, lines: 2, box: { x: 0.12, y: 0.68, width: 0.76, height: 0.13, turn: 0 } },
  },
  {
    ...(newField('date', 'night', 'Night') as DateField),
    box: { x: 0.25, y: 0.825, width: 0.5, height: 0.035, turn: 0 },
  },
];

const MUG_FIELDS: AreaPlan['fields'] = [
  {
    ...(newField('text', 'name', 'Name') as TextField),
    ...{ most: 14, example: 'Ida', box: { x: 0.62, y: 0.25, width: 0.3, height: 0.5, turn: 0 } },
    lettering: { font: 'caveat', colour: '#b4532a', align: 'centre', curve: 30, least: 8, most: 40 },
  },
];

/** Goods with the buyer's own words: blank, design, where it lies, fields, sizes, where they are sold. */
const PERSONAL = [
  [
    'poster',
    { ...CENTRED, how: 'width', within: 'safe', scale: 0.12, holdY: 1, y: -0.005 },
    SKY_FIELDS,
    ['A4', 'A3'],
    ['loomhall', 'pennywharf'],
  ],
  ['mug', { ...CENTRED, how: 'height', scale: 0.9, holdX: -1, x: 0.12 }, MUG_FIELDS, [''], ['pennywharf']],
] as const;

/** Approves and publishes printed goods; Loomhall asks who made them. */
async function putOnSale(work: Work, settle: () => Promise<void>, ids: readonly string[]): Promise<void> {
  await applyCells(
    work,
    ids
      .filter((id) => id.startsWith('loomhall:'))
      .map((listing) => ({ listing, field: 'attribute:maker', text: 'partner' }) as const),
    'Who made them',
  );
  await approve(work, ids);
  await publish(work, ids);
  await settle();
}

/** What buyers put their own words on. */
export async function sellPersonal(work: Work, settle: () => Promise<void>): Promise<void> {
  const { db } = work;
  const design = (await db.designs.toArray()).sort((a, b) => a.at - b.at || (a.name < b.name ? -1 : 1));
  for (const [blank, placement, fields, sizes, markets] of PERSONAL) {
    const row = await db.blanks.get(`tinloft:${blank}`);
    const used = new Set((await db.products.toArray()).map((p) => p.id));
    const own = design.find((d) => !used.has(`print:tinloft:${blank}:${d.id.slice(0, 32)}`));
    if (!row || !own) throw new Error(`There is no design left for ${blank}.`);
    const sheet = (await makeSheet(work, row.id, [own.id], `${row.name.split(',')[0]}, personalised`))!;
    const area = row.areas[0]!;
    await placeArea(work, sheet, null, area.id, {
      background: area.technique.opaque ? '#ffffff' : null,
      layers: [{ id: 'design', design: '*', trim: true, placement }],
      fields: fields!,
    });
    const made = await makeProducts(work, {
      ...{ sheet, colours: [row.colours[0]!.name], sizes, markets, copy: null, except: [] },
      categories: { pennywharf: 'kitchen', loomhall: 'kitchen' },
      scenes: [blank === 'mug' ? 'mug-close' : 'poster-desk'],
    });
    if (made.failed.length) throw new Error(made.failed[0]);
    const title = blank === 'mug' ? 'Mug with a name' : 'Poster of your night sky';
    const products = (await db.products.toArray()).filter(
      (p) => p.id === `print:${row.id}:${own.id.slice(0, 32)}`,
    );
    for (const p of products) await db.products.update(p.id, { title });
    const ids = (await db.listings.toArray()).filter((l) => l.product === products[0]?.id).map((l) => l.id);
    await putOnSale(work, settle, ids);
  }
}

/** The owner opens an account with the printer, brings in his designs, and sells what they are printed on. */
export async function openPrintRoom(work: Work, settle: () => Promise<void>, designs: number): Promise<void> {
  const { db } = work;
  const service = { id: 'tinloft', role: 'supplier', name: 'Tinloft Print Works', about: '' } as const;
  const connected = await connectSupplier(work, service, 'TP-2093', 'loft-ember-17');
  if (!connected.ok) throw new Error(connected.reason);
  await db.jobs.update('tinloft:catalogue', { every: 12 * 3_600_000 });
  await settle();
  const files = drawDesigns(designs + 2).map(({ file, svg }) => ({
    name: file,
    file: new Blob([svg], { type: 'image/svg+xml' }),
  }));
  const { added, refused } = await addDesigns(work, files, 'Night sky');
  if (refused.length) throw new Error(refused[0]);
  for (const [blank, scenes, count, colours, markets] of GOODS) {
    const sheet = await makeSheet(work, `tinloft:${blank}`, added.slice(0, Math.min(count, designs)));
    const row = await db.blanks.get(`tinloft:${blank}`);
    if (!sheet || !row) throw new Error(`There is no blank ${blank}.`);
    const made = await makeProducts(work, {
      sheet,
      colours,
      sizes: row.sizes.slice(0, 2),
      markets,
      categories: { pennywharf: 'kitchen', loomhall: 'kitchen' },
      copy: null,
      scenes,
      except: [],
    });
    if (made.failed.length) throw new Error(made.failed[0]);
  }
  const ids = (await db.listings.toArray()).filter((l) => l.product.startsWith('print:')).map((l) => l.id);
  await putOnSale(work, settle, ids);
}
