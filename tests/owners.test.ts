import { type FeeRule, NO_COST_RULES } from '@/core/pricing';
import { connectionById, marketById } from '@/store';
import { noteSite, saveBuyers, saveFees, saveSupplierCosts } from '@/work/connections/connection-terms';
import { acceptSite, renameConnection, type Service } from '@/work/connections/connections';
import { endConsent, startConsent } from '@/work/connections/consents';
import { type FileMarket, keepFileMarket, saidOf } from '@/work/connections/market-files';
import type { Work } from '@/work/context/work';
import { applyCells } from '@/work/editing/bulk-edit';
import { runRound } from '@/work/jobs/runner';
import { caughtUp } from '@/work/memory/assortment';
import type { MarketConnection } from '@/work/model';
import { titleOf } from '@/work/quoting/copy';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
});
afterEach(() => v.end());

const market = async (id = 'pennywharf') => (await marketById(v.work.db, id))!;
const own = (site: MarketConnection['site']): FeeRule[] => [
  ...site.fees.rules.map((r) => ({ ...r, fixed: r.fixed + 7 })),
];

test('fees that are saved while a marketplace is asked for its rules stay, and its new rules wait to be looked at', async () => {
  const before = await market();
  v.outside.markets.pennywharf.feeRise = 2;
  const reach = v.work.reach;
  let saved = 0;
  v.work = {
    ...v.work,
    reach: async (service, path, init) => {
      const answer = await reach(service, path, init);
      if (path === '/v1/site') {
        await saveFees(v.work, 'pennywharf', own(before.site));
        saved++;
      }
      return answer;
    },
  };
  await v.work.db.jobs.update('pennywharf:site', { nextAt: 0 });
  if (!(await v.work.db.jobs.get('pennywharf:site')))
    await v.work.db.jobs.put({
      ...(await v.work.db.jobs.get('pennywharf:orders'))!,
      id: 'pennywharf:site',
      task: 'site',
    });
  await v.settle(61_000);
  expect(saved).toBeGreaterThan(0);
  const now = await market();
  expect(now.site.fees.rules).toEqual(own(before.site));
  expect(now.theirFees!.rules).not.toEqual(before.site.fees.rules);
});

test('rules that a marketplace states after the seller looked are not agreed to with those he looked at', async () => {
  const { stated } = v.work.db;
  const state = async (rise: number) => {
    const { site } = await market();
    const rules = site.fees.rules.map((r) => ({ ...r, fixed: r.fixed + rise }));
    await noteSite(v.work, 'pennywharf', { ...site, fees: { ...site.fees, rules } });
  };
  const before = (await market()).site.fees.rules;
  await state(7);
  const looked = await market();
  await state(500);
  await acceptSite(v.work, 'pennywharf', looked.newest);
  const now = await market();
  expect(now.site.fees).toEqual(looked.siteNow!.fees);
  expect(now.site.fees.rules[0]!.fixed).toBe(before[0]!.fixed + 7);
  expect(now.siteNow!.fees.rules[0]!.fixed).toBe(before[0]!.fixed + 500);
  expect(await stated.get('pennywharf')).toMatchObject({
    versions: [{ version: 1 }, { version: 2 }, { version: 3 }],
  });
});

test('consent given again keeps the seller’s own fees, and takes over no rule that nobody has looked at', async () => {
  const before = await market();
  const token = await v.work.db.credentials.get('pennywharf');
  await saveFees(v.work, 'pennywharf', own(before.site));
  v.outside.markets.pennywharf.feeRise = 2;
  const harbour = 'http://127.0.0.1:4800/connections/consent';
  const service: Service = {
    ...{ id: 'pennywharf', role: 'marketplace', name: 'Pennywharf UK', about: '' },
    consent: `${v.outside.origins.pennywharf}/consent`,
  };
  const asked = new URL(await startConsent(v.work, service, harbour)).searchParams;
  const back = await fetch(`${v.outside.origins.pennywharf}/consent`, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams({
      ...{ redirect_uri: asked.get('redirect_uri')!, state: asked.get('state')! },
      ...{ code_challenge: asked.get('code_challenge')!, answer: 'allow' },
    }),
  });
  const { searchParams } = new URL(back.headers.get('location')!);
  expect(await endConsent(v.work, searchParams)).toEqual({ ok: true, name: 'Pennywharf UK' });
  const now = await market();
  expect(now.site.fees.rules).toEqual(own(before.site));
  expect(await v.work.db.credentials.get('pennywharf')).not.toEqual(token);
  // What is asked anew is there to go back to, and to be looked at.
  await saveFees(v.work, 'pennywharf', null);
  expect((await market()).site.fees.rules).not.toEqual(own(before.site));
});

