import { createHash } from 'node:crypto';
import { dumpOf, keepAsset, linesOf, loadDump, readAsset, SampanDatabase } from '@/store';
import { dropUnownedAssets } from '@/work/assets/owners';
import { applyCells } from '@/work/editing/bulk-edit';
import { addPictures, ownPictureFile } from '@/work/editing/pictures';
import { tidy } from '@/work/jobs/tasks/tidy';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { setOut, type Voyage } from './voyage';

const DAY = 86_400_000;
let v: Voyage | null = null;
afterEach(async () => {
  await v?.end();
  v = null;
});

const fresh = () => new SampanDatabase(`assets-${Math.random()}`);
const file = (seed: number, size = 5_000_000) =>
  new Blob([new Uint8Array(size).map((_, i) => (i * seed) >> 3)], { type: 'image/png' });
const about = { kind: 'picture', name: 'torch.png', at: 1 } as const;
const hexOf = async (blob: Blob) =>
  createHash('sha256')
    .update(Buffer.from(await blob.arrayBuffer()))
    .digest('hex');

test('a file is kept once by the hash of what it holds, whole or not at all, also in a dump', async () => {
  const db = fresh();
  const [one, two] = [file(3), file(7)];
  const id = await keepAsset(db, one, about);
  expect(id).toBe(await hexOf(one));
  expect(await keepAsset(db, one, { ...about, name: 'again.png', at: 2 })).toBe(id);
  await keepAsset(db, two, about);
  expect(await db.assets.toArray()).toHaveLength(2);
  expect(await db.assets.get(id)).toMatchObject({
    name: 'torch.png',
    size: 5_000_000,
    type: 'image/png',
    at: 2,
  });
  const read = (await readAsset(db, id))!;
  expect([read.file.type, await hexOf(read.file)]).toEqual(['image/png', id]);

  let text = '';
  for await (const line of dumpOf(db, { at: 0 })) text += line;
  const copy = fresh();
  await loadDump(copy, linesOf(new Blob([text]).stream().pipeThrough(new TextDecoderStream()) as never));
  expect(await hexOf((await readAsset(copy, id))!.file)).toBe(id);

  // Cut off while it was written: it is not there, until it is added again.
  await db.bytesStore.write(id, one.slice(0, 100));
  expect(await readAsset(db, id)).toBeNull();
  await keepAsset(db, one, about);
  expect(await hexOf((await readAsset(db, id))!.file)).toBe(id);
});

test('a file goes when nothing owns it: not while a product shows it, a change can be taken back, or another was made of it', async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(3);
  const { db } = v.work;
  const [listing] = await db.listings.toArray();
  const picture = (seed: number) => ({ file: file(seed, 900), name: 'a.png', width: 900, height: 900 });
  const ids = async () => (await db.assets.toCollection().primaryKeys()).sort();
  expect(await addPictures(v.work, listing!.id, [picture(3), picture(5)])).toBeNull();
  const [a, b] = [await hexOf(file(3, 900)), await hexOf(file(5, 900))];
  const original = await keepAsset(db, file(9, 900), { ...about, at: v.work.clock() });
  await db.assets.update(a, { madeOf: original });
  const stray = await keepAsset(db, file(11, 900), { ...about, at: v.work.clock() });
  expect(await dropUnownedAssets(v.work)).toBe(0);
  v.tick(2 * DAY);
  expect(await tidy(v.work)).toContain('1 file that nothing uses deleted');
  expect(await ids()).toEqual([a, b, original].sort());
  expect(await db.bytesStore.read(stray)).toBeNull();

  // Taken out, and brought back by undo.
  const { product } = (await caughtUp(v.work)).get(listing!.id)!;
  const others = product.pictures!.filter((p) => !p.startsWith('own:'));
  await applyCells(
    v.work,
    [{ listing: listing!.id, field: 'pictures', text: others.join('\n') }],
    'Pictures',
  );
  v.tick(2 * DAY);
  expect(await dropUnownedAssets(v.work)).toBe(0);
  await undo(v.work, (await lastUndoable(db))!.id);
  const shown = (await caughtUp(v.work))
    .get(listing!.id)!
    .product.pictures!.filter((p) => p.startsWith('own:'));
  expect(shown).toHaveLength(2);
  for (const name of shown) expect((await ownPictureFile(v.work, name))!.size).toBe(900);

  // Taken out for good: what could bring it back is deleted as old.
  await applyCells(
    v.work,
    [{ listing: listing!.id, field: 'pictures', text: others.join('\n') }],
    'Pictures',
  );
  v.tick(500 * DAY);
  await tidy(v.work);
  expect(await ids()).toEqual([]);
});
