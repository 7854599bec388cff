'use client';
import { useId, useMemo, useState } from 'react';
import { problemInWords, problemsOf, readCondition } from '../../core/query';
import { countOf } from '../../core/units';
import { useAhead } from '../../ui/ahead';
import { Button } from '../../ui/button';
import { GoodsCaught } from '../../ui/goods-caught';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import { GOODS, goodsLine } from '../../work/quoting/goods';

/** Which goods are not sold on a marketplace. */
export function KeptOffForm({ market, onDone }: { market: MarketConnection; onDone: () => void }) {
  const known = (market.keptOff ?? []).map(goodsLine).join('\n');
  const [text, setText] = useState(known);
  const id = useId();
  const here = useMemo(() => [market.id], [market.id]);
  const goods = useMemo(
    () =>
      text
        .split('\n')
        .filter((line) => line.trim())
        .map((line) => readCondition(line, GOODS)),
    [text],
  );
  const wrong = goods.flatMap((one) => problemsOf(one, GOODS).map(problemInWords))[0];
  const changed = goods.map(goodsLine).join('\n') !== known;
  const ahead = useAhead(
    !wrong && changed ? { connection: { id: market.id, terms: { keptOff: goods } } } : null,
  );
  return (
    <form
      className="mt-2 rounded-sm border border-rule p-3"
      aria-label={`Not sold on ${market.name}`}
      onSubmit={async (e) => {
        e.preventDefault();
        if (wrong || !ahead.ready) return;
        const n = await theShop().saveKeptOff(market.id, goods);
        await say(
          `Saved. ${n ? `${countOf(n, 'listing')} on the way to ${market.name}.` : 'No live listing had to change.'}`,
          { undo: true },
        );
        onDone();
      }}
    >
      <label htmlFor={id} className="text-xs text-muted">
        Goods that are not sold here, a search to a line
      </label>
      <textarea
        id={id}
        rows={3}
        value={text}
        placeholder={'brand:Fellmoor\ncategory:lamp weight:>5000\nsku:DD-010149'}
        aria-invalid={wrong !== undefined}
        aria-describedby={`${id}-hint`}
        onChange={(e) => setText(e.target.value)}
        className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 font-mono text-[13px] text-ink"
      />
      <span id={`${id}-hint`} className={`text-xs ${wrong ? 'text-loss' : 'text-muted'}`}>
        {wrong ??
          'What is on sale shows none until it is taken off this list; on the Bench it cannot be approved.'}
      </span>
      {goods.map((one) => (
        <div key={goodsLine(one)} className="text-xs">
          <code>{goodsLine(one)}</code>
          <GoodsCaught filter={one} marketplaces={here} />
        </div>
      ))}
      {ahead.view}
      <div className="mt-2 flex gap-2">
        <Button kind="main" type="submit" {...ahead.save}>
          {ahead.saves}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
