import {
  type Address,
  type CheckKind,
  type ChosenSource,
  FIRM,
  isCancelled,
  type LineUnits,
  mayDo,
  type OrderEvent,
  parcelsOf,
  type SourceShare,
  standingOf,
  unseenOf,
  withAddress,
  withText,
} from '../../core/orders';
import { countOf } from '../../core/units';
import {
  applyChange,
  buyerOf,
  keepAsset,
  type Order,
  orderById,
  ordersById,
  type RowChange,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import { advance, orderChange } from './advance';
import { dispatchKey } from './outgoing';

export type Said = { ok: true } | { ok: false; reason: string };

/** Tells an order what a person does with it, as one change. @param event a text where it cannot be done, with the reason */
export async function tell(
  work: Work,
  id: string,
  name: (order: Order) => string,
  event: OrderEvent | ((order: Order) => OrderEvent | string | Promise<OrderEvent | string>),
  options: { readonly may?: Parameters<typeof mayDo>[0]; readonly undoable?: boolean } = {},
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    const { may, undoable = false } = options;
    if (may && !mayDo(may, order))
      return { ok: false, reason: `${order.number} is ${standingOf(order)}: it is too late to ${may} it.` };
    const shop = await shopNow(work);
    const heard = typeof event === 'function' ? await event(order) : event;
    if (typeof heard === 'string') return { ok: false, reason: heard };
    const moved = await advance(work, shop, order, [heard]);
    if (moved)
      await applyChange(db, { by: 'person', name: name(order), undoable }, [orderChange(moved)], nowOf(work));
    return { ok: true };
  });
}

/** Keeps an order back from its rule, or lets it go by it again. */
export const keepBack = (work: Work, id: string, kept: boolean) =>
  tell(work, id, (o) => `${kept ? 'Keep back' : 'No longer keep back'} ${o.number}`, {
    kind: 'keep back',
    kept,
  });

/** Sets an order aside whose goods are not the seller's to forward, or takes it up again. */
export const setOrderAside = (work: Work, id: string, aside: boolean) =>
  tell(
    work,
    id,
    (o) => `${aside ? 'Set aside' : 'Take up'} ${o.number}`,
    { kind: 'set aside', aside },
    aside ? { may: 'set aside' } : {},
  );

/** Chooses which source a line is bought of; null for that of the rule. */
export const chooseLineSource = (work: Work, id: string, line: string, source: ChosenSource | null) =>
  tell(
    work,
    id,
    (o) => `Choose a source in ${o.number}`,
    { kind: 'choose source', line, source },
    { undoable: true },
  );

/** Splits the units of a line over sources; null for as the sourcing rule does. */
export async function splitLine(
  work: Work,
  id: string,
  line: string,
  shares: readonly SourceShare[] | null,
): Promise<Said> {
  const some = shares?.filter((s) => s.units > 0) ?? null;
  if (some?.some((s) => !Number.isSafeInteger(s.units)))
    return { ok: false, reason: 'Units are whole numbers.' };
  if (some && new Set(some.map((s) => s.supplier)).size < some.length)
    return { ok: false, reason: 'A line is split over suppliers: of each of them one item is bought.' };
  return tell(
    work,
    id,
    (o) => `Split a line of ${o.number}`,
    { kind: 'split line', line, shares: some },
    { undoable: true },
  );
}

/** Chooses how a supplier ships an order: '' for its usual service, null for the rule's. */
export const chooseService = (work: Work, id: string, supplier: string, service: string | null) =>
  tell(
    work,
    id,
    (o) => `Choose the shipping of ${o.number}`,
    { kind: 'choose service', supplier, service },
    { undoable: true },
  );

/** Asks a maker to print again what came out wrong. The photograph is kept with the order. */
export async function reportMisprint(
  work: Work,
  id: string,
  about: { readonly supplier: string; readonly reference: string; readonly units: readonly LineUnits[] },
  reason: string,
  photo: Blob,
): Promise<Said> {
  const says = reason.trim().slice(0, 500);
  if (!says) return { ok: false, reason: 'Say what is wrong with it.' };
  if (!/^image\/(jpeg|png|webp)$/.test(photo.type))
    return { ok: false, reason: 'The photograph must be a JPEG, PNG or WebP.' };
  if (photo.size > 20_000_000) return { ok: false, reason: 'The photograph has more than 20 MB.' };
  const file = await keepAsset(work.db, photo, { kind: 'evidence', name: 'Misprint', at: work.clock() });
  return tell(work, id, (o) => `Misprint in ${o.number}`, {
    ...{ kind: 'report misprint', ...about, reason: says, photo: file },
  });
}

