import { applyChange, SampanDatabase, STARTING_SETTINGS, undoChange } from '@/store';
import type { Work } from '@/work/context/work';
import { applyCells } from '@/work/editing/bulk-edit';
import { settleDrift } from '@/work/listings/drift';
import { publish } from '@/work/listings/publish';
import { takeItems } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { lastRedoable, lastUndoable } from '@/work/memory/history';
import { newJob } from '@/work/schedule/job';
import { itemsIn, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 120 });
  await v.settle();
});
afterEach(() => v.end());

const inTab = (tab: string): Work => ({ ...v.work, tab });
const later = () => v.tick(1_000);
const title = async (id: string) => (await v.work.db.listings.get(id))!.title;
const retitle = async (work: Work, listing: string, text: string) => {
  later();
  await applyCells(work, [{ listing, field: 'title', text }], `Title ${text}`);
};
const back = async (work: Work) => undo(work, (await lastUndoable(v.work.db, work.tab))!.id);
const again = async (work: Work) => {
  const change = await lastRedoable(v.work.db, work.tab);
  return change ? undo(work, change.id) : null;
};

/** Takes some items without publishing them. */
const take = async (n: number) => {
  later();
  const items = [...(await itemsIn(v.work.db)).values()].slice(0, n);
  await takeItems(
    inTab('a'),
    'pennywharf',
    items.map((item) => ({ supplier: 'brackwater', item, detail: null })),
  );
  return (await v.work.db.listings.toArray()).map((l) => l.id).sort();
};

test('undo takes back what its own tab did, in order; redo does it again until something else is done', async () => {
  const [one, two] = (await take(2)) as [string, string];
  const [a, b] = [inTab('a'), inTab('b')];
  await retitle(a, one, 'First');
  await retitle(a, one, 'Second');
  await retitle(b, two, 'Elsewhere');
  later();
  expect(await back(a)).toMatchObject({ ok: true, name: 'Title Second: 1 listing' });
  later();
  expect(await back(a)).toMatchObject({ ok: true, name: 'Title First: 1 listing' });
  expect([await title(one), await title(two)]).toEqual([null, 'Elsewhere']);
  later();
  expect(await again(a)).toMatchObject({ ok: true, name: 'Title First: 1 listing', redone: true });
  later();
  expect(await again(a)).toMatchObject({ ok: true, name: 'Title Second: 1 listing', redone: true });
  expect(await again(a)).toBeNull();
  expect(await title(one)).toBe('Second');
  // Done again, it can be taken back again; what is done next ends redo.
  later();
  await back(a);
  expect(await title(one)).toBe('First');
  await retitle(a, one, 'Third');
  expect(await again(a)).toBeNull();
  expect(await again(b)).toBeNull();
});

test('what was taken is put back by undo and is there again by redo, the rows as they were', async () => {
  const ids = await take(3);
  const rows = async () => [
    await v.work.db.listings.toArray(),
    await v.work.db.variants.toArray(),
    await v.work.db.products.toArray(),
  ];
  const before = JSON.stringify(await rows());
  later();
  await back(inTab('a'));
  expect(await v.work.db.listings.count()).toBe(0);
  later();
  await again(inTab('a'));
  expect(JSON.stringify(await rows())).toBe(before);
  expect(ids).toHaveLength(3);
});

test('undo stops at what was told to the outside, and never reaches past it', async () => {
  await v.stockUp(2);
  const a = inTab('a');
  const [listing] = await v.work.db.listings.toArray();
  await retitle(a, listing!.id, 'Changed');
  await v.settle(1_000);
  const before = await v.work.db.listings.get(listing!.id);
  later();
  await v.work.db.listings.update(listing!.id, { state: 'bench', approvedAt: v.work.clock() });
  expect(await publish(a, [listing!.id])).toMatchObject({ queued: 1 });
  const last = await lastUndoable(v.work.db, 'a');
  expect(last).toMatchObject({ name: 'Publish 1 listing', undoable: false });
  expect(await undo(a, last!.id)).toMatchObject({
    ok: false,
    reason: expect.stringContaining('told to the outside'),
  });
  expect(await title(listing!.id)).toBe(before!.title);
});

test('keeping what was edited on the marketplace can be taken back: the difference stands again, and nothing is told', async () => {
  await v.stockUp(1);
  const [listing] = await v.work.db.listings.toArray();
  const there = v.outside.markets.pennywharf.listings[listing!.sku]!;
  there.title = 'Edited over there';
  await v.work.db.jobs.add(newJob('pennywharf', 'drift', v.work.clock()));
  await v.settle(6 * 3_600_000);
  const drifted = (await v.work.db.listings.get(listing!.id))!;
  expect(drifted.drift?.theirs.title).toBe('Edited over there');
  const document = await v.work.db.documents.get(listing!.id);
  later();
  await settleDrift(inTab('a'), [listing!.id], 'theirs');
  expect(await title(listing!.id)).toBe('Edited over there');
  later();
  expect(await back(inTab('a'))).toMatchObject({ ok: true });
  const then = (await v.work.db.listings.get(listing!.id))!;
  expect([then.drift, then.title, then.published]).toEqual([drifted.drift, drifted.title, drifted.published]);
  expect(await v.work.db.documents.get(listing!.id)).toEqual(document);
  await v.settle(1_000);
  expect(there.title).toBe('Edited over there');
});

test('a change that sets one row twice is undone whole', async () => {
  const db = new SampanDatabase(`twice-${Math.random()}`);
  const now = { at: 5, newId: () => `c${Math.random()}` };
  await db.settings.put({ ...STARTING_SETTINGS, shop: 'before', slip: 'first' });
  const id = await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: 'Twice' },
      [
        { table: 'settings', id: 'shop', set: { shop: 'between' } },
        { table: 'settings', id: 'shop', set: { shop: 'after', slip: 'second' } },
      ],
      now,
    ),
  );
  const undone = await db.transaction('rw', db.shopTables, () => undoChange(db, id!, now));
  expect(undone).toMatchObject({ ok: true, kept: 0 });
  expect(await db.settings.get('shop')).toMatchObject({ shop: 'before', slip: 'first' });
  await db.delete();
});
