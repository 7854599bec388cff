import type { Transaction } from 'dexie';
import { type Site, USUAL_LIMITS } from '../../core/checks';
import type { FeeTable } from '../../core/pricing';
import {
  type Credential,
  cleanHealth,
  type HealthRow,
  type SupplierAccount,
  stateSite,
} from '../connection-rows';
import type { Change, Edit } from '../rows';

/** A connection as it was while everything of it stood in one row. */
interface WholeRow extends Partial<Omit<HealthRow, 'id' | 'fetched'>>, Partial<SupplierAccount> {
  readonly id: string;
  readonly role?: 'supplier' | 'marketplace';
  readonly service?: string;
  readonly connectedAt?: number;
  readonly credential?: Credential | null;
  readonly list?: { kind: string; url?: string; etag?: string | null; modified?: string | null } | null;
  readonly site?: Site;
  readonly siteNow?: Site | null;
  readonly theirFees?: FeeTable | null;
}

/**
 * Lays what was one row for each connection apart by who writes it: the seller's own stays, what the service stated, how it
 * goes and the credential get tables of their own. Changes of a marketplace's rules that were made before cannot be undone
 * any more: they hold what had no version.
 */
export async function apartByOwner(tx: Transaction): Promise<void> {
  const connections = tx.table<object, string>('connections');
  const known = (await connections.toArray()) as WholeRow[];
  for (const whole of known) {
    const { credential, trouble, failures, openUntil, cursor, balance, siteNow, theirFees, ...rest } = whole;
    const { id, service, connectedAt: at = 0 } = whole;
    const health = cleanHealth(id);
    const { list } = whole;
    await tx.table('health').put({
      ...health,
      trouble: trouble ?? null,
      failures: failures ?? 0,
      openUntil: openUntil ?? null,
      cursor: cursor ?? null,
      balance: balance ?? null,
      fetched: list?.url ? { url: list.url, etag: list.etag ?? null, modified: list.modified ?? null } : null,
    } satisfies HealthRow);
    if (credential) await tx.table('credentials').put({ id, credential });
    const row: Record<string, unknown> = { ...rest };
    if (list?.url) row.list = { kind: 'address', url: list.url };
    if (service && whole.role === 'supplier') {
      const { currency, zone, shipping, shipsTo } = whole;
      await tx.table('stated').put({ id, role: 'supplier', at, currency, zone, shipping, shipsTo });
      for (const field of ['currency', 'zone', 'shipping', 'shipsTo']) delete row[field];
    }
    if (service && whole.site) {
      const theirs = (site: Site): Site => ({
        ...site,
        limits: site.limits ?? USUAL_LIMITS,
        fees: theirFees ?? site.fees,
      });
      const first = stateSite(undefined, id, theirs(whole.site), at);
      await tx.table('stated').put(siteNow ? stateSite(first, id, theirs(siteNow), at, [1]) : first);
      row.agreed = 1;
      row.fees = theirFees ? { of: 'seller', table: whole.site.fees } : { of: 'marketplace', version: 1 };
      delete row.site;
      await closeUndo(tx, id);
    }
    await connections.put(row);
  }
}

async function closeUndo(tx: Transaction, id: string): Promise<void> {
  const edits: Edit[] = await tx
    .table<Edit>('edits')
    .where('[subject+at]')
    .between([`connection:${id}`, 0], [`connection:${id}`, Number.MAX_SAFE_INTEGER])
    .toArray();
  const closed = edits.filter(({ after }) => after && ('site' in after || 'theirFees' in after));
  for (const change of new Set(closed.map((e) => e.change)))
    await tx.table<Change, string>('changes').update(change, { undoable: false });
}
