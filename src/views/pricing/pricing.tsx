'use client';
import dynamic from 'next/dynamic';
import { useMemo, useState } from 'react';
import { parseFormula } from '../../core/pricing';
import { countOf, formatCount, whenOf } from '../../core/units';
import { AfterPaint } from '../../ui/after-paint';
import { useAnswer } from '../../ui/answer';
import { AtATime } from '../../ui/at-a-time';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Empty, Head, NeedsYou, Notice } from '../../ui/head';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/clients';
import type { MarketConnection, PlanRow } from '../../work/model';
import { NEW_PLAN, rulesProblems } from '../../work/shop/plan-problems';
import { beginPlansAt, laterProblem } from '../../work/shop/plans-later';
import type { ShopTerms } from '../../work/shop/quote';
import { marketsOf } from '../../work/shop/terms';
import type { RulesDraft, WhatIf } from '../../work/shop/what-if';
import { Ahead, type Looking } from './ahead';
import { PlanList } from './plan-list';
import { PlanSentence } from './plan-sentence';
import { StockSlots } from './stock-slots';

/** Its drawing comes when it is asked for. */
const Rehearse = dynamic(() => import('./rehearsal').then((m) => m.Rehearse), { ssr: false });

/** Stands for the shop's stock rule among the plans. */
const STOCK = 'stock';

export function Pricing() {
  const shop = useShop();
  const markets = useMemo(() => (shop ? marketsOf(shop) : []), [shop]);
  if (!shop?.plans.length) return null;
  return <Rules key={JSON.stringify([shop.plans, shop.settings.stock])} shop={shop} markets={markets} />;
}

