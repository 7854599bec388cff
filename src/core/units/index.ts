export { gtinCheckDigit, isGtin } from './gtin';
export { countOf, formatCount, formatGrams } from './number';
export { addDays, clockTime, dayName, dayOf, type Instant, isDay, spanOf, whenOf } from './time';
