import { formatMinor } from '../../core/money';
import { landedOf, problemInWords } from '../../core/pricing';
import type { Listing } from '../../store';
import type { FullListing } from './full-listing';
import { planFor } from './plan-choice';
import { solveListing } from './quote';
import { ownPriceProblem } from './solve';
import { marketOf, nameIn, type Shop } from './worth';

/** An own price so many times the usual one, or under a part of it, is asked about: a point may be in the wrong place. */
const FAR = 5;

/** What an own price is agreed to under; null where its cost cannot be told. */
export function agreedOf(full: FullListing, shop: Shop): Listing['ownAgreed'] {
  const solved = solveListing(full, shop);
  return solved?.costs ? { landed: landedOf(solved.costs), map: solved.map, msrp: solved.msrp } : null;
}

/**
 * Why an own price is asked about before it is offered: a guard that it breaks, or that it is far from what the listing
 * costs and is sold for; null where nothing speaks against it.
 */
export function ownPriceAsks(full: FullListing, shop: Shop, price: number): string | null {
  const solved = solveListing(full, shop);
  const plan = planFor(shop, full);
  const site = marketOf(shop, full.listing.marketplace)?.site;
  if (!solved?.costs || !solved.deductions || !plan || !site) return null;
  const landed = landedOf(solved.costs);
  const { map, msrp, deductions, answer } = solved;
  const broken = ownPriceProblem(price, { landed, map, msrp }, deductions, plan);
  if (broken) return problemInWords(broken, site.currency, nameIn(shop));
  const usual = answer?.ok ? answer.price : (full.listing.published?.price ?? landed * 2);
  const money = (minor: number) => formatMinor(minor, site.currency);
  if (usual > 0 && (price > usual * FAR || price * FAR < usual))
    return `Own price ${money(price)} is far from ${money(usual)}, its ${answer?.ok ? 'plan’s price' : 'price now'}.`;
  return null;
}
