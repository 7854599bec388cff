import type { Entry } from '../ledger';
import type { Currency } from '../money';
import type { Instant } from '../units';
import type { Case } from './cases';
import type { Check, CheckKind } from './check';
import { byLine, type LineUnits, unitsOf } from './line-units';
import type { Proof } from './proof';

/** What a buyer bought of one listing. Each of its units is in exactly one place; see {@link placesOf}. */
export interface OrderLine {
  readonly id: string;
  /** As the marketplace knows it; with the marketplace it names the listing. */
  readonly sku: string;
  readonly title: string;
  /** Units that were sold, those cancelled since with them. */
  readonly quantity: number;
  readonly unitPrice: number;
  /** Which of the buyer's texts it is made with. */
  readonly personalisation: number | null;
  /** Units whose sale was cancelled. */
  readonly cancelled: number;
  /** When units of it were cancelled last. */
  readonly cancelledAt: Instant | null;
  /** The print that its listing showed when it was sold; missing for goods that are bought as they are. */
  readonly print?: string;
  /** Missing where its print has no room for the buyer's words. */
  readonly proof?: Proof;
}

/** How something is done with the other side: through its service, by files, or outside of Sampan by a person. */
export type Lane = 'service' | 'file' | 'by hand';

export interface Parcel {
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: Instant;
  readonly deliveredAt: Instant | null;
  readonly inside: readonly LineUnits[];
  /** When the marketplace took its tracking number. */
  readonly toldAt: Instant | null;
}

/** Units of one line of an order as a supplier gets them. */
export interface PurchaseLine {
  /** The order's line. */
  readonly line: string;
  readonly item: string;
  /** Units of the order's line. */
  readonly units: number;
  /** Pieces of the supplier's item that one unit is made of. */
  readonly pack: number;
  /** Which of the buyer's texts it is made with. */
  readonly personalisation: number | null;
  /** Units that the supplier will not send: taken back, or cancelled by it. */
  readonly calledOff: number;
  /** The print that it is made with; missing for goods that are bought as they are. */
  readonly print?: string;
}

/** An amount of money for goods and their shipping, in a purchase's currency. */
export interface Charge {
  readonly goods: number;
  readonly shipping: number;
}

interface PurchaseBase {
  /** Known outside by this; the idempotency key is made of it and never changes. */
  readonly reference: string;
  readonly supplier: string;
  readonly lane: Lane;
  readonly lines: readonly PurchaseLine[];
  /** When it was decided. */
  readonly at: Instant;
  readonly currency: Currency;
  /** Goods and shipping as expected when it was decided. */
  readonly expected: Charge;
  /** The supplier's shipping service; missing for the usual one. */
  readonly service?: { readonly id: string; readonly name: string };
  /** Ids of the maker's sites, the one that is meant first; missing where it does not matter. */
  readonly sites?: readonly string[];
}

/** How far goods are that are made to order. Until `printing` a maker changes them, and takes them back at no cost. */
export type MakerStage = 'received' | 'file checked' | 'printing' | 'made' | 'sent';

/** Decided, and not answered: `waiting` to leave or for the answer, `sent` in an order file. */
export interface PendingPurchase extends PurchaseBase {
  readonly state: 'waiting' | 'sent';
}

/** A purchase that the supplier accepted. It is over when all units were called off. */
export interface AcceptedPurchase extends PurchaseBase {
  readonly state: 'accepted';
  /** The supplier's number. */
  readonly number: string;
  readonly acceptedAt: Instant;
  /** As the supplier charges it; null until it says so. */
  readonly charged: Charge | null;
  readonly parcels: readonly Parcel[];
  /** Of the statement that was heard last; null where the supplier does not count them. */
  readonly revision: number | null;
  /** The name of the site that makes it, and how far it is; missing where its maker says nothing of it. */
  readonly site?: string;
  readonly stage?: MakerStage;
}

/** Never bought: `refused` by the supplier, or `withdrawn` before it left. */
export interface EndedPurchase extends PurchaseBase {
  readonly state: 'refused' | 'withdrawn';
}

/** Some units of an order, bought of one supplier. */
export type Purchase = PendingPurchase | AcceptedPurchase | EndedPurchase;

