export { examplesOf, type FieldOf, type FlagOf, fieldsOf, isTimely, KINDS, type Readers } from './fields';
export { type ValueField, type ValueOf, valueFields, valueInCell, valuesInWords } from './values';
export { type FieldName, type Subject, VOCABULARY } from './vocabulary';
