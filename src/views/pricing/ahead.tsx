'use client';
import { memo, type ReactNode, useMemo, useState } from 'react';
import { formatMinor, formatMoney, formatShare } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { useFollowing } from '../../ui/answer';
import { NeedsYou } from '../../ui/head';
import { DataTable } from '../../ui/table/table';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import type { RulesDraft } from '../../work/pricing/draft';
import type { AheadOrder, WhatIf } from '../../work/pricing/prospects';
import { columnsFor } from './ahead-columns';
import { Swarm } from './swarm';

/** What is looked at: listings on sale, or all that suppliers offer as it would be priced on a marketplace. */
export interface Looking {
  /** The marketplace; null for what is on sale on all of them. */
  readonly offeredOn: string | null;
  readonly order: AheadOrder;
}

interface TellingProps {
  readonly ahead: WhatIf;
  readonly looking: Looking;
  readonly markets: readonly MarketConnection[];
  readonly onLook: (looking: Looking) => void;
}

const ORDERS: Readonly<Record<AheadOrder, string>> = {
  moves: 'what moves most',
  worst: 'lowest margin',
  best: 'highest margin',
};

/** What a change would do to each listing, before it is saved. */
export function Ahead({
  of,
  draft,
  changed,
  ...telling
}: TellingProps & {
  /** What was looked ahead at: the draft, or one shortly before it. */
  readonly of: RulesDraft;
  readonly draft: RulesDraft;
  readonly changed: boolean;
}) {
  const { ahead, looking } = telling;
  const offered = looking.offeredOn !== null;
  return (
    <div className="grid min-h-0 grow grid-cols-[minmax(0,4fr)_minmax(0,5fr)] border-t border-rule">
      <Summary
        ahead={ahead}
        changed={changed}
        offered={offered}
        picture={
          offered ? <Swarm {...ahead} what="item" /> : <FollowingSwarm ahead={ahead} of={of} draft={draft} />
        }
      />
      <Told {...telling} />
    </div>
  );
}

/** What is told one by one; it stays as it is while a slider moves. */
const Told = memo(function Told({ ahead, looking, markets, onLook }: TellingProps) {
  const offered = looking.offeredOn !== null;
  const columns = useMemo(() => columnsFor(offered, looking.order), [offered, looking.order]);
  const [chosen, setChosen] = useState('');
  return (
    <div className="flex min-h-0 flex-col">
      <Choices ahead={ahead} looking={looking} markets={markets} onLook={onLook} />
      <DataTable
        id="what-if"
        label="What would happen"
        columns={columns}
        count={ahead.prospects.length}
        rowAt={(i) => ahead.prospects[i]}
        keyOf={(p) => p.id}
        chosen={chosen}
        onChoose={setChosen}
      />
    </div>
  );
});

/** The picture of what is on sale: until all of it is counted for a draft, that of a part of it. */
function FollowingSwarm({ ahead, of, draft }: { ahead: WhatIf; of: RulesDraft; draft: RulesDraft }) {
  const part = useFollowing(async () => ({ draft, spread: await theShop().glimpse(draft) }), [draft]);
  const isNewer = of !== draft && part && part.draft !== of;
  return <Swarm {...ahead} spread={isNewer ? part.spread : ahead.spread} what="listing" />;
}

const SELECT = 'rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink';

/** How many would rise, fall and stay, drawn and by marketplace. */
function Summary({
  ahead,
  changed,
  offered,
  picture,
}: {
  ahead: WhatIf;
  changed: boolean;
  offered: boolean;
  picture: ReactNode;
}) {
  const share = (tenths: number | null) => (tenths === null ? 'none' : formatShare(tenths, 1000));
  const what = offered ? 'item' : 'listing';
  return (
    <div className="min-h-0 overflow-y-auto border-r border-rule px-4 pb-2">
      <p className="pt-2 text-sm" role="status">
        <b className="font-semibold">{changed ? 'What would happen' : 'As things stand'}</b>{' '}
        <span className="text-muted">
          {formatCount(ahead.stay)} stay,{' '}
          <b className="font-semibold text-river">{formatCount(ahead.rise)} rise</b>,{' '}
          {formatCount(ahead.fall)} fall
          {ahead.losing > 0 && (
            <>
              , <NeedsYou>{formatCount(ahead.losing)} would sell at a loss</NeedsYou>
            </>
          )}
          {ahead.held > 0 && (
            <>
              ,{' '}
              <NeedsYou>
                {formatCount(ahead.held)}{' '}
                {offered
                  ? 'without a price'
                  : `held: ${ahead.holds.map(([why, n]) => `${formatCount(n)} ${why}`).join(', ')}`}
              </NeedsYou>
            </>
          )}
          . Median margin {share(ahead.marginFrom)} → {share(ahead.marginTo)}.{' '}
          {ahead.shown > 0 && `${countOf(ahead.shown, 'listing')} would show another quantity.`}
        </span>
      </p>
      {changed ? (
        <>
          {picture}
          <ul className="text-[13px] text-muted">
            {ahead.markets.map((m) => (
              <li key={m.market}>
                {m.market}: {formatCount(m.rise)} rise, {formatCount(m.fall)} fall, profit if one of each
                sells {formatMinor(m.profitFrom, m.currency)} →{' '}
                <b className="font-semibold text-ink">
                  {formatMoney({ minor: m.profitTo, currency: m.currency })}
                </b>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p className="pt-1 text-[13px] text-muted">
          Change an underlined part: what would happen to each {what} is drawn here before anything is saved.
        </p>
      )}
    </div>
  );
}

/** The rows that are shown, and their order. */
function Choices({ ahead, looking, markets, onLook }: TellingProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1.5 text-[13px] text-muted">
      <span className="flex items-center gap-1.5">
        Of
        <select
          aria-label="What is looked at"
          value={looking.offeredOn ?? ''}
          onChange={(e) => onLook({ ...looking, offeredOn: e.target.value || null })}
          className={SELECT}
        >
          <option value="">what is on sale</option>
          {markets.map((m) => (
            <option key={m.id} value={m.id}>
              all that is offered, on {m.name}
            </option>
          ))}
        </select>
      </span>
      <span className="flex items-center gap-1.5">
        first
        <select
          aria-label="What stands first"
          value={looking.order}
          onChange={(e) => onLook({ ...looking, order: e.target.value as AheadOrder })}
          className={SELECT}
        >
          {Object.entries(ORDERS).map(([order, words]) => (
            <option key={order} value={order}>
              {words}
            </option>
          ))}
        </select>
      </span>
      {ahead.listings > ahead.prospects.length && (
        <span>
          {formatCount(ahead.prospects.length)} of {formatCount(ahead.listings)}
        </span>
      )}
    </div>
  );
}
