import { type MarketAdapter, marketService } from '../../connect/marketplace';
import { basic, type SupplierAdapter, supplierService } from '../../connect/supplier';
import type { MarketConnection, SupplierConnection } from '../../store';
import type { Work } from '../context';

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

/** As {@link supplierAdapter}, of a marketplace. */
export async function marketAdapter(
  { db, reach }: Pick<Work, 'db' | 'reach'>,
  c: MarketConnection,
): Promise<MarketAdapter> {
  const credential = (await db.credentials.get(c.id))?.credential;
  return marketService(
    reach,
    c.service,
    credential?.kind === 'consent' ? credential.token : '',
    c.site.currency,
  );
}
