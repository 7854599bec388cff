import { type Job, marketById, type OutboxRow } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import type { Work } from '@/work/context/work';
import { runRound } from '@/work/jobs/runner';
import { approve } from '@/work/listings/approve';
import { setOwnPrice } from '@/work/listings/prices';
import { publish, stopPublishing } from '@/work/listings/publish';
import { forwardOrder } from '@/work/orders/actions';
import { readCourse } from '@/work/overview/course';
import { jobId, newJob } from '@/work/schedule/job';
import { sendListings } from '@/work/sending/send';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
/** Requests to the marketplace that publish, as method and number of listings. */
let asked: string[];

beforeEach(async () => {
  v = await setOut({ items: 240 });
  await v.settle();
  asked = [];
  const source = new SourceSearcher(v.work);
  await source.take({ query: 'stock:>10 has:picture has:barcode' }, 'pennywharf');
  await approve(v.work, await ids());
});
afterEach(() => v.end());

const ids = async () => (await v.work.db.listings.toCollection().primaryKeys()) as string[];
const inState = (state: string) => v.work.db.listings.filter((l) => l.state === state).toArray();

/** What is on sale, or would be with stock. */
const sold = async () => [...(await inState('live')), ...(await inState('paused'))];

/** Sees requests that publish, and answers some of them in the service's place. */
function between(answer: (body: string, method: string) => Response | null = () => null) {
  const { reach } = v.work;
  v.work = {
    ...v.work,
    reach: async (service, path, init) => {
      const body = String(init?.body ?? '');
      const method = init?.method ?? 'GET';
      if (/^\/v1\/listings/.test(path) && method !== 'GET') {
        const many = method === 'POST' ? (JSON.parse(body) as { listings: unknown[] }).listings.length : 1;
        asked.push(`${method} ${many}`);
        const own = answer(body, method);
        if (own) return own;
      }
      return reach(service, path, init);
    },
  };
}

test('listings leave in batches, each once, and every answer stands in its row', async () => {
  between();
  const { queued } = await publish(v.work, await ids());
  expect(queued).toBeGreaterThan(50);
  await v.settle();
  const live = await sold();
  expect(live).toHaveLength(queued);
  // Several are on their way at once: they arrive in any order.
  expect(asked.sort()).toEqual([`POST ${queued % 50}`, ...Array(Math.floor(queued / 50)).fill('POST 50')]);
  for (const l of live)
    expect(v.outside.market.listings[l.sku]).toMatchObject({ revision: 1, quantity: l.published!.quantity });
  expect(await v.work.db.outbox.filter((r) => r.state === 'waiting').count()).toBe(0);
  expect(await v.work.db.documents.count()).toBe(queued);
});

test('what is told is the newest: a price that changed while it waited, not the one it was queued with', async () => {
  const [first] = await inState('bench');
  await publish(v.work, await ids());
  await setOwnPrice(v.work, first!.id, 123_45);
  await v.settle();
  expect(v.outside.market.listings[first!.sku]).toMatchObject({ price: '123.45' });
  expect((await v.work.db.listings.get(first!.id))!.published!.price).toBe(123_45);
});

test('a listing at which every request fails keeps no other from being published', async () => {
  const [odd] = await inState('bench');
  between((body) => (body.includes(`"${odd!.sku}"`) ? new Response('<h1>oops</h1>', { status: 200 }) : null));
  const { queued } = await publish(v.work, await ids());
  for (let k = 0; k < 30 && (await sold()).length < queued - 1; k++) await v.settle(30_000);
  expect((await sold()).length).toBe(queued - 1);
  expect(await inState('publishing')).toMatchObject([{ id: odd!.id }]);
  // It was tried alone, and never with others again.
  expect(asked.filter((a) => a === 'PUT 1').length).toBeGreaterThan(queued % 50 ? 1 : 0);
});

test('what is called back between two batches is not sent', async () => {
  let stopped: Promise<number> | null = null;
  between(() => {
    stopped ??= stopPublishing(v.work);
    return null;
  });
  await publish(v.work, await ids());
  await runRound(v.work);
  await stopped;
  await v.settle();
  const live = (await sold()).length;
  expect(live).toBe(Object.keys(v.outside.market.listings).length);
  expect(asked.length).toBeLessThanOrEqual(4);
  expect(await v.work.db.outbox.filter((r) => r.state === 'waiting').count()).toBe(0);
  expect((await inState('publishing')).length).toBe(0);
});

