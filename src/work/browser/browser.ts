import { addressThroughServer } from '../../connect/address';
import { throughServer } from '../../connect/reach';
import { db } from '../../store';
import type { Work } from '../context/work';
import { fitPicture } from './fit-picture';
import { listHelpers } from './helper-pool';

/**
 * Work in the browser, on the page and in workers alike: its database, Sampan's own server, the true clock.
 */
export const work: Work & { tab?: string; made?: Work['made'] } = {
  db,
  reach: throughServer,
  fitPicture,
  fetchAddress: addressThroughServer,
  helpers: listHelpers(() => new Worker(new URL('./items.worker.ts', import.meta.url), { type: 'module' })),
  clock: () => Date.now(),
  newId: () => crypto.randomUUID(),
  chance: () => Math.random(),
  alone: async (name, run) => await navigator.locks.request(`sampan-${name}`, run),
};
