'use client';
import Link from 'next/link';
import { useId, useState } from 'react';
import { formatMinor, formatMoney, parseMinor } from '../../core/money';
import { GOODS_PLACES, type GoodsPlace, type ReturnAnswer, unitsInWords } from '../../core/orders';
import { reasonById } from '../../core/returns';
import { spanOf, whenOf } from '../../core/units';
import { AmountField } from '../../ui/amount-field';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { ReturnInFull } from '../../work/order-book/returns';
import { marketOf, nameIn, type ShopTerms } from '../../work/quoting/worth';
import type { Act } from './act';
import { ClaimSection } from './claim-section';
import { HeldParcel } from './held-parcel';
import { KIND, PART, PLACE, proposalInWords } from './words';

interface Props {
  readonly found: ReturnInFull;
  readonly shop: ShopTerms;
  readonly now: number;
  readonly onClose: () => void;
}

/** One return: what the buyer says, what is proposed, the answer, the supplier, the goods, and what it cost. */
export function ReturnDocket({ found, shop, now, onClose }: Props) {
  const { case: c, of: order, texts, step, due } = found;
  const { zone } = shop.settings;
  const nameOf = nameIn(shop);
  const [busy, setBusy] = useState(false);
  const act: Act = async (doing, done) => {
    setBusy(true);
    const said = await doing;
    await say(said.ok ? done : said.reason, { wrong: !said.ok });
    setBusy(false);
  };
  const { reasons } = found;
  const words = c.words === null ? '' : (texts[c.words] ?? '');
  const known = reasons.some((r) => r.id === c.reason);
  return (
    <Docket label="Return" onClose={onClose}>
      <h2 className="text-base font-semibold">
        {KIND[c.what]}{' '}
        <span className="text-xs font-normal text-muted">
          <Link
            href={`/orders?row=${encodeURIComponent(order.id)}`}
            className="font-mono text-river hover:underline"
          >
            {order.number}
          </Link>{' '}
          · {marketOf(shop, order.marketplace)?.name} · {now > 0 && whenOf(c.at, now, zone)}
        </span>
      </h2>
      <p className="mt-1 text-[13.5px]">
        {(() => {
          const units = unitsInWords({ ...order, texts }, c.units);
          return units === 'it' ? found.title : units;
        })()}
      </p>
      {words && (
        <blockquote className="mt-1 border-l-[3px] border-rule pl-2 text-[13.5px]">“{words}”</blockquote>
      )}
      {c.refused && <Notice tone="loss">The answer was not taken: {c.refused}</Notice>}
      {(step === 'answer' || step === 'refund' || step === 'mend') && (
        <AnswerForm key={`${c.id} ${c.state}`} found={found} busy={busy} act={act} now={now} />
      )}
      {step === 'held' && <HeldParcel found={found} shop={shop} now={now} busy={busy} act={act} />}
      {step === 'close' && (
        <Notice>
          <p>Nothing more is awaited.</p>
          <Button
            kind="main"
            className="mt-1.5"
            disabled={busy}
            onClick={() => act(theShop().closeReturn(order.id, c.id, true), 'The return is closed.')}
          >
            Close it
          </Button>
        </Notice>
      )}
      {due !== null && now > 0 && step !== 'answer' && step !== 'held' && (
        <p className="mt-1 text-xs text-muted">
          {due > now ? `Until ${whenOf(due, now, zone)}.` : `Its time passed ${spanOf(now - due)} ago.`}
        </p>
      )}
      <Section title="Reason and goods">
        <div className="grid grid-cols-2 gap-2">
          <label className="text-xs text-muted">
            Reason
            <select
              value={c.reason}
              onChange={(e) =>
                act(
                  theShop().noteReturn(order.id, c.id, { reason: e.target.value }),
                  'The reason was changed.',
                )
              }
              className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
            >
              {!known && <option value={c.reason}>{c.reason}</option>}
              {reasons.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
            </select>
          </label>
          <label className="text-xs text-muted">
            Where the goods are
            <select
              value={c.goods}
              onChange={(e) =>
                act(
                  theShop().noteReturn(order.id, c.id, { goods: e.target.value as GoodsPlace }),
                  'Where the goods are was changed.',
                )
              }
              className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
            >
              {GOODS_PLACES.map((place) => (
                <option key={place} value={place}>
                  {PLACE[place]}
                </option>
              ))}
            </select>
          </label>
        </div>
        <p className="mt-1 text-xs text-muted">
          {
            {
              supplier: 'By its reason the supplier is at fault.',
              carrier: 'By its reason the carrier is at fault.',
              buyer: 'By its reason nobody is at fault.',
              seller: 'By its reason the listing is at fault.',
            }[reasonById(reasons, c.reason).fault]
          }
        </p>
      </Section>
      <ClaimSection found={found} shop={shop} nameOf={nameOf} now={now} busy={busy} act={act} />
      <LossTable found={found} books={shop.settings.currency} />
      {c.closedAt !== null && (
        <Button
          kind="text"
          className="mt-3"
          disabled={busy}
          onClick={() => act(theShop().closeReturn(order.id, c.id, false), 'The return is open again.')}
        >
          Open it again
        </Button>
      )}
      {c.closedAt === null && step !== 'close' && (
        <Button
          kind="text"
          className="mt-3"
          disabled={busy}
          onClick={() => act(theShop().closeReturn(order.id, c.id, true), 'The return is closed.')}
        >
          Close it without waiting
        </Button>
      )}
    </Docket>
  );
}

/** The answer to a buyer: what is proposed stands chosen. */
function AnswerForm({
  found,
  busy,
  act,
  now,
}: {
  found: ReturnInFull;
  busy: boolean;
  act: Act;
  now: number;
}) {
  const { case: c, of: order, proposal, paid, left, due } = found;
  const id = useId();
  const back = c.state === 'received';
  const [answer, setAnswer] = useState<ReturnAnswer>(back ? 'refund' : proposal.answer);
  const [minor, setMinor] = useState(Math.min(paid, left));
  const [label, setLabel] = useState<'buyer' | 'seller'>(proposal.claim ? 'seller' : 'buyer');
  const [says, setSays] = useState('');
  const bank = c.what === 'chargeback';
  const choices: readonly (readonly [ReturnAnswer, string])[] = back
    ? [['refund', 'Refund']]
    : bank
      ? [
          ['decline', 'Contest it'],
          ['refund', 'Let it stand'],
        ]
      : c.what === 'return'
        ? [
            ['accept', 'Take it back'],
            ['refund', 'Refund, goods stay'],
            ['decline', 'Decline'],
          ]
        : [
            ['refund', 'Refund'],
            ['decline', 'Decline'],
          ];
  const money = (n: number) => formatMoney({ minor: n, currency: order.currency });
  const ready = answer !== 'decline' || says.trim().length > 0;
  const done =
    answer === 'refund' && !bank
      ? `${money(minor)} is refunded.`
      : answer === 'decline'
        ? 'Declined; the marketplace is told.'
        : 'Answered; the marketplace is told.';
  return (
    <form
      className="my-2.5 border-l-[3px] border-lamp bg-lamp-soft px-2.5 py-2 text-[13.5px]"
      onSubmit={(e) => {
        e.preventDefault();
        if (!ready || busy) return;
        void act(
          theShop().answerReturn(order.id, c.id, {
            answer,
            minor: answer === 'refund' ? minor : 0,
            label,
            says,
          }),
          done,
        );
      }}
    >
      <p>
        {back ? 'The goods came back: the refund is due.' : proposalInWords(proposal)}
        {due !== null && now > 0 && (
          <b className="ml-1 font-semibold">
            {due > now ? `${spanOf(due - now)} left.` : `Its time passed ${spanOf(now - due)} ago.`}
          </b>
        )}
      </p>
      {choices.length > 1 && (
        <div role="radiogroup" aria-label="Answer" className="mt-1.5 flex flex-wrap gap-3">
          {choices.map(([value, name]) => (
            <label key={value} className="flex items-center gap-1.5">
              <input
                type="radio"
                name={`${id}-answer`}
                checked={answer === value}
                onChange={() => setAnswer(value)}
                className="accent-river"
              />
              {name}
            </label>
          ))}
        </div>
      )}
      {answer === 'refund' && !bank && (
        <div className="mt-1.5 flex items-end gap-2">
          <AmountField
            label={`Refund, ${order.currency}`}
            value={minor}
            write={(n) => formatMinor(n, order.currency)}
            parse={(text) => {
              const parsed = parseMinor(text, order.currency);
              if (!parsed.ok) return parsed;
              if (parsed.value < 1) return { ok: false, reason: 'More than nothing.' };
              return parsed.value > left ? { ok: false, reason: `At most ${money(left)}.` } : parsed;
            }}
            onChange={(n) => setMinor(n ?? minor)}
          />
          <span className="pb-1 text-xs text-muted">
            {money(paid)} was paid for it{left < paid ? `; ${money(left)} is left to refund` : ''}.
          </span>
        </div>
      )}
      {answer === 'accept' && (
        <label className="mt-1.5 flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={label === 'seller'}
            onChange={(e) => setLabel(e.target.checked ? 'seller' : 'buyer')}
            className="accent-river"
          />
          I pay the label
        </label>
      )}
      <label htmlFor={`${id}-says`} className="mt-1.5 block text-xs text-muted">
        {answer === 'decline' ? 'Why not, as the buyer reads it' : 'A word to the buyer, if you like'}
      </label>
      <textarea
        id={`${id}-says`}
        value={says}
        rows={2}
        maxLength={1000}
        onChange={(e) => setSays(e.target.value)}
        className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
      />
      <Button type="submit" kind="main" className="mt-1.5" disabled={busy || !ready}>
        {answer === 'refund' && !bank ? `Refund ${money(minor)}` : choices.find(([v]) => v === answer)?.[1]}
      </Button>
    </form>
  );
}

/** What a return cost in the end, part by part. */
function LossTable({ found, books }: { found: ReturnInFull; books: string }) {
  const { parts, total } = found.loss;
  return (
    <Section title={`What it cost, in ${books}`}>
      {parts.length === 0 ? (
        <p className="text-[13.5px] text-muted">Nothing so far.</p>
      ) : (
        <table className="w-full text-[13.5px]">
          <tbody>
            {parts.map((p) => (
              <tr key={p.kind}>
                <th scope="row" className="py-0.5 text-left font-normal">
                  {PART[p.kind]}
                  {p.currency !== books && (
                    <span className="ml-1 text-xs text-muted">
                      {formatMoney({ minor: p.minor, currency: p.currency }, true)}
                    </span>
                  )}
                </th>
                <td className="text-right">
                  {p.books === null ? 'no rate' : formatMinor(p.books, books, true)}
                </td>
              </tr>
            ))}
            <tr
              className={`border-t border-rule font-semibold ${total !== null && total < 0 ? 'text-loss' : 'text-river'}`}
            >
              <th scope="row" className="py-0.5 text-left font-semibold">
                {total !== null && total < 0 ? 'Lost' : 'Left over'}
              </th>
              <td className="text-right">{total === null ? '–' : formatMinor(total, books, true)}</td>
            </tr>
          </tbody>
        </table>
      )}
      <p className="mt-1 text-xs text-muted">
        It is the return’s share of the order’s account, by the rates of its entries. The goods themselves
        were paid for with the order.
      </p>
    </Section>
  );
}
