import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { deserialize } from 'node:v8';
import { gunzipSync } from 'node:zlib';
import Dexie from 'dexie';
import { placesOf } from '@/core/orders';
import {
  buyerOf,
  connectionById,
  healthOf,
  type MarketRow,
  marketById,
  orderById,
  SampanDatabase,
  SCHEMA,
} from '@/store';
import { bucketOf } from '@/store/buckets';
import type { OrderWithTexts } from '@/store/migrations/order-units';
import { listingRowId } from '@/work/outbox/row';
import { tablesWith } from './people';

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
        service: 'loomhall',
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
    ...{
      name: 'Everything',
      order: 2,
      on: true,
      marketplaces: ['pennywharf'],
      filter: { all: [{ word: 'torch' }] },
    },
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
  expect(await connectionById(db, 'loomhall')).toMatchObject({
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
    body: kind === 'buy' ? { address: { name: 'Ida' }, lines: [], slip: '' } : {},
  });
  await leftBy(7, 'messages', {
    connections: [
      { id: 'brackwater', role: 'supplier', costs: { discounts: [] } },
      { id: 'hollin', role: 'supplier' },
    ],
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
    { id: 'brackwater', role: 'supplier', costs: { discounts: [], itemPrices: {} } },
    { id: 'hollin', role: 'supplier' },
  ]);
  db.close();
});

test('an order of before is carried over with its units: what was bought, sent, asked back and to be seen', async () => {
  const line = (id: string, quantity: number, cancelledAt: number | null = null) => ({
    ...{ id, sku: id, title: id, quantity, unitPrice: 1000, personalisation: null, cancelledAt },
  });
  const bought = (id: string, quantity: number, cancelledAt: number | null = null) => ({
    ...{ line: id, item: `BW-${id}`, quantity, personalisation: null, cancelledAt },
  });
  const purchase = {
    ...{ reference: 'pennywharf:PW-1', supplier: 'brackwater', lane: 'service', at: 2, currency: 'GBP' },
    ...{ expected: { goods: 900, shipping: 200 }, charged: { goods: 950, shipping: 200 }, complete: false },
    ...{ number: 'BT-1', acceptedAt: 3, recall: null },
  };
  const parcel = { carrier: 'Fenpost', tracking: 'T1', shippedAt: 4, deliveredAt: null, toldAt: 5 };
  const order = {
    ...{
      id: 'pennywharf:PW-1',
      marketplace: 'pennywharf',
      number: 'PW-1',
      currency: 'GBP',
      paidAt: 1,
      shipBy: 9,
    },
    ...{
      buyer: { name: 'Nia', email: '' },
      address: { name: 'Nia', country: 'GB' },
      shipping: 0,
      refunded: 0,
    },
    ...{
      checkedAt: 2,
      dispatched: ['T1'],
      elsewhere: false,
      cancelling: null,
      open: 1,
      checks: [],
      released: [],
    },
    ...{ notice: 'Brackwater cancelled part of BT-1.', slip: null, expected: null, settledAt: null },
    lines: [line('x', 2), line('y', 3), line('z', 1, 8)],
    purchases: [
      {
        ...purchase,
        state: 'accepted',
        lines: [bought('x', 4), bought('y', 3, 7), bought('z', 1)],
        parcels: [{ ...parcel, lines: ['x'] }],
        recall: { by: 'marketplace', reason: 'x', at: 8, lines: ['z'], state: 'asked' },
      },
    ],
  };
  const row = { connection: 'pennywharf', order: order.id, state: 'waiting', at: 1, nextAt: 1, sentAt: null };
  await leftBy(9, 'upgrade-orders', {
    orders: [order],
    outbox: [
      { ...row, id: 'd', kind: 'dispatch', body: { number: 'PW-1', tracking: 'T1', lines: ['x'] } },
      { ...row, id: 'c', kind: 'cancel', body: { number: 'PW-1', reason: 'x', lines: ['y'] } },
      {
        ...{ ...row, id: 't', connection: 'brackwater', kind: 'take back' },
        body: { reference: order.id, number: 'BT-1', lines: [{ sku: 'BW-z', quantity: 1 }] },
      },
    ],
  });
  const db = new SampanDatabase('upgrade-orders');
  await db.open();
  const now = (await db.orders.get(order.id))!;
  expect(now.lines.map((l) => placesOf(now, l))).toMatchObject([
    { shipped: 2, open: 0 },
    { open: 3, shipped: 0, 'with supplier': 0 },
    { stays: 1, cancelled: 0 },
  ]);
  expect(now.purchases).toMatchObject([{ state: 'accepted', number: 'BT-1', charged: { goods: 950 } }]);
  expect(now.purchases[0]!.lines.map((l) => [l.units, l.pack, l.calledOff])).toEqual([
    [2, 2, 0],
    [3, 1, 3],
    [1, 1, 0],
  ]);
  expect(now.cases).toMatchObject([
    { kind: 'asked back', units: [{ line: 'z', units: 1 }], back: [], late: [] },
    { kind: 'note', says: 'Brackwater cancelled part of BT-1.', seenAt: null },
  ]);
  expect(now).not.toHaveProperty('notice');
  expect((await db.outbox.get('d'))!.body).toMatchObject({ inside: [{ line: 'x', units: 2 }] });
  expect((await db.outbox.get('c'))!.body).toMatchObject({ totals: [{ line: 'y', units: 3 }] });
  expect((await db.outbox.get('t'))!.body).toMatchObject({
    lines: [{ line: 'z', sku: 'BW-z', quantity: 1 }],
  });
  db.close();
});

