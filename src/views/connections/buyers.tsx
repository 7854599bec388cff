'use client';
import { useState } from 'react';
import { parseBuyers } from '../../core/pricing';
import { countOf } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { Button } from '../../ui/button';
import { RowsTable } from '../../ui/rows-table';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import { BUYER_COLUMNS, buyerRows, buyersText } from './cost-tables';

/** Where the buyers of a marketplace are: shipping and borders count by that. */
export function BuyersForm({ market, onDone }: { market: MarketConnection; onDone: () => void }) {
  const known = market.buyers ?? [];
  const [rows, setRows] = useState(() => buyerRows(known));
  const read = parseBuyers(buyersText(rows));
  const changed = read.ok && JSON.stringify(read.value) !== JSON.stringify(known);
  const usual = market.site.shipsTo[0] ?? '';
  const ahead = useAhead(
    read.ok && changed ? { connection: { id: market.id, terms: { buyers: read.value } } } : null,
  );
  return (
    <form
      className="mt-2 rounded-sm border border-rule p-3"
      aria-label={`Buyers of ${market.name}`}
      onSubmit={async (e) => {
        e.preventDefault();
        if (!read.ok || !ahead.ready) return;
        const n = await theShop().saveBuyers(market.id, read.value);
        await say(
          `Saved. ${n ? `${countOf(n, 'listing')} on the way to ${market.name}.` : 'No price had to change.'}`,
          { undo: true },
        );
        onDone();
      }}
    >
      <RowsTable
        label={`Where its buyers are; none: all in ${usual}`}
        columns={BUYER_COLUMNS}
        rows={rows}
        wrong={read.ok ? null : read.reason}
        onChange={setRows}
      />
      <p className="text-xs text-muted">Shipping, duty and import tax are their mean over these countries.</p>
      {ahead.view}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button kind="main" type="submit" {...ahead.save}>
          {ahead.saves}
        </Button>
        <Button
          onClick={async () => {
            const found = await theShop().buyersOfOrders(market.id);
            if (found.length) setRows(buyerRows(found));
            else await say(`${market.name} has no orders yet.`, { wrong: true });
          }}
        >
          From its orders
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
