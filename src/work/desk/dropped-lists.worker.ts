import { expose } from 'comlink';
import { work } from '../browser/browser';
import { bringInFile } from '../listings/bring-in';
import { inspect, resample } from '../readings/dropped-lists';

/** Arguments after the first, which is the work. */
type Rest<F> = F extends (work: never, ...rest: infer R) => unknown ? R : never;

/**
 * Looks at files that were dropped. In a worker of its own, so that a look can be ended at once, whatever it
 * is doing.
 */
const api = {
  inspect: (...args: Rest<typeof inspect>) => inspect(work, ...args),
  resample: (...args: Rest<typeof resample>) => resample(work, ...args),
  bringInFile: (...args: Rest<typeof bringInFile>) => bringInFile(work, ...args),
};
export type ListsApi = typeof api;
expose(api);
