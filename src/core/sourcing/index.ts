export { itemKey, Promised } from './promised';