/** All plans and the shop's stock rule, as they are edited: nothing holds before it is saved. */
function Rules({ shop, markets }: { shop: ShopTerms; markets: readonly MarketConnection[] }) {
  const saved = useMemo(
    (): RulesDraft => ({ plans: shop.plans, stock: shop.settings.stock }),
    [shop.plans, shop.settings.stock],
  );
  const [draft, setDraft] = useState<RulesDraft>(saved);
  const [chosen, setChosen] = useState(saved.plans[0]!.id);
  const [looking, setLooking] = useState<Looking>({ offeredOn: null, order: 'moves' });
  const version = useListingsVersion();
  const changed = JSON.stringify(draft) !== JSON.stringify(saved);
  const { offeredOn, order } = looking;
  const ahead =
    useAnswer<WhatIf | null>(
      () =>
        offeredOn === null
          ? theShop().whatIf(draft, null, order)
          : theShop().whatIfOffered(draft, offeredOn, order),
      [draft, version, offeredOn, order],
    ) ?? null;
  // What a plan aims for does not change what it catches.
  const catching = JSON.stringify(
    draft.plans.map(({ id, on, marketplaces, filter, from, to }) => [id, on, marketplaces, filter, from, to]),
  );
  // Asked after what would happen, which is what one waits for.
  const caught = useAnswer(() => theShop().caughtBy(draft.plans), [catching, version]);
  const plan = draft.plans.find((p) => p.id === chosen) ?? draft.plans[0]!;
  const market = markets.find((m) => m.id === plan.marketplaces?.[0]) ?? markets[0];
  const currency = market?.site.currency ?? shop.settings.currency;
  const problems = rulesProblems(draft.plans, draft.stock);
  const setPlans = (plans: readonly PlanRow[]) => setDraft((before) => ({ ...before, plans }));
  const change = (part: Partial<PlanRow>) =>
    setDraft((before) => ({
      ...before,
      plans: before.plans.map((p) => (p.id === plan.id ? { ...p, ...part } : p)),
    }));
  const add = (from: Omit<PlanRow, 'id' | 'order' | 'name'>, name: string) => {
    const made: PlanRow = { ...from, id: crypto.randomUUID(), order: 0, name };
    setPlans([made, ...draft.plans]);
    setChosen(made.id);
  };
  const moving = ahead && offeredOn === null ? ahead.rise + ahead.fall : 0;
  const now = useNow();
  const { zone } = shop.settings;
  const save = async (plans: readonly PlanRow[], saidOf: (told: number) => string) => {
    const done = await theShop().savePlans(plans, draft.stock);
    if (!done.ok) return say(done.reason, { wrong: true });
    await say(saidOf(done.told), { undo: true });
  };
  const saveNow = () =>
    save(draft.plans, (told) =>
      told
        ? `Saved. ${countOf(told, 'listing')} on the way to the marketplaces.`
        : 'Saved. No live listing had to change.',
    );
  const saveLater = (at: number, local: string) =>
    save(
      beginPlansAt(saved.plans, draft.plans, local, () => crypto.randomUUID()),
      () => `Saved. What you changed begins ${whenOf(at, now, zone)}; until then prices stay as they are.`,
    );
  const [below, setBelow] = useState<'ahead' | 'past'>('ahead');
  const readable = plan.bands.every((b) => b.target.kind !== 'formula' || parseFormula(b.target.text).ok);
  return (
    <section className="flex min-w-0 grow flex-col">
      <Head
        name="Pricing"
        state={
          changed ? (
            <NeedsYou>changed, not saved</NeedsYou>
          ) : (
            'The first plan that covers a listing sets its price; an own price beats it.'
          )
        }
      >
        <Button disabled={!changed} onClick={() => setDraft(saved)}>
          Discard
        </Button>
        <Button kind="main" disabled={!changed} onClick={saveNow}>
          Save{moving > 0 ? ` and change ${formatCount(moving)} ${moving === 1 ? 'price' : 'prices'}` : ''}
        </Button>
        <AtATime
          name="Begin at a time"
          label="From, in the time of each marketplace"
          verb="Begin"
          disabled={!changed}
          zone={zone}
          now={now}
          problem={laterProblem(
            saved.plans,
            draft.plans,
            JSON.stringify(saved.stock) === JSON.stringify(draft.stock),
          )}
          onPick={saveLater}
        />
      </Head>
      <div className="grid max-h-[52%] shrink-0 grid-cols-[18rem_1fr] border-y border-rule">
        <div className="overflow-y-auto border-r border-rule">
          <PlanList
            plans={draft.plans}
            caught={caught ?? null}
            currency={currency}
            chosen={chosen === STOCK ? STOCK : plan.id}
            onChoose={setChosen}
            onChange={setPlans}
          />
          <button
            type="button"
            aria-pressed={chosen === STOCK}
            onClick={() => setChosen(STOCK)}
            className={`block w-full border-b border-rule-soft px-3 py-1.5 text-left text-sm font-semibold text-river hover:underline ${chosen === STOCK ? 'bg-chosen' : ''}`}
          >
            How much stock is shown
          </button>
          <div className="flex flex-wrap gap-2 p-3">
            <Button onClick={() => add(NEW_PLAN, `Plan ${draft.plans.length + 1}`)}>New plan</Button>
            <Button onClick={() => add({ ...plan, on: false }, `${plan.name}, draft`)}>
              Copy as a draft
            </Button>
          </div>
        </div>
        <div className="overflow-y-auto bg-surface px-4 py-2">
          {chosen === STOCK ? (
            <p className="text-[15px] leading-[1.9]">
              <StockSlots
                rule={draft.stock}
                onChange={(stock) => setDraft((before) => ({ ...before, stock }))}
              />
            </p>
          ) : (
            <>
              <div className="flex items-center gap-3">
                <label className="flex items-center gap-2 text-[13px] text-muted">
                  Plan
                  <input
                    value={plan.name}
                    onChange={(e) => change({ name: e.target.value })}
                    className="w-64 rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm font-semibold text-ink"
                  />
                </label>
                {draft.plans.length > 1 && (
                  <Button kind="text" onClick={() => setPlans(draft.plans.filter((p) => p.id !== plan.id))}>
                    Remove
                  </Button>
                )}
                {!plan.on && (
                  <span className="text-[13px] text-muted">It is a draft until it is switched on.</span>
                )}
              </div>
              <AfterPaint>
                <PlanSentence plan={plan} currency={currency} markets={markets} onChange={change} />
              </AfterPaint>
              {markets.length > 1 && (
                <p className="text-xs text-muted">Amounts are in the currency of each marketplace.</p>
              )}
            </>
          )}
        </div>
      </div>
      {problems.length > 0 && (
        <div className="px-4">
          <Notice>
            <ul>
              {problems.map(({ says }) => (
                <li key={says}>{says}</li>
              ))}
            </ul>
          </Notice>
        </div>
      )}
      <div role="tablist" aria-label="Before it is saved" className="flex gap-1 px-4 pt-2">
        {(
          [
            ['ahead', 'What would happen'],
            ['past', 'Rehearse on the past'],
          ] as const
        ).map(([id, words]) => (
          <button
            key={id}
            type="button"
            role="tab"
            aria-selected={below === id}
            onClick={() => setBelow(id)}
            className={`rounded-sm border px-2 py-0.5 text-[13px] ${below === id ? 'border-river bg-river-soft font-semibold' : 'border-edge'}`}
          >
            {words}
          </button>
        ))}
      </div>
      {below === 'past' ? (
        <Rehearse draft={draft} changed={changed} />
      ) : ahead && readable && (ahead.listings > 0 || looking.offeredOn !== null) ? (
        <Ahead ahead={ahead} changed={changed} looking={looking} markets={markets} onLook={setLooking} />
      ) : (
        ahead?.listings === 0 && (
          <Empty title="Nothing is on sale yet">
            <p>
              Goods on the Bench show their price under the plans; once some are live, what a change would do
              to each of them is drawn here before it is saved.
            </p>
          </Empty>
        )
      )}
    </section>
  );
}
