import { type Remote, wrap } from 'comlink';
import type { BenchApi } from './page.worker';

/** The page of the benchmark: one worker, reached from the driver through `window.bench`. */
declare global {
  interface Window {
    bench: Remote<BenchApi>;
    memory: () => Promise<number>;
  }
}

window.bench = wrap<BenchApi>(new Worker('/page.worker.js', { type: 'module' }));
window.memory = async () => {
  const measure = (performance as unknown as { measureUserAgentSpecificMemory?: () => Promise<{ bytes: number }> }).measureUserAgentSpecificMemory;
  return measure ? (await measure.call(performance)).bytes : 0;
};
