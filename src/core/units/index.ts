export { gtinCheckDigit, isGtin } from './gtin';
export { countOf, formatCount, formatGrams } from './number';
export { skuBy } from './sku';
export { addDays, clockTime, dayName, dayOf, type Instant, instantOf, isDay, spanOf, whenOf } from './time';
