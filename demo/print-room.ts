import { connectSupplier } from '../src/work/connections/connections';
import type { Work } from '../src/work/context/work';
import { applyCells } from '../src/work/editing/bulk-edit';
import { approve } from '../src/work/listings/approve';
import { publish } from '../src/work/listings/publish';
import { addDesigns } from '../src/work/print/designs';
import { makeProducts } from '../src/work/print/products';
import { makeSheet } from '../src/work/print/sheets';
import { drawDesigns } from './designs';

/** A blank, the scenes that its goods are shown in, how many designs are printed on it, and where they are sold. */
const GOODS = [
  ['tea-towel', ['tea-towel-rail', 'tea-towel-flat'], 24, ['Natural'], ['pennywharf', 'loomhall']],
  ['poster', ['poster-desk'], 20, ['White'], ['loomhall']],
  ['cushion', ['cushion-chair'], 16, ['White'], ['pennywharf']],
] as const;

/** The owner opens an account with the printer, brings in his designs, and sells what they are printed on. */
export async function openPrintRoom(work: Work, settle: () => Promise<void>, designs: number): Promise<void> {
  const { db } = work;
  const service = { id: 'tinloft', role: 'supplier', name: 'Tinloft Print Works', about: '' } as const;
  const connected = await connectSupplier(work, service, 'TP-2093', 'loft-ember-17');
  if (!connected.ok) throw new Error(connected.reason);
  await db.jobs.update('tinloft:catalogue', { every: 12 * 3_600_000 });
  await settle();
  const files = drawDesigns(designs).map(({ file, svg }) => ({
    name: file,
    file: new Blob([svg], { type: 'image/svg+xml' }),
  }));
  const { added, refused } = await addDesigns(work, files, 'Night sky');
  if (refused.length) throw new Error(refused[0]);
  for (const [blank, scenes, count, colours, markets] of GOODS) {
    const sheet = await makeSheet(work, `tinloft:${blank}`, added.slice(0, count));
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
