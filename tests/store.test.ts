import Dexie from 'dexie';
import fc from 'fast-check';
import {
  applyChange,
  type ChangedTable,
  journalSince,
  onWrites,
  type RowChange,
  SampanDatabase,
  STARTING_SETTINGS,
  settingsOf,
  undoChange,
} from '@/store';
import type { Work } from '@/work/context/work';
import { tidy } from '@/work/jobs/tasks/tidy';
import { backoff } from '@/work/outbox/circuit';
import { chance } from '../stand-ins/random';

let n = 0;
const fresh = () => new SampanDatabase(`store-${++n}-${Math.random()}`);

/**
 * Random changes to a few rows, then every one of them undone from the last to the first, must leave what was
 * there before.
 */
test('undoing all changes brings everything back', async () => {
  const row = fc.record({
    id: fc.constantFrom('a', 'b', 'c', 'd'),
    title: fc.string({ maxLength: 3 }),
    n: fc.integer({ min: 0, max: 3 }),
    what: fc.constantFrom('set', 'add', 'remove'),
  });
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(row, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 8 }),
      async (batches) => {
        const db = fresh();
        let at = 0;
        let ids = 0;
        const now = () => ({ at: ++at, newId: () => `c${++ids}` });
        const tables = [db.products, db.changes, db.edits];
        await db.products.bulkAdd([
          { id: 'a', title: 'A', n: 1 },
          { id: 'b', title: 'B', n: 2 },
        ] as never[]);
        const before = await db.products.toArray();
        const made: string[] = [];
        for (const batch of batches) {
          await db.transaction('rw', tables, async () => {
            const there = new Set((await db.products.toArray()).map((p) => p.id));
            const once = [...new Map(batch.map((r) => [r.id, r])).values()];
            const table: ChangedTable = 'products';
            const rows = once.flatMap((r): RowChange[] => {
              if (r.what === 'add')
                return there.has(r.id)
                  ? []
                  : [{ table, add: { id: r.id, title: r.title, n: r.n } as { id: string } }];
              return r.what === 'remove'
                ? [{ table, remove: r.id }]
                : [{ table, id: r.id, set: { title: r.title, n: r.n } }];
            });
            const id = await applyChange(db, { by: 'person', name: 'x' }, rows, now());
            if (id) made.push(id);
          });
        }
        for (const id of made.reverse())
          expect(await db.transaction('rw', tables, () => undoChange(db, id, now()))).toMatchObject({
            ok: true,
            kept: 0,
          });
        expect(await db.products.toArray()).toEqual(before);
        expect(
          await db.transaction('rw', tables, () => undoChange(db, made[0] ?? 'none', now())),
        ).toMatchObject({ ok: false });
        await db.delete();
      },
    ),
    { numRuns: 40, seed: 5 },
  );
});

test('a rule’s change keeps from what to what, of purchases what it says; of orders it stays when others go', async () => {
  const db = fresh();
  const listing = { id: 'pw:a', published: { price: 999 }, ownPrice: null };
  await db.listings.add(listing as never);
  await db.orders.add({
    id: 'pw:1',
    paidAt: 1,
    open: 1,
    lines: [{ quantity: 1, cancelled: 0 }],
    purchases: [],
    cases: [],
  } as never);
  const rows: RowChange[] = [
    {
      table: 'listings',
      id: 'pw:a',
      set: { published: { price: 1099 }, ownPrice: 1099 },
      says: 'Cost rose.',
    },
    {
      table: 'orders',
      id: 'pw:1',
      set: { purchases: [{ reference: 'PW-1', lines: [] }], open: 0 },
      says: 'Bought.',
    },
  ];
  const write = (by: 'person' | 'rule', name: string, what: RowChange[]) =>
    db.transaction('rw', db.shopTables, () =>
      applyChange(db, { by, name }, what, { at: 5, newId: () => name }),
    );
  await write('rule', 'rule', rows);
  const [ofListing, ofOrder] = await db.edits.where('change').equals('rule').sortBy('table');
  expect(ofListing).toMatchObject({ says: 'Cost rose.' });
  expect([ofListing!.before, ofListing!.after]).toEqual([
    { published: { price: 999 }, ownPrice: null },
    { published: { price: 1099 }, ownPrice: 1099 },
  ]);
  expect(ofOrder).toMatchObject({ says: 'Bought.', before: { open: 1 }, after: { open: 0 } });
  expect(Object.keys(ofOrder!.after!)).toEqual(['open']);
  expect((await db.listings.get('pw:a'))!.ownPrice).toBe(1099);
  await write('person', 'person', [{ table: 'listings', id: 'pw:a', set: { ownPrice: 1199 } }]);
  expect((await db.edits.where('change').equals('person').first())!.before).toEqual({ ownPrice: 1099 });
  const { keepDays } = await settingsOf(db);
  await tidy({ db, clock: () => (keepDays + 1) * 86_400_000 } as Work);
  expect((await db.edits.toArray()).map((e) => e.says)).toEqual(['Bought.']);
  expect(await db.changes.count()).toBe(0);
  await db.delete();
});

