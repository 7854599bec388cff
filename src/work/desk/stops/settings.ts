import { work } from '../../browser/browser';
import { storedKinds } from '../../overview/stored';
import { allRates, dropRate, readRatesFile, saveRate, saveRates } from '../../pricing/rates';
import { hasBooks, saveSettings } from '../../pricing/settings';
import { bound } from '../bound';
import { stored } from '../feed';

/** Questions and acts of Settings. */
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
