import type { Reach } from '@/connect/reach';
import { clockTime } from '@/core/units';
import {
  catalogueNote,
  connectionById,
  healthOf,
  historyOf,
  marketById,
  readCatalogue,
  readDetails,
} from '@/store';
import { connectSupplier, renameConnection, type Service } from '@/work/connections/connections';
import { endConsent, startConsent } from '@/work/connections/consents';
import { disconnect } from '@/work/connections/disconnect';
import { marketAdapter } from '@/work/context/adapters';
import { runRound } from '@/work/jobs/runner';
import { undo } from '@/work/listings/undo';
import { editsOf, lastInWords, lastUndoable } from '@/work/memory/history';
import { noteHealth, troubleInWords } from '@/work/outbox/circuit';
import { forget } from '@/work/readings/session';
import { runNow, setPaused, setTiming, stopJob } from '@/work/schedule/schedule';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { itemsOf, move } from '../stand-ins/supplier/warehouse';
import { BRACKWATER, itemOf, itemsIn, setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 900 });
});
afterEach(() => v.end());

const job = (id: string) => v.work.db.jobs.get(id).then((j) => j!);
const skus = async () => [...(await itemsIn(v.work.db)).keys()];
const HARBOUR = 'http://127.0.0.1:4800/connections/return';

