import { renewConsent } from '../../connect/consent';
import { type MarketAdapter, marketService } from '../../connect/marketplace';
import type { Reach } from '../../connect/reach';
import { basic, type SupplierAdapter, supplierService } from '../../connect/supplier';
import type { MarketConnection, SupplierConnection } from '../../store';
import type { Work } from './work';

type Asking = Pick<Work, 'db' | 'reach' | 'clock' | 'alone'>;

/** What asks a supplier's service, with its credential as it is now. */
export async function supplierAdapter(
  { db, reach }: Pick<Work, 'db' | 'reach'>,
  c: SupplierConnection,
): Promise<SupplierAdapter> {
  const credential = (await db.credentials.get(c.id))?.credential;
  return supplierService(
    reach,
    c.service,
    credential?.kind === 'account' ? basic(credential.account, credential.key) : '',
    c.currency,
  );
}

/** Milliseconds before its end at which a token is renewed: a request must not meet it. */
const AHEAD = 60_000;

/** As {@link supplierAdapter}, of a marketplace. A token that ended, or is about to, is renewed. */
export async function marketAdapter(asking: Asking, c: MarketConnection): Promise<MarketAdapter> {
  const { db, reach, clock } = asking;
  const credential = (await db.credentials.get(c.id))?.credential;
  let token = credential?.kind === 'consent' ? credential.token : '';
  if (credential?.kind === 'consent' && credential.until && credential.until - AHEAD <= clock())
    // What it cannot be renewed with now is found out by the request itself.
    token = (await renewed(asking, c, token).catch(() => null)) ?? token;
  return marketService(
    renewing(reach, (stale) => renewed(asking, c, stale)),
    c.service,
    token,
    c.site.currency,
  );
}

/** Asks once more with a new token where the service takes the one it was asked with no longer. */
const renewing =
  (reach: Reach, renew: (stale: string) => Promise<string | null>): Reach =>
  async (service, path, init) => {
    const response = await reach(service, path, init);
    if (response.status !== 401) return response;
    const headers = new Headers(init?.headers);
    const fresh = await renew((headers.get('authorization') ?? '').replace('Bearer ', ''));
    if (fresh === null) return response;
    headers.set('authorization', `Bearer ${fresh}`);
    return reach(service, path, { ...init, headers });
  };

/**
 * The token that takes the place of one that ended, renewed by one at a time in all tabs: what renews it may work once.
 * @returns null where consent is needed again @throws where the service does not answer: it is tried again later
 */
const renewed = (
  { db, reach, clock, alone }: Asking,
  c: MarketConnection,
  stale: string,
): Promise<string | null> =>
  alone(`consent-${c.id}`, async () => {
    const now = (await db.credentials.get(c.id))?.credential;
    if (now?.kind !== 'consent') return null;
    if (now.token !== stale) return now.token;
    if (!now.refresh) return null;
    const made = await renewConsent(reach, c.service, now.refresh, clock());
    if (!made.ok) {
      if (made.trouble.kind === 'refused') return null;
      throw new Error(made.trouble.says);
    }
    const { value } = made;
    return db.transaction('rw', db.credentials, async () => {
      const then = (await db.credentials.get(c.id))?.credential;
      // Consent was given again meanwhile, or the connection is gone.
      if (then?.kind !== 'consent' || then.token !== stale)
        return then?.kind === 'consent' ? then.token : null;
      await db.credentials.put({ id: c.id, credential: { kind: 'consent', ...value } });
      return value.token;
    });
  });
