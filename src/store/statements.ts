import type { Currency } from '../core/money';
import type { KindSum, Side, StatementForm, StatementLine, WrongTotal } from '../core/statements';
import type { Instant } from '../core/units';

/** A line of a statement that is settled with no order, and why it stands apart. */
export interface LooseLine extends StatementLine {
  readonly why: 'charge' | 'unknown' | 'twice' | 'currency';
  /** What a person made of it: a cost of the shop, or nothing to do with it; null while that is open. */
  readonly done: { readonly how: 'cost' | 'set aside'; readonly at: Instant } | null;
}

/** An account statement of a marketplace or supplier that was taken in. What it says of orders stands with their accounts. */
export interface StatementRow {
  /** Connection and number. */
  readonly id: string;
  readonly from: string;
  readonly side: Side;
  readonly number: string;
  readonly firstDay: string;
  readonly lastDay: string;
  /** The end of its last day. */
  readonly until: Instant;
  /** The name of the file that it came in; null where its service told it. */
  readonly file: string | null;
  /** A mark of its lines: the same ones are not taken twice under another name. */
  readonly mark: string;
  readonly at: Instant;
  /** False while it is taken in, or where that was cut off. */
  readonly whole: boolean;
  readonly lines: number;
  readonly orders: number;
  readonly sums: readonly KindSum[];
  readonly wrongTotals: readonly WrongTotal[];
  readonly loose: readonly LooseLine[];
  /** Money that changed hands, towards the seller's account with the other side above nothing. */
  readonly payouts: readonly { readonly day: string; readonly minor: number; readonly currency: Currency }[];
  readonly closing: { readonly currency: Currency; readonly minor: number } | null;
  readonly due: string | null;
  /** The day on which a person paid it; null for not yet, or for nothing to pay. */
  readonly paidOn: string | null;
  /** Orders that were settled in its days and stand in none of its lines. */
  readonly missing: readonly { readonly order: string; readonly purchase: string | null }[];
  /** Rows of the file that could not be read. */
  readonly refused: readonly { readonly line: number; readonly reason: string }[];
}

/** A cost of the shop that belongs to no order: once, or each month. In minor units, above nothing. */
export interface CostRow {
  readonly id: string;
  readonly name: string;
  /** The day of the first, or only, one. */
  readonly day: string;
  readonly minor: number;
  readonly currency: Currency;
  /** Value of one unit in the books, in hundred-millionths; null for the books' own currency. */
  readonly rate: number | null;
  /** Whether it comes each month, until {@link until}. */
  readonly monthly: boolean;
  /** The last day on which it comes; null for no end. */
  readonly until: string | null;
  /** The statement and line that it stood in; null where it was typed. */
  readonly stated: { readonly statement: string; readonly line: number } | null;
}

/** What is done with statements by itself, and how their files are read. */
export interface StatementRules {
  /** Differences of an order up to this, in minor units of its currency, are taken as stated. */
  readonly under: number;
  /** By connection. */
  readonly forms: Readonly<Record<string, StatementForm>>;
}

export const USUAL_STATEMENT_RULES: StatementRules = { under: 0, forms: {} };
