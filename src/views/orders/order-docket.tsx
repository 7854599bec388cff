'use client';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { Account } from '../../core/ledger';
import { formatMinor } from '../../core/money';
import { type Address, type CheckKind, FIRM, isLate, marksOf, mayDo } from '../../core/orders';
import { trackingProblem } from '../../core/tracking';
import { whenOf } from '../../core/units';
import type { Listing, Order } from '../../store';
import { Button } from '../../ui/button';
import { Docket } from '../../ui/docket';
import { Notice, Section } from '../../ui/head';
import { History } from '../../ui/history';
import { Passage } from '../../ui/passage';
import { say } from '../../ui/said';
import { work } from '../../work/browser';
import {
  actualOf,
  cancelOrder,
  editOrder,
  forwardOrder,
  isRecalling,
  noteSeen,
  releaseOrder,
  type Said,
  standingFor,
} from '../../work/orders/decide';
import { tellAnyway } from '../../work/orders/intake';
import { marketOf, type Shop } from '../../work/shop/quote';
import { AccountTable } from '../money/account-table';
import { heldAt } from './standing';

interface Props {
  readonly order: Order;
  readonly shop: Shop;
  readonly listings: ReadonlyMap<string, Listing>;
  readonly now: number;
  readonly onClose: () => void;
}

/**
 * One order in full: where it stands, the checks before money is spent, what the supplier gets, expected
 * beside actual, its history.
 */
export function OrderDocket({ order, shop, listings, now, onClose }: Props) {
  const [asks, setAsks] = useState<'cancel' | 'edit' | null>(null);
  const zone = shop.settings.zone;
  const currency = marketOf(shop, order.marketplace)?.site.currency ?? 'GBP';
  const supplier = order.supplier ? shop.connections.get(order.supplier) : undefined;
  const standing = standingFor(order);
  const holds = order.checks.filter((c) => !c.passed && !order.released.includes(c.kind));
  const may = (step: 'edit' | 'release' | 'forward' | 'cancel') =>
    mayDo(step, order.facts, order.forwarding, isRecalling(order));
  const act = async (doing: Promise<Said>, done: string, undo = false) => {
    const said = await doing;
    setAsks(null);
    if (said.ok) await say(done, { undo });
    else await say(said.reason, { wrong: true });
  };
  const kinds = holds.map((h) => h.kind).filter((k): k is CheckKind => !FIRM.includes(k));
  const canRelease = holds.length === kinds.length;
  const actual = actualOf(order);
  return (
    <Docket label="Order" onClose={onClose}>
      <h2 className="text-base font-semibold">
        <span className="font-mono">{order.number}</span>{' '}
        <span className="text-xs font-normal text-muted">
          {order.buyer.name}, {order.address.town} · {now > 0 && whenOf(order.facts.paidAt, now, zone)}
        </span>
      </h2>
      <div className="mt-2 px-1">
        <Passage
          large
          marks={marksOf(order.facts)}
          heldAt={heldAt(order)}
          late={isLate(order.facts, order.shipBy, now)}
          cancelled={order.facts.cancelledAt !== null}
          shipBy={order.shipBy}
          now={now}
          zone={zone}
        />
      </div>
      {standing === 'held' && (
        <Notice>
          <b className="font-semibold">Held.</b> {order.refusal ?? holds.map((h) => h.says).join(' ')}
          <div className="mt-2 flex flex-wrap gap-2">
            {holds.some((h) => h.kind === 'address') && (
              <Button kind="main" onClick={() => setAsks('edit')}>
                Edit the address
              </Button>
            )}
            {canRelease && (
              <Button
                kind={holds.some((h) => h.kind === 'address') ? 'quiet' : 'main'}
                onClick={() =>
                  act(releaseOrder(work, order.id, kinds, true), `${order.number} released and forwarded.`)
                }
              >
                {order.refusal && !holds.length ? 'Try again' : 'Forward anyway'}
              </Button>
            )}
            <Button kind="text" onClick={() => setAsks('cancel')}>
              Cancel order…
            </Button>
          </div>
        </Notice>
      )}
      {standing !== 'held' && order.refusal && (
        <Notice>
          {order.refusal}
          <div className="mt-2">
            {standing === 'shipped' && trackingProblem(order.parcels[0]?.tracking ?? '') !== null ? (
              <Button onClick={() => tellAnyway(work, order.id)}>Tell the marketplace anyway</Button>
            ) : (
              <Button onClick={() => noteSeen(work, order.id)}>Seen</Button>
            )}
          </div>
        </Notice>
      )}
      {standing === 'being cancelled' && (
        <Notice>
          {order.recall?.reason}{' '}
          {order.supplierNumber
            ? `${supplier?.name ?? 'The supplier'} is asked to take ${order.supplierNumber} back.`
            : `Whether ${supplier?.name ?? 'the supplier'} took the order is being looked up; if it did, it is asked back.`}
        </Notice>
      )}
      {(standing === 'ready' || standing === 'forwarding' || standing === 'with supplier') && (
        <div className="mt-3 flex gap-2">
          {standing === 'ready' && (
            <Button
              kind="main"
              onClick={() =>
                act(forwardOrder(work, order.id), `${order.number} is on its way to ${supplier?.name}.`)
              }
            >
              Forward to {supplier?.name}
            </Button>
          )}
          <Button kind="text" onClick={() => setAsks('cancel')}>
            Cancel order…
          </Button>
        </div>
      )}
      {asks === 'cancel' && (
        <Notice tone="loss">
          {order.facts.boughtAt !== null
            ? `${supplier?.name ?? 'The supplier'} is asked first to take ${order.supplierNumber} back. Only if it does is the marketplace told and the buyer refunded. It cannot be undone.`
            : 'Cancelling tells the marketplace, and the buyer is refunded. It cannot be undone.'}
          <div className="mt-2 flex gap-2">
            <Button
              kind="main"
              onClick={() =>
                act(
                  cancelOrder(work, order.id, 'The seller cannot deliver.'),
                  order.facts.boughtAt !== null
                    ? `${order.number}: the supplier is asked.`
                    : `${order.number} cancelled.`,
                )
              }
            >
              Cancel {order.number}
            </Button>
            <Button onClick={() => setAsks(null)}>Keep it</Button>
          </div>
        </Notice>
      )}
      <Section title="Checks before money is spent">
        <ul className="text-[13.5px]">
          {order.checks.map((c) => {
            const released = !c.passed && order.released.includes(c.kind);
            return (
              <li key={c.kind} className={`flex gap-2 py-0.5 ${c.passed ? '' : 'text-lamp'}`}>
                <span aria-hidden className="w-3 shrink-0 text-center">
                  {c.passed ? '✓' : '◆'}
                </span>
                <span>
                  <span className="sr-only">{c.passed ? 'Passed: ' : 'Failed: '}</span>
                  {c.says}
                  {released && ' Released by hand.'}
                </span>
              </li>
            );
          })}
        </ul>
      </Section>
      <Section
        title="What the supplier gets"
        aside={
          may('edit') && asks !== 'edit' ? (
            <Button kind="text" className="py-0" onClick={() => setAsks('edit')}>
              Edit
            </Button>
          ) : null
        }
      >
        {asks === 'edit' && may('edit') ? (
          <EditForm
            order={order}
            slip={order.slip ?? shop.settings.slip}
            onCancel={() => setAsks(null)}
            onSave={({ slip, ...address }) =>
              act(
                editOrder(work, order.id, { address, slip }),
                `${order.number} changed and checked again.`,
                true,
              )
            }
          />
        ) : (
          <div className="text-[13.5px]">
            {order.lines.map((l) => (
              <div key={l.id}>
                {l.quantity} ×{' '}
                <span className="font-mono">{listings.get(l.listing ?? '')?.item ?? 'not linked'}</span>{' '}
                {l.title}
                {l.personalisation && <div className="text-lamp">“{l.personalisation}”</div>}
              </div>
            ))}
            <div className="mt-1">
              to{' '}
              {[
                order.address.name,
                order.address.line1,
                order.address.line2,
                order.address.town,
                order.address.postcode,
                order.address.country,
              ]
                .filter(Boolean)
                .join(', ')}
            </div>
            <div className="text-muted">
              Shop {shop.settings.shop}, reference <span className="font-mono">{order.number}</span>, slip “
              {order.slip ?? shop.settings.slip}”
            </div>
            {order.supplierNumber && (
              <div className="mt-1">
                {supplier?.name} accepted it as <span className="font-mono">{order.supplierNumber}</span>
              </div>
            )}
            {order.parcels.map((p) => (
              <div key={p.tracking}>
                {p.carrier} <span className="font-mono">{p.tracking}</span>
                {p.deliveredAt && now > 0 && `, delivered ${whenOf(p.deliveredAt, now, zone)}`}
              </div>
            ))}
          </div>
        )}
      </Section>
      {(order.expected || actual) && (
        <Section title="Money">
          <AccountTable expected={order.expected as Account} actual={actual} currency={currency} />
          {!actual && order.charged.goods !== null && order.facts.cancelledAt === null && (
            <p className="mt-1 text-xs text-muted">
              {supplier?.name} charged{' '}
              {formatMinor(order.charged.goods + (order.charged.shipping ?? 0), currency)}; the marketplace
              settles its fees when it is told of the parcel.
            </p>
          )}
        </Section>
      )}
      <Section title="History">
        <History subject={`order:${order.id}`} now={now} zone={zone} />
      </Section>
    </Docket>
  );
}

