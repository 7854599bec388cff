export {
  quantityShown,
  STARTING_STOCK_RULE,
  type Stocked,
  type StockRule,
  type StockStep,
  stockProblems,
  stockSteps,
} from './quantity';
export { stockInWords } from './words';
