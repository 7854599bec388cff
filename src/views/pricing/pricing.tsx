'use client';
import dynamic from 'next/dynamic';
import { useMemo, useState } from 'react';
import { digitsOf, formatMoney } from '../../core/money';
import { parseFormula, planIn } from '../../core/pricing';
import { AfterPaint } from '../../ui/after-paint';
import { useAnswer, useFollowing } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Empty, Notice } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { Tabs } from '../../ui/tabs';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { MarketConnection, PlanRow } from '../../work/model';
import { NEW_PLAN } from '../../work/pricing/plan-problems';
import type { ShopTerms } from '../../work/quoting/worth';
import { marketsOf } from '../../work/quoting/worth';
import { Ahead, type Looking } from './ahead';
import { type Draft, STOCK, useDraft } from './draft';
import { PlanList } from './plan-list';
import { PlanSentence } from './plan-sentence';
import { PricingHead } from './pricing-head';
import { StockSlots } from './stock-slots';

/** Milliseconds after which a hand that moves a slider rests. */
const RESTS = 100;

/** Its drawing comes when it is asked for. */
const Rehearse = dynamic(() => import('./rehearsal').then((m) => m.Rehearse), { ssr: false });

const BELOW = [
  { id: 'ahead', name: 'What would happen' },
  { id: 'past', name: 'Rehearse on the past' },
] as const;
type Below = (typeof BELOW)[number]['id'];

export function Pricing() {
  const shop = useShop();
  const markets = useMemo(() => (shop ? marketsOf(shop) : []), [shop]);
  if (!shop?.plans.length) return <Loading name="Pricing" />;
  return <Rules shop={shop} markets={markets} />;
}

