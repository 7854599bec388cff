import { type Address, type CheckKind, FIRM, mayDo, standingOf } from '../../core/orders';
import { countOf } from '../../core/units';
import {
  applyChange,
  type MarketConnection,
  type Order,
  type OutboxRow,
  orderById,
  type RowChange,
  type Settings,
} from '../../store';
import { shopNow } from '../assortment/assortment';
import { nowOf, type Work } from '../context';
import type { Shop } from '../shop/quote';
import { cancelLines } from './cancel';
import { type Committed, committedNow, decide, type Linked, linkedOf, openOf } from './decide';
import { dispatchRow } from './dispatch';

/** What a step makes of an order, and what it asks of the outside. */
interface Next {
  readonly set: Partial<Order>;
  readonly outbox: readonly OutboxRow[];
  readonly says: string;
}

export type Said = { ok: true } | { ok: false; reason: string };

async function onOrder(
  work: Work,
  id: string,
  step: 'edit' | 'release' | 'forward' | 'cancel',
  name: (order: Order) => string,
  undoable: boolean,
  next: (order: Order, shop: Shop, linked: Linked, committed: Committed) => Next | Promise<Next>,
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    if (!mayDo(step, order))
      return { ok: false, reason: `${order.number} is ${standingOf(order)}: it is too late to ${step} it.` };
    const shop = await shopNow(work);
    const { set, outbox, says } = await next(
      order,
      shop,
      await linkedOf(work, [order]),
      await committedNow(work),
    );
    const rows: RowChange[] = [{ table: 'orders', id, set, says }];
    await applyChange(db, { by: 'person', name: name(order), undoable }, rows, nowOf(work));
    await db.outbox.bulkPut([...outbox]);
    return { ok: true };
  });
}

/** Buys an order that stands ready. */
export const forwardOrder = (work: Work, id: string) =>
  onOrder(
    work,
    id,
    'forward',
    (o) => `Forward ${o.number}`,
    false,
    (order, shop, linked, committed) => {
      const { set, buys, says } = decide(order, linked, shop, committed, true, work.clock());
      return { set, outbox: buys, says };
    },
  );

/**
 * Lets failed checks pass by a person's word, then forwards it by the shop's rule unless `go` is false. A
 * missing link cannot be released.
 */
export const releaseOrder = (work: Work, id: string, kinds: readonly CheckKind[], go: boolean) =>
  onOrder(
    work,
    id,
    'release',
    (o) => `Release ${o.number}`,
    false,
    (order, shop, linked, committed) => {
      const released = [...new Set([...order.released, ...kinds.filter((k) => !FIRM.includes(k))])];
      const free = { ...order, released, notice: null };
      const { set, buys, says } = decide(free, linked, shop, committed, go, work.clock());
      return {
        set: { ...set, released, notice: null },
        outbox: buys,
        says: `Released by you: ${kinds.join(', ')}. ${says}`,
      };
    },
  );

/** Edits ship-to and packing-slip message, and checks again. Does not forward. */
export const editOrder = (work: Work, id: string, edit: { address?: Address; slip?: string }) =>
  onOrder(
    work,
    id,
    'edit',
    (o) => `Edit ${o.number}`,
    true,
    (order, shop, linked, committed) => {
      const edited = { ...order, ...edit, notice: null };
      const { set, says } = decide(edited, linked, shop, committed, false, work.clock());
      return { set: { ...set, ...edit, notice: null }, outbox: [], says };
    },
  );

/**
 * Cancels an order or some of its lines, asking back what was bought, and tells the marketplace once nothing is
 * bought for them. @param lines ids; all that are left where not given
 */
export const cancelOrder = (work: Work, id: string, reason: string, lines?: readonly string[]) =>
  onOrder(
    work,
    id,
    'cancel',
    (o) => `Cancel ${lines ? `a part of ${o.number}` : o.number}`,
    false,
    async (order) => {
      const ids = lines ?? order.lines.map((l) => l.id);
      const moved = await cancelLines(work, order, 'seller', reason, ids);
      return { set: moved.order, outbox: [], says: moved.says };
    },
  );

/** Puts away what a person has seen: how a cancellation ended. */
export async function noteSeen(work: Work, id: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await orderById(db, id);
    if (!order) return;
    const set = { notice: null, open: openOf({ ...order, notice: null }) };
    await applyChange(
      db,
      { by: 'person', name: `${order.number}: seen` },
      [{ table: 'orders', id, set }],
      nowOf(work),
    );
  });
}

/** Sends tracking numbers that look wrong after all, by a person's word. */
export async function tellAnyway(work: Work, id: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await orderById(db, id);
    const market = order && ((await db.connections.get(order.marketplace)) as MarketConnection | undefined);
    if (!order || !market) return;
    for (const p of order.purchases)
      for (const parcel of p.parcels) {
        const row = parcel.toldAt === null ? dispatchRow(order, p, parcel, market, work.clock(), true) : null;
        if (row && !('problem' in row) && !(await db.outbox.get(row.id))) await db.outbox.put(row);
      }
    await applyChange(
      db,
      { by: 'person', name: `Tell ${market.name} of ${order.number}`, undoable: false },
      [{ table: 'orders', id, set: { notice: null, open: openOf({ ...order, notice: null }) } }],
      nowOf(work),
    );
  });
}

/**
 * What of the checks is worth a line in the history: which failed and why. What passed may say other figures
 * each time.
 */
const gist = (order: Pick<Order, 'checks'>) =>
  order.checks.map((c) => (c.passed ? c.kind : JSON.stringify(c))).join();

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
    const rows: RowChange[] = [];
    const committed = await committedNow(work);
    for (const order of waiting) {
      const go = shop.settings.forward === 'at once';
      const { set, buys, says } = decide(order, linked, shop, committed, go, work.clock());
      const moved = buys.length > 0 || set.purchases !== undefined;
      if (moved || gist({ checks: set.checks ?? [] }) !== gist(order))
        rows.push({ table: 'orders', id: order.id, set, says });
      await db.outbox.bulkPut([...buys]);
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
