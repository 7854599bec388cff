'use client';
import { useEffect, useMemo, useState } from 'react';
import {
  formatMinor,
  formatRate,
  formatShare,
  type Parsed,
  parseMinor,
  parseRate,
  signOf,
} from '../../core/money';
import type { Ending, PricePlan, Target } from '../../core/pricing';
import type { StockRule } from '../../core/stock';
import { countOf, formatCount } from '../../core/units';
import { BeforeAfter } from '../../ui/before-after';
import { Button } from '../../ui/button';
import { type Column, Two } from '../../ui/column';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { say } from '../../ui/said';
import { marketsOf, useShop } from '../../ui/shop';
import { DataTable } from '../../ui/table';
import { theShop } from '../../work/clients';
import type { PlanRow } from '../../work/model';
import type { Prospect, WhatIf } from '../../work/shop/what-if';
import { ChoiceSlot, NumberSlot } from './slot';
import { Swarm } from './swarm';

const whole = (text: string): Parsed<number> => {
  const n = Number(text.trim());
  return Number.isInteger(n) && n >= 0 && n <= 9999 && text.trim()
    ? { ok: true, value: n }
    : { ok: false, reason: 'A whole number from 0 to 9999' };
};
const count = (n: number) => String(n);

const ENDINGS = [
  ['99/100', '.99'],
  ['95/100', '.95'],
  ['49/50', '.49 or .99'],
  ['0/100', 'whole amounts'],
  ['0/1', 'any digit'],
] as const;
const endingKey = (e: Ending | null) => (e ? (`${e.minor}/${e.per}` as (typeof ENDINGS)[number][0]) : '0/1');

const targetOf = (kind: Target['kind'], before: Target): Target => {
  if (kind === before.kind) return before;
  return kind === 'profit' ? { kind, minor: 300 } : { kind, rate: kind === 'margin' ? 200_000 : 500_000 };
};

const planPart = ({
  target,
  flat,
  neverUnderMap,
  neverOverMsrp,
  smallestProfit,
  ending,
  contradiction,
}: PricePlan): PricePlan => ({
  target,
  flat,
  neverUnderMap,
  neverOverMsrp,
  smallestProfit,
  ending,
  contradiction,
});

export function Pricing() {
  const shop = useShop();
  const plan = shop?.plans[0];
  if (!shop || !plan) return null;
  return (
    <PlanEditor
      key={JSON.stringify([plan, shop.settings.stock])}
      saved={plan}
      stockSaved={shop.settings.stock}
      currency={marketsOf(shop)[0]?.site.currency ?? 'GBP'}
    />
  );
}

