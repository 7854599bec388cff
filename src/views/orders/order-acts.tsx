'use client';
import { useState } from 'react';
import { type CheckKind, checkInWords, FIRM, holdsOf, mayDo, openLines, standingOf } from '../../core/orders';
import { trackingProblem } from '../../core/tracking';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/head';
import { theShop } from '../../work/clients';
import type { Order } from '../../work/model';
import type { Said } from '../../work/orders/actions';
import type { OrderInFull } from '../../work/orders/order-book';
import { listingOf, type ShopTerms, supplierOf } from '../../work/shop/quote';

/** What a person is asked for before it is done. */
export type Asks = 'cancel' | 'edit' | null;
/** Does something with the order and says how it went. */
export type Act = (doing: Promise<Said>, done: string, undo?: boolean) => Promise<void>;

interface Props {
  readonly order: Order;
  readonly shop: ShopTerms;
  readonly linked: OrderInFull['linked'];
  readonly asks: Asks;
  readonly setAsks: (asks: Asks) => void;
  readonly act: Act;
}

/** Why an order stands still, and what can be done with it. */
export function OrderActs({ order, shop, linked, asks, setAsks, act }: Props) {
  const standing = standingOf(order);
  const bought = order.purchases.some((p) => p.state === 'accepted' || p.state === 'sent');
  const untold = order.purchases.flatMap((p) => p.parcels.filter((one) => one.toldAt === null));
  const receivers = [
    ...new Set(
      openLines(order).flatMap((l) => {
        const source = linked.get(listingOf(order, l))?.source;
        return source ? [supplierOf(shop, source.supplier)?.name ?? source.supplier] : [];
      }),
    ),
  ];
  return (
    <>
      {standing === 'held' && <Held order={order} setAsks={setAsks} act={act} />}
      {standing !== 'held' && order.notice && (
        <Notice>
          {order.notice}
          <div className="mt-2">
            {untold.some((one) => trackingProblem(one.tracking) !== null) ? (
              <Button onClick={() => theShop().tellAnyway(order.id)}>Notify the marketplace anyway</Button>
            ) : (
              <Button onClick={() => theShop().noteSeen(order.id)}>Seen</Button>
            )}
          </div>
        </Notice>
      )}
      {standing === 'being cancelled' && (
        <Notice>
          {order.cancelling?.reason ?? 'The buyer cancelled.'} Its suppliers are asked to cancel.
        </Notice>
      )}
      {(standing === 'ready' || standing === 'forwarding' || standing === 'with supplier') && (
        <div className="mt-3 flex gap-2">
          {standing === 'ready' && (
            <Button
              kind="main"
              onClick={() => act(theShop().forwardOrder(order.id), `${order.number} is on its way.`)}
            >
              Forward to {receivers.join(' and ') || 'the supplier'}
            </Button>
          )}
          <Button kind="text" onClick={() => setAsks('cancel')}>
            Cancel…
          </Button>
        </div>
      )}
      {asks === 'cancel' && (
        <CancelForm
          order={order}
          bought={bought}
          onKeep={() => setAsks(null)}
          onCancel={(lines) =>
            act(
              theShop().cancelOrder(order.id, 'The seller cannot deliver.', lines),
              bought ? `${order.number}: the suppliers are asked.` : `${order.number} cancelled.`,
            )
          }
        />
      )}
    </>
  );
}

/** What holds an order, and how it goes on. */
function Held({ order, setAsks, act }: Pick<Props, 'order' | 'setAsks' | 'act'>) {
  const holds = holdsOf(order.checks, order.released);
  const kinds = holds.map((h) => h.kind).filter((k): k is CheckKind => !FIRM.includes(k));
  const canRelease = holds.length === kinds.length;
  const badAddress = holds.some((h) => h.kind === 'address');
  return (
    <Notice>
      <b className="font-semibold">Held.</b> {order.notice ?? holds.map(checkInWords).join(' ')}
      <div className="mt-2 flex flex-wrap gap-2">
        {badAddress && mayDo('edit', order) && (
          <Button kind="main" onClick={() => setAsks('edit')}>
            Edit the address
          </Button>
        )}
        {canRelease && (
          <Button
            kind={badAddress ? 'quiet' : 'main'}
            onClick={() =>
              act(theShop().releaseOrder(order.id, kinds, true), `${order.number} released and forwarded.`)
            }
          >
            {order.notice && !holds.length ? 'Try again' : 'Forward anyway'}
          </Button>
        )}
        <Button kind="text" onClick={() => setAsks('cancel')}>
          Cancel…
        </Button>
      </div>
    </Notice>
  );
}

/** Which lines are cancelled, and what that means. */
function CancelForm({
  order,
  bought,
  onCancel,
  onKeep,
}: {
  order: Order;
  bought: boolean;
  onCancel: (lines: readonly string[]) => void;
  onKeep: () => void;
}) {
  const left = order.lines.filter((l) => l.cancelledAt === null);
  const [chosen, setChosen] = useState<readonly string[]>(left.map((l) => l.id));
  const all = chosen.length === left.length;
  return (
    <Notice tone="loss">
      {bought
        ? 'Each supplier is asked to cancel first. What was not sent is then cancelled on the marketplace and refunded to the buyer. This cannot be undone.'
        : 'Cancelling notifies the marketplace, and the buyer is refunded. This cannot be undone.'}
      {left.length > 1 && (
        <fieldset className="mt-1">
          <legend className="sr-only">Lines to cancel</legend>
          {left.map((l) => (
            <label key={l.id} className="block">
              <input
                type="checkbox"
                checked={chosen.includes(l.id)}
                onChange={(e) =>
                  setChosen(e.target.checked ? [...chosen, l.id] : chosen.filter((id) => id !== l.id))
                }
                className="mr-1.5 accent-river"
              />
              {l.quantity} × {l.title}
            </label>
          ))}
        </fieldset>
      )}
      <div className="mt-2 flex gap-2">
        <Button kind="main" disabled={!chosen.length} onClick={() => onCancel(chosen)}>
          Cancel {all ? order.number : `${chosen.length} of ${left.length} lines`}
        </Button>
        <Button onClick={onKeep}>Keep it</Button>
      </div>
    </Notice>
  );
}