describe('a marketplace by consent', () => {
  const service = (): Service => ({
    id: 'pennywharf',
    role: 'marketplace',
    name: 'Pennywharf UK',
    about: '',
    consent: `${v.outside.origins.pennywharf}/consent`,
  });

  /** What the seller's browser does: opens the page, answers, and is sent back. */
  async function answer(address: string, how: 'allow' | 'refuse'): Promise<URLSearchParams> {
    const asked = new URL(address).searchParams;
    const back = await fetch(`${v.outside.origins.pennywharf}/consent`, {
      method: 'POST',
      redirect: 'manual',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({
        redirect_uri: asked.get('redirect_uri')!,
        state: asked.get('state')!,
        code_challenge: asked.get('code_challenge')!,
        answer: how,
      }),
    });
    return new URL(back.headers.get('location')!).searchParams;
  }

  test('is connected with its site, keeps its place in the feed, and each return works once', async () => {
    await noteHealth(v.work, 'pennywharf', {
      cursor: 'c0',
      trouble: { kind: 'credentials', says: 'x', since: 1 },
    });
    const back = await answer(await startConsent(v.work, service(), HARBOUR), 'allow');
    expect(await endConsent(v.work, back)).toEqual({ ok: true, name: 'Pennywharf UK' });
    expect(await healthOf(v.work.db, 'pennywharf')).toMatchObject({ trouble: null, cursor: 'c0' });
    expect(await connectionById(v.work.db, 'pennywharf')).toMatchObject({
      site: { currency: 'GBP', titleLimit: 75 },
    });
    expect(await endConsent(v.work, back)).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/does not belong/),
    });
  });

  const connect = async () =>
    endConsent(v.work, await answer(await startConsent(v.work, service(), HARBOUR), 'allow'));
  const credential = async () => (await v.work.db.credentials.get('pennywharf'))!.credential;
  const ask = async () => marketAdapter(v.work, (await marketById(v.work.db, 'pennywharf'))!);
  const counted = (path: string) => {
    const { reach } = v.work;
    let n = 0;
    const work = {
      ...v.work,
      reach: ((service, asked, init) => {
        if (asked === path) n++;
        return reach(service, asked, init);
      }) as Reach,
    };
    return { work, count: () => n };
  };

  test('what ends is renewed before it is used, and where it ended early, once for all who ask at that time', async () => {
    await connect();
    const first = await credential();
    expect(first).toMatchObject({ kind: 'consent', until: v.work.clock() + 3_600_000 });
    // An hour on, orders come in all the same, and nobody is asked for anything.
    await v.settle(3_600_000);
    expect(await healthOf(v.work.db, 'pennywharf')).toMatchObject({ trouble: null });
    const second = await credential();
    expect(second).not.toEqual(first);

    for (const grant of v.outside.market.grants!) grant.until = 0;
    const { work, count } = counted('/token');
    const c = (await marketById(v.work.db, 'pennywharf'))!;
    const all = await Promise.all([1, 2, 3, 4].map(async () => (await marketAdapter(work, c)).orders(null)));
    expect(all.map((one) => one.ok)).toEqual([true, true, true, true]);
    expect(count()).toBe(1);
    expect(await credential()).not.toEqual(second);
  });

  test('a renewal of which the answer is lost is asked for again; one that is refused asks for consent', async () => {
    await connect();
    for (const grant of v.outside.market.grants!) grant.until = 0;
    const { reach } = v.work;
    let lost = 0;
    v.work = {
      ...v.work,
      reach: async (service, path, init) => {
        const answered = await reach(service, path, init);
        if (path !== '/token' || lost++) return answered;
        throw new TypeError('connection lost');
      },
    };
    expect(await (await ask()).orders(null)).toMatchObject({ trouble: { kind: 'unreachable' } });
    expect((await (await ask()).orders(null)).ok).toBe(true);

    v.outside.market.grants = [];
    await v.settle(120_000);
    expect(await healthOf(v.work.db, 'pennywharf')).toMatchObject({ trouble: { kind: 'credentials' } });
    expect(await connect()).toMatchObject({ ok: true });
    await v.settle(120_000);
    expect(await healthOf(v.work.db, 'pennywharf')).toMatchObject({ trouble: null });
  });

  test('consent that is given while a renewal is under way stays', async () => {
    await connect();
    for (const grant of v.outside.market.grants!) grant.until = 0;
    const { reach } = v.work;
    const work = {
      ...v.work,
      reach: (async (service, path, init) => {
        const answered = await reach(service, path, init);
        if (path === '/token') await connect();
        return answered;
      }) as Reach,
    };
    const c = (await marketById(v.work.db, 'pennywharf'))!;
    expect((await (await marketAdapter(work, c)).orders(null)).ok).toBe(true);
    const given = v.outside.market.grants!.at(-1)!;
    expect(await credential()).toMatchObject({ token: given.access });
  });

  test('a refusal, a foreign state and a stolen code each say so', async () => {
    expect(
      await endConsent(v.work, await answer(await startConsent(v.work, service(), HARBOUR), 'refuse')),
    ).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/refused consent/),
    });
    await startConsent(v.work, service(), HARBOUR);
    expect(await endConsent(v.work, new URLSearchParams({ code: 'x', state: 'other' }))).toMatchObject({
      ok: false,
    });
    const state = new URL(await startConsent(v.work, service(), HARBOUR)).searchParams.get('state')!;
    expect(await endConsent(v.work, new URLSearchParams({ code: 'stolen', state }))).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/did not accept/),
    });
  });
});

describe('a supplier by account and key', () => {
  test.each([
    ['a wrong key', {}, 'wrong', /does not know this account or key/],
    ['an outage', { outage: true }, 'lantern-moss-42', /out of service/],
    ['a limit', { tooMany: 1 }, 'lantern-moss-42', /too many requests/],
  ])('%s says so and changes nothing', async (_, fault, key, says) => {
    v.outside.faults.brackwater.set(fault);
    const before = await connectionById(v.work.db, 'brackwater');
    expect(await connectSupplier(v.work, BRACKWATER, ' DD-4471 ', key)).toMatchObject({
      ok: false,
      reason: expect.stringMatching(says),
    });
    expect(await connectionById(v.work.db, 'brackwater')).toEqual(before);
  });

  test('a key that stops working is asked for again, and nothing is asked meanwhile', async () => {
    await v.settle();
    v.outside.warehouse.accounts['DD-4471'] = 'changed';
    await v.settle(16 * 60_000);
    const ill = await healthOf(v.work.db, 'brackwater');
    expect(troubleInWords('supplier', ill, v.work.clock())).toMatch(/Enter account and key again/);
    expect(await connectSupplier(v.work, BRACKWATER, 'DD-4471', 'changed')).toMatchObject({ ok: true });
    await v.settle();
    expect((await healthOf(v.work.db, 'brackwater')).trouble).toBeNull();
  });
});

