import type { MessageKind } from '../core/messages';
import type { Lane, LineUnits, ReturnAnswer } from '../core/orders';
import type { Instant } from '../core/units';

/** The state of a listing as buyers see it: on sale, paused, or off the marketplace. */
export type OfferState = 'live' | 'paused' | 'ended';

/** The body of an outbox row, by kind. Amounts in minor units of the connection’s currency. */
export interface OutboxBodies {
  /** Its content is made when it leaves, so that it is the newest. */
  publish: {
    readonly listing: string;
    readonly sku: string;
    /** It is left as a draft there. */
    readonly draft?: true;
  };
  offer: {
    readonly listing: string;
    readonly sku: string;
    readonly price: number;
    readonly quantity: number;
    readonly state: OfferState;
  };
  buy: {
    readonly reference: string;
    readonly shop: string;
    /** Which of the buyer's addresses it goes to. */
    readonly address: number;
    readonly lines: readonly {
      readonly line: string;
      readonly sku: string;
      readonly quantity: number;
      /** Which of the buyer's texts it is made with. */
      readonly personalisation: number | null;
      /** What is printed on it; missing for goods that are bought as they are. */
      readonly print?: string;
    }[];
    /** The shop's usual message as it was, or which of the buyer's texts. */
    readonly slip: string | number;
    /** The supplier's shipping service; missing for the usual one. */
    readonly service?: string;
    /** Ids of the maker's sites, the one that is meant first; missing where it does not matter. */
    readonly sites?: readonly string[];
    /** Which of the buyer's texts goes with it as a present; missing for none. */
    readonly gift?: number;
  };
  'take back': {
    readonly reference: string;
    readonly number: string;
    readonly reason: string;
    /** Pieces of each line that are to be out of it in all; null for everything. */
    readonly lines:
      | readonly { readonly line: string; readonly sku: string; readonly quantity: number }[]
      | null;
  };
  dispatch: {
    readonly number: string;
    readonly carrier: string;
    readonly tracking: string;
    readonly shippedAt: string;
    /** The units in the parcel, by the marketplace's lines. */
    readonly inside: readonly LineUnits[];
  };
  /** A message to the buyer: filled in when it leaves, so that nothing of the buyer stands here. */
  message: {
    readonly number: string;
    readonly about: MessageKind | 'question';
    readonly template: string;
    /** Which of the buyer's texts it is in place of a template; missing for one by its template. */
    readonly text?: number;
    /** '' where it is about no parcel. */
    readonly tracking: string;
    readonly carrier: string;
  };
  /** Asks a maker to print again what came out wrong. */
  misprint: {
    readonly case: string;
    readonly number: string;
    /** Pieces of each line. */
    readonly lines: readonly { readonly line: string; readonly sku: string; readonly quantity: number }[];
    readonly reason: string;
    /** Of a kept file. */
    readonly photo: string;
  };
  /** How a buyer is answered who wants to return something, or a refund that the seller gives. */
  return: {
    readonly case: string;
    readonly number: string;
    /** As the marketplace knows it; null for a refund of the seller's own. */
    readonly request: string | null;
    readonly answer: ReturnAnswer;
    /** In minor units of the order's currency. */
    readonly minor: number;
    readonly label: 'buyer' | 'seller';
    readonly says: string;
  };
  /** Asks a supplier about returned goods. */
  claim: {
    readonly case: string;
    readonly number: string;
    /** Pieces of each line. */
    readonly lines: readonly { readonly line: string; readonly sku: string; readonly quantity: number }[];
    readonly reason: string;
    readonly wants: 'refund' | 'replacement';
    readonly says: string;
    /** Of kept files. */
    readonly photos: readonly string[];
  };
  /** Asks a supplier to send an undeliverable parcel again. */
  'send again': {
    readonly case: string;
    readonly number: string;
    readonly tracking: string;
    /** Which of the buyer's addresses it goes to. */
    readonly address: number;
  };
  /** No to a buyer's wish to cancel. */
  decline: {
    readonly number: string;
    readonly request: string;
    readonly says: string;
  };
  cancel: {
    readonly number: string;
    readonly reason: string;
    /** How many units of each of the marketplace's lines are to be cancelled in all; null for all. */
    readonly totals: readonly LineUnits[] | null;
  };
}

export type OutboxKind = keyof OutboxBodies;
/** Messages about a listing: only the newest counts, so that a newer row replaces an older one. */
export type ListingKind = 'publish' | 'offer';
/** Messages about an order. */
export type OrderKind = Exclude<OutboxKind, ListingKind>;

/** The order that a row is about; null for those of listings. */
export type OrderOf<K extends OutboxKind> = K extends ListingKind ? null : string;

/**
 * Something the outside must be told, written in the same transaction as the state it belongs to. Its id is the
 * idempotency key. What was told of a listing is deleted: the listing says it.
 */
export type OutboxRow<K extends OutboxKind = OutboxKind> = {
  [Kind in K]: {
    readonly id: string;
    readonly connection: string;
    readonly kind: Kind;
    readonly order: OrderOf<Kind>;
    readonly body: OutboxBodies[Kind];
    readonly state: 'waiting' | 'done' | 'refused' | 'withdrawn';
    readonly at: Instant;
    /** When it last left, written before it does: with it, an answer that did not come is known to be missing. */
    readonly sentAt: Instant | null;
    readonly attempts: number;
    readonly nextAt: Instant;
    readonly says: string | null;
  };
}[K];

/** How each capability of a supplier is used. */
export interface SupplierLanes {
  readonly catalogue: Lane;
  readonly purchases: Lane;
  readonly tracking: Lane;
}

/** How each capability of a marketplace is used. */
export interface MarketLanes {
  readonly listings: Lane;
  readonly orders: Lane;
}
