import type { Currency } from '../money';
import type { Instant } from '../units';

export interface Address {
  readonly name: string;
  readonly line1: string;
  readonly line2: string;
  readonly town: string;
  readonly postcode: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
}

/** What a buyer bought of one listing. A line is cancelled as a whole. */
export interface OrderLine {
  readonly id: string;
  /** As the marketplace knows it; with the marketplace it names the listing. */
  readonly sku: string;
  readonly title: string;
  readonly quantity: number;
  readonly unitPrice: number;
  readonly personalisation: string | null;
  readonly cancelledAt: Instant | null;
}

/** How something is done with the other side: through its service, by files, or outside of Sampan by a person. */
export type Lane = 'service' | 'file' | 'by hand';

export interface Parcel {
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: Instant;
  readonly deliveredAt: Instant | null;
  /** Lines of the order that are in it; null for all that its purchase has left. */
  readonly lines: readonly string[] | null;
  /** When the marketplace took its tracking number. */
  readonly toldAt: Instant | null;
}

/** One line of an order as a supplier gets it. */
export interface PurchaseLine {
  /** The order's line. */
  readonly line: string;
  readonly item: string;
  /** Of the supplier's packs. */
  readonly quantity: number;
  readonly personalisation: string | null;
  readonly cancelledAt: Instant | null;
}

/** How far the taking back of a purchase, or of some lines of it, came. */
export interface Recall {
  readonly by: 'marketplace' | 'seller';
  readonly reason: string;
  readonly at: Instant;
  /** Lines of the order that are asked back. */
  readonly lines: readonly string[];
  /** `asked` also while it is not known whether it was bought at all. */
  readonly state: 'asked' | 'agreed' | 'refused';
}

/**
 * `waiting`: decided, an answer of the supplier is awaited; `sent`: written into an order file or ordered by hand, not
 * confirmed; `accepted`. Those that ended: `refused`, `withdrawn` before it left, `cancelled` after it was accepted.
 */
export type PurchaseState = 'waiting' | 'sent' | 'accepted' | 'refused' | 'withdrawn' | 'cancelled';

/** Some lines of an order, bought of one supplier. */
export interface Purchase {
  /** Known outside by this; the idempotency key is made of it and never changes. */
  readonly reference: string;
  readonly supplier: string;
  readonly lane: Lane;
  readonly state: PurchaseState;
  readonly lines: readonly PurchaseLine[];
  /** When it was decided. */
  readonly at: Instant;
  /** The supplier's number. */
  readonly number: string | null;
  readonly acceptedAt: Instant | null;
  readonly currency: Currency;
  /** Goods and shipping as expected when it was decided. */
  readonly expected: { readonly goods: number; readonly shipping: number };
  /** As the supplier charges it; null until it says so. */
  readonly charged: { readonly goods: number; readonly shipping: number } | null;
  readonly parcels: readonly Parcel[];
  /** Whether the supplier says that nothing more of it is to come. */
  readonly complete: boolean;
  readonly recall: Recall | null;
}

/** All that the standing of an order is derived from. */
export interface OrderState {
  readonly paidAt: Instant;
  readonly lines: readonly OrderLine[];
  /** When the checks passed last; null while one holds it. */
  readonly checkedAt: Instant | null;
  readonly purchases: readonly Purchase[];
  /**
   * Tracking numbers that the marketplace has already: parcels it was told of, by this copy of the shop or otherwise.
   */
  readonly dispatched: readonly string[];
  /** It was on its way before it was first read here: there is nothing to buy for it. */
  readonly elsewhere: boolean;
  /** A cancellation by the seller that is under way. */
  readonly cancelling: {
    readonly reason: string;
    readonly at: Instant;
    readonly lines: readonly string[];
  } | null;
}

export const isActive = (p: Purchase): boolean =>
  p.state === 'waiting' || p.state === 'sent' || p.state === 'accepted';

export const activeOf = (order: Pick<OrderState, 'purchases'>): Purchase[] =>
  order.purchases.filter(isActive);

/** Lines of the order that a purchase still stands for. */
export const linesIn = (p: Purchase): PurchaseLine[] =>
  isActive(p) ? p.lines.filter((l) => l.cancelledAt === null) : [];

/** Lines of the order that are in a parcel: those it names, else all that its purchase has in no other. */
export function parcelLines(p: Purchase, parcel: Parcel): string[] {
  if (parcel.lines) return [...parcel.lines];
  const elsewhere = new Set(p.parcels.flatMap((other) => (other === parcel ? [] : (other.lines ?? []))));
  return linesIn(p).flatMap((l) => (elsewhere.has(l.line) ? [] : [l.line]));
}

