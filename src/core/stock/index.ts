export {
  quantityShown,
  STARTING_STOCK_RULE,
  type Stocked,
  type StockRule,
  type StockStep,
  stockProblems,
  stockSteps,
} from './quantity';
export { type SoldByDay, soldWithin, withSale } from './sold';
export { stockInWords } from './words';
