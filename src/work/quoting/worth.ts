import { type Currency, factorOf, type Rates } from '../../core/money';
import { problemInWords } from '../../core/pricing';
import type { Transit } from '../../core/sourcing';
import type { Instant } from '../../core/units';
import type {
  Connection,
  CopyTemplate,
  GroupRow,
  MarketConnection,
  PlanRow,
  Settings,
  SupplierConnection,
} from '../../store';
import type { FullListing } from './full-listing';

/** The inputs of all quotes of a shop. */
export interface ShopTerms {
  /** The time that it was read for: plans and sales begin and end. */
  readonly at: Instant;
  readonly settings: Settings;
  /** In the seller's order. */
  readonly plans: readonly PlanRow[];
  readonly connections: ReadonlyMap<string, Connection>;
  /** Rates between currencies that hold today. */
  readonly rates: Rates;
  /** Copy templates by id. */
  readonly templates: ReadonlyMap<string, CopyTemplate>;
  /** Groups of products by name; missing where nothing goes by them. */
  readonly groups?: readonly GroupRow[];
}

/** The connections, their names and their terms; and the groups that conditions may ask for. */
export type Connected = Pick<ShopTerms, 'connections' | 'groups'>;

/** The inputs of a shop’s quotes, read once and used for every listing. */
export interface Shop extends ShopTerms {
  /** Units of a supplier's item that are sold and not yet taken off its stock as last read, by item key. */
  readonly promised: ReadonlyMap<string, number>;
  /** When each supplier's stock was read last. */
  readonly readAt?: ReadonlyMap<string, Instant>;
  /** Days that parcels really took lately, by supplier and country. */
  readonly transit?: ReadonlyMap<string, Readonly<Record<string, Transit>>>;
  /** The listing of a variant on another marketplace; missing where prices there are not asked for. */
  readonly listedOn?: (variant: string, marketplace: string) => FullListing | null;
}

export const suppliersOf = (shop: ShopTerms) =>
  [...shop.connections.values()].filter((c): c is SupplierConnection => c.role === 'supplier');
/** In the order in which they were connected. */
export const marketsOf = (shop: ShopTerms) =>
  [...shop.connections.values()]
    .filter((c): c is MarketConnection => c.role === 'marketplace')
    .sort((a, b) => a.connectedAt - b.connectedAt);
export const marketOf = (shop: ShopTerms, id: string) =>
  shop.connections.get(id) as MarketConnection | undefined;
export const supplierOf = (shop: ShopTerms, id: string) =>
  shop.connections.get(id) as SupplierConnection | undefined;

/** Names of connections; the id of one that is not there any more. */
export const nameIn =
  ({ connections }: Connected) =>
  (id: string): string =>
    connections.get(id)?.name ?? id;

/** What an amount in a currency is worth in the books; 1 where no rate is known, so that it sorts somewhere. */
export function worthIn(
  { rates, settings }: Pick<ShopTerms, 'rates' | 'settings'>,
  currency: Currency,
): number {
  const factor = factorOf(rates, currency, settings.currency);
  return factor ? factor.num / factor.den : 1;
}

/** Why a listing is held or was refused, in words; '' where nothing is wrong. */
export const problemOf = ({ listing }: Pick<FullListing, 'listing'>, shop: ShopTerms): string =>
  listing.problem
    ? problemInWords(
        listing.problem,
        marketOf(shop, listing.marketplace)?.site.currency ?? shop.settings.currency,
        nameIn(shop),
      )
    : '';
