import { type Remote, wrap } from 'comlink';
import type { Scene } from '../src/core/print';
import type { PrintBench } from './print.worker';

const start = (): Remote<PrintBench> => wrap<PrintBench>(new Worker('/print.worker.js', { type: 'module' }));

/** One worker, and two side by side. */
const [one, two] = [start(), start()];

const bench = {
  prepare: async () => {
    await two.prepare();
    return one.prepare();
  },
  bareFile: () => one.bareFile(),
  file: () => one.file(true),
  bareMockUp: () => one.bareMockUp(),
  mockUp: (scene: Scene) => one.mockUp(scene, true),
  /** Milliseconds for so many files. */
  files: async (n: number, workers: 1 | 2) => {
    const begun = performance.now();
    const each = async (worker: typeof one, count: number) => {
      for (let k = 0; k < count; k++) await worker.file(true);
    };
    await (workers === 1 ? each(one, n) : Promise.all([each(one, n / 2), each(two, n / 2)]));
    return performance.now() - begun;
  },
};
export type PrintPage = typeof bench;
Object.assign(window, { print: bench });
