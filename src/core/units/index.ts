export { grouped } from './grouped';
export { gtinCheckDigit, isGtin } from './gtin';
export { countOf, formatCount, formatGrams } from './number';
export { readSize, type Size, sizeInWords } from './size';
export { skuBy } from './sku';
export {
  addDays,
  clockChange,
  clockTime,
  dayName,
  dayOf,
  type Instant,
  instantOf,
  isDay,
  spanOf,
  whenOf,
} from './time';
export { nextTime, type Timetable, timetableInWords, WEEKDAYS } from './timetable';
export { readDay, readDayAndTime, writtenDay, writtenDayAndTime } from './typed-dates';
