import { type Begun, beginConsent, takeConsent } from '../../connect/consent';
import { marketService } from '../../connect/marketplace';
import type { Site } from '../../core/checks';
import { type Credential, type MarketRow, type Preset, stateSite } from '../../store';
import type { Work } from '../context/work';
import { usualPresets } from '../editing/presets';
import { noteSite } from './connection-terms';
import { type Connected, inWords, keep, type Service } from './connections';

interface PendingConsent extends Begun {
  readonly service: Service;
}

/** Starts a consent and tells the address to go to. Its secret stays here until the return. */
export async function startConsent(
  { db }: Pick<Work, 'db'>,
  service: Service,
  redirect: string,
): Promise<string> {
  const { begun, address } = await beginConsent(service.consent!, redirect);
  const value: PendingConsent = { service, ...begun };
  await db.notes.put({ id: 'consent', value });
  return address;
}

/** A marketplace with a service as it is connected first: its rules as they are then are agreed to. */
export const firstOf = (
  id: string,
  { name }: Site,
  presets: readonly Preset[],
): Omit<MarketRow, 'paused' | 'connectedAt'> => ({
  id,
  service: id,
  role: 'marketplace',
  lanes: { listings: 'service', orders: 'service' },
  name,
  agreed: 1,
  fees: { of: 'marketplace', version: 1 },
  optedIn: [],
  presets,
});

/** Ends a consent with what stands in the return address. Each start can be ended once. */
export async function endConsent(work: Work, query: URLSearchParams): Promise<Connected> {
  const pending = (await work.db.notes.get('consent'))?.value as PendingConsent | undefined;
  if (!pending || query.get('state') !== pending.state)
    return {
      ok: false,
      reason: 'This return does not belong to a consent that was started here. Start again from Connections.',
    };
  await work.db.notes.delete('consent');
  const { service } = pending;
  if (query.get('error'))
    return { ok: false, reason: `You refused consent on ${service.name}. Nothing was connected.` };
  const given = await takeConsent(work.reach, service.id, query, pending, work.clock());
  if (!given.ok)
    return {
      ok: false,
      reason:
        given.trouble.kind === 'refused'
          ? `${service.name} did not accept the consent: ${given.trouble.says}`
          : inWords(given.trouble, service.name),
    };
  const site = await marketService(work.reach, service.id, given.value.token, null).site();
  if (!site.ok) return { ok: false, reason: inWords(site.trouble, service.name) };
  const { id } = service;
  const credential: Credential = { kind: 'consent', ...given.value };
  const before = await work.db.connections.get(id);
  if (before?.role === 'marketplace') {
    // Connected again: whatever the seller set or has not looked at yet stays as it is.
    await keep(work, before, { credential });
    await noteSite(work, id, site.value);
    return { ok: true, name: before.name };
  }
  const { name } = site.value;
  await keep(work, firstOf(id, site.value, usualPresets(site.value, work.newId())), {
    credential,
    stated: stateSite(undefined, id, site.value, work.clock()),
  });
  return { ok: true, name };
}
