import { type MarketAdapter, marketService } from '../../connect/marketplace';
import type { Reach } from '../../connect/reach';
import { basic, type SupplierAdapter, supplierService } from '../../connect/supplier';
import type { MarketConnection, SupplierConnection } from '../../store';

export function supplierAdapter(reach: Reach, c: SupplierConnection): SupplierAdapter {
  const { credential } = c;
  return supplierService(
    reach,
    c.service,
    credential?.kind === 'account' ? basic(credential.account, credential.key) : '',
    c.currency,
  );
}

export function marketAdapter(reach: Reach, c: MarketConnection): MarketAdapter {
  return marketService(
    reach,
    c.service,
    c.credential?.kind === 'consent' ? c.credential.token : '',
    c.site.currency,
  );
}
