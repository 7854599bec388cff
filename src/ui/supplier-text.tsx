'use client';
import { whenOf } from '../core/units';
import type { Product } from '../work/model';
import { CleanedHtml } from './cleaned-html';
import { Notice } from './head';

interface Props {
  readonly product: Product;
  /** The marketplace's category, where one was chosen. */
  readonly category: string | null;
  readonly now: number;
  readonly zone: string;
}

/** The supplier's original beside our own text: as it was taken, as it is now, and what we say instead. */
export function SupplierText({ product, category, now, zone }: Props) {
  const { taken, theirs } = product;
  const rows: { name: string; before: string; now: string; ours: string | null }[] = [
    { name: 'Title', before: taken.title, now: theirs?.title ?? taken.title, ours: product.title },
    { name: 'Brand', before: taken.brand, now: theirs?.brand ?? taken.brand, ours: product.brand },
    {
      name: 'Category',
      before: taken.category,
      now: theirs?.category ?? taken.category,
      ours: category,
    },
    {
      name: 'Pictures',
      before: String(taken.pictures.length),
      now: String((theirs ?? taken).pictures.length),
      ours: null,
    },
  ];
  const description = (theirs ?? taken).description;
  const when = now > 0 ? whenOf(taken.at, now, zone) : '';
  return (
    <div className="text-[13px]">
      {theirs && (
        <Notice>
          The supplier changed its text since it was taken
          {now > 0 && `, seen ${whenOf(theirs.at, now, zone)}`}. Ours stays as it is.
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
                {r.ours ?? (
                  <span className="text-muted">
                    {r.before === r.now ? 'the same' : `still ${r.before || 'none'}`}
                  </span>
                )}
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
