'use client';
import { useState } from 'react';
import { countOf } from '../../core/units';
import { Button } from '../../ui/button';
import { DropFile, LIST_FILES } from '../../ui/drop-file';
import { Notice } from '../../ui/head';
import { useLooks } from '../../ui/looks';
import { say } from '../../ui/said';
import { askLists, theShop } from '../../work/desk/client';
import type { BringIn as Wish } from '../../work/listings/bring-in';
import type { MarketConnection } from '../../work/model';
import type { Inspected } from '../../work/readings/dropped-lists';
import { MatchPicture } from '../lists/match-picture';

const LOOK = 'block rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13px] text-ink';

/** What is brought in: by the marketplace's service, filtered, or out of a file. */
export function WishForm({ market, onStarted }: { market: MarketConnection; onStarted: () => void }) {
  const [wish, setWish] = useState<Wish>({ state: 'live', category: '', removed: false });
  const [wrong, setWrong] = useState<string | null>(null);
  const [picture, setPicture] = useState<Inspected | null>(null);
  const owner = { id: market.id, currency: market.site.currency };
  const looks = useLooks(async (_: typeof owner, seen) => {
    setPicture(seen);
    return false;
  }, 'listings');
  const leave = () => {
    setPicture(null);
    looks.next();
  };
  if (picture)
    return (
      <MatchPicture
        inspected={picture}
        of={market.name}
        action="Import them"
        onLeave={leave}
        onRead={async (match) => {
          const done = await askLists((lists) =>
            lists.bringInFile(market, picture.file, match, wish.removed),
          );
          if (!done.ok) {
            leave();
            return setWrong(done.reason);
          }
          const { added, known, removed, refused } = done.value;
          leave();
          onStarted();
          const first = refused[0];
          await say(
            `${countOf(added, 'listing')} brought in${known ? `, ${known} known already` : ''}${removed ? `, ${removed} taken out before and left` : ''}${
              first
                ? `; ${countOf(refused.length, 'row')} not read, the first in line ${first.line}: ${first.problem.reason}`
                : ''
            }.`,
            { undo: added > 0, wrong: refused.length > 0 },
          );
        }}
      />
    );
  return (
    <div className="max-w-3xl px-4 pb-6">
      <p className="text-[13.5px] text-muted">
        Listings come in as they stand on {market.name}: text, price and state. Nothing is told to the
        marketplace. Then each is linked to the supplier item it sells, by SKU, by barcode, or by looks that
        you confirm.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-4 rounded-sm border border-rule bg-surface p-4">
        <label className="text-xs text-muted">
          State
          <select
            value={wish.state}
            onChange={(e) => setWish({ ...wish, state: e.target.value as Wish['state'] })}
            className={LOOK}
          >
            <option value="live">on sale</option>
            <option value="paused">paused</option>
            <option value="ended">ended</option>
            <option value="all">all</option>
          </select>
        </label>
        <label className="text-xs text-muted">
          Category
          <select
            value={wish.category}
            onChange={(e) => setWish({ ...wish, category: e.target.value })}
            className={LOOK}
          >
            <option value="">all</option>
            {market.site.categories.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5 pb-1 text-[13px]">
          <input
            type="checkbox"
            checked={wish.removed}
            onChange={(e) => setWish({ ...wish, removed: e.target.checked })}
            className="accent-river"
          />
          also those taken out of Sampan before
        </label>
        <Button
          kind="main"
          onClick={async () => {
            await theShop().startBringIn(market.id, wish);
            onStarted();
            await say(`Bringing in from ${market.name}.`);
          }}
        >
          Import them
        </Button>
      </div>
      <div className="mt-3">
        <DropFile
          words="Or choose a file of listings"
          accept={LIST_FILES}
          looking={looks.looking?.name}
          onFiles={(files) => {
            setWrong(null);
            looks.add(files.map((file) => ({ owner, file, name: file.name })));
          }}
          onStop={looks.stop}
          onWrong={setWrong}
        />
      </div>
      {(wrong ?? looks.wrong) && (
        <div role="alert">
          <Notice tone="loss">{wrong ?? looks.wrong?.says}</Notice>
        </div>
      )}
    </div>
  );
}
