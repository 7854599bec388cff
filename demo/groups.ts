import { startingForm } from '../src/core/feeds';
import { KINDS } from '../src/core/fields';
import { readCondition } from '../src/core/query';
import type { Work } from '../src/work/context/work';
import { saveFeed } from '../src/work/feeds/save';
import { saveGroup } from '../src/work/groups/save';

/** The mark by which buyers come from the demo's feed. */
export const FEED_MARK = 'lantern-list';

/** Groups of products, and a feed of one of them for a comparison site. */
export async function groupsAndFeeds(work: Work): Promise<void> {
  const group = async (name: string, line: string): Promise<string> => {
    const filter = readCondition(line, KINDS.listing);
    const saved = await saveGroup(work, { id: null, name, filter, picked: [], left: [] });
    if (!saved.ok) throw new Error(saved.reason);
    return saved.id;
  };
  const night = await group('Night sky', 'torch or lantern or planisphere or dew or atlas or compass');
  await group('Sells well', 'sales:>2 margin:>15');
  await group('Slow', 'sold:>40 -group:"Sells well"');
  const feed = await saveFeed(work, null, {
    name: 'Lantern list',
    market: 'pennywharf',
    group: night,
    mark: { parameter: 'via', value: FEED_MARK },
    shipping: 0,
    form: {
      ...startingForm('rss'),
      page: 'https://pennywharf.example/goods/{{sku}}',
      picture: 'https://pictures.brackwater.example{{{picture path}}}',
    },
  });
  if (!feed.ok) throw new Error(feed.reason);
}
