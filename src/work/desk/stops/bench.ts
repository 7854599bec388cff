import { work } from '../../browser/browser';
import { addPictures, describePicture, ownPictureFile } from '../../editing/pictures';
import { approve, leaveOut, putBack } from '../../listings/approve';
import { movePublishing, publish, stopPublishing } from '../../listings/publish';
import { duplicateProduct, listOn } from '../../listings/take';
import type { BenchList } from '../../memory/bench-list';
import type { Meant } from '../../memory/listing-list';
import { bound } from '../bound';
import { bench, built } from '../memory';

/** Questions and acts of the Bench. */
export const benchDesk = {
  bench: async (...q: Parameters<BenchList['search']>) => {
    await built();
    return bench.search(...q);
  },
  benchRange: async (...q: Parameters<BenchList['range']>) => {
    await built();
    return bench.range(...q);
  },
  benchProduct: async (...of: Parameters<BenchList['full']>) => {
    await built();
    return bench.full(...of);
  },
  approveMeant: async (what: Meant, market: string | null) => {
    await built();
    return approve(work, bench.meant(what, market));
  },
  publishMeant: async (what: Meant, market: string | null, at: number | null, asDraft = false) => {
    await built();
    return publish(work, bench.meant(what, market), at, asDraft);
  },
  /** Sends again what was refused and lacks nothing: approved anew and published. */
  tryAgain: async (what: Meant, market: string | null) => {
    await built();
    const ids = bench.meant(what, market);
    await approve(work, ids);
    return publish(work, ids);
  },
  /** Lists products of the Bench on one more marketplace. @returns how many listings were made */
  listMeant: async (what: Meant, seen: string | null, on: string) => {
    await built();
    return listOn(work, [...bench.products(what, seen)], on);
  },
  putBackMeant: async (what: Meant, market: string | null) => {
    await built();
    return putBack(work, bench.meant(what, market));
  },
  approve: bound(approve),
  publish: bound(publish),
  leaveOut: bound(leaveOut),
  listOn: bound(listOn),
  movePublishing: bound(movePublishing),
  stopPublishing: bound(stopPublishing),
  duplicateProduct: bound(duplicateProduct),
  addPictures: bound(addPictures),
  describePicture: bound(describePicture),
  ownPictureFile: bound(ownPictureFile),
};
