'use client';
import { useState } from 'react';
import { countOf } from '../../core/units';
import { ROWS } from '../../ui/file-button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { TextFileButton } from '../../ui/text-file';
import { SALES_COLUMNS } from '../../work/connections/market-files';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import type { EnteredFile, TypedOrder } from '../../work/orders/own-orders';

/** Enters the orders of a file, and shows which of it were not. */
export function OrdersFile({
  kind,
  market,
}: {
  kind: TypedOrder['kind'];
  market: Pick<MarketConnection, 'id' | 'name'>;
}) {
  const [refused, setRefused] = useState<Extract<EnteredFile, { ok: true }>['refused']>([]);
  const read = async (text: string, file: File) => {
    const said = await theShop().enterOrdersFile({ kind, marketplace: market.id, text });
    if (!said.ok) {
      setRefused([]);
      await say(`${file.name}: ${said.reason}`, { wrong: true });
      return;
    }
    setRefused(said.refused);
    const known = said.known ? `; ${countOf(said.known, 'order')} of it entered before` : '';
    await say(
      `${countOf(said.entered, 'order')} entered from ${file.name}${known}. Look at them, then forward them.`,
      { wrong: said.refused.length > 0 },
    );
  };
  return (
    <>
      <p className="mb-2 text-[13px] text-muted">
        One row for each line; rows of one order share its number. Needed:{' '}
        <span className="font-mono text-ink">{SALES_COLUMNS.needed.join(', ')}</span>. They are entered as
        chosen above, by the listings of {market.name}. The same file again enters nothing.
      </p>
      <TextFileButton words="Read a file of orders" name="File of orders" accept={ROWS} onText={read} />
      {refused.length > 0 && (
        <Notice tone="loss">
          Not entered:
          <ul className="mt-1 max-h-60 overflow-auto">
            {refused.map(({ where, reason }, k) => (
              <li key={k}>
                <b className="font-semibold">{where}</b>: {reason}
              </li>
            ))}
          </ul>
        </Notice>
      )}
    </>
  );
}
