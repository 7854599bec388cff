import type { ExchangeRate } from '../../core/money';
import type { StockRule } from '../../core/stock';
import type { Listing, MarketConnection, PlanRow, Settings, SupplierConnection } from '../../store';

/** Rules as they would be. */
export interface RulesDraft {
  /** All plans, in order. */
  readonly plans: readonly PlanRow[];
  readonly stock: StockRule;
}

/** Terms of a connection that prices depend on. */
export type ConnectionTerms =
  | Partial<Pick<MarketConnection, 'site' | 'optedIn' | 'buyers' | 'keptOff'>>
  | Partial<Pick<SupplierConnection, 'costs' | 'leap'>>;

/** Drafted inputs of prices besides plans; a missing one stays as it is. */
export interface TermsDraft {
  readonly connection?: { readonly id: string; readonly terms: ConnectionTerms };
  readonly settings?: Partial<Pick<Settings, 'cushion' | 'costTax'>>;
  /** Rates that would be on record, or stand in place of those of the same day. */
  readonly rates?: readonly ExchangeRate[];
  /** Id of a rate that would be taken off the record. */
  readonly withoutRate?: string;
  /** Fields of listings, by id. */
  readonly listings?: ReadonlyMap<string, Partial<Listing>>;
}
