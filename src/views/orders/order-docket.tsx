'use client';
import Link from 'next/link';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { type Entry, inBooks } from '../../core/ledger';
import { formatExchange, formatMinor, formatMoney } from '../../core/money';
import {
  type Address,
  type Buyer,
  checkInWords,
  isApproved,
  isCancelled,
  isLate,
  marksOf,
  mayDo,
  type OrderLine,
  openLines,
  soldIn,
} from '../../core/orders';
import { countOf, whenOf } from '../../core/units';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Section } from '../../ui/head';
import { History } from '../../ui/history';
import { Passage } from '../../ui/passage';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { Order } from '../../work/model';
import type { OrderInFull } from '../../work/order-book/order-book';
import { actualOf, expectedOf } from '../../work/orders/accounts';
import type { FullListing } from '../../work/quoting/full-listing';
import { listingOf } from '../../work/quoting/promised';
import { marketOf, type ShopTerms, supplierOf } from '../../work/quoting/worth';
import { AccountTable } from '../money/account-table';
import { AddressFields, FormField } from './address-fields';
import { AddressProposal } from './address-proposal';
import { buyerName, giftOf, slipOf, type ToldOrder, textOf, townOf } from './buyer-words';
import { EraseBuyer } from './erase-buyer';
import { LineSources } from './line-sources';
import { type Act, type Asks, OrderActs } from './order-acts';
import { OrderReturns } from './order-returns';
import { BuyerNote, OwnNotes } from './own-notes';
import { PurchaseCard } from './purchase-card';
import { SlipSection } from './slip-section';
import { heldAt } from './standing';

interface Props {
  readonly found: OrderInFull;
  readonly shop: ShopTerms;
  readonly now: number;
  /** Changes with the orders. */
  readonly version: string;
  readonly onClose: () => void;
}

/**
 * One order in full: where it stands, the checks before money is spent, what each supplier gets, expected beside
 * actual, its history.
 */
export function OrderDocket({ found, shop, now, version, onClose }: Props) {
  const { buyer, ledger, linked, edits } = found;
  const order: ToldOrder = { ...found.order, texts: buyer.texts };
  const [asks, setAsks] = useState<Asks>(null);
  const zone = shop.settings.zone;
  const books = shop.settings.currency;
  const act: Act = async (doing, done, undo = false) => {
    const said = await doing;
    setAsks(null);
    if (said.ok) await say(done, { undo });
    else await say(said.reason, { wrong: true });
  };
  const expected = expectedOf(order, books);
  const actual = actualOf(order, ledger, books);
  return (
    <Docket label="Order" onClose={onClose}>
      <h2 className="text-base font-semibold">
        <span className="font-mono">{order.number}</span>{' '}
        <span className="text-xs font-normal text-muted">
          {marketOf(shop, order.marketplace)?.name} ·{' '}
          {[buyerName(buyer), townOf(order, buyer)].filter(Boolean).join(', ')} ·{' '}
          {now > 0 && whenOf(order.paidAt, now, zone)}
        </span>
      </h2>
      <div className="mt-2 px-1">
        <Passage
          large
          marks={marksOf(order)}
          heldAt={heldAt(order)}
          late={isLate(order, order.shipBy, now)}
          cancelled={isCancelled(order)}
          shipBy={order.shipBy}
          now={now}
          zone={zone}
        />
      </div>
      <OrderActs {...{ order, shop, linked, asks, setAsks, act }} />
      <BuyerNote order={order} buyer={buyer} />
      <AddressProposal order={order} buyer={buyer} act={act} />
      <Checks order={order} />
      <LineSources order={order} shop={shop} version={version} act={act} />
      <Section
        title="Purchases"
        aside={
          mayDo('edit', order) && asks !== 'edit' ? (
            <Button kind="text" className="py-0" onClick={() => setAsks('edit')}>
              Edit
            </Button>
          ) : null
        }
      >
        {asks === 'edit' && mayDo('edit', order) ? (
          <EditForm
            address={buyer.addresses[order.address]!}
            slip={slipOf(order, shop)}
            gift={giftOf(order)}
            onCancel={() => setAsks(null)}
            onSave={({ slip, gift, ...address }) =>
              act(
                theShop().editOrder(order.id, { address, slip, gift }),
                `${order.number} changed and checked again.`,
                true,
              )
            }
          />
        ) : (
          <Destination order={order} buyer={buyer} shop={shop} linked={linked} />
        )}
        {order.purchases.map((p) => (
          <PurchaseCard
            key={`${p.supplier} ${p.reference}`}
            order={order}
            purchase={p}
            supplier={supplierOf(shop, p.supplier)}
            address={buyer.addresses[order.address]!}
            shop={shop}
            now={now}
            zone={zone}
          />
        ))}
      </Section>
      <OrderReturns order={order} shop={shop} act={act} />
      {(expected || actual) && (
        <Section title={`Money, in ${books}`}>
          <AccountTable expected={expected} actual={actual} currency={books} />
          {!actual && ledger && ledger.entries.some((e) => e.from !== '') && (
            <p className="mt-1 text-xs text-muted">
              Not everything is charged yet: the marketplace settles its fees once every parcel is reported.
            </p>
          )}
          {ledger && <Entries entries={ledger.entries} books={books} />}
        </Section>
      )}
      <SlipSection order={found.order} version={version} />
      <OwnNotes order={found.order} buyer={buyer} act={act} />
      <EraseBuyer order={order} buyer={buyer} now={now} zone={zone} />
      <Section title="History">
        <History of={[`order:${order.id}`]} laidAway={edits} now={now} zone={zone} />
      </Section>
    </Docket>
  );
}

