import { shapeProblem } from '../../core/tracking';
import type { Settings } from '../../store';
import type { Work } from '../context/work';
import { saveRules } from '../listings/rules';

/** Whether this platform knows a time zone. */
function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

/** What is wrong with settings, or null. */
function problemOf(set: Partial<Settings>): string | null {
  if (set.zone !== undefined && !isZone(set.zone))
    return `“${set.zone}” is not a time zone such as Europe/London.`;
  if (set.currency !== undefined && !/^[A-Z]{3}$/.test(set.currency))
    return `“${set.currency}” is not a currency code such as GBP.`;
  if (set.sku !== undefined && !/\{(sku|number)\}/.test(set.sku))
    return 'The pattern needs {sku} or {number}, else all goods would get the same SKU.';
  if (set.sku !== undefined && !/^[\w.\-{}: ]{1,80}$/.test(set.sku))
    return 'The pattern has letters, digits, points and hyphens besides its fields in braces.';
  const { orderYears = 1 } = set;
  if (!Number.isInteger(orderYears) || orderYears < 1 || orderYears > 100)
    return 'Orders are kept for a whole number of years, from 1 to 100.';
  const shape = set.shapes?.map(shapeProblem).find((problem) => problem !== null);
  if (shape) return shape;
  if ((set.shapes?.length ?? 0) > 100) return 'At most 100 shapes of numbers are kept.';
  if ((set.shop?.length ?? 0) > 80 || (set.slip?.length ?? 0) > 200) return 'This text is too long.';
  return null;
}

/** Changes settings as one change that can be taken back; prices that depend on them follow. */
export async function saveSettings(
  work: Work,
  set: Partial<Omit<Settings, 'id'>>,
  name: string,
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const reason = problemOf(set);
  if (reason) return { ok: false, reason };
  if (set.currency !== undefined && (await hasBooks(work)))
    return { ok: false, reason: 'Orders are on record: the currency of the books stays.' };
  await saveRules(work, [{ table: 'settings', id: 'shop', set }], name);
  return { ok: true };
}

/** Whether anything is on record: then the currency of the books stays. */
export const hasBooks = async ({ db }: Pick<Work, 'db'>): Promise<boolean> =>
  (await db.ledger.count()) + (await db.archive.count()) > 0;