test('undo keeps what was changed again since', async () => {
  const db = fresh();
  let ids = 0;
  const now = () => ({ at: ++ids, newId: () => `c${++ids}` });
  await db.products.bulkAdd([
    { id: 'a', title: 'A' },
    { id: 'b', title: 'B' },
  ] as never[]);
  const tables = [db.products, db.changes, db.edits];
  const set = (rows: { id: string; title: string }[]) =>
    db.transaction('rw', tables, () =>
      applyChange(
        db,
        { by: 'person', name: 'x' },
        rows.map(({ id, title }) => ({ table: 'products' as const, id, set: { title } })),
        now(),
      ),
    );
  const first = await set([
    { id: 'a', title: 'A2' },
    { id: 'b', title: 'B2' },
  ]);
  await set([{ id: 'a', title: 'A3' }]);
  expect(await db.transaction('rw', tables, () => undoChange(db, first!, now()))).toMatchObject({
    ok: true,
    kept: 1,
  });
  expect((await db.products.toArray()).map((p) => p.title)).toEqual(['A3', 'B']);
  await db.delete();
});

test('a shop of an earlier version is opened with all that is in it', async () => {
  const name = `old-${Math.random()}`;
  const old = new Dexie(name);
  old.version(1).stores({
    listings: 'id, product, variant, state, [marketplace+product]',
    settings: 'id',
    connections: 'id',
    jobs: 'id, subject',
  });
  const ids = Array.from({ length: 300 }, (_, k) => `pennywharf:${k}`);
  await old.table('listings').bulkAdd(ids.map((id) => ({ id, product: 'a', variant: 'a', state: 'live' })));
  await old.table('settings').add({ id: 'shop', shop: 'Dusk & Dipper' });
  await old.table('connections').bulkAdd([
    { id: 'pennywharf', role: 'marketplace', lanes: { listings: 'service', orders: 'service' }, site: {} },
    { id: 'stall', role: 'marketplace', lanes: { listings: 'file', orders: 'file' }, site: {} },
    { id: 'brackwater', role: 'supplier', lanes: { catalogue: 'service' } },
  ]);
  old.close();
  const db = new SampanDatabase(name);
  expect(await db.listings.toCollection().primaryKeys()).toEqual(ids.sort());
  expect(await db.listings.get('pennywharf:7')).toMatchObject({ state: 'live' });
  expect(await db.settings.get('shop')).toMatchObject({ shop: 'Dusk & Dipper' });
  expect(await db.jobs.toArray()).toMatchObject([
    { id: 'pennywharf:drift', task: 'drift', subject: 'pennywharf' },
  ]);
  await db.listings.update('pennywharf:7', { state: 'paused' });
  expect(await db.journal.orderBy('seq').last()).toMatchObject({ table: 'listings', keys: ['pennywharf:7'] });
  await db.delete();
});

test('every write to the rows of the shop stands in the journal, and none that came to nothing', async () => {
  const db = fresh();
  const row = (id: string) => ({ id, product: 'p', variant: 'v', state: 'live' }) as never;
  await db.listings.bulkPut(Array.from({ length: 120 }, (_, k) => row(`l${k}`)));
  await db.listings.update('l1', { state: 'paused' });
  await db.listings.filter((l) => l.state === 'paused').modify({ state: 'ended' });
  await db.listings.where('id').anyOf(['l2', 'l3']).delete();
  await db
    .transaction('rw', db.listings, async () => {
      await db.listings.put(row('never'));
      throw new Error('cut off');
    })
    .catch(() => {});
  await db.listings.clear();
  const rows = await db.journal.orderBy('seq').toArray();
  expect(rows.map((r) => r.keys?.length ?? null)).toEqual([120, 1, 1, 2, null]);
  expect(rows.map((r) => r.seq)).toEqual([1, 2, 3, 4, 5]);
  await db.delete();
});

