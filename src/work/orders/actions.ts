import {
  type Address,
  type CheckKind,
  FIRM,
  type LineUnits,
  mayDo,
  type OrderEvent,
  standingOf,
  withAddress,
  withText,
} from '../../core/orders';
import { countOf } from '../../core/units';
import {
  applyChange,
  buyerOf,
  buyersByOrder,
  type Order,
  orderById,
  type RowChange,
  type Settings,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import { advance, goesAtOnce, orderChange } from './advance';
import { addressOf, decide, linkedOf, promisedNow } from './decide';

export type Said = { ok: true } | { ok: false; reason: string };

/** Tells an order what a person does with it, as one change. */
async function tell(
  work: Work,
  id: string,
  name: (order: Order) => string,
  event: OrderEvent | ((order: Order) => OrderEvent | Promise<OrderEvent>),
  options: { readonly may?: 'edit' | 'release' | 'forward' | 'cancel'; readonly undoable?: boolean } = {},
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    const { may, undoable = false } = options;
    if (may && !mayDo(may, order))
      return { ok: false, reason: `${order.number} is ${standingOf(order)}: it is too late to ${may} it.` };
    const shop = await shopNow(work);
    const moved = await advance(work, shop, order, [
      typeof event === 'function' ? await event(order) : event,
    ]);
    if (moved)
      await applyChange(db, { by: 'person', name: name(order), undoable }, [orderChange(moved)], nowOf(work));
    return { ok: true };
  });
}

/** Buys an order that stands ready. */
export const forwardOrder = (work: Work, id: string) =>
  tell(work, id, (o) => `Forward ${o.number}`, { kind: 'forward' }, { may: 'forward' });

/**
 * Lets failed checks pass by a person's word, then forwards it by the shop's rule unless `go` is false. A
 * missing link cannot be released.
 */
export const releaseOrder = (work: Work, id: string, kinds: readonly CheckKind[], go: boolean) =>
  tell(
    work,
    id,
    (o) => `Release ${o.number}`,
    { kind: 'release', kinds: kinds.filter((k) => !FIRM.includes(k)), go },
    { may: 'release' },
  );

/** Edits ship-to and packing-slip message, and checks again. Does not forward. */
export const editOrder = (work: Work, id: string, edit: { address?: Address; slip?: string }) =>
  tell(
    work,
    id,
    (o) => `Edit ${o.number}`,
    (order) => edited(work, order, edit),
    {
      may: 'edit',
      undoable: true,
    },
  );

/** Adds address and text to what is the buyer's, where they are new. */
async function edited(
  { db }: Work,
  order: Order,
  { address, slip }: { address?: Address; slip?: string },
): Promise<OrderEvent> {
  const before = await buyerOf(db, order);
  const to = address && withAddress(before, address);
  const text = slip === undefined ? undefined : withText(to?.buyer ?? before, slip);
  const buyer = text?.buyer ?? to?.buyer ?? before;
  if (buyer !== before) await db.buyers.put(buyer);
  return {
    kind: 'edit',
    to: to && address ? { address: to.place, country: address.country } : null,
    slip: text?.place ?? null,
  };
}

/**
 * Cancels an order or some units of it, asking back what was bought, and tells the marketplace once nothing is
 * bought for them. @param units all that are left where not given
 */
export const cancelOrder = (work: Work, id: string, reason: string, units?: readonly LineUnits[]) =>
  tell(
    work,
    id,
    (o) => `Cancel ${units ? `a part of ${o.number}` : o.number}`,
    (o) => ({
      kind: 'cancel',
      units: units ?? o.lines.map((l) => ({ line: l.id, units: l.quantity - l.cancelled })),
      reason,
    }),
    { may: 'cancel' },
  );

/** Puts away a case that a person has seen. */
export const caseSeen = (work: Work, id: string, which: string) =>
  tell(work, id, (o) => `${o.number}: seen`, { kind: 'seen', case: which });

/** Says which lines a supplier meant that named only their SKU. */
export const sayMeant = (work: Work, id: string, which: string, units: readonly LineUnits[]) =>
  tell(work, id, (o) => `${o.number}: which line was meant`, { kind: 'meant', case: which, units });

/** Sends a tracking number that looks wrong after all, by a person's word. */
export const tellAnyway = (work: Work, id: string, tracking: string) =>
  tell(work, id, (o) => `Tell the parcel ${tracking} of ${o.number}`, { kind: 'tell anyway', tracking });

/**
 * What of the checks is worth a line in the history: which failed and why. What passed may say other figures
 * each time.
 */
const gist = (checks: Order['checks']) => checks.map((c) => (c.passed ? c.kind : JSON.stringify(c))).join();

/**
 * Sets when orders that pass their checks are forwarded; those that stand ready go at once if that is the new
 * rule.
 */
export async function setForwarding(work: Work, forward: Settings['forward']): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: `Forward orders ${forward}` },
      [{ table: 'settings', id: 'shop', set: { forward } }],
      nowOf(work),
    ),
  );
  await recheckOrders(work);
}

/**
 * Checks every order that is held or ready again, as after a refresh or a new link; forwards what passes if the
 * rule says so.
 */
export async function recheckOrders(work: Work): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const open = await db.orders.where('open').equals(1).sortBy('paidAt');
    const waiting = open.filter((o) => ['held', 'ready'].includes(standingOf(o)));
    if (!waiting.length) return 0;
    const linked = await linkedOf(work, waiting);
    const buyers = await buyersByOrder(db, waiting);
    const rows: RowChange[] = [];
    const promised = await promisedNow(work);
    for (const order of waiting) {
      const to = addressOf(order, buyers.get(order.id));
      const decided = decide(order, to, linked, shop, promised, goesAtOnce(shop), work.clock());
      if (!decided.purchases.length && gist(decided.checks) === gist(order.checks)) continue;
      const moved = await advance(work, shop, order, [decided], { promised });
      if (moved) rows.push(orderChange(moved));
    }
    await applyChange(
      db,
      { by: 'rule', name: `Checked ${countOf(rows.length, 'waiting order')} again`, quiet: true },
      rows,
      nowOf(work),
    );
    return rows.length;
  });
}
