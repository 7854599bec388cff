import type { Columns, Item, ItemDetail } from '../core/catalogue';
import type { Site } from '../core/checks';
import type { Account, Charged } from '../core/ledger';
import type { Address, Check, CheckKind, Facts } from '../core/orders';
import type { PricePlan, ShippingBand } from '../core/pricing';
import type { StockRule } from '../core/stock';
import type { Instant } from '../core/units';

export type Credential =
  | { readonly kind: 'account'; readonly account: string; readonly key: string }
  | { readonly kind: 'consent'; readonly token: string };

/** Why a connection does not work now. */
export interface ConnectionTrouble {
  readonly kind: 'credentials' | 'unreachable' | 'outage' | 'limit' | 'nonsense';
  readonly says: string;
  readonly since: Instant;
}

interface ConnectionBase {
  readonly id: string;
  readonly service: string;
  readonly name: string;
  readonly credential: Credential;
  readonly paused: boolean;
  readonly connectedAt: Instant;
  readonly trouble: ConnectionTrouble | null;
  /** Failures in a row; from the third on the circuit is open until the instant. */
  readonly failures: number;
  readonly openUntil: Instant | null;
  /** Position in the other side's feed of changes. */
  readonly cursor: string | null;
}

export interface SupplierConnection extends ConnectionBase {
  readonly role: 'supplier';
  readonly currency: string;
  readonly zone: string;
  readonly balance: number | null;
  readonly shipping: readonly ShippingBand[];
  readonly shipsTo: readonly string[];
}

export interface MarketConnection extends ConnectionBase {
  readonly role: 'marketplace';
  readonly site: Site;
}

export type Connection = SupplierConnection | MarketConnection;

export type Task = 'catalogue' | 'shipments' | 'orders';

/** What moves by itself on a schedule; one row for each task of a connection. */
export interface Job {
  readonly id: string;
  readonly connection: string;
  readonly task: Task;
  /** Milliseconds between runs. */
  readonly every: number;
  readonly nextAt: Instant;
  readonly lastAt: Instant | null;
  readonly lastSays: string | null;
  readonly lastOk: boolean;
  readonly running: { readonly startedAt: Instant; readonly done: number; readonly total: number } | null;
  readonly stop: boolean;
  /** Where a long reading stands, so that it goes on after a reload. */
  readonly progress: {
    readonly cursor: string | null;
    readonly done: number;
    readonly seen: readonly string[];
    readonly refused: number;
    readonly startedAt: Instant;
  } | null;
}

/** One page of a supplier's catalogue: hot columns here, descriptions and pictures in {@link DetailBlock}. */
export interface Block {
  readonly connection: string;
  /** The cursor the page was asked with; '' for the first. */
  readonly from: string;
  readonly etag: string | null;
  readonly next: string | null;
  readonly total: number;
  readonly columns: Columns;
  readonly refused: readonly Refused[];
  readonly at: Instant;
}

/** An item the door did not take, with what was wrong. */
export interface Refused {
  readonly sku: string;
  readonly reason: string;
}

export interface DetailBlock {
  readonly connection: string;
  readonly from: string;
  readonly details: readonly ItemDetail[];
}

/** A supplier's product that was taken: theirs as it was, ours beside it. */
export interface Product {
  readonly id: string;
  readonly supplier: string;
  readonly group: string | null;
  readonly marketplace: string;
  readonly taken: {
    readonly title: string;
    readonly description: string;
    readonly category: string;
    readonly brand: string;
    readonly pictures: readonly string[];
    readonly at: Instant;
  };
  /** Our own text; null where the supplier's is kept. */
  readonly title: string | null;
  readonly description: string | null;
  readonly category: string | null;
  /** The plan's id; null for the first plan. */
  readonly plan: string | null;
  readonly approvedAt: Instant | null;
}

export type ListingState = 'bench' | 'publishing' | 'refused' | 'live' | 'paused';

/** What is known of the supplier's item a listing sells. */
export interface SupplierFacts {
  readonly cost: number;
  readonly stock: number;
  readonly map: number | null;
  readonly msrp: number | null;
  readonly grams: number;
  readonly at: Instant;
}

