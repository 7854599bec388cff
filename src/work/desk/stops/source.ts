import type { ListingState, Watched } from '../../../store';
import { work } from '../../browser/browser';
import type { SourceSearcher } from '../../catalogue/source-search';
import { forgetSearch, openSearch, savedSearches, saveSearch, updateSearch } from '../../catalogue/watch';
import { caughtUp } from '../../memory/assortment';
import { bound } from '../bound';
import { stored } from '../feed';
import { built, changing, OFTEN, SOON, source } from '../memory';

/** After an answer, while nothing else is asked. */
const prepare = () => {
  if (source.prepare()) setTimeout(prepare);
};

/** Questions and acts of Source: searching catalogues and taking items. */
export const sourceDesk = {
  search: async (...of: Parameters<SourceSearcher['search']>) => {
    const found = await source.search(...of);
    setTimeout(prepare);
    return found;
  },
  look: source.look.bind(source),
  pictures: source.pictures.bind(source),
  whatIfOffered: source.whatIf.bind(source),
  take: source.take.bind(source),
  range: source.range.bind(source),
  weigh: source.weigh.bind(source),
  findLines: source.findLines.bind(source),
  matchesOf: source.matchesOf.bind(source),
  /** SKUs of items that some listings in a state are bought as, by chance. */
  someItems: async (supplier: string, state: ListingState, n: number) => {
    const items = new Set<string>();
    for (const [, { listing, source }] of (await caughtUp(work)).all())
      if (listing.state === state && source?.supplier === supplier) items.add(source.item);
    return [...items].sort(() => work.chance() - 0.5).slice(0, n);
  },
  saveSearch: bound(saveSearch),
  openSearch: bound(openSearch),
  updateSearch: bound(updateSearch),
  forgetSearch: bound(forgetSearch),
};

/** Further inputs of a search for goods. */
const OF_SOURCE: readonly Watched[] = [
  'journal',
  'plans',
  'settings',
  'connections',
  'stated',
  ['notes', 'catalogue:'],
];

/** Grows with each change that matters to a search. */
let version = 0;

export const sourceFeeds = {
  sourceVersion: changing(OF_SOURCE, { calm: SOON, often: OFTEN }, async () => {
    await built();
    if ((await source.lookAgain()) || version === 0) version++;
    return version;
  }),
  savedSearches: stored(savedSearches),
};