/** The plans, the one that is edited, and below them what it would do. */
function Rules({ shop, markets }: { shop: ShopTerms; markets: readonly MarketConnection[] }) {
  const rules = useDraft(shop);
  const { draft, plan, chosen, changed, problems } = rules;
  const [looking, setLooking] = useState<Looking>({ offeredOn: null, order: 'moves' });
  const [below, setBelow] = useState<Below>('ahead');
  const version = useListingsVersion();
  const { offeredOn, order } = looking;
  // Counted once the hand rests; the picture follows it, see the glimpse.
  const asked = useFollowing(
    async () => ({
      draft,
      ahead:
        offeredOn === null
          ? await theShop().whatIf(draft, order)
          : await theShop().whatIfOffered(draft, offeredOn, order),
    }),
    [draft, version, offeredOn, order],
    RESTS,
  );
  const ahead = asked?.ahead ?? null;
  // What a plan aims for does not change what it catches.
  const catching = JSON.stringify(
    draft.plans.map(({ id, on, marketplaces, filter, from, to }) => [id, on, marketplaces, filter, from, to]),
  );
  // Asked after what would happen, which is what one waits for.
  const caught = useAnswer(() => theShop().caughtBy(draft.plans), [catching, version]);
  const market = markets.find((m) => m.id === plan.marketplaces?.[0]) ?? markets[0];
  const currency = market?.site.currency ?? shop.settings.currency;
  const readable = plan.bands.every((b) => b.target.kind !== 'formula' || parseFormula(b.target.text).ok);
  return (
    <section className="flex min-w-0 grow flex-col">
      <PricingHead
        rules={rules}
        moving={asked?.draft !== draft ? null : ahead && offeredOn === null ? ahead.rise + ahead.fall : 0}
        zone={shop.settings.zone}
      />
      <div className="grid max-h-[52%] shrink-0 grid-cols-[18rem_1fr] border-y border-rule">
        <div className="overflow-y-auto border-r border-rule">
          <PlanList
            plans={draft.plans}
            caught={caught ?? null}
            currency={currency}
            nameOf={(id) => markets.find((m) => m.id === id)?.name ?? id}
            chosen={chosen}
            onChoose={rules.choose}
            onChange={rules.setPlans}
          />
          <button
            type="button"
            aria-pressed={chosen === STOCK}
            onClick={() => rules.choose(STOCK)}
            className={`block w-full border-b border-rule-soft px-3 py-1.5 text-left text-sm font-semibold text-river hover:underline ${chosen === STOCK ? 'bg-chosen' : ''}`}
          >
            How much stock is shown
          </button>
          <div className="flex flex-wrap gap-2 p-3">
            <Button onClick={() => rules.add(NEW_PLAN, `Plan ${draft.plans.length + 1}`)}>New plan</Button>
            <Button onClick={() => rules.add({ ...plan, on: false }, `${plan.name}, draft`)}>
              Copy as a draft
            </Button>
          </div>
        </div>
        <div className="overflow-y-auto bg-surface px-4 py-2">
          {chosen === STOCK ? (
            <p className="text-[15px] leading-[1.9]">
              <StockSlots rule={draft.stock} onChange={rules.setStock} />
            </p>
          ) : (
            <EditedPlan rules={rules} currency={currency} markets={markets} />
          )}
        </div>
      </div>
      {rules.overtaken && (
        <div className="px-4">
          <Notice>
            Plans were changed elsewhere while you typed.
            <span className="mt-1 flex gap-2">
              <Button onClick={rules.keepMine}>Keep mine</Button>
              <Button onClick={rules.discard}>Take those</Button>
            </span>
          </Notice>
        </div>
      )}
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
      <Tabs
        label="Before it is saved"
        tabs={BELOW}
        chosen={below}
        onChoose={setBelow}
        className="px-4 pt-2"
        panelClass="flex min-h-0 grow flex-col"
      >
        {below === 'past' ? (
          <Rehearse draft={draft} changed={changed} />
        ) : ahead && readable && (ahead.listings > 0 || offeredOn !== null) ? (
          <Ahead
            ahead={ahead}
            of={asked?.draft ?? draft}
            draft={draft}
            changed={changed}
            looking={looking}
            markets={markets}
            onLook={setLooking}
          />
        ) : ahead === null ? (
          <p role="status" className="px-4 py-2 text-[13px] text-muted">
            {asked
              ? 'Nothing can be said of this: its marketplace is not connected.'
              : 'Working out what would happen …'}
          </p>
        ) : (
          ahead.listings === 0 && (
            <Empty title="Nothing is on sale yet">
              <p>
                Goods on the Bench show their price under the plans; once some are live, what a change would
                do to each of them is drawn here before it is saved.
              </p>
            </Empty>
          )
        )}
      </Tabs>
    </section>
  );
}

/** One plan as a sentence whose parts are edited in place. */
function EditedPlan({
  rules: { plan: kept, draft, change: changeKept, remove, split },
  currency,
  markets,
}: {
  rules: Draft;
  currency: string;
  markets: readonly MarketConnection[];
}) {
  // Amounts are edited as the currency has them, and kept so.
  const plan = planIn(kept, digitsOf(currency));
  const change = (part: Partial<PlanRow>) => changeKept(plan === kept ? part : { ...plan, ...part });
  const meant = markets.filter((m) => plan.marketplaces === null || plan.marketplaces.includes(m.id));
  const currencies = [...new Set(meant.map((m) => m.site.currency))];
  const onSplit = () => split(meant);
  return (
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
          <Button kind="text" onClick={remove}>
            Remove
          </Button>
        )}
        {!plan.on && <span className="text-[13px] text-muted">It is a draft until it is switched on.</span>}
      </div>
      <AfterPaint>
        <PlanSentence plan={plan} currency={currency} markets={markets} onChange={change} />
      </AfterPaint>
      {meant.length > 1 && (
        <p className="text-xs text-muted">
          {currencies.length > 1
            ? `An amount means ${currencies.map((c) => formatMoney({ minor: 10 ** digitsOf(c), currency: c })).join(', ')} alike where it says 1: for other amounts `
            : 'Amounts are in the currency of each marketplace. For other amounts '}
          <Button kind="text" className="-mx-1.5 py-0" onClick={onSplit}>
            give each marketplace a plan of its own
          </Button>
          .
        </p>
      )}
    </>
  );
}