/** All that an order's steps read and change; whatever else is said of it is derived. */
export interface OrderState {
  readonly paidAt: Instant;
  readonly lines: readonly OrderLine[];
  /** Which of the buyer's addresses it goes to. */
  readonly address: number;
  /** Country of that address, ISO 3166-1 alpha-2: the books need it when the buyer is erased, too. */
  readonly country: string;
  /** Which of the buyer's texts stands on the packing slip; null for the shop's usual one. */
  readonly slip: number | null;
  readonly checks: readonly Check[];
  /** Checks that a person let pass. */
  readonly released: readonly CheckKind[];
  /** When the checks passed last; null while one holds it. */
  readonly checkedAt: Instant | null;
  /** The expected entries of its last check; frozen once it is forwarded. Null where they are unknown. */
  readonly expected: readonly Entry[] | null;
  readonly purchases: readonly Purchase[];
  /** Its cases; there may be several at once. */
  readonly cases: readonly Case[];
  /** Tracking numbers that the marketplace has already, told by this copy of the shop or otherwise. */
  readonly dispatched: readonly string[];
  /** It was on its way before it was first read here: there is nothing to buy for it. */
  readonly elsewhere: boolean;
  /** What the marketplace gave back to the buyer so far. */
  readonly refunded: number;
  /** When the marketplace settled its fees. */
  readonly settledAt: Instant | null;
  /** Which of the buyer's texts is the note that came with it; missing for none. */
  readonly buyerNote?: number;
  /** The mark of the feed that its buyer came by; missing for none. */
  readonly mark?: string;
  /** Numbers of other orders of the same goods by the same buyer within a day, when it came in; missing for none. */
  readonly repeats?: readonly string[];
  /** While it stands ready: when it is bought by itself, and by which rule; missing where a person has to say so. */
  readonly due?: Due | null;
  /** A person keeps it back: no rule buys it. */
  readonly kept?: boolean;
  /** The sources that a person chose, by line. */
  readonly chosen?: Readonly<Record<string, ChosenSource>>;
  /** How a person split the units of a line over sources, by line. */
  readonly shares?: Readonly<Record<string, readonly SourceShare[]>>;
  /** The shipping service that a person chose, by supplier; '' for the usual one. */
  readonly services?: Readonly<Record<string, string>>;
  /** Which of the buyer's texts goes with it as a present; missing for none. */
  readonly gift?: number;
  /** What it is where no marketplace sold it: nobody outside is told of it, and nobody takes fees. */
  readonly own?: OwnKind;
  /** It is set aside: nothing is bought for it, and nothing of it is awaited here. */
  readonly aside?: boolean;
}

/** An order that the seller entered. */
export const OWN_KINDS = ['replacement', 'sample', 'telephone', 'till'] as const;
export type OwnKind = (typeof OWN_KINDS)[number];

/** When an order is bought by itself, by a rule's name. */
export interface Due {
  readonly at: Instant;
  readonly rule: string;
}

export interface ChosenSource {
  readonly supplier: string;
  readonly item: string;
}

/** Units of a line that are bought of one source. */
export interface SourceShare extends ChosenSource {
  readonly units: number;
}

export const isPending = (p: Purchase): p is PendingPurchase => p.state === 'waiting' || p.state === 'sent';
export const isAccepted = (p: Purchase): p is AcceptedPurchase => p.state === 'accepted';

/** Units of a line that a supplier has of us, or may have. */
export const livingIn = (p: Purchase, l: PurchaseLine): number =>
  p.state === 'refused' || p.state === 'withdrawn' ? 0 : l.units - l.calledOff;

/** Whether a purchase stands for any unit still. */
export const isActive = (p: Purchase): p is PendingPurchase | AcceptedPurchase =>
  p.lines.some((l) => livingIn(p, l) > 0);

export const activeOf = (order: Pick<OrderState, 'purchases'>): (PendingPurchase | AcceptedPurchase)[] =>
  order.purchases.filter(isActive);

/** Whether a supplier took it and nothing is left of it. */
export const isCalledOff = (p: Purchase): p is AcceptedPurchase => isAccepted(p) && !isActive(p);

