import { readTrackingFile, type TrackingRow, writeOrderFile } from '../../connect/files';
import type { SupplierOrder } from '../../connect/supplier';
import { isActive, linesIn, orderOf, type Purchase } from '../../core/orders';
import { countOf } from '../../core/units';
import { applyChange, type Order, orderById, type RowChange, type SupplierConnection } from '../../store';
import { shopNow } from '../assortment/assortment';
import { nowOf, type Work } from '../context';
import { postPurchase } from './accounts';
import type { Said } from './actions';
import { notTakenBack, takenBack } from './cancel';
import { changed, purchaseIn } from './decide';
import { moveOn, orderChange } from './supplier-news';

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
export async function orderFile(
  work: Work,
  supplier: string,
  again = false,
): Promise<{ readonly name: string; readonly text: string; readonly purchases: number } | null> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const c = await db.connections.get(supplier);
    const { settings } = await shopNow(work);
    const open = await db.orders.where('open').equals(1).sortBy('paidAt');
    const isMeant = (p: Purchase) =>
      p.supplier === supplier &&
      p.lane === 'file' &&
      (p.state === 'waiting' || (again && p.state === 'sent'));
    const meant = open.flatMap((order) =>
      order.purchases.filter(isMeant).map((purchase) => ({ order, purchase })),
    );
    if (!meant.length || !c) return null;
    const rows: RowChange[] = meant
      .filter(({ purchase }) => purchase.state === 'waiting')
      .map(({ order, purchase }) => ({
        table: 'orders',
        id: order.id,
        set: { purchases: changed(order, purchase.reference, supplier, { state: 'sent' }) },
        says: `Written into an order file for ${c.name}.`,
      }));
    const name = `Order file for ${c.name}: ${countOf(meant.length, 'purchase')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    const text = writeOrderFile(
      meant.flatMap(({ order, purchase }) =>
        linesIn(purchase).map((l) => ({
          reference: purchase.reference,
          sku: l.item,
          quantity: l.quantity,
          personalisation: l.personalisation,
          address: order.address,
          shop: settings.shop,
          slip: order.slip ?? settings.slip,
        })),
      ),
    );
    const stamp = new Date(work.clock()).toISOString().slice(0, 16).replace(/[-:]/g, '').replace('T', '-');
    return { name: `orders-${supplier}-${stamp}.csv`, text, purchases: meant.length };
  });
}

/** What a supplier says of a purchase outside of its service, in the form of its service. */
const saidOf = (
  p: Purchase,
  part: Partial<SupplierOrder> & { number: string },
  at: number,
): SupplierOrder => ({
  reference: p.reference,
  status: 'accepted',
  lines: linesIn(p).map((l) => ({ sku: l.item, quantity: l.quantity })),
  goods: p.charged?.goods ?? p.expected.goods,
  shipping: p.charged?.shipping ?? p.expected.shipping,
  acceptedAt: p.acceptedAt ?? at,
  parcels: [],
  cancelled: [],
  balance: null,
  ...part,
});

/** The rows of a tracking file that belong to one purchase, as one message. */
function messageOf(p: Purchase, rows: readonly TrackingRow[], at: number): SupplierOrder {
  const last = rows.at(-1)!;
  const parcels = new Map<string, SupplierOrder['parcels'][number]>();
  for (const { parcel } of rows) {
    if (!parcel) continue;
    const known = parcels.get(parcel.tracking);
    const lines = known?.lines && parcel.lines ? [...known.lines, ...parcel.lines] : parcel.lines;
    parcels.set(parcel.tracking, { ...parcel, deliveredAt: null, lines });
  }
  const packed = [...p.parcels, ...parcels.values()];
  const whole = [...parcels.values()].some((one) => one.lines === null);
  const inParcels = new Set(
    packed.flatMap((one) =>
      (one.lines ?? []).map((l) =>
        typeof l === 'string' ? (p.lines.find((x) => x.line === l)?.item ?? '') : l.sku,
      ),
    ),
  );
  const shipped = rows.some((r) => r.status === 'shipped');
  const complete = shipped && (whole || linesIn(p).every((l) => inParcels.has(l.item)));
  const charge = rows.findLast((r) => r.charge)?.charge;
  return saidOf(
    p,
    {
      number: last.number,
      status:
        last.status === 'cancelled'
          ? 'cancelled'
          : complete
            ? 'shipped'
            : shipped
              ? 'part shipped'
              : 'accepted',
      parcels: [...parcels.values()],
      ...charge,
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
  const c = (await db.connections.get(supplier)) as SupplierConnection | undefined;
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
      const purchase = order && purchaseIn(order, reference, supplier);
      if (!order || !purchase) {
        refused.push(
          ...own.map((r) => ({ line: r.line, reason: `reference: ${reference} is no purchase of ours` })),
        );
        continue;
      }
      const moved = await moveOn(work, order, messageOf(purchase, own, work.clock()), c, shop);
      if (moved) rows.push(orderChange(moved));
    }
    const name = `Tracking file of ${c.name}: ${countOf(rows.length, 'order')}`;
    await applyChange(db, { by: 'person', name, undoable: false }, rows, nowOf(work));
    return { ok: true, moved: rows.length, refused: refused.sort((a, b) => a.line - b.line) };
  });
}

async function onPurchase(
  work: Work,
  id: string,
  reference: string,
  supplier: string,
  name: (order: Order, c: SupplierConnection) => string,
  step: (order: Order, p: Purchase, c: SupplierConnection) => ReturnType<typeof moveOn>,
): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const order = await orderById(db, id);
    const c = (await db.connections.get(supplier)) as SupplierConnection | undefined;
    const p = order && purchaseIn(order, reference, supplier);
    if (!order || !p || !c || !isActive(p))
      return { ok: false, reason: 'There is no such purchase to go on with.' };
    if (p.lane === 'service') return { ok: false, reason: `${c.name} says itself what becomes of it.` };
    const moved = await step(order, p, c);
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
    async (order, p, c) => {
      const { parcels: _, ...rest } = saidOf(p, said, work.clock());
      const shop = await shopNow(work);
      return moveOn(work, order, { ...rest, parcels: [] }, c, shop);
    },
  );

/**
 * Notes a parcel of a purchase that was placed outside of Sampan.
 * @param lines lines of the order that are in it; null for all that are left
 */
export const parcelOutside = (
  work: Work,
  id: string,
  reference: string,
  supplier: string,
  parcel: { readonly carrier: string; readonly tracking: string },
  lines: readonly string[] | null,
) =>
  onPurchase(
    work,
    id,
    reference,
    supplier,
    (o) => `Parcel of ${o.number}`,
    async (order, p, c) => {
      const at = work.clock();
      const inside = lines && linesIn(p).filter((l) => lines.includes(l.line));
      const status = inside ? 'part shipped' : 'shipped';
      const said = saidOf(p, { number: p.number ?? reference, status }, at);
      const counts = inside?.map((l) => ({ sku: l.item, quantity: l.quantity })) ?? null;
      const parcels = [{ ...parcel, shippedAt: at, deliveredAt: null, lines: counts }];
      return moveOn(work, order, { ...said, parcels }, c, await shopNow(work));
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
    async (order, p, c) => {
      if (p.recall?.state !== 'asked') return null;
      const charged = agreed ? { goods: 0, shipping: 0 } : p.charged;
      const next = { ...order, purchases: changed(order, reference, supplier, { charged }) };
      const now = purchaseIn(next, reference, supplier)!;
      await postPurchase(work, order, now, await shopNow(work));
      return agreed
        ? takenBack(work, next, now, c.name)
        : notTakenBack(work, next, now, `${c.name} does not cancel it.`);
    },
  );