function PlanEditor({
  saved,
  stockSaved,
  currency,
}: {
  saved: PlanRow;
  stockSaved: StockRule;
  currency: string;
}) {
  const [plan, setPlan] = useState<PricePlan>(() => planPart(saved));
  const [stock, setStock] = useState(stockSaved);
  const [ahead, setAhead] = useState<WhatIf | null>(null);
  const changed =
    JSON.stringify(plan) !== JSON.stringify(planPart(saved)) ||
    JSON.stringify(stock) !== JSON.stringify(stockSaved);
  useEffect(() => {
    let old = false;
    theShop()
      .whatIf(saved.id, plan, stock)
      .then((got) => !old && setAhead(got));
    return () => {
      old = true;
    };
  }, [saved.id, plan, stock]);
  const set = (part: Partial<PricePlan>) => setPlan((before) => ({ ...before, ...part }));
  const money = {
    write: (n: number) => formatMinor(n, currency),
    parse: (t: string) => parseMinor(t, currency),
  };
  const { target } = plan;
  const moving = ahead ? ahead.rise + ahead.fall : 0;

  const save = async () => {
    const told = await theShop().saveRules(
      [
        { table: 'plans', id: saved.id, set: { ...plan } },
        { table: 'settings', id: 'shop', set: { stock } },
      ],
      `Plan “${saved.name}” changed`,
    );
    await say(
      told
        ? `Saved. ${countOf(told, 'listing')} on the way to the marketplace.`
        : 'Saved. No live listing had to change.',
      { undo: true },
    );
  };
  const rateLimit = (text: string): Parsed<number> => {
    const parsed = parseRate(text);
    if (!parsed.ok) return parsed;
    const most = target.kind === 'margin' ? 900_000 : 20_000_000;
    return parsed.value >= 0 && parsed.value <= most
      ? parsed
      : { ok: false, reason: `From 0 % to ${formatRate(most)}` };
  };

  return (
    <section className="flex min-w-0 grow flex-col">
      <Head
        name="Pricing"
        state={
          changed ? (
            <NeedsYou>changed, not saved</NeedsYou>
          ) : (
            `One plan sets the price of every product; an own price beats it.`
          )
        }
      >
        <Button
          disabled={!changed}
          onClick={() => {
            setPlan(planPart(saved));
            setStock(stockSaved);
          }}
        >
          Discard
        </Button>
        <Button kind="main" disabled={!changed} onClick={save}>
          Save{moving > 0 ? ` and change ${formatCount(moving)} ${moving === 1 ? 'price' : 'prices'}` : ''}
        </Button>
      </Head>
      <div className="border-y border-rule bg-surface px-4 py-2 text-[15.5px] leading-8">
        For <b className="font-semibold">everything</b> aim for a{' '}
        <ChoiceSlot
          label="Target"
          value={target.kind}
          choices={[
            ['margin', 'margin of the selling price'],
            ['markup', 'markup on landed cost'],
            ['profit', 'fixed profit'],
          ]}
          onChange={(kind) => set({ target: targetOf(kind, target) })}
        />{' '}
        of{' '}
        {target.kind === 'profit' ? (
          <NumberSlot
            label="Profit a sale"
            value={target.minor}
            {...money}
            onChange={(minor) => set({ target: { kind: 'profit', minor } })}
          />
        ) : (
          <NumberSlot
            label={target.kind === 'margin' ? 'Margin' : 'Markup'}
            value={target.rate}
            write={(n) => formatRate(n, target.kind === 'markup')}
            parse={rateLimit}
            onChange={(rate) => set({ target: { kind: target.kind, rate } })}
          />
        )}
        , plus{' '}
        <NumberSlot
          label="Flat amount added to the profit"
          value={plan.flat}
          {...money}
          onChange={(flat) => set({ flat })}
        />
        .
        <br />
        Never under{' '}
        <ChoiceSlot
          label="MAP guard"
          value={plan.neverUnderMap ? 'yes' : 'no'}
          choices={[
            ['yes', 'MAP'],
            ['no', 'MAP (guard off)'],
          ]}
          onChange={(v) => set({ neverUnderMap: v === 'yes' })}
        />{' '}
        or a profit of{' '}
        <NumberSlot
          label="Smallest profit"
          value={plan.smallestProfit}
          {...money}
          onChange={(smallestProfit) => set({ smallestProfit })}
        />
        , never over{' '}
        <ChoiceSlot
          label="MSRP guard"
          value={plan.neverOverMsrp ? 'yes' : 'no'}
          choices={[
            ['yes', 'MSRP'],
            ['no', 'MSRP (guard off)'],
          ]}
          onChange={(v) => set({ neverOverMsrp: v === 'yes' })}
        />
        . End in{' '}
        <ChoiceSlot
          label="Ending"
          value={endingKey(plan.ending)}
          choices={ENDINGS}
          onChange={(key) => {
            const [minor, per] = key.split('/').map(Number);
            set({
              ending:
                key === '0/1'
                  ? null
                  : { minor: minor!, per: per!, direction: plan.ending?.direction ?? 'up' },
            });
          }}
        />
        {plan.ending && (
          <>
            , rounding{' '}
            <ChoiceSlot
              label="Direction"
              value={plan.ending.direction}
              choices={[
                ['up', 'up'],
                ['down', 'down'],
                ['nearest', 'to the nearest'],
              ]}
              onChange={(direction) => set({ ending: { ...plan.ending!, direction } })}
            />
          </>
        )}
        . Where guards contradict,{' '}
        <ChoiceSlot
          label="Where guards contradict"
          value={plan.contradiction}
          choices={[
            ['show none', 'show none if a sale would lose'],
            ['floor', 'sell at the floor'],
            ['stay', 'stay at the old price'],
          ]}
          onChange={(contradiction) => set({ contradiction })}
        />
        .
        <br />
        Show at most{' '}
        <NumberSlot
          label="At most"
          value={stock.atMost}
          write={count}
          parse={whole}
          onChange={(atMost) => setStock({ ...stock, atMost })}
        />{' '}
        of what the supplier has, after keeping{' '}
        <NumberSlot
          label="Safety amount"
          value={stock.safety}
          write={count}
          parse={whole}
          onChange={(safety) => setStock({ ...stock, safety })}
        />{' '}
        back for safety.
      </div>
      {ahead && ahead.listings > 0 ? (
        <Ahead ahead={ahead} currency={currency} changed={changed} />
      ) : (
        ahead && (
          <Empty title="No live listing follows this plan yet">
            <p>
              Goods on the Bench show their price under it; once some are live, what a change would do to each
              of them is drawn here before it is saved.
            </p>
          </Empty>
        )
      )}
    </section>
  );
}

