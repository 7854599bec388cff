import { plainText } from '../core/copy';
import type { LineKind, ReadStatement, Side, StatementLine } from '../core/statements';
import { minorOf, timeOf } from './amounts';
import type { Answer, Result } from './reach';
import { StatementPageShape, StatementsShape, shaped } from './shapes';

/** A statement that a service has, without its lines. */
export interface ServiceStatement extends Omit<ReadStatement, 'lines' | 'refused'> {
  readonly currency: string;
  /** Milliseconds since 1970: what happens later stands in the next one. */
  readonly closedAt: number;
  readonly count: number;
}

/** The account statements of a service, oldest first, and their lines. */
export interface StatementAdapter {
  list(): Promise<Result<ServiceStatement[]>>;
  /** All lines of one. @param goesOn told how many were read */
  lines(
    s: Pick<ServiceStatement, 'number' | 'currency'>,
    goesOn: (lines: number) => Promise<boolean> | boolean,
  ): Promise<Result<StatementLine[] | null>>;
}

const nonsense = (says: string) => ({ ok: false, trouble: { kind: 'nonsense', says } }) as const;

const signed = (text: string, currency: string): number =>
  text.startsWith('-') ? -minorOf(text.slice(1), currency) + 0 : minorOf(text, currency);

/** More than any statement has. */
const MOST_LINES = 1_000_000;

/** @param go asks the service, with the credential that it takes */
export function statementService(
  go: (path: string) => Promise<Result<Answer>>,
  side: Side,
): StatementAdapter {
  const kindOf = (kind: string): LineKind =>
    // What a buyer pays for shipping stands in a marketplace's statement, what it costs in a supplier's.
    side === 'marketplace' && kind === 'shipping' ? 'buyer shipping' : (kind as LineKind);
  return {
    async list() {
      const answer = await go('/v1/statements');
      if (!answer.ok) return answer;
      const checked = shaped(StatementsShape, answer.value.body);
      if (!checked.ok) return nonsense(`The statements cannot be read: ${checked.reason}.`);
      try {
        return {
          ok: true,
          value: checked.value.statements.map(
            ({ number, currency, from, to, closedAt, due = null, ...s }) => ({
              ...{ number: plainText(number), currency, firstDay: from, lastDay: to, due },
              closedAt: timeOf(closedAt),
              totals: [{ currency, minor: signed(s.total, currency) }],
              closing: { currency, minor: signed(s.closing, currency) },
              count: s.lines,
            }),
          ),
        };
      } catch (error) {
        return nonsense((error as Error).message);
      }
    },

    async lines({ number, currency }, goesOn) {
      const lines: StatementLine[] = [];
      for (let cursor: string | null = ''; cursor !== null; ) {
        const query: string = cursor ? `?${new URLSearchParams({ cursor })}` : '';
        const answer = await go(`/v1/statements/${encodeURIComponent(number)}/lines${query}`);
        if (!answer.ok) return answer;
        const checked = shaped(StatementPageShape, answer.value.body);
        if (!checked.ok) return nonsense(`Statement ${number} cannot be read: ${checked.reason}.`);
        try {
          for (const { id, day, order = '', kind, text = '', amount } of checked.value.lines)
            lines.push({
              ...{ line: lines.length + 1, day, order: plainText(order), document: id, currency },
              ...{ kind: kindOf(kind), amount: signed(amount, currency) },
              text: order ? '' : plainText(text).slice(0, 120),
            });
        } catch (error) {
          return nonsense((error as Error).message);
        }
        const next: string | null = checked.value.next ?? null;
        // A page that leads nowhere would be asked for without end.
        if (next === cursor || lines.length > MOST_LINES) return nonsense(`Statement ${number} has no end.`);
        cursor = next;
        if (!(await goesOn(lines.length))) return { ok: true, value: null };
      }
      return { ok: true, value: lines };
    },
  };
}
