'use client';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { NEAR_PRINT, type OrderRules, USUAL_RULES } from '../../../core/forwarding';
import { formatMinor, formatMoney, parseMinor } from '../../../core/money';
import { problemsOf } from '../../../core/query';
import { formatCount } from '../../../core/units';
import { AmountField } from '../../../ui/amount-field';
import { useAnswer } from '../../../ui/answer';
import { Button } from '../../../ui/button';
import { Head, Notice, Section } from '../../../ui/head';
import { Loading } from '../../../ui/loading';
import { say } from '../../../ui/said';
import { useShop } from '../../../ui/shop';
import { useOrdersVersion } from '../../../ui/versions';
import { failureInWords } from '../../../work/context/failure';
import { theShop } from '../../../work/desk/client';
import type { Settings } from '../../../work/model';
import { BUYING_FIELDS } from '../../../work/orders/buying';
import type { Ahead } from '../../../work/orders/rules';
import { type ShopTerms, suppliersOf } from '../../../work/quoting/worth';
import { CheckRules } from './check-rules';
import { ForwardingRules } from './forwarding-rules';
import { GoingFields } from './going-fields';
import { ServiceRules } from './service-rules';
import { WatchList } from './watch-list';

/** The rules between the sale and the purchase, with what a change of them would do to what waits. */
export function OrderRulesPage() {
  const shop = useShop();
  if (!shop) return <Loading name="Order rules" />;
  return <Open shop={shop} />;
}

type Draft = Required<Pick<Settings, 'forward' | 'orders' | 'telling'>>;

const TELLS = {
  'at once': 'at once',
  wait: 'after a wait',
  hours: 'at set hours',
  'by hand': 'when I say so',
} as const;

const AT_ONCE: Draft['telling'] = { kind: 'at once' };

const STRATEGIES = {
  preferred: 'the preferred one, as long as it has a unit',
  cheapest: 'the cheapest with its shipping',
  fastest: 'the fastest promised',
  nearest: 'one in the buyer’s country',
} as const satisfies Record<OrderRules['sourcing']['by'], string>;

const SELECT = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-ink';