test('the journal is cut to what is still read; who stands before that begins anew, who stands in it misses nothing', async () => {
  const db = fresh();
  await db.journal.bulkAdd(
    Array.from({ length: 5_000 }, (_, k) => ({ table: 'listings', keys: [`l${k}`] }) as never),
  );
  await db.settings.put(STARTING_SETTINGS);
  await tidy({ db, clock: () => 86_400_000 } as Work);
  expect(await db.journal.count()).toBeLessThan(2_010);
  await db.listings.add({ id: 'new' } as never);
  expect(await journalSince(db.journal, 2_000, ['listings'])).toBeNull();
  expect((await journalSince(db.journal, 4_990, ['listings']))!.flatMap((r) => r.keys)).toEqual([
    ...Array.from({ length: 10 }, (_, k) => `l${4_990 + k}`),
    'new',
  ]);
  await db.delete();
});

test('waits double, stay under five minutes and differ by chance', () => {
  expect([0, 1, 2, 3].map((k) => backoff(k, 1))).toEqual([2000, 4000, 8000, 16_000]);
  expect(backoff(30, 1)).toBe(300_000);
  expect(backoff(3, 0)).toBeLessThan(backoff(3, 0.9));
});

test('rows that lie many to a record are read and written as if each had its own', async () => {
  const db = fresh();
  const luck = chance(7);
  const whole = (n: number) => luck.whole(0, n - 1);
  const row = (id: string, n: number) => ({ id, supplier: String(n) }) as never;
  const known = new Map<string, string>();
  for (let turn = 0; turn < 60; turn++) {
    const ids = [...new Set(Array.from({ length: 1 + whole(turn % 10 ? 12 : 400) }, () => `p${whole(900)}`))];
    const what = whole(4);
    if (what === 0) {
      const taken = ids.filter((id) => known.has(id));
      const added = db.products.bulkAdd(ids.map((id) => row(id, turn)));
      if (taken.length) await expect(added).rejects.toMatchObject({ name: 'BulkError' });
      else await added;
      // Those that were not there are added all the same, as the storage does it.
      for (const id of ids) if (!known.has(id)) known.set(id, String(turn));
    } else if (what === 1) {
      await db.products.bulkPut(ids.map((id) => row(id, turn)));
      for (const id of ids) known.set(id, String(turn));
    } else if (what === 2) {
      await db.products.bulkDelete(ids);
      for (const id of ids) known.delete(id);
    } else {
      const [from, to] = ['p3', 'p35'];
      await db.products.where('id').between(from, to).delete();
      for (const id of known.keys()) if (id >= from && id < to) known.delete(id);
    }
    const sorted = [...known.keys()].sort();
    expect(await db.products.toCollection().primaryKeys()).toEqual(sorted);
    expect((await db.products.bulkGet(ids)).map((p) => p?.supplier)).toEqual(ids.map((id) => known.get(id)));
    expect(await db.products.where('id').above('p5').count()).toBe(sorted.filter((id) => id > 'p5').length);
    expect((await db.products.where('id').anyOf(ids).toArray()).map((p) => p.id)).toEqual(
      ids.filter((id) => known.has(id)).sort(),
    );
    expect((await db.products.orderBy('id').reverse().limit(3).toArray()).map((p) => p.id)).toEqual(
      sorted.slice(-3).reverse(),
    );
  }
  expect(known.size).toBeGreaterThan(100);
  await db.delete();
});

