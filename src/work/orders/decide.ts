import {
  type Account,
  type AccountLine,
  actualAccount,
  cancelledAccount,
  expectedAccount,
} from '../../core/ledger';
import { factorOf } from '../../core/money';
import {
  type Address,
  type CheckInput,
  type CheckKind,
  checkOrder,
  FIRM,
  holdsOf,
  isOpen,
  mayDo,
  type Standing,
  standingOf,
} from '../../core/orders';
import { deductionsFor } from '../../core/pricing';
import {
  applyChange,
  type Listing,
  type Order,
  type OutboxRow,
  type Product,
  type RowChange,
  type Settings,
} from '../../store';
import { nowOf, type Work } from '../context';
import { outgoing, purchaseKey } from '../outbox/row';
import { categoryOf, marketOf, planOf, type Shop, supplierOf } from '../shop/quote';
import { readShop } from '../shop/read-shop';
import { callOff } from './cancel';

/** What an outbox row of kind `buy` carries: the purchase as the supplier will get it. */
export interface BuyBody {
  readonly reference: string;
  readonly shop: string;
  readonly address: Address;
  readonly lines: readonly {
    readonly sku: string;
    readonly quantity: number;
    readonly personalisation: string | null;
  }[];
  readonly slip: string;
}

export const isRecalling = (order: Order) => order.recall?.state === 'asked';

export const standingFor = (order: Order): Standing =>
  standingOf(order.facts, order.forwarding, isRecalling(order));

/** 1 while there is something to do, to await, or for a person to see. */
export const openOf = (order: Order): 0 | 1 => {
  const standing = standingFor(order);
  return isOpen(standing) || (standing === 'cancelled' && order.refusal !== null) ? 1 : 0;
};

/**
 * The account by what was really charged, once all of it is known. Of a cancelled sale only what it cost is
 * left.
 */
export const actualOf = (order: Order): Account | null =>
  order.facts.cancelledAt !== null
    ? cancelledAccount(order.charged)
    : order.expected
      ? actualAccount(order.expected, order.charged)
      : null;

/** What an order brings to the sums: of a cancelled one nothing is expected any more. */
export const accountsOf = (order: Order) => ({
  placedAt: order.facts.paidAt,
  expected: order.facts.cancelledAt === null ? order.expected : null,
  actual: actualOf(order),
});

/** Whether an order belongs to the sums: a cancelled one does where something was bought for it. */
export const isCounted = (order: Order) => order.facts.cancelledAt === null || order.charged.goods !== null;

interface Linked {
  readonly listings: ReadonlyMap<string, Listing>;
  readonly products: ReadonlyMap<string, Product>;
}

/**
 * Expected account of an order at today's cost; null where a line is not linked or its cost cannot be told.
 */
export function accountToday(order: Order, linked: Linked, shop: Shop): Account | null {
  const site = marketOf(shop, order.marketplace)?.site;
  const supplier = order.supplier ? supplierOf(shop, order.supplier) : undefined;
  if (!site || !supplier) return null;
  const { optedIn } = marketOf(shop, order.marketplace)!;
  const exchange = factorOf(shop.rates, supplier.currency, site.currency);
  if (!exchange) return null;
  const lines: AccountLine[] = [];
  for (const line of order.lines) {
    const listing = linked.listings.get(line.listing ?? '');
    const product = listing && linked.products.get(listing.product);
    const category = product && categoryOf(product, site);
    const deductions = category ? deductionsFor(site.fees, category, optedIn) : null;
    if (!listing || !deductions) return null;
    lines.push({
      unitPrice: line.unitPrice,
      quantity: line.quantity,
      deductions,
      cost: listing.facts.cost,
      grams: listing.facts.grams,
    });
  }
  return expectedAccount(lines, supplier.shipping, exchange, shop.settings.costTax);
}

/**
 * Gathers what the checks look at. `committed` is what other orders on their way to the same supplier will cost.
 */
