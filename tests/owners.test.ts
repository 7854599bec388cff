import type { FeeRule } from '@/core/pricing';
import { marketById } from '@/store';
import { endConsent, type Service, startConsent } from '@/work/connections/connections';
import { type FileMarket, keepFileMarket, saidOf } from '@/work/connections/market-files';
import { saveFees } from '@/work/connections/terms';
import type { MarketConnection } from '@/work/model';
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
