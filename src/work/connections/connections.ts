import type { Trouble } from '../../connect/reach';
import { basic, supplierService } from '../../connect/supplier';
import { ASK_FROM } from '../../core/catalogue';
import { fold, plainText } from '../../core/copy';
import type { ShippingBand } from '../../core/pricing';
import {
  accountPart,
  allConnections,
  applyChange,
  type Connection,
  type ConnectionRow,
  type Credential,
  connectionById,
  type FeesOf,
  type Job,
  type MarketRow,
  type StatedRow,
  type SupplierRow,
  supplierById,
} from '../../store';
import { watchVariants } from '../catalogue/watch';
import { nowOf, type Work } from '../context/work';
import { usualPresets } from '../editing/presets';
import { saveMarketRules, saveRules } from '../listings/rules';
import { noteHealth } from '../outbox/circuit';
import { jobId, newJob } from '../schedule/job';
import { startShop } from '../schedule/schedule';

/** A service that can be connected, as Sampan's server names it. */
export interface Service {
  readonly id: string;
  readonly role: 'supplier' | 'marketplace';
  readonly name: string;
  readonly about: string;
  /** Where the seller's browser goes to give consent. */
  readonly consent?: string;
}

export type Connected = { ok: true; name: string } | { ok: false; reason: string };

export const inWords = (trouble: Trouble, name: string) => {
  switch (trouble.kind) {
    case 'credentials':
      return `${name} does not know this account or key. Check both on its price list or invoice.`;
    case 'unreachable':
      return `${name} does not answer. ${trouble.says} Nothing was saved; try again later.`;
    case 'outage':
      return `${name} is out of service: ${trouble.says} Nothing was saved; try again later.`;
    case 'limit':
      return `${name} had too many requests. Wait a minute and try again.`;
    default:
      return `${name}: ${trouble.says}`;
  }
};

/** Parts of a new connection besides the seller’s own record. */
interface MadeWith {
  readonly credential?: Credential;
  /** The statement of its service about itself. */
  readonly stated?: StatedRow;
  /** Prepaid at a supplier. */
  readonly balance?: number | null;
}

/** Stores a connection, new or connected again, with the jobs it needs. What stood in its way is over. */
export async function keep(
  work: Work,
  connection: Omit<SupplierRow, 'paused' | 'connectedAt'> | Omit<MarketRow, 'paused' | 'connectedAt'>,
  { credential, stated, balance }: MadeWith = {},
): Promise<void> {
  const { db } = work;
  const at = work.clock();
  await startShop(work);
  if (connection.role === 'supplier') await watchVariants(work);
  const { id } = connection;
  const tables = [db.connections, db.credentials, db.stated, db.health, db.jobs];
  await db.transaction('rw', tables, async () => {
    const before = await db.connections.get(id);
    await db.connections.put({
      // What the seller set stays when it is connected again.
      ...before,
      ...connection,
      paused: false,
      connectedAt: before?.connectedAt ?? at,
    } as ConnectionRow);
    if (credential) await db.credentials.put({ id, credential });
    if (stated) await db.stated.put(stated);
    const well = { trouble: null, failures: 0, openUntil: null };
    await noteHealth(work, id, balance === undefined ? well : { ...well, balance });
    for (const task of tasksOf(connection)) {
      const job = await db.jobs.get(jobId(connection.id, task));
      if (job) await db.jobs.update(job.id, { nextAt: at });
      else await db.jobs.add(newJob(connection.id, task, at));
    }
  });
}

/** The tasks of a connection, by its lanes. */
function tasksOf(
  c: Pick<SupplierRow, 'role' | 'lanes' | 'list'> | Pick<MarketRow, 'role' | 'lanes'>,
): Job['task'][] {
  if (c.role === 'marketplace')
    return [
      ...(c.lanes.orders === 'service' ? (['orders', 'site', 'statements'] as const) : []),
      ...(c.lanes.listings === 'service' ? (['drift'] as const) : []),
    ];
  const reads = c.lanes.catalogue === 'service' || c.list?.kind === 'address';
  return [
    ...(reads ? (['catalogue'] as const) : []),
    ...(c.lanes.tracking === 'service' ? (['shipments', 'statements'] as const) : []),
  ];
}

/**
 * Connects a supplier by account number and key, or gives an existing connection new ones. The account is
 * read first; nothing is saved unless it answers.
 */
export async function connectSupplier(
  work: Work,
  service: Service,
  account: string,
  key: string,
): Promise<Connected> {
  const answer = await supplierService(
    work.reach,
    service.id,
    basic(account.trim(), key.trim()),
    null,
  ).account();
  if (!answer.ok) return { ok: false, reason: inWords(answer.trouble, service.name) };
  const { balance } = answer.value;
  const before = await supplierById(work.db, service.id);
  const name = before?.name ?? service.name;
  await keep(
    work,
    {
      id: service.id,
      service: service.id,
      role: 'supplier',
      lanes: { catalogue: 'service', purchases: 'service', tracking: 'service' },
      name,
      askFrom: before?.askFrom ?? ASK_FROM,
      list: null,
    },
    {
      credential: { kind: 'account', account: account.trim(), key: key.trim() },
      stated: { id: service.id, role: 'supplier', at: work.clock(), ...accountPart(answer.value) },
      balance,
    },
  );
  return { ok: true, name };
}