function inputFor(order: Order, linked: Linked, shop: Shop, committed: number): CheckInput {
  const supplier = order.supplier ? supplierOf(shop, order.supplier) : undefined;
  const site = marketOf(shop, order.marketplace)?.site;
  const plan =
    linked.products.get(linked.listings.get(order.lines[0]?.listing ?? '')?.product ?? '')?.plan ?? null;
  return {
    currency: site?.currency ?? 'GBP',
    supplier: supplier?.name ?? 'The supplier',
    suppliers: new Set(order.lines.map((l) => linked.listings.get(l.listing ?? '')?.supplier).filter(Boolean))
      .size,
    takesOrders: supplier !== undefined && supplier.list === null,
    lines: order.lines.map((l) => {
      const listing = linked.listings.get(l.listing ?? '');
      return {
        title: l.title,
        quantity: l.quantity,
        personalisation: l.personalisation,
        item: listing?.supplier ? { stock: listing.facts.stock } : null,
      };
    }),
    address: order.address,
    shipsTo: supplier?.shipsTo ?? site?.shipsTo ?? [],
    account: accountToday(order, linked, shop),
    smallestProfit: planOf(shop, plan)?.smallestProfit ?? 0,
    balance:
      supplier?.balance === null || supplier?.balance === undefined ? null : supplier.balance - committed,
    boughtAlready: order.supplierNumber,
  };
}

export async function linkedOf(work: Work, orders: readonly Order[]): Promise<Linked> {
  const ids = [...new Set(orders.flatMap((o) => o.lines.flatMap((l) => (l.listing ? [l.listing] : []))))];
  const listings = new Map(
    (await work.db.listings.bulkGet(ids)).flatMap((l) => (l ? [[l.id, l] as const] : [])),
  );
  const productIds = [...new Set([...listings.values()].map((l) => l.product))];
  const products = new Map(
    (await work.db.products.bulkGet(productIds)).flatMap((p) => (p ? [[p.id, p] as const] : [])),
  );
  return { listings, products };
}

/**
 * Checks an order as things stand and decides: held, ready, or forwarded. Pure but for the clock.
 * @param go whether it may be forwarded if nothing holds it
 */
export function decide(
  order: Order,
  linked: Linked,
  shop: Shop,
  committed: number,
  go: boolean,
  at: number,
): { set: Partial<Order>; buy: OutboxRow | null; says: string } {
  const input = inputFor(order, linked, shop, committed);
  const checks = checkOrder(input);
  const holds = holdsOf(checks, order.released);
  const passed = holds.length === 0 && order.refusal === null;
  const facts = { ...order.facts, checkedAt: passed ? (order.facts.checkedAt ?? at) : null };
  if (!passed || !go || !order.supplier) {
    const why = order.refusal ?? holds.map((h) => h.says).join(' ');
    return {
      set: { checks, facts, expected: input.account, open: openOf({ ...order, facts, forwarding: false }) },
      buy: null,
      says: passed ? 'All checks passed; waits to be forwarded.' : `Held. ${why}`,
    };
  }
  const body: BuyBody = {
    reference: order.number,
    shop: shop.settings.shop,
    address: order.address,
    lines: order.lines.map((l) => ({
      sku: linked.listings.get(l.listing!)!.item,
      quantity: l.quantity,
      personalisation: l.personalisation,
    })),
    slip: order.slip ?? shop.settings.slip,
  };
  return {
    set: { checks, facts, forwarding: true, expected: input.account, open: 1 },
    buy: outgoing(purchaseKey(order), order.supplier, 'buy', `order:${order.id}`, body, at),
    says: `All checks passed; goes to ${input.supplier}.`,
  };
}

/** What orders on their way to a supplier will cost it. */
export async function committedTo(work: Work, supplier: string | null): Promise<number> {
  const open = await work.db.orders.where('open').equals(1).toArray();
  return open
    .filter((o) => o.forwarding && o.supplier === supplier)
    .reduce((sum, o) => sum + (o.expected ? o.expected.goods + o.expected.shipping : 0), 0);
}

/** What a step makes of an order, and what it asks of the outside. */
interface Next {
  readonly set: Partial<Order>;
  readonly outbox: OutboxRow | null;
  readonly says: string;
}

export type Said = { ok: true } | { ok: false; reason: string };

