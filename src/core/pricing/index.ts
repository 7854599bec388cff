export { isWithin, nextBoundary, type Span, spanProblem } from './calendar';
export { type Choice, type Choosable, type Choosing, choosePlan, choosePlans } from './choose';
export type { Fee, FeeBand, FeeKind } from './fee';
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
  bandFor,
  discounted,
  type Ending,
  type EndingBand,
  endingFor,
  goesByCost,
  type PriceBand,
  type PricePlan,
  planProblems,
  STARTING_PLAN,
  type Target,
} from './plan';
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
} from './solve';
export {
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
  refusalInWords,
  ruleInWords,
  stepInWords,
  targetInWords,
  taxInWords,
} from './words';