/** The seller’s details of a supplier with price lists. */
export interface ListSupplier {
  readonly name: string;
  readonly currency: string;
  readonly shipping: readonly ShippingBand[];
  readonly shipsTo: readonly string[];
  /** How it is ordered from: by order files, or outside of Sampan. */
  readonly purchases: 'file' | 'by hand';
  /** Where its list is fetched from; '' for files that are dropped. */
  readonly url: string;
}

export const sameName = (a: string, b: string) =>
  a.normalize('NFC').toLowerCase() === b.normalize('NFC').toLowerCase();

/** An id that can be read, made from a name: names of other letters that come to the same get a number. */
export function freeId(
  kind: 'list' | 'shop',
  name: string,
  others: readonly Connection[],
  work: Work,
): string {
  const plain = fold(name)
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
  const first = `${kind}-${plain || work.newId()}`;
  for (let n = 1; ; n++) {
    const id = n === 1 ? first : `${first}-${n}`;
    if (!others.some((c) => c.id === id)) return id;
  }
}

/**
 * Adds a supplier whose catalogue comes as price lists, or changes what was said of it. Its id is made from
 * its name.
 */
export async function keepListSupplier(
  work: Work,
  said: ListSupplier,
  id?: string,
): Promise<Connected & { id?: string }> {
  const name = said.name.trim().slice(0, 80);
  if (!name) return { ok: false, reason: 'Give the supplier a name.' };
  if (said.url && !/^https?:\/\/\S+$/i.test(said.url))
    return { ok: false, reason: 'The address begins with https:// and has no blanks.' };
  const before = id ? await supplierById(work.db, id) : undefined;
  const others = (await allConnections(work.db)).filter((c) => c.id !== id);
  if (others.some((c) => c.role === 'supplier' && sameName(c.name, name)))
    return { ok: false, reason: `There is a supplier “${name}” already.` };
  const made = id ?? freeId('list', name, others, work);
  await keep(work, {
    id: made,
    service: '',
    role: 'supplier',
    lanes: { catalogue: 'file', purchases: said.purchases, tracking: said.purchases },
    name,
    currency: said.currency,
    zone: before?.zone ?? 'UTC',
    shipping: said.shipping,
    shipsTo: said.shipsTo,
    askFrom: before?.askFrom ?? ASK_FROM,
    list: said.url ? { kind: 'address', url: said.url } : { kind: 'file' },
  });
  return { ok: true, name, id: made };
}

/** Gives a connection a name of the seller's own; it stays when it is connected again. */
export async function renameConnection(work: Work, id: string, typed: string): Promise<Connected> {
  const { db } = work;
  const name = plainText(typed).slice(0, 80);
  if (!name) return { ok: false, reason: 'Give it a name.' };
  return db.transaction('rw', db.shopTables, async () => {
    const all = await allConnections(db);
    const c = all.find((one) => one.id === id);
    if (!c) return { ok: false, reason: 'It is not connected any more.' };
    const other = all.find((one) => one.id !== id && sameName(one.name, name));
    if (other) return { ok: false, reason: `There is a ${other.role} “${other.name}” already.` };
    const says = `${c.name} is called ${name}.`;
    await applyChange(
      db,
      { by: 'person', name: `${c.name} renamed` },
      [{ table: 'connections', id, set: { name }, says }],
      nowOf(work),
    );
    return { ok: true, name };
  });
}

export const pause = (work: Work, id: string, paused: boolean) => work.db.connections.update(id, { paused });

/**
 * Takes over what a marketplace asks and takes now, after the seller has looked at what it does. Undo brings the old
 * back.
 * @param version the one that was looked at: what was stated since is looked at by itself
 * @returns how many listings are told a new price or quantity
 */
export async function acceptSite(work: Work, id: string, version: number): Promise<number> {
  const c = await connectionById(work.db, id);
  if (c?.role !== 'marketplace' || !c.siteNow) return 0;
  const presets = c.presets ?? usualPresets(c.siteNow, work.newId());
  const fees: FeesOf = c.fees?.of === 'seller' ? c.fees : { of: 'marketplace', version };
  const set: Partial<MarketRow> = { agreed: version, fees, presets };
  return (await saveMarketRules(work, id, set, [], `New fees and rules of ${c.name}`)).prices;
}

/**
 * Opts in to an optional fee of a marketplace, or out of it.
 * @returns how many listings are told a new price or quantity
 */
export async function optIn(work: Work, id: string, rule: string, on: boolean): Promise<number> {
  const c = await connectionById(work.db, id);
  if (c?.role !== 'marketplace') return 0;
  const name = c.site.fees.rules.find((r) => r.id === rule)?.name ?? rule;
  const optedIn = on ? [...new Set([...c.optedIn, rule])] : c.optedIn.filter((r) => r !== rule);
  const said = `${name} on ${c.name} ${on ? 'counted' : 'no longer counted'}`;
  return saveRules(work, [{ table: 'connections', id, set: { optedIn } }], said);
}
