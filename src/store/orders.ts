import type { Entry } from '../core/ledger';
import type { Currency, Ppm } from '../core/money';
import type { Buyer, OrderFact, OrderState } from '../core/orders';
import type { CostRules, Tax } from '../core/pricing';
import type { Kept, Stated } from '../core/statements';
import type { Instant } from '../core/units';
import type { Edit } from './rows';

/** An order. Its buyer is a row of its own under the same id; nothing here holds what is the buyer's. */
export interface Order extends OrderState {
  /** Marketplace and number there. */
  readonly id: string;
  readonly marketplace: string;
  readonly number: string;
  readonly currency: Currency;
  readonly shipBy: Instant;
  /** What the buyer pays for shipping. */
  readonly shipping: number;
  /** 1 while something is to be done, awaited or seen, else 0: an index of what is open. */
  readonly open: 0 | 1;
  /** The seller's note: which of the buyer's texts it is, since it may speak of the buyer; missing for none. */
  readonly note?: number;
  /** The seller's own labels; missing for none. */
  readonly labels?: readonly string[];
  /** The facts of its first reading; missing where its history has them. */
  readonly arrival?: { readonly at: Instant; readonly facts: readonly OrderFact[] };
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

/** An entry of a feed that could not be read: kept as it came until it can be, or a person sets it aside. */
export interface UnreadRow {
  /** Connection and number there, or a mark of what came. */
  readonly id: string;
  readonly connection: string;
  /** As it came, JSON. */
  readonly plain: unknown;
  readonly reason: string;
  readonly at: Instant;
  /** A person wants nothing of it. */
  readonly aside: boolean;
}

/** The terms that the first entries of an order were made with: later entries use the same. */
export interface LedgerTerms {
  readonly tax: Tax;
  /** By supplier and reference: the tax on cost, and of the supplier's rules those that charge besides. */
  readonly bought: Readonly<Record<string, { readonly costTax: Ppm; readonly rules: CostRules | null }>>;
}

/** The amounts paid and charged for an order (or for something else, by its own id). Append-only. */
export interface LedgerRow {
  readonly id: string;
  readonly entries: readonly Entry[];
  /** Missing of what was entered before terms were kept. */
  readonly terms?: LedgerTerms;
  /** What account statements say of it; missing where none does. */
  readonly stated?: readonly Stated[];
  /** Differences from them that a person left as they are; missing for none. */
  readonly kept?: readonly Kept[];
}

/** Some orders of one month that are over, as columns that are still searched. One that came back leaves '' as its id. */
export interface ArchiveBlock {
  /** Month and number: `2026-03:0`. */
  readonly id: string;
  readonly ids: readonly string[];
  /** What is derived of each, laid out by whoever archived it; see `work/order-book/order-columns.ts`. */
  readonly columns: unknown;
  /** Names and towns of their buyers, folded for the search. */
  readonly who: readonly string[];
  readonly towns: readonly string[];
}

/** The same orders in full, or their buyers, in the same order: packed, as they are seldom looked at. */
export interface ArchivedRows {
  /** The block's. */
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
  readonly buyer: Buyer;
}