test('many parts of one transaction read and write rows of one record side by side, and none loses what another wrote', async () => {
  const step = fc.record({
    // A few ids: some of them lie in one record.
    id: fc.integer({ min: 0, max: 60 }).map((k) => `p${k}`),
    what: fc.constantFrom('put', 'get', 'delete', 'all'),
    n: fc.integer({ min: 1, max: 1000 }),
  });
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.array(step, { minLength: 1, maxLength: 12 }), { maxLength: 6 }),
      async (waves) => {
        const db = fresh();
        const all = Array.from({ length: 3_000 }, (_, k) => ({ id: `p${k}`, n: 0 }));
        await db.products.bulkAdd(all as never);
        const model = new Map(all.map((row) => [row.id, row.n]));
        await db.transaction('rw', db.products, async () => {
          for (const wave of waves) {
            // What is done to one row side by side has no order: one step each.
            const steps = [...new Map(wave.map((s) => [s.id, s])).values()];
            await Promise.all(
              steps.map(async ({ id, what, n }) => {
                if (what === 'put') await db.products.put({ id, n } as never);
                else if (what === 'delete') await db.products.delete(id);
                else if (what === 'all') await db.products.toArray();
                else await db.products.bulkGet([id, 'p7', 'p2999']);
              }),
            );
            for (const { id, what, n } of steps) {
              if (what === 'put') model.set(id, n);
              if (what === 'delete') model.delete(id);
            }
          }
        });
        const stored = (await db.products.toArray()) as unknown as { id: string; n: number }[];
        expect(new Map(stored.map((row) => [row.id, row.n]))).toEqual(model);
        db.close();
      },
    ),
    { numRuns: 25 },
  );
});

test('what a transaction wrote and gave up is not there for the next one', async () => {
  const db = fresh();
  await db.products.bulkAdd([
    { id: 'a', n: 1 },
    { id: 'b', n: 1 },
  ] as never);
  await expect(
    db.transaction('rw', db.products, async () => {
      await db.products.put({ id: 'a', n: 2 } as never);
      throw new Error('given up');
    }),
  ).rejects.toThrow('given up');
  await db.transaction('rw', db.products, () => db.products.put({ id: 'b', n: 3 } as never));
  expect(await db.products.bulkGet(['a', 'b'])).toMatchObject([{ n: 1 }, { n: 3 }]);
});

test('a large write is seen by what follows in its transaction, and a small one after it loses nothing of it', async () => {
  const db = fresh();
  const ids = Array.from({ length: 120 }, (_, k) => `p${k}`);
  const rows = (n: number) => ids.map((id) => ({ id, n })) as never;
  const numbers = (all: readonly unknown[]) => all.map((row) => (row as { n: number }).n);
  await db.products.bulkAdd(rows(0));
  await db.transaction('rw', db.products, async () => {
    expect(new Set(numbers(await db.products.bulkGet(ids)))).toEqual(new Set([0]));
    await db.products.bulkPut(rows(1));
    expect(new Set(numbers(await db.products.bulkGet(ids)))).toEqual(new Set([1]));
    await db.products.put({ id: 'p7', n: 2 } as never);
  });
  expect(numbers(await db.products.bulkGet(ids))).toEqual(ids.map((id) => (id === 'p7' ? 2 : 1)));
});

test('whoever watches tables hears of committed writes to them, small and large, and of no others', async () => {
  const db = fresh();
  await db.open();
  const heard: string[] = [];
  const end = onWrites(db, ['listings', ['notes', 'catalogue:']], () => heard.push('!'));
  const took = async (write: () => PromiseLike<unknown>) => {
    heard.length = 0;
    await write();
    await new Promise((rested) => setTimeout(rested));
    return heard.length;
  };
  const listing = (id: string) => ({ id, product: 'p', variant: 'v' }) as never;
  const note = (id: string) => db.notes.put({ id, value: 1 });
  expect(await took(() => db.listings.put(listing('a')))).toBe(1);
  expect(await took(() => db.listings.bulkPut(Array.from({ length: 80 }, (_, k) => listing(`l${k}`))))).toBe(
    1,
  );
  expect(await took(() => db.listings.clear())).toBe(1);
  expect(await took(() => note('catalogue:brackwater'))).toBe(1);
  expect(await took(() => note('course'))).toBe(0);
  expect(await took(() => db.listings.toArray())).toBe(0);
  const givenUp = () =>
    db
      .transaction('rw', db.shopTables, async () => {
        await db.listings.put(listing('b'));
        throw new Error('given up');
      })
      .catch(() => {});
  expect(await took(givenUp)).toBe(0);
  end();
  expect(await took(() => db.listings.put(listing('c')))).toBe(0);
});
