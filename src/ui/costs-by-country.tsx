'use client';
import { formatMinor, formatRate } from '../core/money';
import { cashbackNotCounted, costsByCountryOf } from '../work/pricing/costs-by-country';
import type { FullListing } from '../work/quoting/full-listing';
import type { ShopTerms } from '../work/quoting/worth';

/** What the means in a listing's sum are made of, country by country, and cashback that is not in it. */
export function CostsByCountry({
  full,
  shop,
  currency,
}: {
  full: FullListing;
  shop: ShopTerms;
  currency: string;
}) {
  const countries = costsByCountryOf(full, shop);
  const cashback = cashbackNotCounted(full, shop);
  const m = (minor: number) => formatMinor(minor, currency);
  return (
    <>
      {countries.length > 1 && (
        <table className="mt-2 w-full text-xs">
          <caption className="text-left text-muted">
            Shipping, duty and import tax above are the mean of these, by where the buyers are
          </caption>
          <thead>
            <tr className="text-muted">
              <th className="text-left font-normal">Country</th>
              <th className="text-right font-normal">Buyers</th>
              <th className="text-right font-normal">Shipping</th>
              <th className="text-right font-normal">Duty</th>
              <th className="text-right font-normal">Import tax</th>
            </tr>
          </thead>
          <tbody>
            {countries.map(({ country, share, shipping, duty, importTax }) => (
              <tr key={country}>
                <th scope="row" className="text-left font-normal">
                  {country}
                </th>
                <td className="text-right">{formatRate(share)}</td>
                {shipping === null ? (
                  <td colSpan={3} className="text-right text-muted">
                    nothing goes there; left out
                  </td>
                ) : (
                  [shipping, duty, importTax].map((minor, at) => (
                    <td key={at} className="text-right">
                      {m(minor)}
                    </td>
                  ))
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {cashback > 0 && (
        <p className="mt-1 text-xs text-muted">
          Cashback of {m(cashback)} comes back later and is not counted.
        </p>
      )}
    </>
  );
}