/** A shop as version 10 really left it: its tables as they were stored, without what is read of suppliers. */
interface Left {
  readonly version: number;
  readonly stores: Readonly<Record<string, string>>;
  readonly rows: Readonly<Record<string, readonly Record<string, unknown>[]>>;
}

test('a real shop of version 10 goes on: each connection holds as it did, with an owner for each part of it', async () => {
  const left: Left = deserialize(gunzipSync(readFileSync(join(__dirname, 'left-by-10.gz'))));
  const old = new Dexie('real');
  old.version(left.version).stores(left.stores);
  await old.open();
  for (const [table, rows] of Object.entries(left.rows)) await old.table(table).bulkPut([...rows]);
  old.close();
  const db = new SampanDatabase('real');
  await db.open();
  const before = left.rows.connections!;
  expect(before.map((c) => c.id)).toEqual(
    expect.arrayContaining(['brackwater', 'list-hollin-optics', 'loomhall', 'pennywharf']),
  );
  for (const { credential, trouble, failures, openUntil, cursor, balance = null, list, ...was } of before) {
    const id = was.id as string;
    const now = (await connectionById(db, id))!;
    const presets = was.presets !== undefined && {
      presets: (was.presets as object[]).map((p) => ({ ...p, filter: { all: [] } })),
    };
    expect(now).toMatchObject(was.role === 'marketplace' ? { theirFees: null, ...was, ...presets } : was);
    expect(await healthOf(db, id)).toMatchObject({ trouble, failures, openUntil, cursor, balance });
    expect((await db.credentials.get(id))?.credential ?? null).toEqual(credential);
    for (const field of ['credential', 'cursor', 'balance', 'siteNow', 'theirFees'])
      expect(await db.connections.get(id)).not.toHaveProperty(field);
  }
  // One waits to be looked at, one has fees of the seller's own.
  expect((await marketById(db, 'loomhall'))!.siteNow).not.toBeNull();
  expect((await db.connections.get('pennywharf')) as MarketRow).toMatchObject({ fees: { of: 'seller' } });
  expect((await healthOf(db, 'list-hollin-optics')).fetched).toMatchObject({ etag: '"seven"' });
  const persons = left.rows.orders as unknown as readonly OrderWithTexts[];
  for (const { id, buyer, address, lines, ...rest } of persons) {
    const order = (await db.orders.get(id))!;
    expect(order).toMatchObject({
      paidAt: rest.paidAt,
      shipBy: rest.shipBy,
      expected: rest.expected,
      country: 'GB',
    });
    expect(order.purchases.length).toBe(rest.purchases.length);
    const now = await buyerOf(db, order);
    expect([now.name, now.email, now.addresses[order.address]]).toEqual([buyer.name, buyer.email, address]);
    expect(
      order.lines.map((l) => (l.personalisation === null ? null : now.texts[l.personalisation])),
    ).toEqual(lines.map((l) => l.personalisation));
    // What names the person stands in one place.
    expect(await tablesWith(db, [buyer.name, buyer.email, address.line1])).toEqual(['buyers']);
  }
  expect(await db.changes.filter((c) => c.name === 'Fees of Pennywharf UK').first()).toMatchObject({
    undoable: false,
  });
  const [archived] = (await db.archive.toArray()).flatMap((b) => b.ids);
  expect(await orderById(db, archived!)).toMatchObject({ id: archived, open: 0 });
  db.close();
});

