import { work } from '../../browser/browser';
import { setDriftRule, settleDrift } from '../../listings/drift';
import { bringBack, endListings } from '../../listings/end';
import { removeListings } from '../../listings/link';
import { setOwnPrice, settleSteps, takeLeaps } from '../../listings/prices';
import { sendChanges } from '../../listings/publish';
import type { ListingList, Meant } from '../../memory/listing-list';
import { ownPriceAsks } from '../../quoting/own-price';
import { bound } from '../bound';
import { assortment, built, changing, listings, OF_LISTS, OFTEN, SOON } from '../memory';

/** Questions and acts of Listings. */
export const listingsDesk = {
  listings: async (...q: Parameters<ListingList['search']>) => {
    await built();
    return listings.search(...q);
  },
  listing: async (id: string) => {
    await built();
    return listings.full(id);
  },
  listingsRange: async (...q: Parameters<ListingList['range']>) => {
    await built();
    return listings.range(...q);
  },
  /** Ends listings, brings them back, or takes them out of Sampan. */
  endMeant: async (what: Meant) => {
    await built();
    return endListings(work, listings.meant(what, work.clock()));
  },
  bringBackMeant: async (what: Meant) => {
    await built();
    return bringBack(work, listings.meant(what, work.clock()));
  },
  takeOutMeant: async (what: Meant) => {
    await built();
    return removeListings(work, listings.meant(what, work.clock()));
  },
  /** Lets price steps that wait go, or keeps the prices: of some listings, or of all. */
  settleStepsMeant: async (what: Meant, go: boolean) => {
    await built();
    return settleSteps(work, listings.meant(what, work.clock()), go);
  },
  /** Takes the costs that leapt: of some listings, or of all. */
  takeLeapsMeant: async (what: Meant) => {
    await built();
    return takeLeaps(work, listings.meant(what, work.clock()));
  },
  /** Why an own price is asked about before it is offered; null where nothing speaks against it. */
  ownPriceAsks: async (listing: string, price: number) => {
    await built();
    const full = assortment.get(listing);
    return full && ownPriceAsks(full, assortment.shop, price);
  },
  setOwnPrice: bound(setOwnPrice),
  settleSteps: bound(settleSteps),
  takeLeaps: bound(takeLeaps),
  settleDrift: bound(settleDrift),
  setDriftRule: bound(setDriftRule),
  sendChanges: bound(sendChanges),
  removeListings: bound(removeListings),
};

export const listingsFeeds = {
  /** Grows with each change to listings or what they are made of. */
  listingsVersion: changing(OF_LISTS, { calm: SOON, often: OFTEN }, async () => {
    await built();
    await assortment.catchUp();
    return assortment.version;
  }),
};
