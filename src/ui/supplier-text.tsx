'use client';
import { countOf, whenOf } from '../core/units';
import { brandOf, picturesOf, suppliersText, titleOf } from '../work/quoting/copy';
import type { FullListing } from '../work/quoting/full-listing';
import { fieldOf } from '../work/quoting/listing-cells';
import type { ShopTerms } from '../work/quoting/worth';
import { CleanedHtml } from './cleaned-html';
import { Notice } from './head';

/** The supplier's original beside what stands on the marketplace: as it was taken, as it is now, and what we say instead. */
export function SupplierText({
  full,
  shop,
  now,
  zone,
}: {
  full: FullListing;
  shop: ShopTerms;
  now: number;
  zone: string;
}) {
  const { product } = full;
  const { taken, theirs } = product;
  const text = suppliersText(product);
  const pictures = (some: readonly string[]) => countOf(some.length, 'picture');
  const rows: { name: string; before: string; now: string; ours: string }[] = [
    { name: 'Title', before: taken.title, now: text.title, ours: titleOf(full) },
    { name: 'Brand', before: taken.brand, now: text.brand, ours: brandOf(full) },
    {
      name: 'Category',
      before: taken.category,
      now: text.category,
      ours: fieldOf('category', shop).read(full, shop),
    },
    {
      name: 'Pictures',
      before: pictures(taken.pictures),
      now: pictures(text.pictures),
      ours: pictures(picturesOf(product)),
    },
  ];
  const description = (theirs ?? taken).description;
  const when = now > 0 ? whenOf(taken.at, now, zone) : '';
  return (
    <div className="text-[13px]">
      {theirs && (
        <Notice>
          The supplier changed its text since it was taken
          {now > 0 && `, seen ${whenOf(theirs.at, now, zone)}`}. What was typed here stays; everything else
          follows.
        </Notice>
      )}
      <table className="w-full table-fixed">
        <thead className="text-left text-xs text-muted">
          <tr>
            <th className="w-[4.5rem] font-normal">
              <span className="sr-only">Field</span>
            </th>
            <th scope="col" className="font-normal">
              Supplier’s{theirs ? ', now' : `, taken ${when}`}
            </th>
            <th scope="col" className="font-normal">
              Ours
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.name} className="border-t border-rule-soft align-top">
              <th scope="row" className="py-1 text-left font-normal text-muted">
                {r.name}
              </th>
              <td className="py-1 pr-2">
                {r.now || 'none'}
                {r.before !== r.now && (
                  <span className="block text-xs text-lamp">
                    before: <s>{r.before || 'none'}</s>
                  </span>
                )}
              </td>
              <td className="py-1">
                {r.ours === r.now ? <span className="text-muted">the same</span> : r.ours || 'none'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <details className="mt-1.5">
        <summary className="text-muted">
          Supplier’s description{theirs && theirs.description !== taken.description ? ', changed since' : ''}
        </summary>
        <CleanedHtml html={description} />
        {theirs && theirs.description !== taken.description && (
          <>
            <p className="mt-1.5 text-xs text-muted">As it was taken:</p>
            <CleanedHtml html={taken.description} />
          </>
        )}
      </details>
    </div>
  );
}
