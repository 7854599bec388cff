import 'fake-indexeddb/auto';
import { faultRun } from '../tests/fault-run';

/** As many as one shop of a run takes: what is open is looked through at each round. */
const AT_ONCE = 200;

/**
 * The long run through faults: orders over two suppliers and two marketplaces, with cancellations from all sides,
 * kills and copies put back, seed after seed. Prints each run; tells at the end what went wrong.
 * @returns whether nothing did
 */
export async function faults(orders: number): Promise<boolean> {
  const wrongs: string[] = [];
  const sums: Record<string, number> = {};
  const add = (name: string, n: number) => {
    sums[name] = (sums[name] ?? 0) + n;
  };
  for (let seed = 100, made = 0; made < orders; seed++) {
    const begun = Date.now();
    const share = seed % 3;
    const run = await faultRun({
      seed,
      orders: Math.min(AT_ONCE, orders - made),
      cancels: [0, 0.03, 0.05][share]!,
      restores: [0, 0.005, 0.02][share]!,
      rules: seed % 2 > 0,
    });
    made += run.orders;
    for (const name of [
      'orders',
      'units',
      'twins',
      'split',
      'partly',
      'faults',
      'kills',
      'restored',
      'purchases',
      'shared',
      'parcels',
      'kept',
      'requests',
      'waited',
      'messages',
    ] as const)
      add(name, run[name]);
    for (const [who, n] of Object.entries(run.cancelled)) add(`cancelled by ${who}`, n);
    wrongs.push(...run.wrongs.map((w) => `seed ${seed}: ${w}`));
    console.log(`seed ${seed}: ${run.orders} orders, ${run.wrongs.length} wrong, ${Date.now() - begun} ms`);
  }
  console.table(sums);
  for (const wrong of wrongs) console.error(wrong);
  console.log(wrongs.length ? `${wrongs.length} wrong` : 'Nothing was bought twice, lost, or told twice.');
  return wrongs.length === 0;
}
