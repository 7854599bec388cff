import { type FaultRun, faultRun } from './fault-run';

const RUNS = [
  { seed: 21, cancels: 0, restores: 0 },
  { seed: 23, cancels: 0.03, restores: 0.02, rules: true },
  { seed: 130, cancels: 0.05, restores: 0.03 },
];

const runs: FaultRun[] = [];

test.each(RUNS)(
  'every line is bought once and each parcel’s tracking returned once, or nothing stays bought for it unseen, whatever fails (%j)',
  async (options) => {
    const run = await faultRun({ ...options, orders: 60 });
    runs.push(run);
    const { wrongs, ...figures } = run;
    console.info(`exactly once, seed ${options.seed}: ${JSON.stringify(figures)}`);
    expect(wrongs).toEqual([]);
    expect(run.orders).toBe(60);
    expect(run.faults).toBeGreaterThan(100);
    expect(run.kills).toBeGreaterThan(20);
  },
  300_000,
);

test('the runs together met every case: what a run meets of them, real answers over the network decide, too', () => {
  const sum = (of: (run: FaultRun) => number) => runs.reduce((n, run) => n + of(run), 0);
  const met = {
    'two lines of one SKU': sum((r) => r.twins) > 6,
    'purchases of several suppliers': sum((r) => r.shared) > 6,
    'lines bought from two suppliers': sum((r) => r.split) > 0,
    'a part of a purchase cancelled': sum((r) => r.partly) > 1,
    'cancelled by each side': (['buyer', 'seller', 'supplier'] as const).every(
      (side) => sum((r) => r.cancelled[side]) > 3,
    ),
    'a copy put back': sum((r) => r.restored) > 1,
    'requests, waits and messages': [
      (r: FaultRun) => r.requests,
      (r: FaultRun) => r.waited,
      (r: FaultRun) => r.messages,
    ].every((of) => sum(of) > 5),
  };
  expect(Object.entries(met).flatMap(([what, is]) => (is ? [] : what))).toEqual([]);
});