test.each([1, 2, 4])(
  'a site that takes %i requests at once is never sent more, whatever waits for it',
  async (inFlight) => {
    const { jobs } = v.work.db;
    const _market = (await marketById(v.work.db, 'pennywharf'))!;
    const limits = { inFlight, listingsAtOnce: 10 };
    await v.work.db.stated.update('pennywharf', { limits } as object);
    await publish(v.work, await ids());
    const { reach } = v.work;
    let now = 0;
    let most = 0;
    const work: Work = {
      ...v.work,
      reach: async (service, path, init) => {
        if (service !== 'pennywharf') return reach(service, path, init);
        most = Math.max(most, ++now);
        try {
          // Long enough that all which leave side by side are on their way together.
          await new Promise((waited) => setTimeout(waited, 200));
          return await reach(service, path, init);
        } finally {
          now--;
        }
      },
    };
    for (let round = 0; round < 6; round++) {
      await jobs.update(jobId('pennywharf', 'orders'), { nextAt: 0 });
      await runRound(work);
    }
    expect(await sold()).not.toHaveLength(0);
    expect(most).toBe(inFlight);
  },
);

test('while more orders than one page come in, listings wait; trouble or time ends that', async () => {
  const { jobs } = v.work.db;
  const orders = jobId('pennywharf', 'orders');
  await publish(v.work, await ids());
  const told = async (job: Partial<Job>) => {
    await jobs.update(orders, job);
    const market = (await marketById(v.work.db, 'pennywharf'))!;
    return (await sendListings(v.work, market)).sent;
  };
  const startedAt = v.work.clock();
  const nextAt = startedAt;
  const coming = { startedAt, done: 50, total: 0 };
  expect(await told({ running: coming, nextAt })).toBe(0);
  // One page, as each minute brings it.
  expect(await told({ running: { ...coming, done: 0 }, nextAt })).toBeGreaterThan(0);

  for (const freed of [
    { running: coming, nextAt: nextAt + 60_000 },
    { running: { ...coming, startedAt: startedAt - 600_000 }, nextAt },
  ]) {
    const listing = (await sold())[0]!;
    await setOwnPrice(v.work, listing.id, listing.published!.price + 700);
    expect(await told({ running: coming, nextAt })).toBe(0);
    expect(await told(freed)).toBeGreaterThan(0);
  }
});

test('limits of a site hold as they are said, and are no change that the seller is asked about', async () => {
  const { jobs } = v.work.db;
  const before = (await marketById(v.work.db, 'pennywharf'))!;
  await v.work.db.stated.update('pennywharf', { limits: { inFlight: 1, listingsAtOnce: 1 } } as object);
  await jobs.put(newJob('pennywharf', 'site', v.work.clock()));
  await v.settle();
  expect(await marketById(v.work.db, 'pennywharf')).toMatchObject({ site: before.site, siteNow: null });
  expect(before.site.limits).toEqual({ inFlight: 4, listingsAtOnce: 50 });
});

test('orders that are read again after trouble are as new as their last page', async () => {
  const { jobs } = v.work.db;
  const orders = jobId('pennywharf', 'orders');
  const at = v.work.clock();
  // An interrupted job stays running, from the time at which it began.
  await jobs.update(orders, { running: { startedAt: at - 3_600_000, done: 0, total: 0 }, nextAt: 0 });
  await runRound(v.work);
  expect(await jobs.get(orders)).toMatchObject({ running: null, progress: null, lastOk: true });
  expect((await jobs.get(orders))!.lastAt).toBeGreaterThanOrEqual(at);
});

test('a message that something here fails at steps aside for ever longer, a person is told, and the others go on', async () => {
  const all = await ids();
  await publish(v.work, all);
  await v.settle();
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  const [first, second] = [sellOne(1), sellOne(2)].map((o) => `pennywharf:${o.number}`);
  await v.settle(61_000);
  for (const id of [first!, second!]) await forwardOrder(v.work, id);
  const row = (await v.work.db.outbox.where('order').equals(first!).first())! as OutboxRow<'buy'>;
  const spoilt = { ...row, body: { ...row.body, lines: null } } as unknown as OutboxRow;
  await v.work.db.outbox.put(spoilt);
  const told = jest.spyOn(console, 'error').mockImplementation(() => {});
  await v.settle();
  expect(v.outside.warehouse.purchases.map((p) => p.reference)).toEqual([second]);
  for (let k = 0; k < 60; k++) await v.settle(1000);
  expect(told.mock.calls.length).toBeLessThan(8);
  told.mockRestore();
  const stuck = (await readCourse(v.work)).needs.find((need) => need.id.startsWith('stuck:'));
  expect(stuck).toMatchObject({ why: expect.stringMatching(/lines.*It was tried 4 times/) });
  await v.work.db.outbox.put({ ...(await v.work.db.outbox.get(row.id))!, body: row.body } as OutboxRow);
  await v.settle(600_000);
  expect(v.outside.warehouse.purchases).toHaveLength(2);
  expect((await readCourse(v.work)).needs.filter((need) => need.id.startsWith('stuck:'))).toEqual([]);
});

const sellOne = (seed: number) => {
  const live = Object.values(v.outside.market.listings).filter((l) => l.state === 'live');
  return sell(v.outside.market, chance(seed), v.work.clock(), { sku: live[seed]!.sku, quantity: 1 })!;
};
