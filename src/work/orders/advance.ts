import { type Going, goesAt } from '../../core/forwarding';
import {
  type Effect,
  isFor,
  type OrderEvent,
  type OrderFact,
  parcelsOf,
  type Surroundings,
  step,
} from '../../core/orders';
import type { Promised } from '../../core/sourcing';
import { buyerOf, type Order, type OutboxRow, type RowChange } from '../../store';
import type { Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { purchaseKey } from '../outbox/row';
import { BY_WORD } from '../outbox/waiting';
import { marketOf, type Shop } from '../quoting/worth';
import { postPurchase, postReturns, postSale } from './accounts';
import { decide, linkedOf, openOf, promisedNow } from './decide';
import { writeToBuyer } from './messages';
import { buyRow, cancelRow, declineRow, dispatchRow, misprintRow, takeBackRow } from './outgoing';
import { claimRow, returnRow, sendAgainRow } from './returns-outgoing';

/** An order after some steps, and what happened in them. */
export interface Moved {
  readonly order: Order;
  readonly facts: readonly OrderFact[];
}

/** Inputs of decisions, shared by the orders of one transaction: none promises stock that another took. */
interface Means {
  readonly promised?: Promised;
}

/**
 * The one place where orders move: takes what an order is told step by step until nothing is left to do, and writes what
 * follows of it to outbox and ledger. The order itself is the caller's to write, with {@link orderChange}. Runs inside the
 * caller's transaction.
 * @returns null where nothing changed
 */
export async function advance(
  work: Work,
  shop: Shop,
  order: Order,
  events: readonly OrderEvent[],
  means: Means = {},
): Promise<Moved | null> {
  const queue = [...events];
  const facts: OrderFact[] = [];
  let now = order;
  let any = false;
  for (let event = queue.shift(); event; event = queue.shift()) {
    if (isKnown(now, event)) continue;
    const took = step(now, event, await surroundings(work, shop, now, event));
    any = true;
    now = took.order;
    facts.push(...took.facts);
    const decides = took.effects.filter((e) => e.kind === 'decide');
    for (const effect of took.effects) if (effect.kind !== 'decide') await carryOut(work, shop, now, effect);
    const last = decides.at(-1);
    if (last) {
      const linked = await linkedOf(work, [now]);
      const promised = means.promised ?? (await promisedNow(work));
      const go = decides.some((e) => e.go === 'now') ? 'now' : last.go;
      const buyer = await buyerOf(work.db, now);
      queue.push(decide(now, buyer, linked, shop, promised, go, work.clock()));
    }
  }
  if (any) await writeToBuyer(work, shop, now, facts);
  return any ? { order: { ...now, open: openOf(now) }, facts } : null;
}

/**
 * Whether an event says only what an order knows already. Asks nothing of storage: a long row of such events that is
 * awaited one by one would end the transaction.
 */
export function isKnown(order: Order, event: OrderEvent): boolean {
  const took = step(order, event, { at: 0, hasLeft: () => true, carriers: [] });
  return !took.facts.length && !took.effects.length && took.order === order;
}

/** Inputs of a step besides the order: the purchases that have left, and the marketplace’s carrier names. */
async function surroundings(work: Work, shop: Shop, order: Order, event: OrderEvent): Promise<Surroundings> {
  const { db, clock } = work;
  const waiting = order.purchases.filter((p) => p.state === 'waiting' && p.lane === 'service');
  const rows = waiting.length
    ? await db.outbox.bulkGet(waiting.map((p) => purchaseKey(p.supplier, p.reference)))
    : [];
  const left = new Set(
    rows.flatMap((row) => (row?.state === 'waiting' && row.sentAt !== null ? [row.id] : [])),
  );
  return {
    at: clock(),
    hasLeft: (supplier, reference) => left.has(purchaseKey(supplier, reference)),
    carriers: marketOf(shop, order.marketplace)?.site.carriers ?? [],
    ...(event.kind === 'supplier said' &&
      event.said.parcels.length > 0 && { usedBy: usedAmong(order, (await caughtUp(work)).openOrders) }),
  };
}

/** Which other open order has a parcel of a tracking number: two have the same one only by mistake. */
const usedAmong =
  (order: Order, open: Iterable<Order>) =>
  (tracking: string): string | null => {
    for (const other of open)
      if (
        other.id !== order.id &&
        other.purchases.some((p) => parcelsOf(p).some((one) => one.tracking === tracking))
      )
        return other.number;
    return null;
  };

const AT_ONCE: Going = { kind: 'at once' };

async function carryOut(work: Work, shop: Shop, order: Order, effect: Exclude<Effect, { kind: 'decide' }>) {
  const { outbox } = work.db;
  const at = work.clock();
  const purchaseOf = (e: { supplier: string; reference: string }) =>
    order.purchases.find((p) => isFor(p, e.supplier, e.reference))!;
  /** A row that is there already was put by an earlier step that meant the same. */
  const once = async (row: OutboxRow) => {
    if (!(await outbox.get(row.id))) await outbox.put(row);
  };
  switch (effect.kind) {
    case 'buy':
      await outbox.put(buyRow(order, effect.purchase, shop, at));
      return;
    case 'withdraw':
      await outbox.update(purchaseKey(effect.supplier, effect.reference), {
        state: 'withdrawn',
        says: 'Fewer were wanted before it was sent.',
      });
      return;
    case 'take back':
      await once(takeBackRow(order, effect, purchaseOf(effect), at));
      return;
    case 'tell parcel': {
      const { telling = AT_ONCE } = shop.settings;
      const tellAt = effect.anyway ? at : (goesAt(telling, at) ?? BY_WORD);
      const row = dispatchRow(order, effect, at, tellAt);
      const before = effect.anyway ? await outbox.get(row.id) : undefined;
      if (before?.state === 'refused') await outbox.put(row);
      else await once(row);
      return;
    }
    case 'tell cancellation':
      await outbox.put(cancelRow(order, effect, at));
      return;
    case 'tell misprint': {
      const about = order.cases.find((c) => c.id === effect.case);
      if (about?.kind === 'misprint') await once(misprintRow(order, about, at));
      return;
    }
    case 'tell decline':
      await once(declineRow(order, effect, at));
      return;
    case 'tell return':
      if (isToldByService(order, shop)) await outbox.put(returnRow(order, effect, at));
      return;
    case 'tell claim': {
      const row = claimRow(order, effect.case, at);
      if (row) await outbox.put(row);
      return;
    }
    case 'tell again': {
      const row = sendAgainRow(order, effect.case, at);
      if (row) await outbox.put(row);
      return;
    }
    case 'post returns':
      await postReturns(work, order, shop);
      return;
    case 'post sale': {
      const market = marketOf(shop, order.marketplace);
      if (market) await postSale(work, order, market, shop);
      return;
    }
    case 'post purchase':
      await postPurchase(work, order, purchaseOf(effect), shop);
  }
}

/** Whether its marketplace is told of things by a service: else a person does it there. */
export const isToldByService = (order: Pick<Order, 'own' | 'marketplace'>, shop: Shop): boolean =>
  !order.own && marketOf(shop, order.marketplace)?.lanes.orders === 'service';

/** An order after its steps as a row change. */
export const orderChange = ({ order, facts }: Moved): RowChange => ({
  table: 'orders',
  id: order.id,
  set: { ...order },
  facts,
});