/** Notes and labels of the seller's own. A note may speak of the buyer and is erased with it. */
export async function noteOrder(
  work: Work,
  id: string,
  { note, labels }: { readonly note?: string; readonly labels?: readonly string[] },
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    if (!order) return { ok: false, reason: 'This order is not known.' };
    const before = await buyerOf(db, order);
    const text = note === undefined ? null : withText(before, note.trim().slice(0, 2000));
    if (text && text.buyer !== before) await db.buyers.put(text.buyer);
    const own = labels && [...new Set(labels.map((l) => l.trim().slice(0, 40)).filter(Boolean))].slice(0, 20);
    const set = { ...(text && { note: text.place }), ...(own && { labels: own }) };
    await applyChange(
      db,
      { by: 'person', name: `${note === undefined ? 'Label' : 'Note at'} ${order.number}`, undoable: true },
      [
        {
          table: 'orders',
          id,
          set,
          says: note === undefined ? 'Labels changed by you.' : 'Note changed by you.',
        },
      ],
      nowOf(work),
    );
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

/** What a person changes of an order before it is bought; `gift` is '' for no present. */
export interface OrderEdit {
  readonly address?: Address;
  readonly slip?: string;
  readonly gift?: string;
}

/** Edits ship-to and packing-slip message, and checks again. Does not forward. */
export const editOrder = (work: Work, id: string, edit: OrderEdit) =>
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
async function edited({ db }: Work, order: Order, { address, slip, gift }: OrderEdit): Promise<OrderEvent> {
  const before = await buyerOf(db, order);
  const to = address && withAddress(before, address);
  const text = slip === undefined ? undefined : withText(to?.buyer ?? before, slip);
  const given = gift ? withText(text?.buyer ?? to?.buyer ?? before, gift) : undefined;
  const buyer = given?.buyer ?? text?.buyer ?? to?.buyer ?? before;
  if (buyer !== before) await db.buyers.put(buyer);
  return {
    kind: 'edit',
    to: to && address ? { address: to.place, country: address.country } : null,
    slip: text?.place ?? null,
    ...(gift !== undefined && { gift: given?.place ?? null }),
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

/** Puts away what is only to be seen of orders that are over: each case of those that were cancelled. @returns of how many orders */
export async function cancelledSeen(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const rows: RowChange[] = [];
    for (const order of (await ordersById(db, ids)).values()) {
      if (!isCancelled(order)) continue;
      const events = unseenOf(order).map((c): OrderEvent => ({ kind: 'seen', case: c.id }));
      const moved = events.length ? await advance(work, shop, order, events) : null;
      if (moved) rows.push(orderChange(moved));
    }
    const name = `${countOf(rows.length, 'cancelled order')} seen`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    return rows.length;
  });
}

/** Answers a buyer's request to cancel. @param says why not, as the buyer reads it */
export const answerRequest = (work: Work, id: string, which: string, accept: boolean, says: string) =>
  tell(
    work,
    id,
    (o) => `${accept ? 'Accept' : 'Decline'} the buyer’s request to cancel ${o.number}`,
    { kind: 'answer request', case: which, accept, says: says.trim().slice(0, 500) },
    accept ? { may: 'cancel' } : {},
  );

/** Says which lines a supplier meant that named only their SKU. */
export const sayMeant = (work: Work, id: string, which: string, units: readonly LineUnits[]) =>
  tell(work, id, (o) => `${o.number}: which line was meant`, { kind: 'meant', case: which, units });

/** Tells marketplaces of the parcels of some orders now that wait for their time or a word. @returns how many */
export async function tellParcelsNow(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  const at = work.clock();
  return db.transaction('rw', db.shopTables, async () => {
    const keys = [...(await ordersById(db, ids)).values()].flatMap((order) =>
      order.purchases.flatMap((p) => parcelsOf(p).map((one) => dispatchKey(order.id, one.tracking))),
    );
    const rows = (await db.outbox.bulkGet(keys)).flatMap((row) =>
      row?.state === 'waiting' && row.nextAt > at ? [{ ...row, nextAt: at }] : [],
    );
    await db.outbox.bulkPut(rows);
    return rows.length;
  });
}

/** Sends a tracking number that looks wrong after all, by a person's word. */
export const tellAnyway = (work: Work, id: string, tracking: string) =>
  tell(work, id, (o) => `Tell the parcel ${tracking} of ${o.number}`, { kind: 'tell anyway', tracking });