export const numberOf = (p: Purchase): string | null => (isAccepted(p) ? p.number : null);
export const chargeOf = (p: Purchase): Charge | null => (isAccepted(p) ? p.charged : null);
export const parcelsOf = (p: Purchase): readonly Parcel[] => (isAccepted(p) ? p.parcels : []);

/** Units of a line that lie in parcels of a purchase. */
export const packedIn = (p: Purchase, line: string): number =>
  parcelsOf(p).reduce((n, parcel) => n + unitsOf(parcel.inside, line), 0);

/** Units of a line that are still sold. */
export const soldIn = (line: OrderLine): number => line.quantity - line.cancelled;

/** Units of a line that suppliers have of us, or may have. */
export const boughtFor = (order: Pick<OrderState, 'purchases'>, line: string): number =>
  order.purchases.reduce(
    (n, p) => n + p.lines.reduce((m, l) => (l.line === line ? m + livingIn(p, l) : m), 0),
    0,
  );

/** An order's line with the units of it that nothing is bought for yet. */
export interface OpenLine extends OrderLine {
  readonly open: number;
}

/** Lines that have units for which nothing is bought yet. */
export function openLines(order: Pick<OrderState, 'lines' | 'purchases' | 'elsewhere'>): OpenLine[] {
  if (order.elsewhere) return [];
  return order.lines.flatMap((l) => {
    const open = soldIn(l) - boughtFor(order, l.id);
    return open > 0 ? [{ ...l, open }] : [];
  });
}

/**
 * Where the units of a line are; together always its quantity. `stays` are units whose sale was cancelled and that a
 * supplier has of us still.
 */
export function placesOf(order: OrderState, line: OrderLine) {
  const places = { open: 0, pending: 0, 'with supplier': 0, shipped: 0, delivered: 0, elsewhere: 0 };
  const sold = soldIn(line);
  if (order.elsewhere) return { ...places, elsewhere: sold, stays: 0, cancelled: line.cancelled };
  const bought = { pending: 0, 'with supplier': 0, shipped: 0, delivered: 0 };
  for (const p of activeOf(order))
    for (const l of p.lines) {
      if (l.line !== line.id) continue;
      if (isPending(p)) bought.pending += livingIn(p, l);
      else bought['with supplier'] += livingIn(p, l);
    }
  for (const p of order.purchases)
    for (const parcel of parcelsOf(p)) {
      const units = unitsOf(parcel.inside, line.id);
      bought[parcel.deliveredAt === null ? 'shipped' : 'delivered'] += units;
      bought['with supplier'] -= units;
    }
  let left = sold;
  for (const place of ['delivered', 'shipped', 'with supplier', 'pending'] as const) {
    places[place] = Math.min(left, bought[place]);
    left -= places[place];
  }
  const stays = Math.max(0, boughtFor(order, line.id) - sold);
  return { ...places, open: left, stays, cancelled: line.cancelled - stays };
}

export const isCancelled = (order: Pick<OrderState, 'lines'>): boolean =>
  order.lines.every((l) => l.cancelled >= l.quantity);

/**
 * Parcels that hold units somebody waits for, with those units: of more units than are sold, the parcels that were told
 * or sent first have them.
 */
export function awaitedParcels(
  order: Pick<OrderState, 'lines' | 'purchases'>,
): { readonly purchase: AcceptedPurchase; readonly parcel: Parcel; readonly inside: LineUnits[] }[] {
  const all = order.purchases.flatMap((purchase) =>
    isAccepted(purchase) ? purchase.parcels.map((parcel) => ({ purchase, parcel })) : [],
  );
  const whole = isCancelled(order);
  const left = new Map(order.lines.map((l) => [l.id, whole ? l.quantity : soldIn(l)]));
  const first = [...all].sort((a, b) => Number(a.parcel.toldAt === null) - Number(b.parcel.toldAt === null));
  return first.flatMap(({ purchase, parcel }) => {
    const inside = byLine(
      parcel.inside.map(({ line, units }) => {
        const taken = Math.min(units, left.get(line) ?? 0);
        left.set(line, (left.get(line) ?? 0) - taken);
        return { line, units: taken };
      }),
    );
    return inside.length ? [{ purchase, parcel, inside }] : [];
  });
}