async function onOrder(
  work: Work,
  id: string,
  step: 'edit' | 'release' | 'forward' | 'cancel',
  name: (order: Order) => string,
  undoable: boolean,
  next: (order: Order, shop: Shop, linked: Linked, committed: number) => Next | Promise<Next>,
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await db.orders.get(id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    if (!mayDo(step, order.facts, order.forwarding, isRecalling(order)))
      return { ok: false, reason: `${order.number} is ${standingFor(order)}: it is too late to ${step} it.` };
    const shop = await readShop(db, work.clock());
    const { set, outbox, says } = await next(
      order,
      shop,
      await linkedOf(work, [order]),
      await committedTo(work, order.supplier),
    );
    const rows: RowChange[] = [{ table: 'orders', id, set, says }];
    await applyChange(db, { by: 'person', name: name(order), undoable }, rows, nowOf(work));
    if (outbox) await db.outbox.put(outbox);
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
      const { set, buy, says } = decide(order, linked, shop, committed, true, work.clock());
      return { set, outbox: buy, says };
    },
  );

/**
 * Lets failed checks pass by a person's word, then forwards it by the shop's rule unless `go` is false.
 * `bought` and a missing link cannot be released.
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
      const { set, buy, says } = decide(
        { ...order, released, refusal: null },
        linked,
        shop,
        committed,
        go,
        work.clock(),
      );
      return {
        set: { ...set, released, refusal: null },
        outbox: buy,
        says: `Released by hand: ${kinds.join(', ')}. ${says}`,
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
      const edited = { ...order, ...edit, refusal: null };
      const { set, says } = decide(edited, linked, shop, committed, false, work.clock());
      return { set: { ...set, ...edit, refusal: null }, outbox: null, says };
    },
  );

/**
 * Cancels an order, asking its purchase back where it was bought, and tells the marketplace once nothing is
 * bought for it.
 */
export const cancelOrder = (work: Work, id: string, reason: string) =>
  onOrder(
    work,
    id,
    'cancel',
    (o) => `Cancel ${o.number}`,
    false,
    async (order) => ({ ...(await callOff(work, order, 'seller', reason)), outbox: null }),
  );

/** Puts away what a person has seen: how a cancellation ended. */
export async function noteSeen(work: Work, id: string): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const order = await db.orders.get(id);
    if (!order) return;
    const set = { refusal: null, open: openOf({ ...order, refusal: null }) };
    await applyChange(
      db,
      { by: 'person', name: `${order.number}: seen` },
      [{ table: 'orders', id, set }],
      nowOf(work),
    );
  });
}

/**
 * What of the checks is worth a line in the history: which failed and why. What passed may say other figures
 * each time.
 */
const gist = (order: Pick<Order, 'checks'>) =>
  order.checks.map((c) => (c.passed ? c.kind : c.kind + c.says)).join();

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
 * Checks every order that is held or ready again, as after a refresh; forwards what passes if the rule says
 * so.
 */
export async function recheckOrders(work: Work): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await readShop(db, work.clock());
    const waiting = (await db.orders.where('open').equals(1).toArray()).filter((o) =>
      ['held', 'ready'].includes(standingFor(o)),
    );
    if (!waiting.length) return 0;
    const linked = await linkedOf(work, waiting);
    const rows: RowChange[] = [];
    const committed = new Map<string | null, number>();
    for (const order of waiting) {
      const before = committed.get(order.supplier) ?? (await committedTo(work, order.supplier));
      const { set, buy, says } = decide(
        order,
        linked,
        shop,
        before,
        shop.settings.forward === 'at once',
        work.clock(),
      );
      const cost = buy && set.expected ? set.expected.goods + set.expected.shipping : 0;
      committed.set(order.supplier, before + cost);
      if (buy || gist({ checks: set.checks ?? [] }) !== gist(order))
        rows.push({ table: 'orders', id: order.id, set, says });
      if (buy) await db.outbox.put(buy);
    }
    await applyChange(
      db,
      { by: 'rule', name: `Checked ${rows.length} waiting orders again` },
      rows,
      nowOf(work),
    );
    return rows.length;
  });
}
