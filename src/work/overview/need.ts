import { convert, factorOf } from '../../core/money';
import { formatCount } from '../../core/units';
import type { Shop } from '../quoting/worth';

/** One thing that needs a person, with the step that resolves it. */
export interface Need {
  readonly id: string;
  /** Milliseconds until it hurts; less is worse. */
  readonly left: number;
  /** Minor units at stake. */
  readonly stake: number;
  readonly currency: string;
  readonly what: string;
  readonly why: string;
  readonly step: string;
  readonly href: string;
  /** How many are told in one; missing for one. */
  readonly count?: number;
  /** Something sells at a loss now. */
  readonly losing?: true;
  /** It happened, and is only to be seen. */
  readonly news?: true;
}

/** A need with what it has in common with others. */
export interface Caused extends Need {
  readonly cause?: {
    readonly key: string;
    /** The cause in words for many rows, such as `20 listings sell below cost`. */
    readonly many: (n: number) => string;
    readonly step: string;
    readonly href: string;
  };
}

/** From so many on needs of one cause are told as one. */
const MANY = 3;

const NAMED = 2;

/** Needs of one cause as one, with their sum and the first of them; the worst of all needs first. */
export function byCause(needs: readonly Caused[], shop: Shop): Need[] {
  const groups = new Map<string, Caused[]>();
  for (const need of needs) {
    const key = need.cause?.key ?? need.id;
    const known = groups.get(key);
    if (known) known.push(need);
    else groups.set(key, [need]);
  }
  const told = [...groups].flatMap(([key, own]): Need[] => {
    const sorted = worstFirst(own, shop);
    const { cause } = own[0]!;
    if (!cause || own.length < MANY) return sorted;
    const [first] = sorted as [Caused];
    const { currency } = shop.settings;
    const names = sorted.slice(0, NAMED).map((need) => need.what);
    const { why } = first;
    const same = own.every((need) => need.why === why) ? `${why} ` : '';
    return [
      {
        id: `cause:${key}`,
        left: first.left,
        stake: sorted.reduce((sum, need) => sum + inBooks(need, shop), 0),
        currency,
        what: cause.many(own.length),
        why: `${same}${names.join('; ')}; and ${formatCount(own.length - names.length)} more.`,
        step: cause.step,
        href: cause.href,
        count: own.length,
        ...(first.losing && { losing: true }),
        ...(first.news && { news: true }),
      },
    ];
  });
  return worstFirst(
    told.map(({ cause: _, ...need }: Caused) => need),
    shop,
  );
}

const inBooks = ({ stake, currency }: Need, { rates, settings }: Shop): number => {
  const factor = factorOf(rates, currency, settings.currency);
  return factor ? convert(stake, factor) : stake;
};

export const HOUR = 3_600_000;

/** Sorts needs: those that lose money now by the amount at stake, then the others by deadline, then news. */
export function worstFirst<N extends Need>(needs: readonly N[], shop: Shop): N[] {
  const rank = (need: Need) => (need.losing ? 0 : need.news ? 2 : 1);
  return [...needs].sort(
    (a, b) =>
      rank(a) - rank(b) ||
      (a.losing ? inBooks(b, shop) - inBooks(a, shop) : 0) ||
      a.left - b.left ||
      inBooks(b, shop) - inBooks(a, shop),
  );
}