test('a shop without a service that is renamed keeps its other fees, and what its form does not show of the first', async () => {
  const said: FileMarket = {
    ...{ name: 'Dipper’s stall', currency: 'GBP', tax: { model: 'inside', rate: 200_000 } },
    ...{ share: 30_000, fixed: 20, shipsTo: ['GB'] },
  };
  const made = await keepFileMarket(v.work, said);
  const id = (made as { id: string }).id;
  const [first] = (await market(id)).site.fees.rules;
  const rules: FeeRule[] = [
    { ...first!, least: 50 },
    { ...first!, id: 'advert', name: 'Advert', kind: 'advertising', fixed: 15, bands: {} },
  ];
  await saveFees(v.work, id, rules);
  await keepFileMarket(v.work, { ...saidOf(await market(id)), name: 'Dipper’s corner' }, id);
  expect((await market(id)).name).toBe('Dipper’s corner');
  expect((await market(id)).site.fees.rules).toEqual(rules);
  await keepFileMarket(v.work, { ...saidOf(await market(id)), fixed: 30 }, id);
  expect((await market(id)).site.fees.rules.map((r) => [r.id, r.fixed, r.least])).toEqual([
    ['fee', 30, null],
    ['advert', 15, null],
  ]);
});

test('what a person sets while any request is answered holds, whatever the answer writes', async () => {
  await v.stockUp(4);
  const listings = await v.work.db.listings.toArray();
  const set = { n: 0, round: 0 };
  const { reach } = v.work;
  const paths = new Set<string>();
  v.work = {
    ...v.work,
    reach: async (service, path, init) => {
      const answer = await reach(service, path, init);
      paths.add(`${init?.method ?? 'GET'} ${path.replace(/[^/a-z0-9].*$/i, '').replace(/\/[A-Z].*$/, '')}`);
      // What is set has to be told, which is answered again.
      if (set.n >= 25 + 10 * set.round) return answer;
      const n = ++set.n;
      await renameConnection(v.work, 'brackwater', `Brackwater ${n}`);
      await saveBuyers(v.work, 'pennywharf', [
        { country: 'GB', share: 1_000_000 - n },
        { country: 'IE', share: n },
      ]);
      await saveSupplierCosts(v.work, 'brackwater', {
        ...NO_COST_RULES,
        handling: { order: n, item: 0 },
      });
      await applyCells(
        v.work,
        [{ listing: listings[0]!.id, field: 'title', text: `Torch number ${n}` }],
        'Title',
      );
      return answer;
    },
  };
  for (let k = 0; k < 3; k++) sell(v.outside.market, chance(60 + k), v.work.clock(), { quantity: 1 });
  await v.work.db.jobs.put({
    ...(await v.work.db.jobs.get('pennywharf:orders'))!,
    id: 'pennywharf:site',
    task: 'site',
    nextAt: 0,
  });
  for (const p of await v.settle(61_000).then(() => v.outside.warehouse.purchases))
    advance(v.outside.warehouse, p.number, v.work.clock(), 1000);
  set.round = 1;
  await v.settle(16 * 60_000);
  expect([...paths].length).toBeGreaterThan(6);
  const { n } = set;
  expect(await connectionById(v.work.db, 'brackwater')).toMatchObject({ name: `Brackwater ${n}` });
  expect(await connectionById(v.work.db, 'brackwater')).toMatchObject({ costs: { handling: { order: n } } });
  expect((await market()).buyers![1]!.share).toBe(n);
  const full = (await caughtUp(v.work)).get(listings[0]!.id)!;
  expect(titleOf(full)).toBe(`Torch number ${n}`);
  for (const o of await v.work.db.orders.toArray()) expect(o.purchases).toHaveLength(1);
  expect(v.outside.warehouse.purchases).toHaveLength(3);
});

test('two runners on one database buy and tell everything once', async () => {
  await v.stockUp(4);
  for (let k = 0; k < 5; k++) sell(v.outside.market, chance(70 + k), v.work.clock(), { quantity: 1 });
  const other: Work = { ...v.work };
  const both = async (ms: number) => {
    v.tick(ms);
    for (let k = 0; k < 60; k++) await Promise.all([runRound(v.work), runRound(other)]);
  };
  await both(61_000);
  expect(v.outside.warehouse.purchases).toHaveLength(5);
  for (const p of v.outside.warehouse.purchases) advance(v.outside.warehouse, p.number, v.work.clock(), 1000);
  await both(16 * 60_000);
  const orders = await v.work.db.orders.toArray();
  expect(orders.map((o) => o.purchases.length)).toEqual([1, 1, 1, 1, 1]);
  for (const o of v.outside.market.orders) expect(o.dispatches).toHaveLength(1);
  const ledgers = await v.work.db.ledger.toArray();
  for (const { entries } of ledgers) {
    const kinds = entries.filter((e) => e.from === 'brackwater').map((e) => `${e.kind} ${e.amount}`);
    expect(new Set(kinds).size).toBe(kinds.length);
  }
});
