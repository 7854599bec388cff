import { proxy } from 'comlink';
import { addressThroughServer } from '../../connect/address';
import { ownFeedServer } from '../../connect/feed-server';
import { throughServer } from '../../connect/reach';
import { db } from '../../store';
import type { DesignRead, SlipsDrawn } from '../context/draw';
import type { Work } from '../context/work';
import type { HeavyApi } from './heavy.worker';
import { shippedLettering } from './lettering';
import { listHelpers } from './list-helpers';
import { shippedScenes } from './scenes';
import { WorkerPool } from './worker-pool';

const heavy = new WorkerPool<HeavyApi>(
  () => new Worker(new URL('./heavy.worker.ts', import.meta.url), { type: 'module' }),
);

/**
 * Work in the browser, on the page and in workers alike: its database, Sampan's own server, the true clock.
 */
export const work: Work & { tab?: string; made?: Work['made'] } = {
  db,
  reach: throughServer,
  fitPicture: (file, width, height) => heavy.run((api) => api.fitPicture(file, width, height)),
  draw: {
    openDesign: (file, name) => heavy.run<DesignRead>((api) => api.openDesign(file, name)),
    printFile: (area) => heavy.run((api) => api.printFile(area)),
    areaPicture: (area, ground, longest) => heavy.run((api) => api.areaPicture(area, ground, longest)),
    lettering: shippedLettering,
    proofsPdf: (proofs, goesOn) => heavy.run<Blob | null>((api) => api.proofsPdf([...proofs], proxy(goesOn))),
    scenes: shippedScenes,
    mockUp: (job) => heavy.run((api) => api.mockUp(job)),
  },
  slips: (some, goesOn) => heavy.run<SlipsDrawn | null>((api) => api.slips([...some], proxy(goesOn))),
  fetchAddress: addressThroughServer,
  feedServer: ownFeedServer,
  helpers: listHelpers(heavy),
  clock: () => Date.now(),
  newId: () => crypto.randomUUID(),
  chance: () => Math.random(),
  alone: async (name, run) => await navigator.locks.request(`sampan-${name}`, run),
};
