'use client';
import { useState } from 'react';
import {
  activeOf,
  byLine,
  type CancelRequest,
  type Case,
  type CheckKind,
  cancellationOf,
  caseInWords,
  checkInWords,
  couldBeMeant,
  countUnits,
  FIRM,
  holdsBack,
  holdsOf,
  isActive,
  isAsking,
  isAskingWhich,
  isRequest,
  isReturn,
  type LineUnits,
  mayDo,
  openLines,
  soldIn,
  standingOf,
  type Unclear,
  unseenOf,
} from '../../core/orders';
import { countOf, spanOf, whenOf } from '../../core/units';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Notice } from '../../ui/head';
import { theShop } from '../../work/desk/client';
import type { OrderInFull } from '../../work/order-book/order-book';
import type { Said } from '../../work/orders/actions';
import { listingOf } from '../../work/quoting/promised';
import { type ShopTerms, supplierOf } from '../../work/quoting/worth';
import type { ToldOrder } from './buyer-words';
import { SendAgain } from './send-again';
import { UnitPicker } from './unit-picker';

/** What a person is asked for before it is done. */
export type Asks = 'cancel' | 'edit' | 'again' | null;
/** Does something with the order and says how it went. */
export type Act = (doing: Promise<Said>, done: string, undo?: boolean) => Promise<void>;

interface Props {
  readonly order: ToldOrder;
  readonly shop: ShopTerms;
  readonly linked: OrderInFull['linked'];
  readonly asks: Asks;
  readonly setAsks: (asks: Asks) => void;
  readonly act: Act;
}

/** Why an order stands still, what goes on beside it, and what can be done with it. */
export function OrderActs({ order, shop, linked, asks, setAsks, act }: Props) {
  const standing = standingOf(order);
  const bought = order.purchases.some((p) => isActive(p) && p.state !== 'waiting');
  const under = cancellationOf(order);
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
      {unseenOf(order)
        .filter(isRequest)
        .map((c) => (
          <Request key={c.id} order={order} about={c} shop={shop} act={act} />
        ))}
      {standing === 'held' && <Held order={order} shop={shop} setAsks={setAsks} act={act} />}
      {unseenOf(order)
        .filter((c) => !isRequest(c) && !isReturn(c) && (standing !== 'held' || !holdsBack(c)))
        .map((c) => (
          <CaseNotice key={c.id} order={order} about={c} shop={shop} act={act} />
        ))}
      {standing === 'being cancelled' && (
        <Notice>
          {under?.reason ?? 'The buyer cancelled.'}{' '}
          {order.cases
            .filter(isAsking)
            .map((c) => wordsOf(c, order, shop))
            .join(' ')}
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
          {standing === 'ready' && (order.due || order.kept) && (
            <Button
              onClick={() =>
                act(
                  theShop().keepBack(order.id, !order.kept),
                  order.kept ? `${order.number} goes by its rule again.` : `${order.number} is kept back.`,
                )
              }
            >
              {order.kept ? 'Let it go by its rule' : 'Keep back'}
            </Button>
          )}
          <Button kind="text" onClick={() => setAsks('cancel')}>
            Cancel…
          </Button>
        </div>
      )}
      {standing === 'set aside' && (
        <Notice tone="plain">
          Set aside: nothing is bought for it.
          <div className="mt-2">
            <Button
              onClick={() =>
                act(theShop().setOrderAside(order.id, false), `${order.number} is taken up again.`)
              }
            >
              Take it up
            </Button>
          </div>
        </Notice>
      )}
      {asks !== 'again' && ['shipped', 'told', 'delivered'].includes(standing) && (
        <div className="mt-3">
          <Button onClick={() => setAsks('again')}>Send again…</Button>
        </div>
      )}
      {asks === 'again' && <SendAgain order={order} onDone={() => setAsks(null)} />}
      {asks === 'cancel' && (
        <CancelForm
          order={order}
          bought={bought}
          onKeep={() => setAsks(null)}
          onCancel={(units) =>
            act(
              theShop().cancelOrder(order.id, 'The seller cannot deliver.', units),
              bought ? `${order.number}: the suppliers are asked.` : `${order.number} cancelled.`,
            )
          }
        />
      )}
    </>
  );
}

