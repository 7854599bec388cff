/** The rows that views speak of, as types alone: what is stored is read by the rooms of `work`. */
export type {
  Change,
  Connection,
  DoubtRow,
  Job,
  Listing,
  MarketConnection,
  Order,
  PlanRow,
  Product,
  RateRow,
  SavedSearch,
  Settings,
  SupplierConnection,
  Variant,
} from '../store';
