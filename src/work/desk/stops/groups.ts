import { work } from '../../browser/browser';
import { type GroupDraft, groupLines, lookAtGroup, productsOf } from '../../groups/look';
import { dropGroup, pickListings, saveGroup } from '../../groups/save';
import { type GroupUse, usesOf } from '../../groups/uses';
import { weighGroup } from '../../groups/weigh';
import type { Meant } from '../../memory/listing-list';
import { bound } from '../bound';
import { assortment, built, listings } from '../memory';

/** Questions and acts of groups of products. */
export const groupsDesk = {
  /** All groups with what they hold and what goes by them. */
  groups: async () => {
    await built();
    const feeds = await work.db.feeds.toArray();
    return groupLines(assortment, work.clock()).map((group) => ({
      ...group,
      uses: usesOf(assortment.shop, feeds, group) satisfies GroupUse[],
    }));
  },
  lookAtGroup: async (draft: GroupDraft) => {
    await built();
    return lookAtGroup(assortment, draft, work.clock());
  },
  /** What a change of a group would do to what goes by it. */
  weighGroup: async (draft: GroupDraft) => {
    await built();
    return weighGroup(assortment, await work.db.feeds.toArray(), draft, work.clock());
  },
  productsOf: async (ids: readonly string[]) => {
    await built();
    return productsOf(assortment, ids);
  },
  saveGroup: bound(saveGroup),
  dropGroup: bound(dropGroup),
  /** Picks the products of listings into a group, or leaves them out. */
  pickMeant: (id: string, rows: Meant, into: 'picked' | 'left') =>
    pickListings(work, id, listings.meant(rows, work.clock()), into),
};
