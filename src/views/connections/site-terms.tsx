'use client';
import { useEffect, useState } from 'react';
import { siteChangesInWords } from '../../core/checks';
import { formatMinor } from '../../core/money';
import { buyersInWords, ruleInWords } from '../../core/pricing';
import { countOf } from '../../core/units';
import { aheadInWords } from '../../ui/ahead';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { MarketConnection } from '../../work/model';
import type { WhatIf } from '../../work/pricing/prospects';
import { marketBuyers } from '../../work/quoting/pricing-terms';
import { BuyersForm } from './buyers';
import { FeeCheckLine, FeeEditor } from './fee-editor';
import { KeptOffForm } from './kept-off';

const told = (n: number) =>
  n ? `${countOf(n, 'listing')} on the way to the marketplace.` : 'No live listing had to change.';

/** A marketplace's fees and tax as they count for prices, with the optional ones to opt in to. */
export function SiteTerms({ connection: c }: { connection: MarketConnection }) {
  const [open, setOpen] = useState(false);
  const [changing, setChanging] = useState<'fees' | 'buyers' | 'kept off' | null>(null);
  const nameOf = (id: string) => c.site.categories.find((k) => k.id === id)?.name ?? id;
  const { rules, tax } = c.site.fees;
  const done = () => setChanging(null);
  return (
    <details className="mt-2 text-[13px]" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-default text-muted">
        {countOf(rules.length, 'fee')}
        {c.theirFees ? ', yours' : ''}; buyers in {buyersInWords(marketBuyers(c))}
        {c.keptOff?.length ? `; ${countOf(c.keptOff.length, 'kind')} of goods not sold here` : ''}
      </summary>
      <ul className="mt-1 list-disc pl-5">
        {rules.map((r) => (
          <li key={r.id}>
            {ruleInWords(r, tax, c.site.currency, nameOf)}
            {r.optional && (
              <label className="ml-2 whitespace-nowrap">
                <input
                  type="checkbox"
                  checked={c.optedIn.includes(r.id)}
                  onChange={async (e) => {
                    const on = e.target.checked;
                    const n = await theShop().optIn(c.id, r.id, on);
                    await say(`${r.name} ${on ? 'counts in prices now' : 'no longer counts'}. ${told(n)}`, {
                      undo: true,
                    });
                  }}
                />{' '}
                I have opted in to {r.name.toLowerCase()}
              </label>
            )}
          </li>
        ))}
      </ul>
      {changing === 'fees' ? (
        <FeeEditor market={c} onDone={done} />
      ) : changing === 'buyers' ? (
        <BuyersForm market={c} onDone={done} />
      ) : changing === 'kept off' ? (
        <KeptOffForm market={c} onDone={done} />
      ) : (
        <>
          {open && <FeeCheckLine market={c} rules={rules} />}
          <div className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => setChanging('fees')}>Change fees</Button>
            <Button onClick={() => setChanging('buyers')}>Where its buyers are</Button>
            <Button onClick={() => setChanging('kept off')}>What is not sold here</Button>
          </div>
        </>
      )}
      {c.lanes.listings === 'service' && (
        <label className="mt-2 flex items-center gap-1.5 text-[13px]">
          Edits made on the site itself are
          <select
            value={c.drift ?? 'ask'}
            onChange={async (e) => {
              await theShop().setDriftRule(c.id, e.target.value as 'ask' | 'theirs' | 'ours');
              await say(`Edits on ${c.name}: saved.`, { undo: true });
            }}
            className="rounded-sm border border-edge bg-surface px-1.5 py-0.5"
          >
            <option value="ask">asked about</option>
            <option value="theirs">kept</option>
            <option value="ours">put back</option>
          </select>
        </label>
      )}
    </details>
  );
}

/** The terms that a marketplace changed, their effect on live listings, and the button that accepts them. */
export function SiteNews({ connection: c }: { connection: MarketConnection }) {
  const [ahead, setAhead] = useState<WhatIf | null>(null);
  const { siteNow, newest, optedIn, id } = c;
  // What is on its way changes what a listing is compared with.
  const onItsWay = useFeed('onItsWay', id);
  useEffect(() => {
    let old = false;
    if (siteNow && onItsWay !== undefined)
      theShop()
        .whatIfTerms({ connection: { id, terms: { site: siteNow, optedIn } } })
        .then((got) => !old && setAhead(got));
    return () => {
      old = true;
    };
  }, [id, siteNow, optedIn, onItsWay]);
  if (!siteNow) return null;
  const first = ahead?.prospects.filter((p) => p.to === null || p.to !== p.from).slice(0, 5) ?? [];
  return (
    <Notice tone="person">
      <b className="font-semibold">{c.name} changed its fees or rules</b>
      <ul className="mt-1 list-disc pl-4">
        {siteChangesInWords(c.site, siteNow).map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      <p className="mt-2" role="status">
        {ahead ? aheadInWords(ahead) : 'Working out what that does …'}
      </p>
      {first.length > 0 && (
        <ul className="mt-1 list-disc pl-4 text-muted">
          {first.map((p) => (
            <li key={p.id}>
              {p.title}: {formatMinor(p.from, c.site.currency)} →{' '}
              {p.to === null ? p.says : formatMinor(p.to, siteNow.currency)}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-2">
        <Button
          kind="main"
          disabled={!ahead}
          onClick={async () => {
            const n = await theShop().acceptSite(c.id, newest);
            await say(`${c.name}: the new fees and rules count now. ${told(n)}`, { undo: true });
          }}
        >
          Price with the new ones
        </Button>
      </div>
    </Notice>
  );
}
