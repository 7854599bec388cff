'use client';
import Link from 'next/link';
import { useState } from 'react';
import { USUAL_RULES } from '../../core/forwarding';
import { formatMoney } from '../../core/money';
import { countOf, spanOf, whenOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Empty, Head } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { useOrdersVersion } from '../../ui/versions';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { Said } from '../../work/orders/actions';
import { nameIn } from '../../work/quoting/worth';

/** Rows that are shown: those that go first. */
const SHOWN = 200;

/** The purchases that stand ready, when each is made, what it costs and what is left at its supplier afterwards. */
export function ComingPurchases() {
  const shop = useShop();
  const now = useNow();
  const version = useOrdersVersion();
  const coming = useAnswer(() => (version ? theShop().comingPurchases() : null), [version]);
  const [busy, setBusy] = useState('');
  if (!shop || !coming) return <Loading name="Coming purchases" />;
  const nameOf = nameIn(shop);
  const rules = shop.settings.orders ?? USUAL_RULES;
  const act = async (id: string, doing: () => Promise<Said>, done: string) => {
    setBusy(id);
    const said = await doing();
    await say(said.ok ? done : said.reason, { wrong: !said.ok });
    setBusy('');
  };
  const suppliers = [...new Set([...coming.map((c) => c.supplier), ...rules.stopped])];
  const stop = async (supplier: string, stopped: boolean) => {
    setBusy(supplier);
    try {
      const others = rules.stopped.filter((id) => id !== supplier);
      await theShop().setOrderRules(
        { orders: { ...rules, stopped: stopped ? [...others, supplier] : others } },
        `${stopped ? 'Stop' : 'Resume'} buying from ${nameOf(supplier)}`,
      );
      await say(`Buying from ${nameOf(supplier)} is ${stopped ? 'stopped' : 'resumed'}.`, { undo: true });
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
    setBusy('');
  };
  const own = coming.filter((c) => c.at !== null && !c.kept).length;
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Coming purchases"
        state={`${countOf(own, 'purchase')} forwarded by a rule, ${coming.length - own} when you say so.`}
      >
        <Link href="/orders/rules" className="text-[13px] text-river underline">
          Rules
        </Link>
        <Link href="/orders" className="text-[13px] text-river underline">
          Orders
        </Link>
      </Head>
      {suppliers.length > 0 && (
        <div className="flex flex-wrap gap-2 px-4 pb-2">
          {suppliers.map((s) => {
            const stopped = rules.stopped.includes(s);
            return (
              <Button key={s} disabled={busy !== ''} onClick={() => stop(s, !stopped)}>
                {stopped ? `Resume buying from ${nameOf(s)}` : `Stop buying from ${nameOf(s)}`}
              </Button>
            );
          })}
        </div>
      )}
      {coming.length === 0 ? (
        <Empty title="Nothing stands ready">
          <p>
            Orders that pass their checks and wait for their time, or for your word, stand here with what they
            will cost.
          </p>
        </Empty>
      ) : (
        <div className="px-4 pb-6">
          <table className="w-full max-w-5xl text-[13.5px]">
            <thead className="text-left text-xs text-muted">
              <tr>
                <th scope="col" className="py-1 pr-3 font-normal">
                  When
                </th>
                <th scope="col" className="py-1 pr-3 font-normal">
                  Order
                </th>
                <th scope="col" className="py-1 pr-3 font-normal">
                  From
                </th>
                <th scope="col" className="py-1 pr-3 text-right font-normal">
                  Costs
                </th>
                <th scope="col" className="py-1 pr-3 text-right font-normal">
                  Left there after it
                </th>
                <th scope="col" className="py-1">
                  <span className="sr-only">What can be done</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {coming.slice(0, SHOWN).map((c) => (
                <tr key={`${c.order} ${c.supplier}`} className="border-t border-rule-soft">
                  <td className="py-1 pr-3">
                    {c.kept ? (
                      'Kept back'
                    ) : c.at === null ? (
                      'When you say so'
                    ) : (
                      <>
                        {whenOf(c.at, now, shop.settings.zone)}{' '}
                        <span className="text-xs text-muted">
                          {c.at > now ? `in ${spanOf(c.at - now)}` : 'now'}
                          {c.rule && `, “${c.rule}”`}
                        </span>
                      </>
                    )}
                  </td>
                  <td className="py-1 pr-3">
                    <Link
                      href={`/orders?row=${encodeURIComponent(c.order)}`}
                      className="font-mono text-river underline"
                    >
                      {c.number}
                    </Link>
                  </td>
                  <td className="py-1 pr-3">{nameOf(c.supplier)}</td>
                  <td className="py-1 pr-3 text-right">
                    {formatMoney({ minor: c.cost, currency: c.currency })}
                  </td>
                  <td
                    className={`py-1 pr-3 text-right ${c.balanceAfter !== null && c.balanceAfter < 0 ? 'font-semibold text-loss' : ''}`}
                  >
                    {c.balanceAfter === null
                      ? '–'
                      : formatMoney({ minor: c.balanceAfter, currency: c.currency })}
                  </td>
                  <td className="py-0.5 text-right whitespace-nowrap">
                    <Button
                      kind="text"
                      disabled={busy !== ''}
                      aria-label={`Send ${c.number} now`}
                      onClick={() =>
                        act(c.order, () => theShop().forwardOrder(c.order), `${c.number} is on its way.`)
                      }
                    >
                      Send now
                    </Button>
                    <Button
                      kind="text"
                      disabled={busy !== ''}
                      aria-label={c.kept ? `No longer keep back ${c.number}` : `Keep back ${c.number}`}
                      onClick={() =>
                        act(
                          c.order,
                          () => theShop().keepBack(c.order, !c.kept),
                          c.kept ? `${c.number} goes by its rule again.` : `${c.number} is kept back.`,
                        )
                      }
                    >
                      {c.kept ? 'Let it go' : 'Keep back'}
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {coming.length > SHOWN && (
            <p className="mt-2 text-[13px] text-muted">
              and {countOf(coming.length - SHOWN, 'purchase')} after these.
            </p>
          )}
        </div>
      )}
    </section>
  );
}
