import type { Trouble } from '../../connect/reach';
import { spanOf } from '../../core/units';
import { type Connection, cleanHealth, type HealthRow, healthOf } from '../../store';
import type { Work } from '../context/work';

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

export const isOpenAt = ({ openUntil }: HealthRow, at: number) => openUntil !== null && openUntil > at;

/** Whether anything may be asked of a connection now. Wrong credentials wait for a person. */
export const mayAsk = (c: Connection, health: HealthRow, at: number) =>
  !c.paused && health.trouble?.kind !== 'credentials' && !isOpenAt(health, at);

/**
 * Notes something of how it goes with a connection, beside what is on record of it; nothing where it was taken away
 * meanwhile.
 */
export async function noteHealth(
  { db }: Pick<Work, 'db'>,
  id: string,
  set: Partial<Omit<HealthRow, 'id'>> | ((before: HealthRow) => Partial<Omit<HealthRow, 'id'>>),
): Promise<void> {
  await db.transaction('rw', [db.connections, db.health], async () => {
    if (!(await db.connections.where('id').equals(id).count())) return;
    const before = await healthOf(db, id);
    await db.health.put({ ...before, ...(typeof set === 'function' ? set(before) : set) });
  });
}

/**
 * Notes that a connection did not work. From the third failure in a row on, or when the other side names a
 * time, nothing more is asked until then.
 */
export async function noteTrouble(work: Work, id: string, trouble: Trouble): Promise<number> {
  const at = work.clock();
  let until = at;
  await noteHealth(work, id, (before) => {
    const failures = before.failures + 1;
    until = at + (trouble.retryAfter ?? backoff(failures - 1, work.chance()));
    const openUntil = trouble.kind === 'limit' || failures >= PATIENCE ? until : null;
    const kind = trouble.kind === 'refused' || trouble.kind === 'stray' ? 'nonsense' : trouble.kind;
    const since = before.trouble?.kind === kind ? before.trouble.since : at;
    return { failures, openUntil, trouble: { kind, says: trouble.says, since } };
  });
  return until;
}

/** Notes that a connection answered well. Writes only where something stood against it. */
export async function noteWell(work: Work, id: string): Promise<void> {
  const { failures, trouble, openUntil } = await healthOf(work.db, id);
  if (failures || trouble || openUntil)
    await noteHealth(work, id, { failures: 0, trouble: null, openUntil: null });
}

/** `Out of service. Trying again in 12 s.` */
export function troubleInWords(
  role: Connection['role'],
  { trouble, openUntil }: HealthRow = cleanHealth(''),
  now: number,
): string | null {
  if (!trouble) return null;
  if (trouble.kind === 'credentials')
    return `${trouble.says} ${role === 'marketplace' ? 'Give consent again.' : 'Enter account and key again.'}`;
  const isOpen = openUntil !== null && openUntil > now;
  const wait = isOpen ? `Trying again in ${spanOf(openUntil - now)}.` : 'Trying again.';
  return `${trouble.says} ${wait} Nothing is lost; work waits.`;
}
