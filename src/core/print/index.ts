export {
  type Blank,
  type BlankArea,
  type BlankColour,
  type Field,
  type FileSize,
  fieldOf,
  largestSize,
  mmOf,
  pixelsOf,
  type Technique,
} from './blank';
export { fileNameBy, STARTING_FILE_NAME } from './file-name';
export {
  type Finding,
  findingInWords,
  findingsOf,
  isRefused,
  type LookedAt,
  SHARP,
} from './findings';
export {
  ANY_DESIGN,
  type AreaPlan,
  densityIn,
  designsIn,
  fieldsIn,
  isPersonal,
  isPrinted,
  type Layer,
  naturalOf,
  type Part,
  type PlacedDesign,
  type PrintPlan,
  partOf,
  WHOLE_DESIGN,
  withDesign,
} from './layers';
export { ALIKE, contrastOn, differenceOf, type Look, lookAt, type PaletteColour, type Pixels } from './look';
export {
  type Box,
  beyond,
  boundsOf,
  boxOf,
  CENTRED,
  covers,
  type Held,
  HOWS,
  type How,
  type Natural,
  type Placement,
  placementAt,
  REPEATS,
  type RepeatKind,
  type Tile,
  tilesOf,
  turnOf,
} from './placement';
export { chunksOf, pngHead, withResolution } from './png';
export {
  mockUp,
  type Printed,
  SCENE_KINDS,
  type Scene,
  type SceneArea,
  type SceneKind,
  type SceneParts,
  type Stage,
  stageOf,
} from './scene';
export { type Lies, type Point, seenAt, type Warp, warpOf } from './warp';