test('a sentence of why a listing is held is told as it was, also when a change is taken back', async () => {
  const said = 'Guards contradict: MAP asks for at least 30.50.';
  const kept = { id: 'c', at: 1, by: 'person', name: '1 listing approved', why: null, edits: 1 };
  const edit = { change: 'c', table: 'listings', at: 1, after: { problem: null }, says: null };
  await leftBy(11, 'held', {
    listings: [
      { id: bucketOf('pennywharf:a'), rows: [{ id: 'pennywharf:a', problem: said }] },
      { id: bucketOf('pennywharf:b'), rows: [{ id: 'pennywharf:b', problem: null }] },
    ],
    changes: [{ ...kept, undoneBy: null, undoable: true }],
    edits: [
      { ...edit, id: 'c:0', subject: 'listing:pennywharf:b', before: { problem: said } },
      {
        ...{ ...edit, id: 'c:1', subject: 'listings:', before: {} },
        rows: [{ subject: 'listing:pennywharf:b', before: { problem: said }, after: {}, says: null }],
      },
    ],
  });
  const db = new SampanDatabase('held');
  await db.open();
  const fact = { why: 'refused', said };
  expect((await db.listings.toArray()).map((l) => l.problem)).toEqual([fact, null]);
  const [one, many] = await db.edits.toArray();
  expect([one!.before, many!.rows![0]!.before]).toEqual([{ problem: fact }, { problem: fact }]);
  db.close();
});

test('search lines of before are conditions that find the same, in what can be taken back as well', async () => {
  const plan = {
    id: 'everything',
    name: 'Everything',
    order: 0,
    on: true,
    filter: 'torch or lamp (red) brand:A brand:B -supplier:harb cost:>5',
  };
  const change = { id: 'c', at: 1, by: 'person', name: 'Plans', why: null, edits: 1 };
  await leftBy(12, 'lines', {
    plans: [plan],
    connections: [
      { id: 'harbour', role: 'supplier', name: 'Old Quay' },
      {
        id: 'pennywharf',
        role: 'marketplace',
        name: 'Pennywharf',
        lanes: {},
        keptOff: ['supplier:old', 'sku:DD-1'],
        presets: [{ id: 'p', name: 'P', on: true, filter: '', category: null, fills: {} }],
      },
    ],
    searches: [{ id: 's', name: 'S', query: '"or" sku:A sku:B', known: new Int32Array([3]) }],
    changes: [{ ...change, undoneBy: null, undoable: true }],
    edits: [
      {
        ...{ id: 'c:1', change: 'c', subject: 'plans:everything', table: 'plans', at: 1, says: null },
        before: { filter: 'lantern' },
        after: { filter: 'torch' },
      },
    ],
  });
  const db = new SampanDatabase('lines');
  await db.open();
  const field = (name: string, is: string) => ({ field: name, is });
  expect((await db.plans.get('everything'))!.filter).toEqual({
    all: [
      ...['torch', 'or', 'lamp', 'red'].map((word) => ({ word })),
      { any: [field('brand', 'A'), field('brand', 'B')] },
      { none: [{ any: [field('supplier', 'Old Quay')] }] },
      field('cost', '>5'),
    ],
  });
  expect(await db.connections.get('pennywharf')).toMatchObject({
    // No listing was found by the name, and none is now.
    keptOff: [{ all: [{ any: [] }] }, { all: [field('sku', 'DD-1')] }],
    presets: [{ filter: { all: [] } }],
  });
  expect(await db.searches.get('s')).toMatchObject({
    query: { all: [{ word: 'or' }, field('sku', 'A'), field('sku', 'B')] },
    known: Int32Array.from([3]),
  });
  expect(await db.edits.get('c:1')).toMatchObject({
    before: { filter: { all: [{ word: 'lantern' }] } },
    after: { filter: { all: [{ word: 'torch' }] } },
  });
  db.close();
});

test('listings know what they sold lately, of the orders that stand there', async () => {
  const day = 86_400_000;
  const at = Date.parse('2026-11-20T10:00:00Z');
  const order = (number: string, paidAt: number, quantity: number) => ({
    ...{ id: `pennywharf:${number}`, marketplace: 'pennywharf', number, paidAt, open: 0 },
    lines: [{ id: '1', sku: 'DD-1', quantity }],
  });
  await leftBy(17, 'sold-lately', {
    listings: ['pennywharf:DD-1', 'pennywharf:DD-2'].map((id) => ({ id: bucketOf(id), rows: [{ id }] })),
    orders: [
      order('PW-1', at, 2),
      order('PW-2', at + day, 1),
      order('PW-3', at, 3),
      order('PW-4', at - 200 * day, 9),
    ],
  });
  const db = new SampanDatabase('sold-lately');
  await db.open();
  const first = Math.floor(at / day);
  expect((await db.listings.get('pennywharf:DD-1'))!.soldOn).toEqual([
    [first, 5],
    [first + 1, 1],
  ]);
  expect((await db.listings.get('pennywharf:DD-2'))!.soldOn).toBeUndefined();
  expect(await db.groups.count()).toBe(0);
  db.close();
});
