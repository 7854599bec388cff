export { type Columns, itemAt, joinColumns, toColumns } from './columns';
export { type Item, type ItemDetail, optionsInWords } from './item';
