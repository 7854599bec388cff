import { groupsIn } from '../../core/groups';
import type { Instant } from '../../core/units';
import type { FeedRow } from '../../store';
import { toldDiffers } from '../editing/presets';
import type { Assortment } from '../memory/assortment';
import { listingMembers } from '../memory/listing-fields';
import { follows } from '../quoting/offer';
import { planFor } from '../quoting/plan-choice';
import { quoteListing } from '../quoting/quote';
import { marketOf, marketsOf, type Shop } from '../quoting/worth';
import { type GroupDraft, withDraft } from './look';
import { type GroupUse, pricesGoByGroups, usesOf } from './uses';

/** What a change of a group would do to what goes by it. */
export interface WeighedGroup {
  readonly uses: readonly GroupUse[];
  /** Listings that come into the group and leave it, ended ones left out. */
  readonly comes: number;
  readonly leaves: number;
  /** Listings on sale whose price would be another, and that no plan would cover any more. */
  readonly dearer: number;
  readonly cheaper: number;
  readonly unpriced: number;
  /** Listings on sale of which their marketplace would be told other attributes. */
  readonly told: number;
  /** Of each feed of it, how many listings come and leave. */
  readonly feeds: readonly { readonly name: string; readonly comes: number; readonly leaves: number }[];
}

/** The shop as it would be with a group as it is written now. */
export const shopWith = (shop: Shop, draft: GroupDraft): Shop => ({
  ...shop,
  groups: withDraft(shop.groups ?? [], draft),
});

/** Weighs what a change of a group would do. Cost: a search, and a price for each listing whose plan is another. */
export function weighGroup(
  assortment: Assortment,
  feeds: readonly FeedRow[],
  draft: GroupDraft,
  now: Instant,
): WeighedGroup {
  const { shop } = assortment;
  const known = shop.groups?.find((g) => g.id === draft.id) ?? null;
  const uses = known ? usesOf(shop, feeds, known) : [];
  const after = shopWith(shop, draft);
  const [was, is] = [listingMembers(assortment, now), listingMembers(assortment, now, after.groups)];
  const priced = known !== null && pricesGoByGroups(shop);
  const presets = new Set(
    known
      ? marketsOf(shop).flatMap((m) =>
          (m.presets ?? []).some((p) => groupsIn(p.filter).length) ? [m.id] : [],
        )
      : [],
  );
  const counts = { comes: 0, leaves: 0, dearer: 0, cheaper: 0, unpriced: 0, told: 0 };
  const own = feeds
    .filter((f) => known !== null && f.group === known.id)
    .map((f) => ({ ...f, comes: 0, leaves: 0 }));
  for (const [place, full] of assortment.all()) {
    const { listing } = full;
    if (listing.state === 'ended') continue;
    const [had, has] = [known ? was.has(place, known.name) : false, is.has(place, draft.name)];
    if (had !== has) {
      counts[has ? 'comes' : 'leaves']++;
      for (const feed of own)
        if (feed.market === listing.marketplace && follows(listing)) feed[has ? 'comes' : 'leaves']++;
    }
    if (!follows(listing)) continue;
    if (priced) {
      const [a, b] = [quoteListing(full, shop), quoteListing(full, after)];
      if (planFor(after, full) === null && planFor(shop, full) !== null) counts.unpriced++;
      else if (a?.price != null && b?.price != null && a.price !== b.price)
        counts[b.price > a.price ? 'dearer' : 'cheaper']++;
    }
    if (presets.has(listing.marketplace)) {
      const market = marketOf(shop, listing.marketplace)!;
      if (toldDiffers(full, [market, shop], [market, after])) counts.told++;
    }
  }
  return { ...counts, uses, feeds: own.map(({ name, comes, leaves }) => ({ name, comes, leaves })) };
}