/** Lines that nothing is bought for yet. */
export function openLines(order: Pick<OrderState, 'lines' | 'purchases' | 'elsewhere'>): OrderLine[] {
  if (order.elsewhere) return [];
  const covered = new Set(order.purchases.flatMap((p) => linesIn(p).map((l) => l.line)));
  return order.lines.filter((l) => l.cancelledAt === null && !covered.has(l.id));
}

export const isCancelled = (order: Pick<OrderState, 'lines'>): boolean =>
  order.lines.every((l) => l.cancelledAt !== null);

/** Ids of the lines that were not cancelled. */
export const soldLines = (order: Pick<OrderState, 'lines'>): string[] =>
  order.lines.flatMap((l) => (l.cancelledAt === null ? [l.id] : []));

export const isRecalling = (order: Pick<OrderState, 'purchases'>): boolean =>
  order.purchases.some((p) => p.recall?.state === 'asked');

export const MARKS = [
  'paid',
  'checked',
  'with supplier',
  'shipped',
  'marketplace told',
  'delivered',
] as const;
export type Mark = (typeof MARKS)[number];

const latest = (times: readonly (Instant | null)[]): Instant | null =>
  times.length === 0 || times.includes(null) ? null : Math.max(...(times as Instant[]));

/**
 * The times of the six marks of the passage, null for those not reached by all of the order. A parcel may be delivered
 * before the marketplace is told. What was bought for lines that were cancelled since, and is not taken back, holds
 * nothing up: nobody waits for its parcel.
 */
export function marksOf(order: OrderState): readonly (Instant | null)[] {
  const active = activeOf(order);
  const awaited = isCancelled(order) ? null : new Set(soldLines(order));
  const counts = (lines: readonly string[]) => awaited === null || lines.some((l) => awaited.has(l));
  const all = (openLines(order).length === 0 ? active : []).filter((p) =>
    counts(linesIn(p).map((l) => l.line)),
  );
  const parcels =
    all.length && all.every((p) => p.complete)
      ? all.flatMap((p) => p.parcels.filter((one) => counts(parcelLines(p, one))))
      : [];
  return [
    order.paidAt,
    order.checkedAt ?? (active.length ? Math.min(...active.map((p) => p.at)) : null),
    latest(all.map((p) => (p.state === 'accepted' ? p.acceptedAt : null))),
    latest(parcels.map((p) => p.shippedAt)),
    latest(parcels.map((p) => p.toldAt)),
    latest(parcels.map((p) => p.deliveredAt)),
  ];
}

/** Where an order stands for the seller. */
export type Standing =
  | 'held'
  | 'ready'
  | 'forwarding'
  | 'with supplier'
  | 'shipped'
  | 'told'
  | 'delivered'
  | 'being cancelled'
  | 'cancelled';

/** The standing of an order, derived from its lines, purchases and parcels: as far as all of it has come. */
export function standingOf(order: OrderState): Standing {
  if (order.cancelling || isRecalling(order)) return 'being cancelled';
  if (isCancelled(order)) return 'cancelled';
  if (openLines(order).length) return order.checkedAt === null ? 'held' : 'ready';
  if (order.elsewhere && activeOf(order).every((p) => p.complete)) return 'told';
  const [, , bought, shipped, told, delivered] = marksOf(order);
  if (told !== null && delivered !== null) return 'delivered';
  if (told !== null) return 'told';
  if (shipped !== null) return 'shipped';
  return bought === null ? 'forwarding' : 'with supplier';
}

/** Whether there is still something to do or to await. */
export function isOpen(standing: Standing): boolean {
  return standing !== 'delivered' && standing !== 'cancelled' && standing !== 'told';
}

/** Steps an order may take next; everything else is refused where orders are changed. */
export function mayDo(step: 'edit' | 'release' | 'forward' | 'cancel', order: OrderState): boolean {
  if (order.cancelling || isRecalling(order) || isCancelled(order)) return false;
  const [, , , shipped] = marksOf(order);
  if (shipped !== null) return false;
  if (step === 'cancel') return true;
  // An address that a supplier has already, or may have, is no longer changed here.
  if (step === 'edit') return activeOf(order).length === 0;
  if (openLines(order).length === 0) return false;
  return step === 'forward' ? order.checkedAt !== null : order.checkedAt === null;
}

/** A silent supplier: paid, not all shipped, and either past the ship-by time or within `warn` of it. */
export function isLate(order: OrderState, shipBy: Instant, now: Instant, warn = 6 * 3600_000): boolean {
  return !order.elsewhere && !isCancelled(order) && marksOf(order)[3] === null && now > shipBy - warn;
}