/** One variant of a product on one marketplace. */
export interface Listing {
  readonly id: string;
  readonly product: string;
  readonly marketplace: string;
  readonly supplier: string;
  /** The supplier's SKU. */
  readonly item: string;
  /** Our SKU, as the marketplace knows it. */
  readonly sku: string;
  readonly options: Item['options'];
  readonly gtin: string | null;
  readonly facts: SupplierFacts;
  readonly state: ListingState;
  readonly ownPrice: number | null;
  /** What the marketplace was last told and said yes to. */
  readonly told: { readonly price: number; readonly quantity: number; readonly at: Instant } | null;
  /** Why it is held or was refused. */
  readonly problem: string | null;
  /** What moved last, in a sentence. */
  readonly last: { readonly at: Instant; readonly says: string } | null;
}

export interface PlanRow extends PricePlan {
  readonly id: string;
  readonly name: string;
}

export interface OrderLine {
  readonly id: string;
  readonly sku: string;
  readonly title: string;
  readonly quantity: number;
  readonly unitPrice: number;
  readonly personalisation: string | null;
  /** The listing it sells, null where none of ours is linked. */
  readonly listing: string | null;
}

export interface Parcel {
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: Instant;
  readonly deliveredAt: Instant | null;
}

export interface Order {
  readonly id: string;
  readonly marketplace: string;
  readonly number: string;
  readonly facts: Facts;
  readonly shipBy: Instant;
  readonly buyer: { readonly name: string; readonly email: string };
  readonly address: Address;
  readonly lines: readonly OrderLine[];
  readonly supplier: string | null;
  /** 1 while something is to be done or awaited, else 0: an index of what is open. */
  readonly open: 0 | 1;
  readonly checks: readonly Check[];
  readonly released: readonly CheckKind[];
  /** What the supplier refused last, in its words. */
  readonly refusal: string | null;
  /** Decided to be bought: an outbox row stands for it. */
  readonly forwarding: boolean;
  /** Counts refused purchases, so that a new try has a key of its own. */
  readonly attempt: number;
  readonly slip: string | null;
  readonly supplierNumber: string | null;
  readonly parcels: readonly Parcel[];
  readonly expected: Account | null;
  readonly charged: Charged;
}

export type OutboxKind = 'publish' | 'offer' | 'buy' | 'dispatch' | 'cancel';

/** Something the outside must be told, written in the same transaction as the state it belongs to. Its id is the idempotency key. */
export interface OutboxRow {
  readonly id: string;
  readonly connection: string;
  readonly kind: OutboxKind;
  readonly subject: string;
  readonly body: unknown;
  readonly state: 'waiting' | 'done' | 'refused';
  readonly at: Instant;
  readonly attempts: number;
  readonly nextAt: Instant;
  readonly says: string | null;
}

/** One named change by a person or a rule. */
export interface Change {
  readonly id: string;
  readonly at: Instant;
  readonly by: 'person' | 'rule';
  readonly name: string;
  readonly why: string | null;
  readonly edits: number;
  /** The change that undid this one. */
  readonly undoneBy: string | null;
  readonly undoable: boolean;
}

/** One row's part in a change: the fields that changed, before and after. A null before is a row that was added, a null after one removed. */
export interface Edit {
  readonly id: string;
  readonly change: string;
  readonly subject: string;
  readonly table: ChangedTable;
  readonly at: Instant;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
  readonly says: string | null;
}

export const CHANGED_TABLES = ['products', 'listings', 'plans', 'orders', 'settings', 'connections'] as const;
export type ChangedTable = (typeof CHANGED_TABLES)[number];

export interface Settings {
  readonly id: 'shop';
  readonly shop: string;
  readonly zone: string;
  readonly slip: string;
  readonly forward: 'at once' | 'by hand';
  readonly stock: StockRule;
}

/** Who runs the jobs, and small things that are not the shop's data. */
export interface Note {
  readonly id: string;
  readonly value: unknown;
}
