import type { Doubt, Piece, Tally } from '../core/catalogue';
import type { Going, OrderRules } from '../core/forwarding';
import type { Proposal } from '../core/linking';
import type { Match } from '../core/lists';
import type { Messages } from '../core/messages';
import type { Currency, ExchangeRate, Ppm } from '../core/money';
import type { OrderFact } from '../core/orders';
import type { Moves } from '../core/pricing';
import type { Condition } from '../core/query';
import type { ReturnRules } from '../core/returns';
import type { StockRule } from '../core/stock';
import type { NumberShape } from '../core/tracking';
import type { Instant, Timetable } from '../core/units';
import type { StoredFile } from './files';
import type { StatementRules } from './statements';

export type Task =
  | 'catalogue'
  | 'list'
  | 'shipments'
  | 'orders'
  | 'listings'
  | 'drift'
  | 'site'
  | 'statements'
  | 'prices'
  | 'forwarding'
  | 'feed'
  | 'tidy';

/** A scheduled job; one row for each task of a subject. */
export interface Job {
  readonly id: string;
  /** The connection it is about, or `shop`. */
  readonly subject: string;
  readonly task: Task;
  /** Milliseconds between runs. */
  readonly every: number;
  /** By the clocks of its connection's zone, instead of by the interval. */
  readonly timetable?: Timetable | null;
  /** A person paused it: it runs neither by itself nor when asked. */
  readonly paused?: boolean;
  readonly nextAt: Instant;
  /** While it runs: the time its next run was asked for, if that was after this one began. */
  readonly askedFor?: Instant | undefined;
  readonly lastAt: Instant | null;
  /** When the last run began that read all that it reads: a catalogue's stock is of then. Missing for never. */
  readonly readAt?: Instant;
  readonly lastSays: string | null;
  readonly lastOk: boolean;
  /** `done` of `total` in the reader's own measure; `rows` where that is not rows. */
  readonly running: {
    readonly startedAt: Instant;
    readonly done: number;
    readonly total: number;
    readonly rows?: number;
  } | null;
  /** Asked to stop. */
  readonly stop: boolean;
  /** A person stopped it: that it did not end is no trouble. */
  readonly stopped: boolean;
  /**
   * Where a long reading stands, so that it goes on after a reload; what it read lies in its {@link Stage}.
   */
  readonly progress: {
    /** Page of a service, or place in a list; what it means is the reader's. */
    readonly cursor: string | null;
    readonly done: number;
    readonly seen: readonly string[];
    readonly startedAt: Instant;
  } | null;
}

/**
 * What is known of a stored catalogue without reading it. Only the pieces counted here are part of it; others
 * wait for their reading to end.
 */
export interface CatalogueNote {
  readonly generation: number;
  readonly pieces: number;
  readonly items: number;
  /** When it last changed. */
  readonly stamp: number;
  /** From which source and in which way its records were marked. */
  readonly source: string;
}

/** A piece of a catalogue as it is stored; its description and pictures in {@link StoredCold}. */
export interface StoredPiece {
  readonly supplier: string;
  readonly generation: number;
  readonly seq: number;
  readonly piece: Piece;
}

/**
 * The cold part of a piece: descriptions, then pictures, in one file, which storage takes over without
 * looking through it; and where each ends in its half.
 */
export interface StoredCold {
  readonly supplier: string;
  readonly generation: number;
  readonly seq: number;
  readonly file: StoredFile;
  readonly descriptionEnds: Int32Array<ArrayBuffer>;
  readonly pictureEnds: Int32Array<ArrayBuffer>;
}

/** A reading under way: what it wrote that is not visible yet. */
export interface Stage {
  readonly supplier: string;
  readonly reading: string;
  readonly source: string;
  readonly generation: number;
  /** Number of the next piece. */
  readonly seq: number;
  readonly seen: Uint8Array;
  readonly tally: Tally;
  readonly refused: number;
}

/** A reading that ended, and what it brought. */
export interface ReadingRow {
  readonly id: string;
  readonly supplier: string;
  readonly at: Instant;
  /** Name of the file, the address, or '' for a service. */
  readonly from: string;
  readonly tally: Tally;
  readonly refused: number;
}

/**
 * A record that was not taken, or not whole: where it stands, what was wrong, and how it came, so that it can
 * be mended.
 */
export interface Refused {
  readonly line: number | null;
  readonly sku: string;
  readonly column: string | null;
  readonly value: string;
  readonly reason: string;
  /** Whether the item was taken all the same, without this. */
  readonly taken: boolean;
  /** Whether a person can say that it is right as it is. */
  readonly asks: boolean;
  readonly cells: readonly string[] | null;
}

