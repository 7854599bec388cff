import { readTrackingFile, type TrackingRow, writeOrderFile } from '../../connect/files';
import {
  type Count,
  isAccepted,
  isActive,
  isFor,
  type LineUnits,
  livingIn,
  numberOf,
  type OrderEvent,
  orderOf,
  type Purchase,
  type Statement,
  unitsOf,
} from '../../core/orders';
import { countOf } from '../../core/units';
import {
  applyChange,
  buyersByOrder,
  connectionById,
  type Order,
  orderById,
  type RowChange,
  type SupplierConnection,
  supplierById,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import type { Said } from './actions';
import { advance, orderChange } from './advance';
import { addressOf } from './decide';
import { filesOfPurchases, packFiles } from './purchase-prints';
import { takeStatement } from './supplier-news';

/** Purchases of a supplier that wait for its next order file, with their orders. */
export const forFile = (orders: readonly Order[], supplier: string): { order: Order; purchase: Purchase }[] =>
  orders.flatMap((order) =>
    order.purchases
      .filter((p) => p.supplier === supplier && p.lane === 'file' && p.state === 'waiting')
      .map((purchase) => ({ order, purchase })),
  );

/**
 * Writes what waits for a supplier into an order file and marks it as sent, as one change. What was sent before can be
 * written again with `again`: its references are the same, by which the supplier knows it.
 */
export async function orderFile(work: Work, supplier: string, again = false): Promise<OrderFileWritten> {
  const { db } = work;
  const isMeant = (p: Purchase) =>
    p.supplier === supplier && p.lane === 'file' && (p.state === 'waiting' || (again && p.state === 'sent'));
  const meantNow = async () => {
    const open = await db.orders.where('open').equals(1).sortBy('paidAt');
    return open.flatMap((order) => order.purchases.filter(isMeant).map((purchase) => ({ order, purchase })));
  };
  // Print files first: what cannot be printed is not sent.
  let files: Awaited<ReturnType<typeof filesOfPurchases>>;
  try {
    files = await filesOfPurchases(work, await meantNow());
  } catch (error) {
    return { ok: false, reason: (error as Error).message };
  }
  const written = await db.transaction('rw', db.shopTables, async () => {
    const c = await connectionById(db, supplier);
    const shop = await shopNow(work);
    const { settings } = shop;
    // What came meanwhile and is printed goes with the next file.
    const isReady = ({ purchase }: { purchase: Purchase }) =>
      purchase.lines.every(
        (l) => !l.print || !livingIn(purchase, l) || files.has(`${purchase.reference} ${l.line}`),
      );
    const meant = (await meantNow()).filter(isReady);
    if (!meant.length || !c) return null;
    const rows: RowChange[] = [];
    const byOrder = new Map<Order, OrderEvent[]>();
    for (const { order, purchase } of meant) {
      const event = { kind: 'written', supplier, reference: purchase.reference } as const;
      byOrder.set(order, [...(byOrder.get(order) ?? []), event]);
    }
    for (const [order, events] of byOrder) {
      const moved = await advance(work, shop, order, events);
      if (moved) rows.push(orderChange(moved));
    }
    const name = `Order file for ${c.name}: ${countOf(meant.length, 'purchase')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    const buyers = await buyersByOrder(db, [...byOrder.keys()]);
    const text = writeOrderFile(
      meant.flatMap(({ order, purchase }) => {
        const buyer = buyers.get(order.id)!;
        const textOf = (place: number) => buyer.texts[place]!;
        return purchase.lines.map((l) => ({
          reference: purchase.reference,
          line: l.line,
          sku: l.item,
          quantity: livingIn(purchase, l) * l.pack,
          personalisation: l.personalisation === null ? null : textOf(l.personalisation),
          address: addressOf(order, buyer),
          shop: settings.shop,
          slip: order.slip === null ? settings.slip : textOf(order.slip),
          gift: order.gift === undefined ? '' : textOf(order.gift),
          files: (files.get(`${purchase.reference} ${l.line}`) ?? []).map((f) => f.name),
        }));
      }),
    );
    return { text, purchases: meant.length };
  });
  if (!written) return { ok: false, reason: 'Nothing waits.' };
  const stamp = new Date(work.clock()).toISOString().slice(0, 16).replace(/[-:]/g, '').replace('T', '-');
  const name = `orders-${supplier}-${stamp}`;
  const { text, purchases } = written;
  const zip = files.size ? await packFiles(files.values(), { [`${name}.csv`]: `\uFEFF${text}` }) : null;
  return { ok: true, name: `${name}.${zip ? 'zip' : 'csv'}`, text, zip, purchases };
}

/** An order file as it was written. */
export type OrderFileWritten =
  | {
      readonly ok: true;
      readonly name: string;
      readonly text: string;
      /** The text with print files beside it; null where nothing is printed. */
      readonly zip: Blob | null;
      readonly purchases: number;
    }
  | { readonly ok: false; readonly reason: string };

/** A supplier’s statement that came by file or person, in the form of its service. */
export const saidOf = (
  p: Purchase,
  part: Partial<Statement> & { number: string },
  at: number,
): Statement => ({
  reference: p.reference,
  status: 'accepted',
  revision: null,
  lines: [],
  charge: null,
  acceptedAt: isAccepted(p) ? p.acceptedAt : at,
  parcels: [],
  cancelled: [],
  ...part,
});

/** The rows of a tracking file that belong to one purchase, as one message. */
function messageOf(p: Purchase, rows: readonly TrackingRow[], at: number): Statement {
  const last = rows.at(-1)!;
  const parcels = new Map<string, Statement['parcels'][number]>();
  const cancelled: Count[] = [];
  for (const { parcel, cancelled: out } of rows) {
    if (out) cancelled.push(out);
    if (!parcel) continue;
    const known = parcels.get(parcel.tracking);
    const lines = known?.lines && parcel.lines ? [...known.lines, ...parcel.lines] : parcel.lines;
    parcels.set(parcel.tracking, { ...parcel, deliveredAt: null, lines });
  }
  const whole = rows.some((r) => r.status === 'cancelled' && r.cancelled === null);
  const charge = rows.findLast((r) => r.charge)?.charge ?? null;
  return saidOf(
    p,
    {
      number: last.number,
      // What is in no parcel yet may come with the next file.
      status: whole ? 'cancelled' : parcels.size ? 'part shipped' : 'accepted',
      parcels: [...parcels.values()],
      cancelled,
      charge,
    },
    at,
  );
}

export type TakenFile =
  | {
      readonly ok: true;
      readonly moved: number;
      /** Rows that were not taken: where, and why. */
      readonly refused: readonly { readonly line: number; readonly reason: string }[];
    }
  | { readonly ok: false; readonly reason: string };

/** Takes in a supplier's tracking file: good rows go on, the others are told. The same file twice changes nothing. */
export async function takeTrackingFile(work: Work, supplier: string, text: string): Promise<TakenFile> {
  const { db } = work;
  const c = await supplierById(db, supplier);
  if (!c) return { ok: false, reason: 'This supplier is not connected.' };
  const read = readTrackingFile(text, c.currency, work.clock());
  if (!read.ok) return read;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const byReference = new Map<string, TrackingRow[]>();
    for (const row of read.value.rows)
      byReference.set(row.reference, [...(byReference.get(row.reference) ?? []), row]);
    const refused = [...read.value.refused];
    const rows: RowChange[] = [];
    for (const [reference, own] of byReference) {
      const order = (await orderById(db, reference)) ?? (await orderById(db, orderOf(reference)));
      const purchase = order?.purchases.find((p) => isFor(p, supplier, reference));
      if (!order || !purchase) {
        refused.push(
          ...own.map((r) => ({ line: r.line, reason: `reference: ${reference} is no purchase of ours` })),
        );
        continue;
      }
      const event = await takeStatement(work, order, messageOf(purchase, own, work.clock()), c);
      const moved = await advance(work, shop, order, [event]);
      if (moved) rows.push(orderChange(moved));
    }
    const name = `Tracking file of ${c.name}: ${countOf(rows.length, 'order')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    return { ok: true, moved: rows.length, refused: refused.sort((a, b) => a.line - b.line) };
  });
}

/** Tells an order what a person knows of a purchase outside of Sampan, as one change. */
async function onPurchase(
  work: Work,
  id: string,
  reference: string,
  supplier: string,
  name: (order: Order, c: SupplierConnection) => string,
  eventOf: (order: Order, p: Purchase, c: SupplierConnection) => Promise<OrderEvent> | OrderEvent,
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    const c = await supplierById(db, supplier);
    const p = order?.purchases.find((one) => isFor(one, supplier, reference));
    if (!order || !p || !c || !isActive(p))
      return { ok: false, reason: 'There is no such purchase to go on with.' };
    if (p.lane === 'service') return { ok: false, reason: `${c.name} says itself what becomes of it.` };
    const shop = await shopNow(work);
    const moved = await advance(work, shop, order, [await eventOf(order, p, c)]);
    if (moved)
      await applyChange(
        db,
        { by: 'person', name: name(order, c), undoable: false },
        [orderChange(moved)],
        nowOf(work),
      );
    return { ok: true };
  });
}

