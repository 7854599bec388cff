'use client';
import { countOf, formatCount } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { theShop } from '../../work/clients';
import type { MarketConnection, SupplierConnection } from '../../work/model';
import type { WhatIf } from '../../work/shop/what-if';

export type Terms =
  | Partial<Pick<MarketConnection, 'site' | 'optedIn' | 'buyers' | 'keptOff'>>
  | Pick<SupplierConnection, 'costs'>;

const share = (tenths: number | null) => (tenths === null ? 'none' : `${(tenths / 10).toFixed(1)} %`);

/** What would happen to live listings, in a sentence. */
export const aheadInWords = (ahead: WhatIf): string =>
  `Of ${countOf(ahead.listings, 'live listing')} ${formatCount(ahead.rise)} would rise, ${formatCount(ahead.fall)} fall, ${formatCount(ahead.stay)} stay${ahead.held ? `, ${formatCount(ahead.held)} be held by guards` : ''}${ahead.losing ? `, ${formatCount(ahead.losing)} newly sell at a loss` : ''}${ahead.shown ? `, ${formatCount(ahead.shown)} show another quantity` : ''}. Median margin ${share(ahead.marginFrom)} → ${share(ahead.marginTo)}.`;

/** What a connection's terms would do, while they are typed. */
export function AheadLine({ connection, terms }: { connection: string; terms: Terms | null }) {
  const key = JSON.stringify(terms);
  const ahead = useAnswer(
    async () => (terms ? await theShop().whatIfConnection(connection, terms) : null),
    [connection, key],
    150,
  );
  return (
    <p role="status" className="text-[13px] text-muted">
      {terms === null ? '' : ahead ? aheadInWords(ahead) : 'Working out what that does …'}
    </p>
  );
}
