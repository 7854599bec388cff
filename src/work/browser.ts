import { addressThroughServer } from '../connect/address';
import { throughServer } from '../connect/reach';
import { db } from '../store';
import type { Work } from './context';

/** Work in the browser, on the page and in workers alike: its database, Sampan's own server, the true clock. */
export const work: Work = {
  db,
  reach: throughServer,
  fetchAddress: addressThroughServer,
  clock: () => Date.now(),
  newId: () => crypto.randomUUID(),
  chance: () => Math.random(),
};
