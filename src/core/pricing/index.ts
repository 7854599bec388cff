export { type Choice, type Choosable, choosePlan, choosePlans } from './choose';
export type { Fee, FeeBand, FeeKind } from './fee';
export {
  type Deductions,
  deductionsFor,
  type FeeRule,
  type FeeTable,
  feeOn,
  taxInside,
} from './fees';
export { type Ending, type PricePlan, STARTING_PLAN, type Target } from './plan';
export { parseShipping, type ShippingBand, shippingFor, shippingInWords } from './shipping';
export { breakEven, type PriceAnswer, type Priced, type PriceStep, solvePrice, solveTarget } from './solve';
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