const wordsOf = (c: Case, order: ToldOrder, shop: ShopTerms): string => {
  const nameOf = (id: string) => shop.connections.get(id)?.name ?? id;
  return caseInWords(c, order, { nameOf }, nameOf(order.marketplace));
};

/** One case that a person has to see, with the step that ends it. */
function CaseNotice({
  order,
  about,
  shop,
  act,
}: {
  order: ToldOrder;
  about: Case;
  shop: ShopTerms;
  act: Act;
}) {
  const isNumber =
    about.kind === 'tracking' && (about.problem.why === 'number' || about.problem.why === 'used');
  return (
    <Notice>
      {wordsOf(about, order, shop)}
      {isAskingWhich(about) && <WhichMeant order={order} about={about} shop={shop} act={act} />}
      <div className="mt-2 flex gap-2">
        {isNumber && (
          <Button
            onClick={() =>
              act(
                theShop().tellAnyway(order.id, about.tracking),
                `The marketplace is notified of ${about.tracking}.`,
              )
            }
          >
            Notify the marketplace anyway
          </Button>
        )}
        <Button
          kind={isNumber ? 'text' : 'quiet'}
          onClick={() => act(theShop().caseSeen(order.id, about.id), 'Put away as seen.')}
        >
          Seen
        </Button>
      </div>
    </Notice>
  );
}

/** A buyer asks to cancel: what that means by now, and the two answers. */
function Request({
  order,
  about,
  shop,
  act,
}: {
  order: ToldOrder;
  about: CancelRequest;
  shop: ShopTerms;
  act: Act;
}) {
  const now = useNow();
  const [declining, setDeclining] = useState(false);
  const [says, setSays] = useState('');
  const may = mayDo('cancel', order);
  const bought = activeOf(order);
  const names = [...new Set(bought.map((p) => supplierOf(shop, p.supplier)?.name ?? p.supplier))].join(
    ' and ',
  );
  const by =
    about.answerBy !== null && now > 0
      ? about.answerBy > now
        ? ` Answer within ${spanOf(about.answerBy - now)}, by ${whenOf(about.answerBy, now, shop.settings.zone)}.`
        : ' The time to answer has passed.'
      : '';
  return (
    <Notice>
      {wordsOf(about, order, shop)}
      {by}
      <p className="mt-1 text-[13px]">
        {!may
          ? 'Its parcel is on its way: it can only be declined.'
          : bought.length
            ? `${names} has it already and is asked to take it back first; what comes anyway stays sold.`
            : 'Nothing is bought for it: accepting costs nothing.'}
      </p>
      {declining ? (
        <form
          className="mt-2 space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            act(
              theShop().answerRequest(order.id, about.id, false, says),
              `The buyer of ${order.number} is told that it is not cancelled.`,
            );
          }}
        >
          <label className="block text-xs text-muted">
            Why not, as the buyer reads it
            <input
              value={says}
              maxLength={500}
              onChange={(e) => setSays(e.target.value)}
              placeholder="It is packed already."
              className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
            />
          </label>
          <div className="flex gap-2">
            <Button type="submit" kind="main" disabled={!says.trim()}>
              Decline the request
            </Button>
            <Button onClick={() => setDeclining(false)}>Back</Button>
          </div>
        </form>
      ) : (
        <div className="mt-2 flex gap-2">
          {may && (
            <Button
              kind="main"
              onClick={() =>
                act(
                  theShop().answerRequest(order.id, about.id, true, ''),
                  bought.length
                    ? `${order.number}: the suppliers are asked.`
                    : `${order.number}: cancelled as the buyer asked.`,
                )
              }
            >
              {bought.length ? 'Accept and ask it back' : 'Accept and cancel'}
            </Button>
          )}
          <Button kind={may ? 'quiet' : 'main'} onClick={() => setDeclining(true)}>
            Decline…
          </Button>
        </div>
      )}
    </Notice>
  );
}

