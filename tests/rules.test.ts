import { siteChangesInWords } from '@/core/checks';
import { RATE_ONE } from '@/core/money';
import { marketById, SCHEMA } from '@/store';
import { acceptSite, optIn } from '@/work/connections/connections';
import { disconnect } from '@/work/connections/disconnect';
import { undo } from '@/work/listings/undo';
import { lastUndoable } from '@/work/memory/history';
import { rateAsks, readRatesFile, saveRate, saveRates } from '@/work/pricing/rates';
import { saveSettings } from '@/work/pricing/settings';
import { whatIfTerms } from '@/work/pricing/what-if';
import { newJob } from '@/work/schedule/job';
import { runNow } from '@/work/schedule/schedule';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut();
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const market = async () => (await marketById(v.work.db, 'pennywharf'))!;
const shown = () => Object.values(v.outside.market.listings).map((l) => l.price);
const total = () => shown().reduce((sum, p) => sum + Number(p), 0);
const takeBack = async () => {
  expect(await undo(v.work, (await lastUndoable(v.work.db))!.id)).toMatchObject({ ok: true });
  await v.settle();
};

test('fees that rise wait until they are looked at; then prices follow, as was foreseen, and undo brings both back', async () => {
  await v.work.db.jobs.put(newJob('pennywharf', 'site', v.work.clock() + 1));
  const before = shown();
  v.outside.market.feeRise = 3;
  await runNow(v.work, 'pennywharf:site');
  await v.settle(1_000);
  const c = await market();
  expect(shown()).toEqual(before);
  expect(siteChangesInWords(c.site, c.siteNow!).join()).toMatch(/\(it was /);
  const ahead = await whatIfTerms(v.work, {
    connection: { id: 'pennywharf', terms: { site: c.siteNow!, optedIn: [] } },
  });
  expect(ahead.listings).toBe(8);
  expect(ahead.rise).toBeGreaterThan(0);
  expect(await acceptSite(v.work, 'pennywharf', (await market()).newest)).toBe(ahead.rise);
  await v.settle();
  const foreseen = new Map(ahead.prospects.map((p) => [p.sku, p.to]));
  for (const l of Object.values(v.outside.market.listings))
    expect(Math.round(Number(l.price) * 100)).toBe(foreseen.get(l.sku));
  await takeBack();
  expect(shown()).toEqual(before);
  expect((await market()).siteNow).not.toBeNull();
});

test('an optional fee counts only where the seller has opted in', async () => {
  const before = total();
  expect(await optIn(v.work, 'pennywharf', 'advertising', true)).toBeGreaterThan(0);
  await v.settle();
  expect(total()).toBeGreaterThan(before);
  await takeBack();
  expect(total()).toBe(before);
});

test('a rates file: good rows go on record, the others say why, and the same file again changes nothing', async () => {
  const text =
    '\uFEFFCurrency;Day;Rate\nUSD;2026-11-01;0.79\nGBP;2026-11-01;1\nEUR;1 Nov;0.85\nEUR;2026-11-01;-1\nEUR;2026-02-31;0.85\n';
  const read = await readRatesFile(v.work, text);
  expect(read).toMatchObject({ ok: true, rates: [{ currency: 'USD' }], asks: null });
  expect(await v.work.db.rates.count()).toBe(0);
  expect(read.ok && read.refused.map((r) => r.line)).toEqual([3, 4, 5, 6]);
  for (const _ of 'twice') {
    const again = await readRatesFile(v.work, text);
    if (again.ok) await saveRates(v.work, again.rates);
  }
  expect(await v.work.db.rates.toArray()).toMatchObject([
    { currency: 'USD', day: '2026-11-01', value: 0.79 * RATE_ONE, origin: 'file' },
  ]);
  expect(await readRatesFile(v.work, 'currency,rate\nUSD,1')).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/lacks day/),
  });
});

test('a rate that leaps is asked about with both figures, be it typed or in a file; a small move is not', async () => {
  const on = (day: string, value: number) =>
    ({ currency: 'USD', books: 'GBP', day, value: Math.round(value * RATE_ONE), origin: 'typed' }) as const;
  const known = [on('2026-11-01', 0.8582)];
  expect(rateAsks(on('2026-11-02', 0.87), known)).toBeNull();
  expect(rateAsks(on('2026-11-02', 8.582), known)).toBe(
    '1 USD = 8.582 is 10 times as much as 0.8582 of 1 Nov.',
  );
  expect(rateAsks(on('2026-11-02', 0.7), known)).toMatch(/18 % less than 0.8582/);
  const read = await readRatesFile(v.work, 'currency,day,rate\nUSD,2026-11-01,0.8582\nUSD,2026-11-02,8.59\n');
  expect(read).toMatchObject({
    ok: true,
    asks: expect.stringContaining('8.59 is 10 times as much as 0.8582 of 1 Nov'),
  });
});

test('a rate of the same day replaces it, and undo brings the former one back', async () => {
  const rate = { currency: 'USD', day: '2026-11-01', origin: 'typed' } as const;
  await saveRate(v.work, { ...rate, value: 0.79 * RATE_ONE });
  await saveRate(v.work, { ...rate, value: 0.81 * RATE_ONE });
  expect((await v.work.db.rates.toArray()).map((r) => r.value)).toEqual([0.81 * RATE_ONE]);
  await takeBack();
  expect((await v.work.db.rates.toArray()).map((r) => r.value)).toEqual([0.79 * RATE_ONE]);
});

test('settings that cannot hold are refused with why', async () => {
  const save = (set: Parameters<typeof saveSettings>[1]) => saveSettings(v.work, set, 'Settings');
  expect(await save({ zone: 'Mars/Olympus' })).toMatchObject({ ok: false });
  expect(await save({ sku: 'always-the-same' })).toMatchObject({ ok: false });
  expect(await save({ currency: 'pounds' })).toMatchObject({ ok: false });
  expect(await save({ sku: 'AB-{number}' })).toEqual({ ok: true });
});

test('disconnecting withdraws what did not leave, so that nothing of it is carried out later', async () => {
  v.outside.faults.pennywharf.set({ outage: true });
  await optIn(v.work, 'pennywharf', 'advertising', true);
  await v.settle();
  await disconnect(v.work, 'pennywharf');
  const open = await v.work.db.outbox
    .filter((r) => r.connection === 'pennywharf' && r.state === 'waiting')
    .count();
  expect(open).toBe(0);
  expect(await v.work.db.outbox.filter((r) => r.state === 'withdrawn').count()).toBeGreaterThan(0);
});

test('what the database is made of changes its number: a shop of another make would be read wrongly', () => {
  const made = v.work.db.tables.map((t) => [
    t.name,
    t.schema.primKey.src,
    ...t.schema.indexes.map((i) => i.src),
  ]);
  expect({ SCHEMA, made }).toMatchSnapshot();
});