type EditFields = Address & { slip: string };

function EditForm({
  order,
  slip,
  onSave,
  onCancel,
}: {
  order: Order;
  slip: string;
  onSave: (fields: EditFields) => void;
  onCancel: () => void;
}) {
  const { register, handleSubmit, formState } = useForm<EditFields>({
    defaultValues: { ...order.address, slip },
  });
  const field = (name: keyof EditFields, label: string, required: boolean, longest: number) => (
    <label className="block text-xs text-muted">
      {label}
      <input
        {...register(name, {
          required: required ? `${label} is missing` : false,
          maxLength: { value: longest, message: `At most ${longest} characters` },
          setValueAs: (v: string) => v.trim(),
        })}
        aria-invalid={Boolean(formState.errors[name])}
        className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink"
      />
      {formState.errors[name] && <span className="text-loss">{formState.errors[name]?.message}</span>}
    </label>
  );
  return (
    <form
      onSubmit={handleSubmit((fields) =>
        onSave({ ...fields, country: fields.country.toUpperCase(), postcode: fields.postcode.toUpperCase() }),
      )}
      className="space-y-1.5"
    >
      {field('name', 'Name', true, 120)}
      {field('line1', 'Street', true, 200)}
      {field('line2', 'Second line', false, 200)}
      <div className="grid grid-cols-[1fr_7rem_4rem] gap-2">
        {field('town', 'Town', true, 100)}
        {field('postcode', 'Postcode', false, 20)}
        {field('country', 'Country', true, 2)}
      </div>
      {field('slip', 'Packing-slip message', false, 200)}
      <div className="flex gap-2 pt-1">
        <Button kind="main" type="submit">
          Save and check again
        </Button>
        <Button onClick={onCancel}>Keep as it was</Button>
      </div>
    </form>
  );
}
