import type {
  WireStatement,
  WireStatementKind,
  WireStatementLine,
  WireStatements,
} from '../src/connect/wire';
import { type Answer, problem } from './answer';

/** What a house has stated so far, and how often it states. */
export interface Statements {
  /** When the next one closes; missing until it is first asked for. */
  closesAt?: number;
  issued: number;
  all: (WireStatement & { own: WireStatementLine[] })[];
  /** By order or purchase and kind: what was stated in all, in minor units. */
  stated: Record<string, Partial<Record<WireStatementKind, number>>>;
  /** Left on the account. */
  balance: number;
  /** How many things the next one states wrongly: one order twice, a fee too high, an order left out. */
  wrong?: number;
}

export const openStatements = (issued = 0): Statements => ({ issued, all: [], stated: {}, balance: 0 });

/** All that an account has of one order or purchase, in minor units; towards the seller above nothing. */
export interface OnAccount {
  readonly order: string;
  readonly totals: Partial<Record<WireStatementKind, number>>;
}

const DAY = 86_400_000;
const decimal = (minor: number) => (minor / 100).toFixed(2);
const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10);

interface House {
  readonly prefix: string;
  readonly currency: string;
  /** Days from one statement to the next. */
  readonly every: number;
  /** Whether what is on the account is paid out the day after. */
  readonly paysOut: boolean;
  /** Charged once a month, in minor units; 0 for nothing. */
  readonly monthly: number;
  /** Days in which it is to be paid; 0 for what is prepaid. */
  readonly dueIn: number;
}

/** Closes the statements that are due. */
export function closeDue(s: Statements, house: House, accounts: () => OnAccount[], now: number): void {
  s.closesAt ??= Math.ceil(now / DAY) * DAY;
  while (s.closesAt <= now) {
    closeStatement(s, house, accounts(), s.closesAt);
    s.closesAt += house.every * DAY;
  }
}

/** Closes one statement: all that came to the accounts since the one before. Without anything new there is none. */
export function closeStatement(
  s: Statements,
  house: House,
  accounts: readonly OnAccount[],
  at: number,
): number {
  const last = s.all.at(-1);
  const number = `${house.prefix}-${String(s.issued + 1).padStart(4, '0')}`;
  const day = dayOf(at - 1);
  const lines: WireStatementLine[] = [];
  let n = 0;
  const add = (line: Omit<WireStatementLine, 'id' | 'day'>) =>
    lines.push({ id: `${number}-${String(++n).padStart(5, '0')}`, day, ...line });
  let wrong = s.wrong ?? 0;
  for (const { order, totals } of accounts) {
    const stated = Object.hasOwn(s.stated, order) ? s.stated[order]! : {};
    // What was stated and is none of it any more is given back.
    const kinds = new Set([...Object.keys(totals), ...Object.keys(stated)] as WireStatementKind[]);
    const fresh = [...kinds].flatMap((kind) => {
      const more = (totals[kind] ?? 0) - (stated[kind] ?? 0);
      return more ? [{ kind, more }] : [];
    });
    if (!fresh.length) continue;
    const isNew = !Object.keys(stated).length;
    const off = isNew ? wrong : 0;
    if (off) wrong--;
    // Left out of this one; the next has it.
    if (off === 3) continue;
    for (const { kind, more } of fresh)
      add({ order, kind, amount: decimal(off === 2 && kind === 'sale fee' ? more - 35 : more) });
    if (off === 1) lines.push(...lines.slice(-fresh.length));
    s.stated[order] = totals;
  }
  s.wrong = 0;
  const isMonthly = house.monthly > 0 && last?.to.slice(0, 7) !== day.slice(0, 7);
  if (isMonthly)
    add({ kind: 'charge', text: `Shop fee for ${day.slice(0, 7)}`, amount: decimal(-house.monthly) });
  if (!lines.length) return 0;
  s.issued++;
  const total = lines.reduce((sum, l) => sum + Math.round(Number(l.amount) * 100), 0);
  s.balance += total;
  if (house.paysOut && s.balance > 0) {
    add({ kind: 'payout', text: 'To your bank', amount: decimal(-s.balance) });
    s.balance = 0;
  }
  s.all.push({
    ...{
      number,
      currency: house.currency,
      from: last ? dayOf(Date.parse(last.to) + DAY) : dayOf(at - house.every * DAY),
    },
    ...{ to: day, closedAt: new Date(at).toISOString(), lines: lines.length, total: decimal(total) },
    ...{ closing: decimal(s.balance), own: lines },
    ...(house.dueIn && { due: dayOf(at + house.dueIn * DAY) }),
  });
  return lines.length;
}

const PAGE = 2_000;

/** Answers what is asked of statements; null for anything else. */
export function statementAnswer(s: Statements, path: string, query: URLSearchParams): Answer | null {
  if (path === '/v1/statements')
    return {
      status: 200,
      body: { statements: s.all.map(({ own, ...head }) => head) } satisfies WireStatements,
    };
  const asked = /^\/v1\/statements\/([^/]+)\/lines$/.exec(path);
  if (!asked) return null;
  const found = s.all.find((one) => one.number === decodeURIComponent(asked[1]!));
  if (!found) return problem({ status: 404, type: 'urn:wire:unknown', title: 'No such statement' });
  const from = Math.max(0, Number(query.get('cursor')) || 0);
  const next = from + PAGE < found.own.length ? String(from + PAGE) : null;
  return { status: 200, body: { lines: found.own.slice(from, from + PAGE), next } };
}
