'use client';
import { liveQuery } from 'dexie';
import { work } from '../work/browser';
import type { ShopTerms } from '../work/shop/quote';
import { readTerms } from '../work/shop/read-shop';
import { followed } from './followed';

/**
 * What prices are made with; undefined while it is read. The same object while it says the same: views draw what they
 * show again when it is another.
 */
export const useShop = followed<ShopTerms | undefined>(undefined, (tell, fail) => {
  let known = '';
  liveQuery(() => readTerms(work.db, work.clock())).subscribe({
    next: (terms) => {
      const { settings, plans, connections, rates, templates } = terms;
      const text = JSON.stringify([settings, plans, [...connections], [...rates.by], [...templates]]);
      if (text === known) return;
      known = text;
      tell(terms);
    },
    error: fail,
  });
});
