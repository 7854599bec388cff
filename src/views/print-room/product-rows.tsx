'use client';
import { findingInWords } from '../../core/print';
import type { ProductPlanned } from '../../work/print/product-plan';
import { AssetPicture } from './asset-picture';

const WHY: Readonly<Record<NonNullable<ProductPlanned['why']>, string>> = {
  refused: 'not made: the maker would refuse it',
  'there already': 'made before',
  'left out': 'left out',
};

/** Designs with what a printer would say, and whether a product comes of each. */
export function Designs({
  rows,
  onLeave,
}: {
  rows: readonly ProductPlanned[];
  onLeave: (id: string) => void;
}) {
  return (
    <table className="w-full text-[13.5px]">
      <caption className="sr-only">What would come of each design</caption>
      <thead className="sticky top-0 bg-raised text-left text-xs text-muted">
        <tr>
          <th scope="col" className="px-4 py-1.5 font-semibold">
            Design
          </th>
          <th scope="col" className="px-2 py-1.5 font-semibold">
            What a printer would say
          </th>
          <th scope="col" className="px-2 py-1.5 font-semibold">
            Comes to the Bench
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.design} className="border-b border-rule-soft [content-visibility:auto]">
            <th scope="row" className="px-4 py-1 text-left font-normal">
              <span className="flex items-center gap-2.5">
                <AssetPicture id={r.small} alt="" size={36} />
                {r.name}
              </span>
            </th>
            <td className="px-2 text-xs">
              {r.findings.length ? (
                r.findings.map(({ area, finding }) => (
                  <span key={`${area} ${JSON.stringify(finding)}`} className="block text-lamp">
                    ◆ {findingInWords(finding)}
                  </span>
                ))
              ) : (
                <span className="text-muted">nothing</span>
              )}
            </td>
            <td className="px-2">
              {r.why === null || r.why === 'left out' ? (
                <label className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={r.why === null}
                    onChange={() => onLeave(r.design)}
                    className="size-3.5 accent-river"
                  />
                  {r.why ? WHY[r.why] : 'yes'}
                </label>
              ) : (
                <span className="text-muted">{WHY[r.why]}</span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
