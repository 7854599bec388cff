import type { Trouble } from '../../connect/reach';
import { spanOf } from '../../core/units';
import type { Connection } from '../../store';
import type { Work } from '../context';

const FIRST = 2_000;
const LONGEST = 5 * 60_000;
/** Failures in a row after which nothing is asked until the circuit is tried again. */
const PATIENCE = 3;

/**
 * Wait before try n + 1: doubling from two seconds to five minutes, a third of it by chance so that many do
 * not come back at once.
 */
export function backoff(n: number, chance: number): number {
  const full = Math.min(FIRST * 2 ** Math.min(n, 20), LONGEST);
  return Math.round((full * 2) / 3 + (full / 3) * chance);
}

export const isOpenAt = (c: Connection, at: number) => c.openUntil !== null && c.openUntil > at;

/** Whether anything may be asked of a connection now. Wrong credentials wait for a person. */
export const mayAsk = (c: Connection, at: number) =>
  !c.paused && c.trouble?.kind !== 'credentials' && !isOpenAt(c, at);

/**
 * Notes that a connection did not work. From the third failure in a row on, or when the other side names a
 * time, nothing more is asked until then.
 */
export async function noteTrouble(work: Work, id: string, trouble: Trouble): Promise<number> {
  const at = work.clock();
  let until = at;
  await work.db.connections
    .where('id')
    .equals(id)
    .modify((c: { -readonly [K in keyof Connection]: Connection[K] }) => {
      c.failures += 1;
      const wait = trouble.retryAfter ?? backoff(c.failures - 1, work.chance());
      until = at + wait;
      c.openUntil = trouble.kind === 'limit' || c.failures >= PATIENCE ? until : null;
      const kind = trouble.kind === 'refused' || trouble.kind === 'stray' ? 'nonsense' : trouble.kind;
      c.trouble = { kind, says: trouble.says, since: c.trouble?.kind === kind ? c.trouble.since : at };
    });
  return until;
}

/** Notes that a connection answered well. Writes only where something stood against it. */
export async function noteWell(work: Work, c: Connection): Promise<void> {
  if (c.failures || c.trouble || c.openUntil)
    await work.db.connections.update(c.id, { failures: 0, trouble: null, openUntil: null });
}

/** What is wrong and what to do, where the other side does not say that already. */
const withStep = (says: string, step: string): string => (says.includes(step) ? says : `${says} ${step}`);

/** `Out of service. Trying again in 12 s.` */
export function troubleInWords(c: Connection, now: number): string | null {
  if (!c.trouble) return null;
  if (c.trouble.kind === 'credentials')
    return c.role === 'marketplace'
      ? withStep(c.trouble.says, 'Give consent again.')
      : withStep(c.trouble.says, 'Enter account and key again.');
  const wait = isOpenAt(c, now) ? `Trying again in ${spanOf(c.openUntil! - now)}.` : 'Trying again.';
  return `${c.trouble.says} ${wait} Nothing is lost; work waits.`;
}