describe('reading the catalogue', () => {
  test('is stopped, keeps what it read, and goes on from there', async () => {
    await runRound(v.work);
    expect((await v.work.db.stages.get('brackwater'))!.tally.read).toBe(500);
    expect(await skus()).toEqual([]);
    await stopJob(v.work, 'brackwater:catalogue');
    await runRound(v.work);
    expect(await job('brackwater:catalogue')).toMatchObject({
      running: null,
      stop: false,
      lastSays: expect.stringMatching(/Stopped after/),
    });
    const asked: string[] = [];
    const reach = v.work.reach;
    v.work = {
      ...v.work,
      reach: (service, path, init) => {
        asked.push(path);
        return reach(service, path, init);
      },
    };
    await runNow(v.work, 'brackwater:catalogue');
    for (let i = 0; i < 8; i++) await runRound(v.work);
    expect(new Set(await skus()).size).toBe(900);
    expect(asked.filter((p) => p === '/v1/items?limit=500')).toEqual([]);
  });

  test('an interval chosen while it is read holds for the next run', async () => {
    await runRound(v.work);
    expect((await job('brackwater:catalogue')).running).not.toBeNull();
    await setTiming(v.work, { id: 'brackwater:catalogue', subject: 'brackwater' }, { every: 3_600_000 });
    await v.settle();
    const after = await job('brackwater:catalogue');
    expect([after.running, after.every]).toEqual([null, 3_600_000]);
    expect(after.nextAt - v.work.clock()).toBeGreaterThan(3_500_000);
  });

  test('a task runs at its time on its weekdays by the shop’s clocks; paused it rests, asked or not', async () => {
    await v.settle();
    const catalogue = { id: 'brackwater:catalogue', subject: 'brackwater' };
    await setTiming(v.work, catalogue, { timetable: { time: '06:30', days: [1, 2, 3, 4, 5] } });
    const due = (await job(catalogue.id)).nextAt;
    const zone = (await v.work.db.settings.get('shop'))!.zone;
    expect(clockTime(due, zone)).toBe('06:30');
    const { lastAt } = await job(catalogue.id);
    await v.settle(due - v.work.clock() - 60_000);
    expect((await job(catalogue.id)).lastAt).toBe(lastAt);
    await setPaused(v.work, catalogue.id, true);
    await v.settle(120_000);
    await runNow(v.work, catalogue.id);
    await v.settle(1_000);
    expect((await job(catalogue.id)).lastAt).toBe(lastAt);
    await setPaused(v.work, catalogue.id, false);
    await v.settle(1_000);
    const after = await job(catalogue.id);
    expect(after.lastAt).toBeGreaterThan(due);
    expect(clockTime(after.nextAt, zone)).toBe('06:30');
    expect(after.nextAt - due).toBeGreaterThanOrEqual(23 * 3_600_000);
  });

  test('a run asked for while it runs follows it, once', async () => {
    await runRound(v.work);
    const first = await job('brackwater:catalogue');
    expect(first.running).not.toBeNull();
    await runNow(v.work, 'brackwater:catalogue');
    await runNow(v.work, 'brackwater:catalogue');
    const ends: number[] = [];
    for (let i = 0; i < 30; i++) {
      await runRound(v.work);
      const { lastAt } = await job('brackwater:catalogue');
      if (lastAt !== null && !ends.includes(lastAt)) ends.push(lastAt);
      v.tick(1000);
    }
    expect(ends).toHaveLength(2);
    const after = await job('brackwater:catalogue');
    expect([after.running, after.askedFor]).toEqual([null, undefined]);
    expect(after.nextAt).toBeGreaterThan(v.work.clock());
  });

  test('an unchanged catalogue is not written again; a moved item writes one small piece and its history', async () => {
    await v.settle();
    const pieces = await v.work.db.pieces.toArray();
    await v.settle(16 * 60_000);
    expect(await v.work.db.pieces.toArray()).toEqual(pieces);
    const before = (await itemsIn(v.work.db)).get('BW-010306')!;
    move(v.outside.warehouse, 'BW-010306', { cost: 4321 });
    await v.settle(16 * 60_000);
    const after = await v.work.db.pieces.toArray();
    expect(after.slice(0, -1)).toEqual(pieces);
    expect(after.at(-1)!.piece).toMatchObject({ n: 1, keepsCold: true });
    expect((await itemsIn(v.work.db)).get('BW-010306')!.cost).toBe(4321);
    expect((await historyOf(v.work.db, 'brackwater', 'BW-010306')).map((p) => p.cost)).toEqual([
      before.cost,
      4321,
    ]);
    expect(await job('brackwater:catalogue')).toMatchObject({
      lastSays: expect.stringMatching(/cost (up|down) 1;/),
    });
  });

  test('many small refreshes are laid out anew and hold the same', async () => {
    await v.end();
    v = await setOut({ items: 60 });
    await v.settle();
    const items = [...itemsOf(v.outside.warehouse).values()];
    for (let k = 0; k < 84; k++) {
      move(v.outside.warehouse, items[k % 60]!.sku, { stock: 1000 + k });
      await v.settle(16 * 60_000);
    }
    const note = (await catalogueNote(v.work.db, 'brackwater'))!;
    expect(note).toMatchObject({ generation: 2, items: 60 });
    expect(await v.work.db.pieces.count()).toBe(note.pieces);
    const stored = await itemsIn(v.work.db);
    for (const item of items)
      expect(stored.get(item.sku)).toMatchObject({ stock: item.stock, cost: item.cost, title: item.title });
    const catalogue = await readCatalogue(v.work.db, 'brackwater', note.generation, note.pieces, note.items);
    const row = catalogue.rowOf(items[5]!.sku);
    const details = await readDetails(v.work.db, 'brackwater', note.generation, catalogue, [row]);
    expect(details.get(items[5]!.sku)!.pictures).toEqual(items[5]!.pictures);
  }, 60_000);

  test('an item that the supplier dropped leaves the catalogue, and its listing is paused and says why', async () => {
    await v.settle();
    await v.stockUp(6);
    const listing = (await v.work.db.listings.filter((l) => l.state === 'live').first())!;
    const sku = await itemOf(v.work, listing);
    itemsOf(v.outside.warehouse).delete(sku);
    await v.settle(16 * 60_000);
    expect(await skus()).not.toContain(sku);
    expect(v.outside.market.listings[listing.sku]).toMatchObject({ state: 'paused', quantity: 0 });
    expect(lastInWords((await v.work.db.listings.get(listing.id))!, (id) => id)!.says).toMatch(
      /shows|No longer offered/,
    );
  });

  test('pages that go round in a circle are given up with a reason', async () => {
    const reach = v.work.reach;
    v.work = {
      ...v.work,
      reach: async (service, path, init) => {
        const answer = await reach(service, path, init);
        if (!path.startsWith('/v1/items')) return answer;
        const page = await answer.json();
        return new Response(JSON.stringify({ ...page, next: 'BW-010001' }), { headers: answer.headers });
      },
    };
    for (let i = 0; i < 12; i++) await runRound(v.work);
    const told = await healthOf(v.work.db, 'brackwater');
    expect(told.trouble).toMatchObject({ kind: 'nonsense', says: expect.stringMatching(/circle/) });
    // The service heals: what was read of the circle is not gone on with.
    v.work = { ...v.work, reach };
    await v.settle(10 * 60_000);
    expect((await skus()).length).toBe(900);
    expect(await healthOf(v.work.db, 'brackwater')).toMatchObject({ trouble: null, failures: 0 });
  });

  test('a reading that loses its memory between two stores goes the same way again, and it is no circle', async () => {
    await v.end();
    v = await setOut({ items: 3_000 });
    await v.settle();
    const asked = new Set<string>();
    const { reach } = v.work;
    v.work = {
      ...v.work,
      reach: async (service, path, init) => {
        if (path.startsWith('/v1/items')) asked.add(path);
        return reach(service, path, init);
      },
    };
    await runNow(v.work, 'brackwater:catalogue');
    for (let i = 0; i < 40; i++) {
      await runRound(v.work);
      // As when its tab is closed.
      if (i === 3 || i === 8) forget(v.work, 'brackwater');
    }
    expect(asked.size).toBe(6);
    expect(await job('brackwater:catalogue')).toMatchObject({ lastOk: true, running: null, progress: null });
    expect((await healthOf(v.work.db, 'brackwater')).trouble).toBeNull();
  });
});

