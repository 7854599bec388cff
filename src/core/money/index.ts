export { CURRENCIES, type Currency, digitsOf, isCurrency, signOf } from './currency';
export {
  convert,
  type ExchangeRate,
  type Factor,
  factorOf,
  formatExchange,
  parseExchange,
  RATE_ONE,
  type Rates,
  ratesOn,
  SAME,
} from './exchange';
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
