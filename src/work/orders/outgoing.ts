import {
  type Effect,
  isFor,
  type LineUnits,
  livingIn,
  type Misprint,
  type Purchase,
} from '../../core/orders';
import type { Order, OutboxRow } from '../../store';
import { outgoing, purchaseKey } from '../outbox/row';
import type { ShopTerms } from '../quoting/worth';

type Of<K extends Effect['kind']> = Extract<Effect, { kind: K }>;

const inKey = (units: readonly LineUnits[]): string =>
  [...units]
    .sort((a, b) => (a.line < b.line ? -1 : 1))
    .map(({ line, units: n }) => `${line}=${n}`)
    .join('+');

/** The outbox row that buys a purchase: what the supplier gets is frozen in it. */
export const buyRow = (
  order: Order,
  p: Purchase,
  shop: Pick<ShopTerms, 'settings'>,
  at: number,
): OutboxRow<'buy'> =>
  outgoing(
    purchaseKey(p.supplier, p.reference),
    p.supplier,
    'buy',
    order.id,
    {
      reference: p.reference,
      shop: shop.settings.shop,
      address: order.address,
      lines: p.lines.flatMap((l) => {
        const { line, item, personalisation, print } = l;
        const quantity = livingIn(p, l) * l.pack;
        return quantity > 0 ? [{ line, sku: item, quantity, personalisation, ...(print && { print }) }] : [];
      }),
      slip: order.slip ?? shop.settings.slip,
      ...(p.service && { service: p.service.id }),
      ...(p.sites && { sites: p.sites }),
      ...(order.gift !== undefined && { gift: order.gift }),
    },
    at,
  );

/** The row that asks a supplier to take units of a purchase back. Its key names what is to be out of it in all. */
export function takeBackRow(
  order: Order,
  e: Of<'take back'>,
  p: Purchase,
  at: number,
): OutboxRow<'take back'> {
  const lines = e.totals?.flatMap(({ line, units }) => {
    const own = p.lines.find((l) => l.line === line);
    return own ? [{ line, sku: own.item, quantity: units * own.pack }] : [];
  });
  const part = e.totals ? `:${inKey(e.totals)}` : '';
  const kept = e.kept ? `~${e.kept}` : '';
  return outgoing(
    `take-back:${e.supplier}:${e.reference}:${e.number}${part}${kept}`,
    e.supplier,
    'take back',
    order.id,
    { reference: e.reference, number: e.number, reason: e.reason, lines: lines ?? null },
    at,
  );
}

/** The idempotency key of what a marketplace is told of a parcel. */
export const dispatchKey = (order: string, tracking: string): string => `dispatch:${order}:${tracking}`;

/** @param nextAt when it is told */
export const dispatchRow = (
  order: Order,
  e: Of<'tell parcel'>,
  at: number,
  nextAt: number,
): OutboxRow<'dispatch'> => ({
  ...outgoing(
    dispatchKey(order.id, e.tracking),
    order.marketplace,
    'dispatch',
    order.id,
    {
      number: order.number,
      carrier: e.carrier,
      tracking: e.tracking,
      shippedAt: new Date(e.shippedAt).toISOString(),
      inside: e.inside,
    },
    at,
  ),
  nextAt,
});

/** The row that asks a maker to print again what a case is about. Its key is the case's. */
export function misprintRow(order: Order, c: Misprint, at: number): OutboxRow<'misprint'> {
  const p = order.purchases.find((one) => isFor(one, c.supplier, c.reference));
  const lines = c.units.flatMap(({ line, units }) => {
    const own = p?.lines.find((l) => l.line === line);
    return own ? [{ line, sku: own.item, quantity: units * own.pack }] : [];
  });
  const { number, reason, photo } = c;
  return outgoing(c.id, c.supplier, 'misprint', order.id, { case: c.id, number, lines, reason, photo }, at);
}

export const declineRow = (order: Order, e: Of<'tell decline'>, at: number): OutboxRow<'decline'> =>
  outgoing(
    `decline:${order.id}:${e.request}`,
    order.marketplace,
    'decline',
    order.id,
    { number: order.number, request: e.request, says: e.says },
    at,
  );

export const cancelRow = (order: Order, e: Of<'tell cancellation'>, at: number): OutboxRow<'cancel'> =>
  outgoing(
    e.totals ? `cancel:${order.id}:${inKey(e.totals)}` : `cancel:${order.id}`,
    order.marketplace,
    'cancel',
    order.id,
    { number: order.number, reason: e.reason, totals: e.totals },
    at,
  );
