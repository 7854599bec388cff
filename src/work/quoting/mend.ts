import { type Mend, mendsFor } from '../../core/checks';
import { descriptionOf, picturesOf, tagsOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import type { FieldId } from './listing-cells';
import { marketOf, type ShopTerms } from './worth';

/** A proposed value for a field, with the reason. */
export interface FieldMend {
  readonly field: FieldId;
  readonly reason: string;
  readonly fix: string;
}

/** Which field mends what a site would refuse. */
const FIELD_OF: Partial<Record<Mend['field'], FieldId>> = {
  title: 'title',
  description: 'description',
  tags: 'tags',
  pictures: 'pictures',
};

/** The proposed values of a listing, one for each field. */
export function mendable(full: FullListing, shop: ShopTerms): FieldMend[] {
  const site = marketOf(shop, full.listing.marketplace)?.site;
  if (!site) return [];
  const draft = {
    title: titleOf(full),
    description: descriptionOf(full),
    tags: tagsOf(full, site),
    pictures: picturesOf(full.product),
  };
  return mendsFor(draft, site).flatMap(({ field, reason, fix }) => {
    const own = FIELD_OF[field];
    return own ? [{ field: own, reason, fix }] : [];
  });
}
