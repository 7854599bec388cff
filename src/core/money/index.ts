export { type Currency, digitsOf, signOf } from './currency';
export {
  decimalOf,
  formatMinor,
  formatMoney,
  LARGEST_MINOR,
  type Money,
  type Parsed,
  parseMinor,
  parsePrice,
  shareOut,
} from './money';
export { formatRate, formatShare, type Ppm, parseRate, WHOLE } from './rate';
export { divideDown, divideHalfUp, divideUp, halfUp } from './rounding';
