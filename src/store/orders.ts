import type { Entry } from '../core/ledger';
import type { Currency } from '../core/money';
import type { Address, Check, CheckKind, OrderState } from '../core/orders';
import type { Instant } from '../core/units';
import type { Edit } from './rows';

export interface Order extends OrderState {
  /** Marketplace and number there. */
  readonly id: string;
  readonly marketplace: string;
  readonly number: string;
  readonly currency: Currency;
  readonly shipBy: Instant;
  readonly buyer: { readonly name: string; readonly email: string };
  readonly address: Address;
  /** What the buyer pays for shipping. */
  readonly shipping: number;
  /** What the marketplace gave back to the buyer so far. */
  readonly refunded: number;
  /** 1 while something is to be done or awaited, else 0: an index of what is open. */
  readonly open: 0 | 1;
  readonly checks: readonly Check[];
  readonly released: readonly CheckKind[];
  /** What keeps it until a person has seen it: what a supplier refused, how a cancellation ended. */
  readonly notice: string | null;
  readonly slip: string | null;
  /** What it should bring, as it stood when it was checked last; frozen once it is forwarded. Null where it cannot be told. */
  readonly expected: readonly Entry[] | null;
  /** When the marketplace settled its fees. */
  readonly settledAt: Instant | null;
}

/**
 * What a supplier said of a purchase whose order is not known here (yet): kept until it comes in. The newest only.
 */
export interface UnclaimedRow {
  /** Supplier and reference. */
  readonly id: string;
  readonly supplier: string;
  /** The order that the reference belongs to. */
  readonly order: string;
  /** As it was read, a message of the supplier's feed. */
  readonly said: unknown;
  readonly at: Instant;
}

/** What really was paid and charged for an order (or for something else, by its own id): only ever added to. */
export interface LedgerRow {
  readonly id: string;
  readonly entries: readonly Entry[];
}

/** Some orders of one month that are over, as columns that are still searched. One that came back leaves '' as its id. */
export interface ArchiveBlock {
  /** Month and number: `2026-03:0`. */
  readonly id: string;
  readonly ids: readonly string[];
  /** What is derived of each, laid out by whoever archived it; see `work/orders/order-columns.ts`. */
  readonly columns: unknown;
}

/** The same orders in full, in the same order: packed, as they are seldom looked at. */
export interface ArchivedRows {
  readonly id: string;
  /** JSON texts end to end, deflated (RFC 1951). */
  readonly packed: Uint8Array<ArrayBuffer>;
  /** Where each text ends, in bytes. */
  readonly ends: Int32Array;
}

/** An order with all that is kept of it. */
export interface WholeOrder {
  readonly order: Order;
  readonly ledger: LedgerRow | null;
  readonly edits: readonly Edit[];
}
