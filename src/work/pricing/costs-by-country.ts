import { convert, factorOf, halfUp, WHOLE } from '../../core/money';
import { type CountryCosts, costsByCountry, goodsFor } from '../../core/pricing';
import type { FullListing } from '../quoting/full-listing';
import { termsFor } from '../quoting/pricing-terms';
import { unitOf } from '../quoting/quote';
import { costUnitOf } from '../quoting/solve';
import type { ShopTerms } from '../quoting/worth';

/**
 * What one of a listing costs into each country its buyers are in, in the marketplace's currency; nothing where it does
 * not go by country, or cannot be told.
 */
export function costsByCountryOf(full: FullListing, shop: ShopTerms): readonly CountryCosts[] {
  const terms = costTermsOf(full, shop);
  return (terms && costsByCountry(terms.unit, terms.supplier, terms.buyers, terms.factor)) ?? [];
}

/** Cashback of one of a listing that its price does not count, in the marketplace's currency; 0 for none. */
export function cashbackNotCounted(full: FullListing, shop: ShopTerms): number {
  const terms = costTermsOf(full, shop);
  const rules = terms?.supplier.rules;
  if (!rules || rules.cashback.counted) return 0;
  const { cost, pack, sku } = terms.unit;
  return convert(halfUp(goodsFor(cost, pack, sku, rules) * rules.cashback.rate, WHOLE), terms.factor);
}

function costTermsOf(full: FullListing, shop: ShopTerms) {
  const item = unitOf(full);
  const terms = item && termsFor(shop, full.source!.supplier, full.listing.marketplace, null);
  if (!terms) return null;
  const { supplier, site, rates, cushion, buyers } = terms;
  const factor = factorOf(rates, supplier.currency, site.currency, cushion);
  return factor && { unit: costUnitOf(item), supplier, buyers, factor };
}
