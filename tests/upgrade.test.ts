import Dexie from 'dexie';
import { SampanDatabase, SCHEMA } from '@/store';
import { listingRowId } from '@/work/outbox/row';

/** A database as an earlier version left it. */
async function leftBy(version: number, name: string, rows: Readonly<Record<string, readonly object[]>>) {
  const now = new SampanDatabase(`${name}-now`);
  await now.open();
  const stores = Object.fromEntries(
    now.tables.map((t) => [t.name, [t.schema.primKey.src, ...t.schema.indexes.map((i) => i.src)].join(', ')]),
  );
  now.close();
  const old = new Dexie(name);
  old.version(version).stores(stores);
  await old.open();
  for (const [table, all] of Object.entries(rows)) await old.table(table).bulkPut([...all]);
  old.close();
}

test('plans, stock rule and sites of before are carried over, and nothing of them is lost', async () => {
  const plan = {
    ...{
      id: 'everything',
      name: 'Everything',
      order: 2,
      on: true,
      marketplaces: ['pennywharf'],
      filter: 'torch',
    },
    target: { kind: 'markup', rate: 450_000 },
    ...{ flat: 220, neverUnderMap: false, neverOverMsrp: false, smallestProfit: 150 },
    ending: { minor: 95, per: 100, direction: 'down' },
    contradiction: 'stay',
  };
  await leftBy(4, 'upgrade', {
    plans: [plan],
    settings: [{ id: 'shop', shop: 'Dusk & Dipper', stock: { atMost: 7, safety: 3 } }],
    connections: [
      {
        id: 'loomhall',
        role: 'marketplace',
        site: { name: 'Loomhall', asksMaker: true, pictures: { least: 1, most: 10 } },
        siteNow: null,
        lanes: {},
      },
    ],
  });
  const db = new SampanDatabase('upgrade');
  await db.open();
  expect(db.verno).toBe(SCHEMA);
  const upgraded = (await db.plans.get('everything'))!;
  expect(upgraded).toMatchObject({
    ...{ name: 'Everything', order: 2, on: true, marketplaces: ['pennywharf'], filter: 'torch' },
    bands: [{ upTo: null, target: plan.target, flat: 220 }],
    endings: [{ upTo: null, ending: plan.ending }],
    ...{ neverUnderMap: false, mostOfMsrp: null, smallestProfit: 150, contradiction: 'stay' },
    ...{ from: null, sale: null, stock: null, steps: { most: null, least: 0, perDay: null } },
  });
  for (const gone of ['target', 'flat', 'ending', 'neverOverMsrp']) expect(upgraded).not.toHaveProperty(gone);
  expect((await db.settings.get('shop'))!.stock).toMatchObject({
    atMost: 7,
    safety: 3,
    outAt: 0,
    topUp: null,
  });
  expect(await db.connections.get('loomhall')).toMatchObject({
    site: {
      attributes: [{ id: 'maker', needed: true }],
      pictures: { least: 1, most: 10, shortest: 0, square: false },
    },
  });
  db.close();
});

test('offers that wait are told the same after the upgrade', async () => {
  const offer = (id: string, live: boolean) => ({
    id,
    kind: 'offer',
    state: 'waiting',
    body: { listing: id, sku: id, price: 100, quantity: live ? 2 : 0, live },
  });
  await leftBy(6, 'offers', { outbox: [offer('offer:a', true), offer('offer:b', false)] });
  const db = new SampanDatabase('offers');
  await db.open();
  expect((await db.outbox.toArray()).map((o) => o.body)).toEqual([
    { listing: 'offer:a', sku: 'offer:a', price: 100, quantity: 2, state: 'live' },
    { listing: 'offer:b', sku: 'offer:b', price: 100, quantity: 0, state: 'paused' },
  ]);
  db.close();
});

test('messages are found by their order after the upgrade, and what was told of listings is gone', async () => {
  const row = (id: string, kind: string, subject: string, state: string) => ({
    id,
    kind,
    subject,
    state,
    connection: 'pennywharf',
    nextAt: 0,
    body: {},
  });
  await leftBy(7, 'messages', {
    connections: [{ id: 'brackwater', costs: { discounts: [] } }, { id: 'pennywharf' }],
    outbox: [
      row('dispatch:7:x', 'dispatch', 'order:pennywharf:7', 'done'),
      row('buy:7', 'buy', 'order:pennywharf:7', 'waiting'),
      row('offer:a', 'offer', 'listing:a', 'done'),
      row('offer:b', 'offer', 'listing:b', 'refused'),
    ],
  });
  const db = new SampanDatabase('messages');
  await db.open();
  expect(await db.outbox.where('order').equals('pennywharf:7').primaryKeys()).toEqual([
    'buy:7',
    'dispatch:7:x',
  ]);
  expect(await db.outbox.where('id').startsWith('offer:').toArray()).toEqual([
    {
      id: listingRowId('offer', 'b'),
      kind: 'offer',
      order: null,
      state: 'refused',
      connection: 'pennywharf',
      nextAt: 0,
      body: {},
    },
  ]);
  expect(await db.outbox.count()).toBe(3);
  expect(await db.connections.toArray()).toEqual([
    { id: 'brackwater', costs: { discounts: [], itemPrices: {} } },
    { id: 'pennywharf' },
  ]);
  db.close();
});
