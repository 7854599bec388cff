import { type Remote, wrap } from 'comlink';
import type { BenchApi } from './page.worker';

/** The page of the benchmark: one worker, reached from the driver through `window.bench`. */
declare global {
  interface Window {
    bench: Remote<BenchApi>;
    memory: () => Promise<number>;
    sqlite: (n: number) => Promise<number>;
  }
}

window.bench = wrap<BenchApi>(new Worker('/page.worker.js', { type: 'module' }));
/**
 * SQLite has a worker of its own: what it leaves in memory, and what it pushes out of it, is not the others'
 * cost.
 */
window.sqlite = async (n) => {
  const worker = new Worker('/page.worker.js', { type: 'module' });
  const own = wrap<BenchApi>(worker);
  await own.papaparse(n);
  const took = await own.sqlite(n);
  worker.terminate();
  return took;
};
window.memory = async () => {
  const measure = (
    performance as unknown as { measureUserAgentSpecificMemory?: () => Promise<{ bytes: number }> }
  ).measureUserAgentSpecificMemory;
  return measure ? (await measure.call(performance)).bytes : 0;
};