/**
 * What a list did not name, and why it is not taken for gone until a person says so. One for each supplier:
 * the next reading answers anew.
 */
export interface DoubtRow {
  readonly supplier: string;
  readonly at: Instant;
  readonly from: string;
  readonly why: Doubt;
  /** Rows of the catalogue that did not come, and how many items there were. */
  readonly rows: Int32Array;
  /** SKUs of the first of them. */
  readonly some: readonly string[];
  readonly offered: number;
  /** Rows of the list whose item cannot be told. */
  readonly unknown: number;
  /** A person said that they are gone; the runner takes them out. */
  readonly confirmed: boolean;
}

/** The refused records of one step of a reading. */
export interface RefusedRow {
  readonly reading: string;
  readonly seq: number;
  readonly supplier: string;
  /** Names of the columns, where the source has any. */
  readonly header: readonly string[] | null;
  readonly refused: readonly Refused[];
}

/** A page of a supplier's service as it was last read: asked for again only if it changed. */
export interface PageRow {
  readonly supplier: string;
  readonly from: string;
  readonly etag: string | null;
  readonly next: string | null;
  readonly total: number;
  readonly rows: Int32Array;
}

/** Cost and stock of a supplier's items over one day, for a share of its items: columns side by side. */
export interface HistoryRow {
  readonly supplier: string;
  readonly bucket: number;
  /** Days since 1970, in UTC. */
  readonly day: number;
  readonly sku: readonly string[];
  readonly at: readonly number[];
  readonly cost: readonly number[];
  readonly stock: readonly number[];
  readonly costBefore: readonly number[];
  readonly stockBefore: readonly number[];
}

/** A list as it was dropped or fetched, kept until it is read; its bytes in {@link ListBytes}. */
export interface ListFile {
  readonly id: string;
  readonly supplier: string;
  readonly name: string;
  readonly size: number;
  readonly at: Instant;
  /** How it is read, once it was matched. */
  readonly match: Match | null;
}

/** The bytes of a list, apart from what is said of it, so that saying more does not copy them. */
export interface ListBytes {
  readonly id: string;
  readonly file: StoredFile;
}

/** How a list with certain columns is read, remembered for a supplier. */
export interface MatchRow {
  readonly id: string;
  readonly supplier: string;
  readonly signature: string;
  readonly match: Match;
  readonly at: Instant;
}

/** A search kept under a name. */
export interface SavedSearch {
  readonly id: string;
  readonly name: string;
  readonly query: Condition;
  readonly sort: string;
  readonly market: string | null;
  /** The act on new matches after a refresh. */
  readonly watch: 'off' | 'report' | 'take' | 'approve';
  /** Hashes of supplier and SKU of what matched before, in order. */
  readonly known: Int32Array;
  /** New matches since they were last looked at. */
  readonly fresh: number;
  readonly freshAt: Instant | null;
  readonly at: Instant;
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
  /** The tab it was made in; missing where no person made it in one. */
  readonly tab?: string;
  /** The change that this one takes back. */
  readonly undoes?: string;
  /** It brings back what an undo took. */
  readonly redoes?: true;
  /** It only carried out or noted what another change decided: not told among the last changes. */
  readonly quiet?: boolean;
}

/**
 * One row's part in a change: the fields that changed, before and after. A null before is a row that was
 * added, a null after one removed. Where a change cannot be undone, some bulky fields are left out; the facts
 * of the edit record what happened to them.
 */
export interface Edit {
  readonly id: string;
  readonly change: string;
  readonly subject: string;
  readonly table: ChangedTable;
  readonly at: Instant;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
  readonly says: string | null;
  /** The events of an order. */
  readonly facts?: readonly OrderFact[];
  /** How the offer of a listing moved, or a supplier's item. */
  readonly moves?: Moves;
  /** Of many rows that one change touched: what became of each. */
  readonly rows?: readonly RowEdit[];
}

/** One row's part in an {@link Edit} of many rows. */
export type RowEdit = Pick<Edit, 'subject' | 'before' | 'after' | 'says' | 'moves'>;

export const CHANGED_TABLES = [
  'products',
  'variants',
  'items',
  'listings',
  'documents',
  'plans',
  'orders',
  'settings',
  'connections',
  'searches',
  'removed',
  'rates',
  'templates',
  'designs',
  'sheets',
  'statements',
  'costs',
  'groups',
  'feeds',
] as const;
export type ChangedTable = (typeof CHANGED_TABLES)[number];

