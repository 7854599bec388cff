export { DATE_LANGUAGES, type DayRead, dayInForm, readBuyersDay } from './days';
export { type DrawnWords, drawWords, examplesOf, type PersonalLayer, type PersonalWorld } from './drawing';
export {
  type BuyerField,
  type Choice,
  type ChoiceField,
  DATE_FORMS,
  type DateField,
  FIELD_KINDS,
  type FieldBox,
  type FieldKind,
  isSeen,
  LETTER_CASES,
  type Lettering,
  newField,
  type PictureField,
  type PlaceField,
  PRINT_FONTS,
  type PrintFont,
  printFontFile,
  SCRIPTS,
  type Script,
  type TextField,
} from './fields';
export {
  boundsOfOutlines,
  type Face,
  type Glyph,
  lettersLacking,
  pathOf,
  type Setting,
  type SetWords,
  type Stroke,
  setWords,
} from './lettering';
export { type PlaceRow, placesIn } from './places';
export {
  type FindPlaces,
  forbiddenIn,
  isClear,
  isWarning,
  type Place,
  type Problem,
  placeInFull,
  problemInWords,
  problemsOf,
} from './problems';
export { piecesOf, type ReadWords, readWords, type Values, writeValues } from './reading';
export { horizontal, type SkyChart, siderealTime, skySvg } from './sky';
export { charactersOf, comparable, settable } from './words';
