import type { Currency } from '../money';
import {
  groupsOf,
  isStatedKind,
  type LineKind,
  type Side,
  type Stated,
  type StatedAmount,
  type StatedGroup,
} from './stated';

/** One line of an account statement. */
export interface StatementLine {
  /** From 1: where it stands in its file, or which one it was of its service. */
  readonly line: number;
  readonly day: string;
  /** The order as the other side names it; '' for none. */
  readonly order: string;
  readonly document: string;
  readonly kind: LineKind;
  /** What it says of itself, of lines that belong to no order. */
  readonly text: string;
  /** Towards the seller above nothing, away below, in minor units. */
  readonly amount: number;
  readonly currency: Currency;
}

/** A statement as it was read, in full. */
export interface ReadStatement {
  /** The other side's number for it. */
  readonly number: string;
  readonly firstDay: string;
  readonly lastDay: string;
  readonly lines: readonly StatementLine[];
  /** What all lines make together, where it says so. */
  readonly totals: readonly { readonly currency: Currency; readonly minor: number }[];
  /** What is left on the account after it, towards the seller above nothing; null where it does not say. */
  readonly closing: { readonly currency: Currency; readonly minor: number } | null;
  /** The day by which it is to be paid; null for none. */
  readonly due: string | null;
  readonly refused: readonly { readonly line: number; readonly reason: string }[];
}

/** A total that is not what the lines add up to. */
export interface WrongTotal {
  readonly currency: Currency;
  readonly stated: number;
  readonly sum: number;
}

export const wrongTotals = ({ lines, totals }: Pick<ReadStatement, 'lines' | 'totals'>): WrongTotal[] =>
  totals.flatMap(({ currency, minor }) => {
    const own = lines.filter((l) => l.currency === currency);
    const sum = own.reduce((n, l) => n + l.amount, 0);
    const paidOut = own.reduce((n, l) => (l.kind === 'payout' ? n + l.amount : n), 0);
    // Some state what was earned, some what is left once it was paid out.
    return minor === sum || minor === sum - paidOut ? [] : [{ currency, stated: minor, sum: sum - paidOut }];
  });

/** What a statement tells of at all. */
export const coversOf = (lines: readonly Pick<StatementLine, 'kind'>[], side: Side): StatedGroup[] => [
  ...new Set(
    [...new Set(lines.map((l) => l.kind))].filter(isStatedKind).flatMap((kind) => groupsOf(kind, side)),
  ),
];

const markOf = (l: Pick<StatementLine, 'document' | 'kind' | 'amount' | 'day'>) =>
  l.document ? `${l.document} ${l.kind} ${l.amount}` : ` ${l.kind} ${l.amount} ${l.day}`;

/** Lines of one order parted into those that are new and those that were stated before: in this statement or in another. */
export function newAmong(
  lines: readonly StatementLine[],
  before: readonly Pick<Stated, 'amounts'>[],
): { readonly fresh: StatementLine[]; readonly twice: StatementLine[] } {
  const known = new Map<string, number>();
  for (const { amounts } of before)
    for (const a of amounts) known.set(markOf(a), (known.get(markOf(a)) ?? 0) + 1);
  const fresh: StatementLine[] = [];
  const twice: StatementLine[] = [];
  const here = new Set<string>();
  for (const line of lines) {
    const mark = markOf(line);
    const left = known.get(mark) ?? 0;
    // Without a reference two equal lines may be two equal sales.
    if (left > 0 || (line.document && here.has(mark))) {
      known.set(mark, left - 1);
      twice.push(line);
    } else fresh.push(line);
    here.add(mark);
  }
  return { fresh, twice };
}

export const amountsOf = (lines: readonly StatementLine[]): StatedAmount[] =>
  lines.flatMap(({ line, kind, amount, day, document }) =>
    isStatedKind(kind) ? [{ line, kind, amount, day, document }] : [],
  );

/** Sums of a statement by kind and currency, in the order in which they come. */
export interface KindSum {
  readonly kind: LineKind;
  readonly currency: Currency;
  readonly lines: number;
  readonly minor: number;
}

export function sumsByKind(lines: readonly StatementLine[]): KindSum[] {
  const sums = new Map<string, { -readonly [K in keyof KindSum]: KindSum[K] }>();
  for (const { kind, currency, amount } of lines) {
    const sum = sums.get(`${kind} ${currency}`);
    if (sum) {
      sum.lines++;
      sum.minor += amount;
    } else sums.set(`${kind} ${currency}`, { kind, currency, lines: 1, minor: amount });
  }
  return [...sums.values()];
}