/** Tables of which earlier values are kept: what changes write, and what the other side states. */
export type EarlierTable = ChangedTable | 'stated';

/** The values of a field of some rows until a time. */
export interface EarlierRow {
  readonly seq: number;
  readonly at: number;
  readonly table: EarlierTable;
  readonly field: string;
  readonly ids: readonly string[];
  /** By place among the ids. */
  readonly before: readonly unknown[];
}

/** What is made with buyers' own words. */
export interface PersonalSettings {
  /** How each marketplace writes them, by its connection: `For {Name}, on {Date}`. */
  readonly patterns: Readonly<Record<string, string>>;
  /** Words that the seller does not print: marks of others, insults. */
  readonly forbidden: readonly string[];
}

export interface Settings {
  readonly id: 'shop';
  readonly shop: string;
  readonly zone: string;
  readonly slip: string;
  /** Where buyers ask, printed on packing slips; missing for nowhere. */
  readonly contact?: string;
  /** SKU pattern: `{sku}` is the supplier's, `{number}` the part of it behind the first hyphen. */
  readonly sku: string;
  /** Messages to buyers; missing for none. */
  readonly messages?: Messages;
  /** Senders of mails that the seller knows; missing for none. */
  readonly senders?: readonly MailSender[];
  /** How numbers of carriers look that have no check digit of a standard; missing for none. */
  readonly shapes?: readonly NumberShape[];
  /** How buyers' words are read and what is not printed; missing for neither. */
  readonly personal?: PersonalSettings;
  /** When marketplaces are told of parcels; missing for at once. */
  readonly telling?: Going;
  /** When orders that pass their checks go, where no rule says otherwise. */
  readonly forward: 'at once' | 'by hand';
  /** Between the sale and the purchase; missing for {@link USUAL_RULES}. */
  readonly orders?: OrderRules;
  /** How returns are handled; missing for {@link USUAL_RETURN_RULES}. */
  readonly returns?: ReturnRules;
  /** What is done with account statements; missing for {@link USUAL_STATEMENT_RULES}. */
  readonly statements?: StatementRules;
  /** When an estimate was corrected by what came of it, by its key: only orders of later are counted. Missing for none. */
  readonly corrected?: Readonly<Record<string, Instant>>;
  readonly stock: StockRule;
  /** Currency of the books; sums over marketplaces are in it. */
  readonly currency: Currency;
  /** Added to exchange rates when prices are worked out, for what they may move until the supplier is paid. */
  readonly cushion: Ppm;
  /** Codes of accounts in the bookkeeper's program, by their names; missing for none. */
  readonly accounts?: Readonly<Record<string, string>>;
  /** Tax on cost that is not reclaimed; 0 where it is. */
  readonly costTax: Ppm;
  /** Days for which changes and answered messages are kept. */
  readonly keepDays: number;
  /** Years for which orders and their accounts are kept; missing for `ORDER_YEARS` of `core/ledger`. */
  readonly orderYears?: number;
  /** Missing for never. */
  readonly alerts?: AlertRule;
  /** Searches of Orders that stand above the list, in the seller's order; missing for none. */
  readonly orderViews?: readonly SavedView[];
}

/** A search that is kept under a name, beside the list that it looks through. */
export interface SavedView {
  readonly name: string;
  readonly when: Condition;
  /** With `-` before it for the largest first; '' for the list's own order. */
  readonly sort: string;
}

/** A sender of mails of one supplier. */
export interface MailSender {
  /** The mail address, in small letters. */
  readonly address: string;
  readonly supplier: string;
  /** What is clear in its mails is taken without asking. */
  readonly taken: boolean;
}

/** When a person is told of what needs them. Times of the day in the shop's zone, such as `20:00`. */
export interface AlertRule {
  readonly notify: 'never' | 'needs' | 'digest';
  readonly quietFrom: string;
  readonly quietTo: string;
  readonly digestAt: string;
}

/** An exchange rate on record. Its id is made of currency, books and day. */
export interface RateRow extends ExchangeRate {
  readonly id: string;
  readonly at: Instant;
}

/** The candidates for a listing that was brought in and is not linked. */
export interface LinkProposal extends Proposal {
  readonly id: string;
  readonly at: Instant;
}

/** A listing that was taken out of Sampan and goes on selling; it is brought in again only if asked for. */
export interface RemovedListing {
  readonly id: string;
  readonly at: Instant;
}

/** Who runs the jobs, and small things that are not the shop's data. */
export interface Note {
  readonly id: string;
  readonly value: unknown;
}
