export { isWithin, nextBoundary, type Span, spanProblem } from './calendar';
export { type Choice, type Choosable, type Choosing, choosePlan, choosePlans } from './choose';
export {
  buyersInWords,
  discountsInWords,
  importsInWords,
  itemPricesInWords,
  parseBuyers,
  parseDiscounts,
  parseImports,
  parseItemPrices,
  parseZones,
  zonesInWords,
} from './cost-words';
export {
  afterRest,
  afterSale,
  type Demand,
  type DemandRule,
  type DemandStep,
  demandProblems,
  noDemand,
  steppedPrice,
} from './demand';
export { type EndingDigits, endingText, parseEnding } from './ending';
export type { Fee, FeeBand, FeeKind } from './fee';
export { feeSharesInWords, parseFeeShares } from './fee-words';
export {
  type Deductions,
  deductionsFor,
  type FeeRule,
  type FeeTable,
  feeOn,
  taxInside,
} from './fees';
export {
  FORMULA_FIELDS,
  type FormulaField,
  type FormulaProblem,
  parseFormula,
} from './formula';
export {
  type Buyers,
  type CostRules,
  type CostUnit,
  type CountryCosts,
  costsByCountry,
  type FurtherCosts,
  furtherCosts,
  goodsFor,
  handlingFor,
  type ImportRule,
  landedCosts,
  NO_COST_RULES,
  type Parcel,
  type QuantityDiscount,
  type QuantityPrice,
  type ShippingZone,
  type SupplierCosts,
  shippingTo,
} from './landed';
export {
  type Cause,
  causeInWords,
  type ItemMoves,
  itemMovesInWords,
  type Moves,
  movesInWords,
  type OfferMoves,
  type PricedBy,
} from './moves';
export {
  bandFor,
  discounted,
  type Ending,
  type EndingBand,
  endingFor,
  goesByCost,
  type PriceBand,
  type PricePlan,
  planIn,
  planProblems,
  STARTING_PLAN,
  type Target,
} from './plan';
export {
  alwaysSaidOf,
  type BrokenGuard,
  type ListingProblem,
  type PriceProblem,
  problemInWords,
  sameProblem,
  type Unpriced,
} from './problem';
export { parseShipping, type ShippingBand, shippingFor, shippingInWords } from './shipping';
export {
  breakEven,
  mostCost,
  type PriceAnswer,
  type Priced,
  type PriceStep,
  salePrice,
  solvePrice,
  solveTarget,
  withinGuards,
} from './solve';
export {
  type CostPart,
  type Costs,
  landedOf,
  profitAt,
  type SoldLine,
  type Sum,
  type SumKind,
  type SumLine,
  sumAt,
  takenOf,
  totalOf,
  withTax,
} from './sum';
export type { Tax } from './tax';
export {
  endingInWords,
  feeInWords,
  planInWords,
  ruleInWords,
  stepInWords,
  targetInWords,
  taxInWords,
} from './words';
