'use client';
import { useId, useState } from 'react';
import { buyersInWords, parseBuyers } from '../../core/pricing';
import { countOf } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/clients';
import type { MarketConnection } from '../../work/model';

/** Where the buyers of a marketplace are: shipping and borders count by that. */
export function BuyersForm({ market, onDone }: { market: MarketConnection; onDone: () => void }) {
  const known = market.buyers ?? [];
  const [text, setText] = useState(buyersInWords(known));
  const id = useId();
  const read = parseBuyers(text);
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
      <label htmlFor={id} className="text-xs text-muted">
        Where its buyers are
      </label>
      <input
        id={id}
        value={text}
        placeholder={`${usual} 100 %`}
        aria-invalid={!read.ok}
        aria-describedby={`${id}-hint`}
        onChange={(e) => setText(e.target.value)}
        className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
      />
      <span id={`${id}-hint`} className={`text-xs ${read.ok ? 'text-muted' : 'text-loss'}`}>
        {read.ok
          ? `Shipping, duty and import tax are their mean over these countries. Empty: all in ${usual}.`
          : read.reason}
      </span>
      {ahead.view}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button kind="main" type="submit" disabled={!ahead.ready}>
          {ahead.saves}
        </Button>
        <Button
          onClick={async () => {
            const found = await theShop().buyersOfOrders(market.id);
            if (found.length) setText(buyersInWords(found));
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