function Open({ shop }: { shop: ShopTerms }) {
  const { settings } = shop;
  const saved = useMemo<Draft>(
    () => ({
      forward: settings.forward,
      orders: settings.orders ?? USUAL_RULES,
      telling: settings.telling ?? AT_ONCE,
    }),
    [settings.forward, settings.orders, settings.telling],
  );
  const [edited, setEdited] = useState<Draft | null>(null);
  const [busy, setBusy] = useState(false);
  const draft = edited ?? saved;
  const { orders } = draft;
  const key = JSON.stringify(draft);
  const changed = key !== JSON.stringify(saved);
  const set = (part: Partial<OrderRules>) => setEdited({ ...draft, orders: { ...orders, ...part } });
  const misread = [...orders.forwarding, ...orders.checks, ...(orders.services ?? [])].some(
    (r) => problemsOf(r.when, BUYING_FIELDS).length,
  );
  const unnamed = orders.forwarding.some((r) => !r.name.trim());
  const version = useOrdersVersion();
  const ahead = useAnswer(
    () => (misread || !version ? null : theShop().rulesAhead(draft)),
    [key, misread, version],
    200,
  );
  const books = settings.currency;
  const save = async () => {
    setBusy(true);
    try {
      await theShop().setOrderRules(draft, 'Order rules');
      setEdited(null);
      await say('Rules saved; what waits was decided by them.', { undo: true });
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setBusy(false);
  };
  const suppliers = suppliersOf(shop);
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head name="Order rules" state="What holds an order, when it is forwarded, and to whom.">
        <Link href="/orders" className="text-[13px] text-river underline">
          Orders
        </Link>
        <Button disabled={!changed || busy} onClick={() => setEdited(null)}>
          Discard
        </Button>
        <Button
          kind="main"
          disabled={!changed || busy || misread || unnamed}
          title={misread ? 'A condition is not understood.' : unnamed ? 'A rule has no name.' : undefined}
          onClick={save}
        >
          Save rules
        </Button>
      </Head>
      <div className="max-w-4xl px-4 pb-8">
        <AheadNotice ahead={ahead ?? null} books={books} changed={changed} />
        <Section title="When an order that passed its checks is forwarded: the first rule that fits">
          <ForwardingRules
            rules={orders.forwarding}
            zone={settings.zone}
            onChange={(forwarding) => set({ forwarding })}
          />
          <p className="mt-2 text-[13.5px]">
            <label>
              All others are forwarded{' '}
              <select
                className={SELECT}
                value={draft.forward}
                onChange={(e) =>
                  setEdited({ ...draft, forward: e.target.value === 'at once' ? 'at once' : 'by hand' })
                }
              >
                <option value="at once">at once</option>
                <option value="by hand">when I say so</option>
              </select>
            </label>
            <span className="text-muted">
              {' '}
              Personalised and held orders are never forwarded automatically.
            </span>
          </p>
        </Section>
        <Section title="What a failed check does">
          <CheckRules rules={orders.checks} onChange={(checks) => set({ checks })} />
          <div className="mt-2 flex flex-wrap items-end gap-4 text-[13.5px]">
            <AmountField
              label={`Unusual above, ${books}`}
              value={orders.usual.paid}
              write={(minor) => formatMinor(minor, books)}
              parse={(text) => parseMinor(text, books)}
              onChange={(paid) => paid !== null && set({ usual: { ...orders.usual, paid } })}
            />
            <AmountField
              label="Unusual above, units of a line"
              value={orders.usual.units}
              write={String}
              parse={wholeNumber(1, 100_000)}
              onChange={(units) => units !== null && set({ usual: { ...orders.usual, units } })}
            />
            <AmountField
              label="Costs are old after, days"
              value={orders.costDays}
              write={String}
              parse={wholeNumber(1, 365)}
              onChange={(costDays) => costDays !== null && set({ costDays })}
            />
          </div>
          <WatchList watched={orders.watched} onChange={(watched) => set({ watched })} />
          <p className="mt-2 text-[13.5px]">
            <label>
              Orders with no goods of yours are{' '}
              <select
                className={SELECT}
                value={orders.foreign}
                onChange={(e) => set({ foreign: e.target.value === 'hold' ? 'hold' : 'set aside' })}
              >
                <option value="hold">held</option>
                <option value="set aside">set aside when they come in</option>
              </select>
            </label>
          </p>
          <p className="mt-2 text-[13.5px]">
            <label>
              When a buyer asks to cancel,{' '}
              <select
                className={SELECT}
                value={orders.requests ?? 'ask'}
                onChange={(e) => set({ requests: e.target.value === 'ask' ? 'ask' : 'accept unbought' })}
              >
                <option value="ask">ask me</option>
                <option value="accept unbought">accept it while nothing is bought</option>
              </select>
            </label>
          </p>
        </Section>
        <Section title="How it is shipped">
          <ServiceRules
            rules={orders.services ?? []}
            books={books}
            onChange={(services) => set({ services })}
          />
        </Section>
        <Section title="When the marketplace is told of a parcel">
          <GoingFields
            label="Parcels are told"
            going={draft.telling}
            zone={settings.zone}
            words={TELLS}
            onChange={(telling) => setEdited({ ...draft, telling })}
          />
          <p className="mt-1 text-[13px] text-muted">
            What waits can be told sooner: of one parcel in its order, of many in “More for these”.
          </p>
        </Section>
        <Section title="Which source a line is bought from">
          <p className="flex flex-wrap items-center gap-x-2 text-[13.5px]">
            <label>
              Of several sources, first{' '}
              <select
                className={SELECT}
                value={orders.sourcing.by}
                onChange={(e) =>
                  set({ sourcing: { ...orders.sourcing, by: e.target.value as keyof typeof STRATEGIES } })
                }
              >
                {Object.entries(STRATEGIES).map(([id, says]) => (
                  <option key={id} value={id}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
            {orders.sourcing.by === 'nearest' && (
              <AmountField
                label={`for up to this more, ${books}`}
                value={orders.sourcing.upTo}
                write={(minor) => formatMinor(minor, books)}
                parse={(text) => parseMinor(text, books)}
                onChange={(upTo) => upTo !== null && set({ sourcing: { ...orders.sourcing, upTo } })}
              />
            )}
          </p>
          <p className="mt-1 text-[13px] text-muted">
            What a source does not have is bought from the next; one that does not ship to the buyer is passed
            over. A source that you choose in an order goes first.
          </p>
          {suppliers.some((s) => s.sites?.length) && (
            <p className="mt-2 text-[13.5px]">
              <AmountField
                label={`What is made to order is printed at the site nearest to the buyer for up to this more, ${books}`}
                value={orders.printNear ?? NEAR_PRINT}
                write={(minor) => formatMinor(minor, books)}
                parse={(text) => parseMinor(text, books)}
                onChange={(printNear) => printNear !== null && set({ printNear })}
              />
              <span className="mt-1 block text-[13px] text-muted">
                Where it lacks the blank, the next site prints it.
              </span>
            </p>
          )}
          <p className="mt-2 text-[13.5px]">
            <label>
              When a supplier refuses or cancels,{' '}
              <select
                className={SELECT}
                value={orders.refused}
                onChange={(e) => set({ refused: e.target.value === 'ask' ? 'ask' : 'next source' })}
              >
                <option value="ask">hold the order and ask me</option>
                <option value="next source">buy from the next source, where the checks pass</option>
              </select>
            </label>
          </p>
          <fieldset className="mt-2 text-[13.5px]">
            <legend className="text-xs text-muted">Not bought from for now</legend>
            {suppliers.map((s) => (
              <label key={s.id} className="mr-4">
                <input
                  type="checkbox"
                  className="mr-1 accent-river"
                  checked={orders.stopped.includes(s.id)}
                  onChange={(e) =>
                    set({
                      stopped: e.target.checked
                        ? [...orders.stopped, s.id]
                        : orders.stopped.filter((id) => id !== s.id),
                    })
                  }
                />
                {s.name}
              </label>
            ))}
          </fieldset>
        </Section>
      </div>
    </section>
  );
}

const wholeNumber = (least: number, most: number) => (text: string) => {
  const value = Number(text.trim());
  return Number.isInteger(value) && value >= least && value <= most
    ? ({ ok: true, value } as const)
    : ({ ok: false, reason: `A whole number from ${least} to ${formatCount(most)}` } as const);
};

const PARTS = [
  ['goes', 'forwarded at once'],
  ['waits', 'forwarded later by a rule'],
  ['ready', 'wait for you'],
  ['held', 'held'],
] as const satisfies readonly (readonly [keyof Ahead, string])[];

/** What becomes of the orders that wait, now and by the draft. */
function AheadNotice({
  ahead,
  books,
  changed,
}: {
  ahead: { readonly before: Ahead; readonly after: Ahead } | null;
  books: string;
  changed: boolean;
}) {
  if (!ahead) return <p className="min-h-14 text-[13.5px] text-muted">Looking at what waits …</p>;
  const { before: now, after } = ahead;
  const total = PARTS.reduce((n, [part]) => n + now[part], 0);
  return (
    <Notice tone={changed && after.goes > now.goes ? 'person' : 'plain'}>
      <span role="status">
        Of {formatCount(total)} waiting orders:{' '}
        {PARTS.map(([part, says]) =>
          changed && now[part] !== after[part]
            ? `${formatCount(now[part])} → ${formatCount(after[part])} ${says}`
            : `${formatCount(after[part])} ${says}`,
        ).join(', ')}
        .
        {changed && after.goes > 0 && (
          <b className="font-semibold">
            {' '}
            Saving spends {formatMoney({ minor: after.spends, currency: books })} at once.
          </b>
        )}
      </span>
    </Notice>
  );
}