/** Notes that a purchase was placed outside of Sampan, or confirmed: under which number, and what it costs. */
export const placedOutside = (
  work: Work,
  id: string,
  reference: string,
  supplier: string,
  said: { readonly number: string; readonly goods: number; readonly shipping: number },
) =>
  onPurchase(
    work,
    id,
    reference,
    supplier,
    (o, c) => `${o.number} ordered from ${c.name}`,
    (order, p, c) => {
      const { number, ...charge } = said;
      return takeStatement(work, order, saidOf(p, { number, charge }, work.clock()), c);
    },
  );

/**
 * Notes a parcel of a purchase that was placed outside of Sampan.
 * @param inside units that are in it; null for all that are left
 */
export const parcelOutside = (
  work: Work,
  id: string,
  reference: string,
  supplier: string,
  parcel: { readonly carrier: string; readonly tracking: string },
  inside: readonly LineUnits[] | null,
) =>
  onPurchase(
    work,
    id,
    reference,
    supplier,
    (o) => `Parcel of ${o.number}`,
    (order, p, c) => {
      const at = work.clock();
      const lines =
        inside &&
        p.lines.flatMap((l) => {
          const quantity = unitsOf(inside, l.line) * l.pack;
          return quantity > 0 ? [{ line: l.line, sku: l.item, quantity }] : [];
        });
      const parcels = [{ ...parcel, shippedAt: at, deliveredAt: null, lines }];
      const said = saidOf(p, { number: numberOf(p) ?? reference, status: 'part shipped', parcels }, at);
      return takeStatement(work, order, said, c);
    },
  );

/** Says how asking a supplier to take a purchase back ended, where it has no service. */
export const recallOutside = (work: Work, id: string, reference: string, supplier: string, agreed: boolean) =>
  onPurchase(
    work,
    id,
    reference,
    supplier,
    (o) => `Cancellation of ${o.number}`,
    () => ({ kind: 'answered outside', supplier, reference, agreed }),
  );