/** The checks made before money is spent: what failed and was released first, the others on demand. */
function Checks({ order }: { order: Order }) {
  const failed = order.checks.filter((c) => !c.passed);
  const passed = order.checks.filter((c) => c.passed);
  return (
    <Section title="Checks before money is spent">
      <ul className="text-[13.5px]">
        {failed.map((c) => (
          <li
            key={c.kind}
            className={`flex gap-2 py-0.5 ${c.weight === 'pass' ? 'text-muted' : 'text-lamp'}`}
          >
            <span aria-hidden className="w-3 shrink-0 text-center">
              {c.weight === 'pass' ? '–' : '◆'}
            </span>
            <span>
              <span className="sr-only">Failed: </span>
              {checkInWords(c)}
              {order.released.includes(c.kind) && ' Released by you.'}
              {c.weight === 'warn' && ' It does not hold the order.'}
              {c.weight === 'pass' && ' Let pass by your rule.'}
            </span>
          </li>
        ))}
      </ul>
      {passed.length > 0 && (
        <details className="text-[13.5px]">
          <summary className="text-muted">{countOf(passed.length, 'check')} passed</summary>
          <ul>
            {passed.map((c) => (
              <li key={c.kind} className="flex gap-2 py-0.5">
                <span aria-hidden className="w-3 shrink-0 text-center">
                  ✓
                </span>
                <span>
                  <span className="sr-only">Passed: </span>
                  {checkInWords(c)}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </Section>
  );
}

/** The lines that nothing is bought for yet, and where everything goes. */
function Destination({
  order,
  buyer,
  shop,
  linked,
}: {
  order: ToldOrder;
  buyer: Buyer;
  shop: ShopTerms;
  linked: ReadonlyMap<string, FullListing>;
}) {
  const a = buyer.addresses[order.address]!;
  const open = new Map(openLines(order).map((l) => [l.id, l.open]));
  return (
    <div className="text-[13.5px]">
      {order.lines.map((l) => {
        const full = linked.get(listingOf(order, l));
        const source = full?.source;
        return (
          <div key={l.id}>
            <span className={soldIn(l) > 0 ? '' : 'text-muted line-through'}>
              {l.quantity} × {l.title}
            </span>
            {l.cancelled > 0 && soldIn(l) > 0 && (
              <span className="text-muted">
                {' '}
                {l.cancelled} of {l.quantity} cancelled
              </span>
            )}
            {open.has(l.id) && (
              <span className="text-muted">
                {' '}
                {open.get(l.id)! < l.quantity && `${open.get(l.id)} of them `}
                {source ? (
                  <>
                    would be <span className="font-mono">{source.item}</span> of{' '}
                    {supplierOf(shop, source.supplier)?.name ?? source.supplier}
                  </>
                ) : (
                  'not linked'
                )}
              </span>
            )}
            {l.personalisation !== null && (
              <div className="text-lamp whitespace-pre-wrap">{textOf(order, l.personalisation)}</div>
            )}
            {l.proof && <ProofState order={order} line={l} open={open.has(l.id)} />}
          </div>
        );
      })}
      <div className="mt-1">
        to {[a.name, a.line1, a.line2, a.town, a.postcode, a.country].filter(Boolean).join(', ')}
      </div>
      <div className="text-muted">
        Shop {shop.settings.shop || 'without a name'}, slip “{slipOf(order, shop)}”
      </div>
      {order.gift !== undefined && <div className="text-muted">A present: {textOf(order, order.gift)}</div>}
    </div>
  );
}

/** Whether how a line is made was looked at, and with which words where they were changed. */
function ProofState({ order, line, open }: { order: ToldOrder; line: OrderLine; open: boolean }) {
  const { proof } = line;
  if (!proof) return null;
  const words =
    proof.words === null || proof.words === line.personalisation ? '' : textOf(order, proof.words);
  return (
    <div className="text-[13px]">
      {words && <div className="whitespace-pre-wrap">Made with: {words}</div>}
      {open ? (
        <Link
          href={`/orders/proofs?proof=${encodeURIComponent(`${order.id} ${line.id}`)}`}
          className="text-river underline"
        >
          {isApproved(line) ? 'Proof approved' : 'Proof waits for you'}
        </Link>
      ) : (
        proof.approved && <span className="text-muted">Made as approved.</span>
      )}
    </div>
  );
}

/** What is on record, entry by entry, each in its own currency with the rate that was used. */
function Entries({ entries, books }: { entries: readonly Entry[]; books: string }) {
  return (
    <details className="mt-1.5 text-[13px]">
      <summary className="text-muted">Entries on record</summary>
      <table className="w-full">
        <tbody>
          {entries.map((e, k) => {
            const value = inBooks(e, books);
            return (
              <tr key={k} className="border-t border-rule-soft">
                <th scope="row" className="py-0.5 text-left font-normal">
                  {e.name || e.kind}
                </th>
                <td className="text-right">{formatMoney({ minor: e.amount, currency: e.currency }, true)}</td>
                <td className="pl-2 text-right text-muted">
                  {e.rate === null ? '' : `× ${formatExchange(e.rate)}`}
                </td>
                <td className="pl-2 text-right">
                  {value === null ? 'no rate' : formatMinor(value, books, true)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

type EditFields = Address & { slip: string; gift: string };

function EditForm({
  address,
  slip,
  gift,
  onSave,
  onCancel,
}: {
  address: Address;
  slip: string;
  gift: string;
  onSave: (fields: EditFields) => void;
  onCancel: () => void;
}) {
  const { register, handleSubmit, formState } = useForm<EditFields>({
    defaultValues: { ...address, slip, gift },
  });
  const form = { register, errors: formState.errors };
  return (
    <form
      onSubmit={handleSubmit((fields) =>
        onSave({ ...fields, country: fields.country.toUpperCase(), postcode: fields.postcode.toUpperCase() }),
      )}
      className="space-y-1.5"
    >
      <AddressFields {...form} />
      <FormField {...form} name="slip" label="Packing-slip message" longest={200} />
      <FormField {...form} name="gift" label="Gift message; empty where it is no present" longest={1000} />
      <div className="flex gap-2 pt-1">
        <Button kind="main" type="submit">
          Save and check again
        </Button>
        <Button onClick={onCancel}>Discard</Button>
      </div>
    </form>
  );
}
