import { type MarketDoor, marketService } from '../connect/marketplace';
import type { Reach } from '../connect/reach';
import { basic, type SupplierDoor, supplierService } from '../connect/supplier';
import type { MarketConnection, SupplierConnection } from '../store';

export function supplierDoor(reach: Reach, c: SupplierConnection): SupplierDoor {
  const { credential } = c;
  return supplierService(
    reach,
    c.service,
    credential.kind === 'account' ? basic(credential.account, credential.key) : '',
    c.currency,
  );
}

export function marketDoor(reach: Reach, c: MarketConnection): MarketDoor {
  return marketService(
    reach,
    c.service,
    c.credential.kind === 'consent' ? c.credential.token : '',
    c.site.currency,
  );
}
