import type { Instant } from '../units';
import type { LineUnits } from './line-units';

/**
 * What a return case is about: goods that come back, money without goods, a parcel that never came, one that its carrier
 * brings back, or a payment that the buyer's bank took back.
 */
export const RETURN_KINDS = ['return', 'refund', 'not received', 'undeliverable', 'chargeback'] as const;
export type ReturnKind = (typeof RETURN_KINDS)[number];

/** How the seller answers a buyer: the goods are to come back, money is given now, or neither. */
export type ReturnAnswer = 'accept' | 'refund' | 'decline';

/** Where returned goods are. `with buyer` until they are sent back, `kept` where they stay there. */
export const GOODS_PLACES = [
  'with buyer',
  'on the way',
  'at the supplier',
  'on the shelf',
  'kept',
  'lost',
  'written off',
] as const;
export type GoodsPlace = (typeof GOODS_PLACES)[number];

/** What a supplier is asked for, and what it says of it. Amounts in its currency. */
export interface Claim {
  readonly supplier: string;
  readonly reference: string;
  /** The supplier's number of the purchase. */
  readonly number: string;
  readonly wants: 'refund' | 'replacement';
  /** In the seller's words. */
  readonly says: string;
  /** It has no service: a person asks it, and records the answer. */
  readonly outside?: true;
  /** Ids of kept files. */
  readonly photos: readonly string[];
  readonly state: ClaimState;
  /** The supplier's words; '' for none. */
  readonly answer: string;
  /** Until when the supplier holds its answer open: the goods have to be back by then. */
  readonly answerBy: Instant | null;
  /** Given back, and kept of it for taking the goods in. */
  readonly credit: number;
  readonly restocking: number;
  /** Of what is sent in its place. */
  readonly carrier: string;
  readonly tracking: string | null;
}

/** `granted`: agreed to; `settled`: credited or replaced. */
export type ClaimState = 'asked' | 'granted' | 'refused' | 'settled';

/** How a return stands with the marketplace. `received`: the goods came back, and the refund is due. */
export type ReturnState = 'open' | 'accepted' | 'declined' | 'received' | 'closed';

export interface Return {
  readonly kind: 'return';
  readonly id: string;
  readonly at: Instant;
  readonly seenAt: Instant | null;
  readonly what: ReturnKind;
  /** As the marketplace knows it; null for what the seller or a supplier opened. */
  readonly request: string | null;
  readonly units: readonly LineUnits[];
  /** One of the seller's reasons, by its id. */
  readonly reason: string;
  /** Which of the buyer's texts says why; null for none. */
  readonly words: number | null;
  readonly answerBy: Instant | null;
  readonly state: ReturnState;
  /** What was answered, until the marketplace says so itself; `refused` with its words where it did not take that. */
  readonly sent: { readonly answer: ReturnAnswer; readonly minor: number } | null;
  readonly refused: string;
  /** In the order's currency: given to the buyer for it, taken for the label, fees given back for it. */
  readonly refunded: number;
  readonly label: number;
  readonly fees: number;
  readonly goods: GoodsPlace;
  readonly claim: Claim | null;
  /** Of an undeliverable parcel: where it is held, and until when that costs nothing. */
  readonly parcel?: {
    readonly supplier: string;
    readonly reference: string;
    readonly tracking: string;
    readonly heldUntil: Instant | null;
    /** It goes out again: to which of the buyer's addresses, and what that costs. */
    readonly again: { readonly address: number; readonly told: boolean; readonly charged: number } | null;
  };
  /** When a person put it away; null while it is open. */
  readonly closedAt: Instant | null;
}

export const isReturn = (c: { readonly kind: string }): c is Return => c.kind === 'return';

export const isOpenReturn = (c: { readonly kind: string }): c is Return => isReturn(c) && c.closedAt === null;

/** What a person has to do for a return next; null where somebody else is awaited, or nobody. */
export type ReturnStep = 'answer' | 'mend' | 'refund' | 'held' | 'ask outside' | 'see claim' | 'close';

/** The step that is next for the seller. */
export function returnStep(c: Return): ReturnStep | null {
  if (c.closedAt !== null) return null;
  if (c.refused) return 'mend';
  if (c.parcel && !c.parcel.again && c.goods === 'on the way') return 'held';
  if (c.sent || (c.parcel?.again && !c.parcel.again.told)) return null;
  if (c.state === 'open') return 'answer';
  if (c.state === 'received') return 'refund';
  if (c.claim?.outside && (c.claim.state === 'asked' || c.claim.state === 'granted')) return 'ask outside';
  if (c.claim?.state === 'refused' && c.seenAt === null) return 'see claim';
  if (c.claim?.state === 'asked' || c.claim?.state === 'granted') return null;
  if (c.state === 'accepted' && c.goods !== 'at the supplier' && c.goods !== 'on the shelf') return null;
  return 'close';
}

/** Until when a person's step is to be taken; null where no time is known. */
export const returnDue = (c: Return): Instant | null =>
  c.parcel && !c.parcel.again
    ? c.parcel.heldUntil
    : c.claim?.state === 'granted'
      ? c.claim.answerBy
      : c.state === 'open' || c.state === 'received'
        ? c.answerBy
        : null;

/** Units of a line that are in returns, other than one. */
export const returnedUnits = (
  cases: readonly { readonly kind: string }[],
  line: string,
  but?: string,
): number =>
  cases
    .filter(isReturn)
    .filter((c) => c.id !== but && c.state !== 'declined')
    .flatMap((c) => c.units)
    .reduce((n, u) => (u.line === line ? n + u.units : n), 0);
