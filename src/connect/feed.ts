import type { Answer, Result } from './reach';
import { ChangesShape, shaped } from './shapes';

/** An entry of a feed that cannot be read, as it came, and why. */
export interface Unreadable {
  readonly plain: unknown;
  readonly reason: string;
}

/** A page of a feed: what could be read, what could not and why, and the position reached. */
export interface FeedPage<T> {
  readonly orders: readonly T[];
  readonly refused: readonly Unreadable[];
  readonly next: string;
  readonly more: boolean;
}

/** Entries asked for at once: each page is one transaction, in which nothing else is stored. */
const PAGE = 200;

/** The path of a feed from a position on. */
export const feedPath = (cursor: string | null) =>
  `/v1/orders?${new URLSearchParams({ limit: String(PAGE), ...(cursor && { after: cursor }) })}`;

/**
 * Reads one page of a feed entry by entry: one that cannot be read is left out with its reason, the others
 * come in.
 */
export function readFeed<T>(
  answer: Result<Answer>,
  list: string,
  read: (plain: unknown) => T | string,
): Result<FeedPage<T>> {
  if (!answer.ok) return answer;
  const checked = shaped(ChangesShape, answer.value.body);
  const entries = (answer.value.body as Record<string, unknown> | null)?.[list];
  if (!checked.ok || !Array.isArray(entries))
    return { ok: false, trouble: { kind: 'nonsense', says: 'The list of changes cannot be read.' } };
  const orders: T[] = [];
  const refused: Unreadable[] = [];
  for (const plain of entries.slice(0, 1000)) {
    const order = read(plain);
    if (typeof order === 'string') refused.push({ plain, reason: order });
    else orders.push(order);
  }
  return { ok: true, value: { orders, refused, next: checked.value.next, more: checked.value.more } };
}
