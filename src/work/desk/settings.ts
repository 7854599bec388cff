import { work } from '../browser';
import { allRates, dropRate, readRatesFile, saveRate, saveRates } from '../shop/rates';
import { hasBooks, saveSettings } from '../shop/settings';
import { storedKinds } from '../shop/stored';
import { bound } from './bound';
import { stored } from './feed';

/** What Settings ask and do. */
export const settingsDesk = {
  stored: () => storedKinds(work),
  saveSettings: bound(saveSettings),
  dropRate: bound(dropRate),
  saveRate: bound(saveRate),
  saveRates: bound(saveRates),
  readRatesFile: bound(readRatesFile),
};

export const settingsFeeds = {
  hasBooks: stored(hasBooks),
  rates: stored(allRates),
};