test('a connection keeps the name that it was given when it is connected again; two of a kind never share one', async () => {
  const called = async (id: string) => (await connectionById(v.work.db, id))!.name;
  const before = await called('brackwater');
  expect(await renameConnection(v.work, 'brackwater', '  Brackwater,\u200b Leeds ')).toEqual({
    ok: true,
    name: 'Brackwater, Leeds',
  });
  expect(await renameConnection(v.work, 'brackwater', ' ')).toMatchObject({ ok: false });
  await connectSupplier(v.work, BRACKWATER, 'DD-4471', 'lantern-moss-42');
  expect(await called('brackwater')).toBe('Brackwater, Leeds');
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect(await called('brackwater')).toBe(before);
  const other = { ...(await connectionById(v.work.db, 'brackwater'))!, id: 'quillmere', name: 'Quillmere' };
  await v.work.db.connections.add(other);
  expect(await renameConnection(v.work, 'quillmere', before.toUpperCase())).toMatchObject({ ok: false });
});

test('what a history tells of an order goes by today’s names, however they were called then', async () => {
  await v.settle();
  await v.stockUp(3);
  sell(v.outside.market, chance(4), v.work.clock(), { quantity: 1 });
  await v.settle(61_000);
  const [order] = await v.work.db.orders.toArray();
  const told = async () => (await editsOf(v.work, [`order:${order!.id}`])).map((e) => e.says).join(' ');
  const before = await told();
  expect(before).toMatch(/^.*Brackwater Trade accepted it as BT-/);
  expect(before).toMatch(/Came in from Pennywharf UK\. All checks passed; goes to Brackwater Trade\./);
  await renameConnection(v.work, 'brackwater', 'Leeds');
  expect(await told()).toBe(before.replaceAll('Brackwater Trade', 'Leeds'));
});

test('a paused connection is left alone and goes on where it was; disconnecting keeps listings and history', async () => {
  await v.settle();
  await v.stockUp(5);
  await v.work.db.connections.update('brackwater', { paused: true });
  const last = (await job('brackwater:catalogue')).lastAt;
  await v.settle(3_600_000);
  expect((await job('brackwater:catalogue')).lastAt).toBe(last);
  await v.work.db.connections.update('brackwater', { paused: false });
  await setTiming(v.work, { id: 'brackwater:catalogue', subject: 'brackwater' }, { every: 60_000 });
  await v.settle(61_000);
  expect((await job('brackwater:catalogue')).lastAt).toBeGreaterThan(last!);
  const edits = await v.work.db.edits.count();
  await disconnect(v.work, 'brackwater');
  await v.settle(3_600_000);
  expect(await v.work.db.pieces.count()).toBe(0);
  expect(await v.work.db.listings.count()).toBeGreaterThan(0);
  expect(await v.work.db.edits.count()).toBeGreaterThanOrEqual(edits);
});