function Ahead({ ahead, currency, changed }: { ahead: WhatIf; currency: string; changed: boolean }) {
  const share = (tenths: number | null) => (tenths === null ? 'none' : formatShare(tenths, 1000));
  const columns = useMemo(
    (): Column<Prospect>[] => [
      {
        id: 'title',
        header: 'Listing',
        size: 220,
        grows: true,
        rank: 0,
        cell: (p) => <Two top={p.title} under={<span className="font-mono">{p.sku}</span>} />,
      },
      {
        id: 'price',
        header: `Price ${signOf(currency)}`,
        size: 200,
        rank: 1,
        right: true,
        cell: (p) =>
          p.to === null ? (
            formatMinor(p.from, currency)
          ) : (
            <BeforeAfter from={p.from} to={p.to} currency={currency} />
          ),
      },
      {
        id: 'margin',
        header: 'Margin',
        size: 150,
        rank: 2,
        right: true,
        cell: (p) =>
          p.to === null ? (
            formatShare(p.profitFrom, p.from)
          ) : (
            <>
              <span className="text-muted">{formatShare(p.profitFrom, p.from)} →</span>{' '}
              {formatShare(p.profitTo!, p.to)}
            </>
          ),
      },
      {
        id: 'shown',
        header: 'Shown',
        size: 90,
        rank: 2,
        right: true,
        cell: (p) => (p.shownFrom === p.shownTo ? p.shownTo : `${p.shownFrom} → ${p.shownTo}`),
      },
      {
        id: 'says',
        header: '',
        size: 120,
        rank: 5,
        cell: (p) => (
          <span title={p.says} className={p.to === null ? 'text-lamp' : 'text-muted'}>
            {p.says}
          </span>
        ),
      },
    ],
    [currency],
  );
  const [chosen, setChosen] = useState('');
  return (
    <>
      <p className="px-4 pt-3 text-sm" role="status">
        <b className="font-semibold">{changed ? 'What would happen' : 'As things stand'}</b>{' '}
        <span className="text-muted">
          {formatCount(ahead.stay)} stay,{' '}
          <b className="font-semibold text-river">{formatCount(ahead.rise)} rise</b>,{' '}
          {formatCount(ahead.fall)} fall
          {ahead.held > 0 && (
            <>
              , <NeedsYou>{formatCount(ahead.held)} held by guards</NeedsYou>
            </>
          )}
          . Median margin {share(ahead.marginFrom)} → {share(ahead.marginTo)}.{' '}
          {ahead.shown > 0 && `${countOf(ahead.shown, 'listing')} would show another quantity.`}
        </span>
      </p>
      {changed ? (
        <div className="px-4 pt-2 pb-1">
          <Swarm {...ahead} />
        </div>
      ) : (
        <p className="px-4 pt-1 pb-2 text-[13px] text-muted">
          Change an underlined part: what would happen to each listing is drawn here before anything is saved.
        </p>
      )}
      {ahead.listings > ahead.prospects.length && (
        <p className="px-4 pb-1 text-[13px] text-muted">
          The {formatCount(ahead.prospects.length)} that change most stand below.
        </p>
      )}
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
    </>
  );
}