/** Asks which lines a supplier meant that named only their SKU. */
function WhichMeant({
  order,
  about,
  shop,
  act,
}: {
  order: ToldOrder;
  about: Unclear;
  shop: ShopTerms;
  act: Act;
}) {
  const [chosen, setChosen] = useState(about.units);
  const n = countUnits(about.units);
  const supplier = supplierOf(shop, about.supplier)?.name ?? about.supplier;
  const legend = about.tracking === null ? `${supplier} cancelled` : `In the parcel ${about.tracking}`;
  const told = order.purchases.some(
    (p) =>
      p.state === 'accepted' &&
      p.parcels.some((one) => one.tracking === about.tracking && one.toldAt !== null),
  );
  return (
    <div className="mt-2">
      <UnitPicker
        legend={`${legend}: ${countOf(n, 'unit')} of these`}
        order={order}
        most={couldBeMeant(order, about)}
        chosen={chosen}
        onChoose={setChosen}
      />
      {told && (
        <p className="mt-1 text-xs text-muted">
          {shop.connections.get(order.marketplace)?.name} was notified of the parcel before; that stays as it
          is.
        </p>
      )}
      <Button
        className="mt-2"
        disabled={countUnits(chosen) !== n}
        onClick={() =>
          act(theShop().sayMeant(order.id, about.id, chosen), `${order.number}: recorded what was meant.`)
        }
      >
        These were meant
      </Button>
    </div>
  );
}

/** What holds an order, and how it goes on. */
function Held({ order, shop, setAsks, act }: Pick<Props, 'order' | 'shop' | 'setAsks' | 'act'>) {
  const holds = holdsOf(order.checks, order.released);
  const kinds = holds.map((h) => h.kind).filter((k): k is CheckKind => !FIRM.includes(k));
  const canRelease = holds.length === kinds.length;
  const badAddress = holds.some((h) => h.kind === 'address');
  const cases = order.cases.filter((c) => holdsBack(c) && !isRequest(c));
  const asked = order.cases.some((c) => isRequest(c) && holdsBack(c));
  // What holds it is told by the request itself.
  if (asked && !cases.length && !holds.length) return null;
  return (
    <Notice>
      <b className="font-semibold">Held.</b>{' '}
      {[...cases.map((c) => wordsOf(c, order, shop)), ...holds.map(checkInWords)].join(' ')}
      {cases.filter(isAskingWhich).map((c) => (
        <WhichMeant key={c.id} order={order} about={c} shop={shop} act={act} />
      ))}
      <div className="mt-2 flex flex-wrap gap-2">
        {badAddress && mayDo('edit', order) && (
          <Button kind="main" onClick={() => setAsks('edit')}>
            Edit the address
          </Button>
        )}
        {canRelease && !asked && (
          <Button
            kind={badAddress ? 'quiet' : 'main'}
            onClick={() =>
              act(theShop().releaseOrder(order.id, kinds, true), `${order.number} released and forwarded.`)
            }
          >
            {cases.length && !holds.length
              ? cases.some((c) => c.kind === 'called off')
                ? 'Buy it again'
                : 'Try again'
              : 'Forward anyway'}
          </Button>
        )}
        {mayDo('set aside', order) && (
          <Button
            onClick={() => act(theShop().setOrderAside(order.id, true), `${order.number} is set aside.`)}
          >
            Set aside
          </Button>
        )}
        <Button kind="text" onClick={() => setAsks('cancel')}>
          Cancel…
        </Button>
      </div>
    </Notice>
  );
}

/** Which units are cancelled, and what that means. */
function CancelForm({
  order,
  bought,
  onCancel,
  onKeep,
}: {
  order: ToldOrder;
  bought: boolean;
  onCancel: (units: readonly LineUnits[]) => void;
  onKeep: () => void;
}) {
  const left = byLine(order.lines.map((l) => ({ line: l.id, units: soldIn(l) })));
  const [chosen, setChosen] = useState<readonly LineUnits[]>(left);
  const [n, of] = [countUnits(chosen), countUnits(left)];
  return (
    <Notice tone="loss">
      {bought
        ? 'Each supplier is asked to cancel first. What was not sent is then cancelled on the marketplace and refunded to the buyer. This cannot be undone.'
        : 'Cancelling notifies the marketplace, and the buyer is refunded. This cannot be undone.'}
      {of > 1 && (
        <UnitPicker legend="To cancel" order={order} most={left} chosen={chosen} onChoose={setChosen} />
      )}
      <div className="mt-2 flex gap-2">
        <Button kind="main" disabled={!n} onClick={() => onCancel(chosen)}>
          Cancel {n === of ? order.number : `${n} of ${countOf(of, 'unit')}`}
        </Button>
        <Button onClick={onKeep}>Keep it</Button>
      </div>
    </Notice>
  );
}
